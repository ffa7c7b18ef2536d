import type { Message } from '#core/acts/decision.ts'
import type { Write } from '#server/call.ts'
import { mail } from '#server/mail/mail.ts'
import { readerAt } from '#server/mail/recipients.ts'
import type { EventSupplierRow, KnownEvent } from '#server/source/eventStore.ts'

/** A moment as it is written in a mail: in the zone of the event, which is named. */
export const momentText = (at: string | null, zone: string): string =>
  at === null
    ? ''
    : `${new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'short' }).format(new Date(at))} (${zone})`

/** Writes to suppliers of an event, each in the language of its contact. The same key is sent once. */
export async function writeTo(
  call: Write,
  event: KnownEvent,
  to: readonly EventSupplierRow[],
  template: string,
  key: string,
  details: (one: EventSupplierRow) => Message['details'],
): Promise<void> {
  for (const one of to) {
    const reader = await readerAt(call, one.supplierId, { name: one.contactName, email: one.email })
    await mail(
      call,
      { ...reader, language: one.language },
      template,
      `${key}:${one.id}`,
      { kind: 'event', id: event.id },
      { number: event.number, title: event.title, by: call.actor.name, path: `/supplier/asked/${event.id}`, ...details(one) }, // prettier-ignore
    )
  }
}
