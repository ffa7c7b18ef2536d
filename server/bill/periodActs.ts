import type { ClosePeriod, ReopenPeriod } from '#contract/bill/journal.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { whyNotClosePeriod, whyNotReopenPeriod } from '#core/books/periods.ts'
import { sumMinor } from '#core/money/amount.ts'
import type { Write } from '#server/call.ts'
import { digestOf, journalMonth, periodFacts } from '#server/bill/journal.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { HOUSE } from '#server/house/house.ts'

/** Two people at once: the second finds it closed, or open. */
const onlyMe = (call: Write): Promise<unknown> => call.trx.raw("select pg_advisory_xact_lock(hashtext('book_periods'))")

/** Closes a month: its journal is kept as a digest, and nothing is received into it any more. */
export async function closePeriod(call: Write, month: string): Promise<ResponseOf<typeof ClosePeriod>> {
  await onlyMe(call)
  const { lines, faults } = await journalMonth(call, month)
  refuse(whyNotClosePeriod(await periodFacts(call, month, faults), call.actor))
  const kept = { state: 'closed' as const, lines: lines.length, total: sumMinor(lines.map(line => line.debit)), digest: digestOf(lines), byId: call.actor.id, at: call.now, reason: '' } // prettier-ignore
  await call
    .trx('bookPeriods')
    .insert({ month, ...kept })
    .onConflict('month')
    .merge(kept)
  await record(call, { kind: 'house', id: HOUSE, action: 'periodClosed', changes: { month, lines: lines.length } })
  return {}
}

/** Opens the last closed month again. */
export async function reopenPeriod(
  call: Write,
  month: string,
  reason: string,
): Promise<ResponseOf<typeof ReopenPeriod>> {
  await onlyMe(call)
  refuse(whyNotReopenPeriod(await periodFacts(call, month, []), call.actor, reason))
  await call.trx('bookPeriods').where({ month }).update({ state: 'open', byId: call.actor.id, at: call.now, reason })
  await record(call, { kind: 'house', id: HOUSE, action: 'periodReopened', changes: { month }, reason })
  return {}
}
