import { readersOf } from '#core/source/eventActs.ts'
import { dueMessages, type EventMessage, isReminder } from '#core/source/eventMessages.ts'
import type { Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { log } from '#server/source/eventLogStore.ts'
import { momentText, writeTo } from '#server/source/eventMailStore.ts'
import type { EventRow, EventSupplierRow, KnownEvent } from '#server/source/eventStore.ts'

/** From now on suppliers know the times as they are: messages are counted anew. */
export const timesKnown = (call: Write): Pick<EventRow, 'messagesSince' | 'messagesSent'> => ({
  messagesSince: call.now,
  messagesSent: json([]),
})

/** What the kind of an event says to suppliers before its opening or end: each message once for these times. */
export async function sayInTime(call: Write, event: KnownEvent): Promise<void> {
  const { messagesSince, messagesSent } = event.row
  if (messagesSince === null) return
  const times = { opensAt: event.opensAt, endsAt: event.endsAt, since: messagesSince, sent: messagesSent }
  const due = dueMessages(event.kind.messages, times, call.now)
  if (due.length === 0) return
  for (const message of due) await say(call, event, message)
  const sent = [...messagesSent, ...due.map(one => one.key)]
  await call
    .trx('events')
    .where({ id: event.id })
    .update({ messagesSent: json(sent) })
}

/** What the kind says when the time for answering is over. */
export async function sayAtEnd(call: Write, event: KnownEvent): Promise<void> {
  for (const message of event.kind.messages) if (message.moment === 'atEnd') await say(call, event, message)
}

async function say(call: Write, event: KnownEvent, message: EventMessage): Promise<void> {
  const readers = new Set(readersOf(event, message.to).map(one => one.id))
  const to = event.rows.filter(one => readers.has(one.id))
  const words = (one: EventSupplierRow): string =>
    (one.language === 'de' && message.words.de?.trim()) || (message.words.en ?? '').trim()
  const key = `${message.key}:${event.row.messagesSince}`
  if (isReminder(message)) return await remindThem(call, event, to, words, key)
  for (const one of to) await log(call, event, { action: 'told', supplierId: one.supplierId, reason: words(one) })
  await writeTo(call, event, to, `event.${message.moment}`, `event-message:${event.id}:${key}`, one => ({
    opens: momentText(event.opensAt, event.zone),
    ends: momentText(event.endsAt, event.zone),
    note: words(one),
  }))
}

/** Brings to mind that an answer is missing. The same key is sent once. */
export async function remindThem(
  call: Write,
  event: KnownEvent,
  to: KnownEvent['rows'],
  note: (one: EventSupplierRow) => string,
  key: string,
): Promise<void> {
  for (const one of to) await log(call, event, { action: 'reminded', supplierId: one.supplierId, reason: note(one) })
  await writeTo(call, event, to, 'event.reminder', `event-reminder:${event.id}:${key}`, one => ({
    ends: momentText(event.endsAt, event.zone),
    note: note(one),
  }))
}
