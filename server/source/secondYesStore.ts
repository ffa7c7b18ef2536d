import { randomUUID } from 'node:crypto'
import type { ConsentPurpose, NewConsent } from '#core/consent/consent.ts'
import type { Read, Write } from '#server/call.ts'
import { ask, consentsById, type KeptConsent } from '#server/consent/consentStore.ts'
import { pathOf } from '#server/documents/sheetParts.ts'

/** What takes a second person's yes in sourcing. */
export const SECOND_YES = ['bar', 'sharedNumber', 'merge'] as const satisfies readonly ConsentPurpose[]
export type SecondYesKind = (typeof SECOND_YES)[number]

/** Asks a second person; the question has a page of its own. */
export async function askSecondYes(
  call: Write,
  question: NewConsent,
  title: string,
  number: string,
  id: string = randomUUID(),
): Promise<KeptConsent> {
  const about = {
    number,
    title,
    who: call.actor.name,
    extra: question.purpose,
    amount: null,
    currency: null,
    needBy: null,
    path: pathOf('secondYes', id),
  }
  return await ask(call, question, about, { id })
}

/** The question about a supplier that is open, if any. */
export async function openSecondYes(call: Read, supplierId: string): Promise<KeptConsent | null> {
  const row = await call
    .trx('consents')
    .where({ documentId: supplierId, state: 'open' })
    .whereIn('purpose', [...SECOND_YES])
    .orderBy('askedAt')
    .first('id')
  return row ? ((await consentsById(call, [row.id])).get(row.id) ?? null) : null
}
