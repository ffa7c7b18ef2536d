import type { AnswerContent } from '#core/source/answer.ts'
import { answersOpen } from '#core/source/event.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import type { EventAnswerRow, KnownEvent } from '#server/source/eventStore.ts'
import { isSealed, seal, type Sealed, unseal } from '#server/source/sealing.ts'

/** How answers come that are known prices: nobody was asked for them. */
export const KNOWN_CHANNEL = 'known'

/** An answer as it is kept: sealed, where its event is. */
export const kept = (event: KnownEvent, content: AnswerContent): AnswerContent | Sealed =>
  event.row.seal ? seal(event.row.seal, content) : content

/** An answer as whoever gave it reads it. */
export const contentFor = (event: KnownEvent, content: AnswerContent | Sealed): AnswerContent =>
  isSealed(content) ? unseal<AnswerContent>(event.row.seal!, content) : content

/** What one supplier has given: its draft, and what it handed in last. */
export async function ownAnswers(
  call: Read,
  invitedId: string,
): Promise<{ draft: EventAnswerRow | undefined; submitted: EventAnswerRow | undefined; revision: number }> {
  const rows = await call.trx('eventAnswers').where({ invitedId }).orderBy('revision', 'desc')
  const last = rows.find(row => row.state !== 'draft')
  return {
    draft: rows.find(row => row.state === 'draft'),
    submitted: last?.state === 'submitted' ? last : undefined,
    revision: rows[0]?.revision ?? 0,
  }
}

/** What was handed in to an event, or taken back again, in the order of revisions. */
export const handedIn = (call: Read, event: KnownEvent) =>
  call
    .trx('eventAnswers')
    .whereIn(
      'invitedId',
      event.rows.map(one => one.id),
    ) // prettier-ignore
    .whereNot({ state: 'draft' })
    .orderBy(['revision', 'id'])

/** The answers that count, by supplier, for our side: none of a sealed event before its end. */
export async function countingAnswers(call: Read, event: KnownEvent): Promise<Map<string, AnswerContent>> {
  if (!answersOpen(event, call.now)) return new Map()
  const rows = await handedIn(call, event)
  const last = new Map([...groupBy(rows, row => row.invitedId)].map(([id, own]) => [id, own.at(-1)!]))
  return new Map(
    event.rows.flatMap(one => {
      const row = last.get(one.id)
      return row?.state === 'submitted' ? [[one.supplierId, contentFor(event, row.content)] as const] : []
    }),
  )
}
