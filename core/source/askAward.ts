import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type Consent, endConsent, type ConsentNext, type NewConsent, whyNotWithdraw } from '#core/consent/consent.ts'
import { roundAmount, type Minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { Reason } from '#core/reasons.ts'
import { type AwardableLine, awardedOf, checkAward, type LineShare, notCheapest, unitCost } from '#core/source/award.ts'
import type { Comparison } from '#core/source/compareAnswers.ts'
import { type EventFacts, isOver } from '#core/source/event.ts'
import { EVENT_STATES, type EventState } from '#core/source/eventStates.ts'
import { notNow } from '#core/states.ts'

/** What can be awarded of a comparison: offers of those who count, with the least that each sells. */
export const awardable = (comparison: Comparison, counted: ReadonlySet<string>, sold: Sold): AwardableLine[] =>
  comparison.lines.map(({ line, cells }) => ({
    id: line.id,
    quantity: line.quantity,
    perUnit: new Map(
      [...cells].flatMap(([id, cell]) => (counted.has(id) && cell.landed ? [[id, cell.landed.perUnit] as const] : [])),
    ),
    tiers: new Map([...cells].flatMap(([id, { tiers }]) => (tiers.length > 0 ? [[id, tiers] as const] : []))),
    minimum: said([...cells.keys()], id => sold(id, line.id).minimum),
    multiple: said([...cells.keys()], id => sold(id, line.id).multiple),
  }))
/** The least that a supplier sells of a line, and in what multiples; empty: whatever one wants. */
export type Sold = (supplierId: string, lineId: string) => { readonly minimum: string; readonly multiple: string }

const said = (ids: readonly string[], of: (id: string) => string): Map<string, string> =>
  new Map(ids.flatMap(id => (of(id) === '' ? [] : [[id, of(id)] as const])))

/** An award as it is proposed. Amounts are landed costs in the event's currency, rounded once. */
export interface Award {
  readonly shares: readonly LineShare[]
  readonly reason: string
  readonly cost: Minor
  /** What it costs above the cheapest for the same lines and quantities. */
  readonly above: Minor
  /** Lines that nobody gets, or not whole. */
  readonly open: readonly string[]
}

export interface AwardNext {
  readonly state: EventState
  readonly award: Award
}

/** Whether an award can be proposed for an event now; whose end has come counts as over, whoever has said so. */
export const whyNotPropose = (event: EventFacts, actor: ActorFacts, at: string): Reason[] => [
  ...needsRight(actor, 'event.write'),
  ...notNow(EVENT_STATES, 'event', event.state === 'asking' && isOver(event, at) ? 'over' : event.state, 'propose'),
]

/** Proposes who gets what. It is decided by those whom the rules name; where they name nobody, it stands at once. */
export function proposeAward(
  event: EventFacts,
  lines: readonly AwardableLine[],
  shares: readonly LineShare[],
  reason: string,
  actor: ActorFacts,
  at: string,
): Decision<AwardNext> {
  const against = whyNotPropose(event, actor, at)
  if (against.length > 0) return refused(against)
  const faults = checkAward(lines, shares, reason)
  if (faults.length > 0) return refused(faults)
  const award = awardOf(event, lines, shares, reason)
  return done<AwardNext>(
    { state: 'deciding', award },
    { action: 'awardProposed', changes: { lines: new Set(shares.map(one => one.lineId)).size }, reason },
  )
}

function awardOf(
  event: EventFacts,
  lines: readonly AwardableLine[],
  shares: readonly LineShare[],
  reason: string,
): Award {
  const known = new Map(lines.map(line => [line.id, line]))
  const cost = shares.reduce(
    (sum, one) => sum.plus(unitCost(known.get(one.lineId)!, one.supplierId, one.quantity).times(one.quantity)),
    new Decimal(0),
  )
  const above = notCheapest(lines, shares).reduce((sum, one) => sum.plus(one.more), new Decimal(0))
  return {
    shares: [...shares],
    reason,
    cost: roundAmount(cost, event.currency),
    above: roundAmount(above, event.currency),
    open: lines.filter(line => awardedOf(line.id, shares).lt(line.quantity)).map(line => line.id),
  }
}

/** What the house asks where no rule names anybody: nothing. */
export const awardQuestion = (event: Pick<EventFacts, 'id'>, reason: string): NewConsent => ({
  purpose: 'award',
  documentKind: 'event',
  documentId: event.id,
  reason,
  steps: [],
})

/** Takes an award back, before it is decided or before anything was ordered by it. */
export function takeBackAward(
  event: EventFacts,
  consent: Consent | null,
  actor: ActorFacts,
  reason: string,
): Decision<{ readonly state: EventState; readonly consent: ConsentNext | null }> {
  const open = consent?.state === 'open' ? consent : null
  const against = [
    ...notNow(EVENT_STATES, 'event', event.state, 'takeBack'),
    ...(open ? whyNotWithdraw(open, actor) : needsRight(actor, 'event.write')),
  ]
  if (against.length > 0) return refused(against)
  return done({ state: 'over', consent: open ? endConsent(open, 'withdrawn') : null }, { action: 'takeBack', reason })
}
