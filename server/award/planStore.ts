import { eventBids, type PlanTerms } from '#core/award/eventFacts.ts'
import type { PlanOutcome } from '#core/award/computePlan.ts'
import type { PlanFacts } from '#core/award/planFacts.ts'
import type { Wish } from '#core/award/wishes.ts'
import { whoCounts } from '#core/source/compareAnswers.ts'
import { scoreEvent } from '#core/source/scoreEvent.ts'
import type { Read } from '#server/call.ts'
import { type Compared, compared, scorersOf } from '#server/source/comparisonStore.ts'

import type { KnownEvent } from '#server/source/eventStore.ts'

export interface AwardPlanRow {
  eventId: string
  wishes: Wish[]
  terms: PlanTerms
  version: number
  changedBy: string
  changedAt: string
}
export interface AwardPlanRunRow {
  id: string
  eventId: string
  jobId: string
  facts: PlanFacts
  wishes: Wish[]
  outcome: PlanOutcome | null
  byId: string
  at: string
  seconds: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    awardPlans: AwardPlanRow
    awardPlanRuns: AwardPlanRunRow
  }
}

export const NO_PLAN: Pick<AwardPlanRow, 'wishes' | 'terms' | 'version'> = {
  wishes: [],
  terms: { suppliers: {}, bids: {}, bundles: [], quantities: {} },
  version: 0,
}

export const planOf = async (
  call: Read,
  eventId: string,
): Promise<Pick<AwardPlanRow, 'wishes' | 'terms' | 'version'>> =>
  (await call.trx('awardPlans').where({ eventId }).first()) ?? NO_PLAN

/** Computations of an event, the newest first. */
export const runsOf = (call: Read, eventId: string, most: number): Promise<AwardPlanRunRow[]> =>
  call.trx('awardPlanRuns').where({ eventId }).orderBy('at', 'desc').limit(most)

/** What a plan of an event is computed from: bids of those who can be awarded, and what is known of them. */
export async function factsOf(call: Read, event: KnownEvent): Promise<{ facts: PlanFacts; all: Compared }> {
  const all = await compared(call, event)
  const who = whoCounts(all.comparison, all.suppliers)
  const counted = all.suppliers.filter(one => who.has(one.supplierId))
  const ids = counted.map(one => one.supplierId)
  const { bids, charges } = eventBids(event, counted)
  const places = await call
    .trx('supplierLocations')
    .whereIn('supplierId', ids)
    .orderByRaw("('shipsFrom' = any(roles)) desc, position")
    .select('supplierId', 'country')
  const known = new Set(
    await call
      .trx('orders')
      .whereIn('supplierId', ids)
      .whereNotNull('issuedAt')
      .distinct('supplierId')
      .pluck<string[]>('supplierId'),
  )
  const scores = await scoresOf(call, event, all)
  const incumbents = await incumbentsOf(call, event)
  return {
    all,
    facts: {
      currency: event.currency,
      lines: all.comparison.lines.map(({ line }) => ({
        id: line.id,
        quantity: line.quantity,
        incumbentId: incumbents.get(line.id) ?? null,
      })),
      suppliers: ids.map(id => ({
        id,
        country: places.find(one => one.supplierId === id)?.country ?? '',
        score: scores.get(id) ?? null,
        isNew: !known.has(id),
        charge: '',
        rebates: [],
        rebateOn: 'everything' as const,
      })),
      bids,
      charges,
      bundles: [],
    },
  }
}

/** What each supplier scored in all, where anything but the price counts and all who score are done. */
async function scoresOf(call: Read, event: KnownEvent, all: Compared): Promise<Map<string, string>> {
  if (event.kind.criteria.length === 0) return new Map()
  const given = await call.trx('eventScores').where({ eventId: event.id })
  const { scored, complete } = scoreEvent(
    event.kind,
    all.comparison,
    all.answers,
    await scorersOf(call, event.id),
    given,
  )
  if (!complete) return new Map()
  return new Map(scored.flatMap(one => (one.total === null ? [] : [[one.supplierId, one.total.toFixed(1)] as const])))
}

/** Who delivered the item of each line last. */
async function incumbentsOf(call: Read, event: KnownEvent): Promise<Map<string, string>> {
  const { rows } = await call.trx.raw<{ rows: { id: string; supplierId: string }[] }>(
    `select distinct on (e.id) e.id, o.supplier_id from event_lines e join order_lines l on l.item_id = e.item_id join orders o on o.id = l.order_id
     where e.event_id = ? and o.issued_at is not null order by e.id, o.issued_at desc, o.id`,
    [event.id],
  )
  return new Map(rows.map(row => [row.id, row.supplierId]))
}
