import { plainWords } from '#core/request/personalFee.ts'
import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type ConsentNext, endConsent } from '#core/consent/consent.ts'
import { type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import type { RequisitionState } from '#core/request/states.ts'
import { takeBack } from '#core/request/takeBack.ts'

export interface ReturnedNext {
  /** Where the whole request goes back; null: only lines end. */
  readonly state: RequisitionState | null
  /** Lines that will not be bought. */
  readonly ends: readonly string[]
  readonly consent: ConsentNext | null
}

const whyMissing = (reason: string): Reason[] =>
  saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]

/** What stands in the way of sending a whole request back: something of it is bought already. */
export function whyNotReturn(request: RequisitionFacts): Reason[] {
  const bought = request.lines.filter(line => line.state !== 'toBuy' && line.state !== 'cancelled')
  return bought.length === 0
    ? []
    : [stop('pool.partBought', { number: request.number, lines: bought.map(line => line.position).join(', ') })]
}

/** Sends a whole request back for changes while nothing of it is bought; what it reserved is free again. */
export function returnRequest(
  request: RequisitionFacts,
  actor: ActorFacts,
  reason: string,
  lineIds: readonly string[],
): Decision<ReturnedNext> {
  const against = [...needsRight(actor, 'order.write'), ...whyNotReturn(request), ...whyMissing(reason)]
  if (against.length > 0) return refused(against)
  const live = request.lines.filter(line => line.state === 'toBuy')
  return done<ReturnedNext>(
    {
      state: 'returned',
      ends: [],
      consent: request.consent?.state === 'open' ? endConsent(request.consent, 'dropped') : null,
    },
    { action: 'return', changes: { lines: positionsOf(request, lineIds) }, reason },
    { ...takeBack(live), says: [returnMail(request, actor.name, reason)] },
  )
}

/** What stands in the way of letting lines go: part of them is ordered. */
export const whyNotDrop = (lines: RequisitionFacts['lines']): Reason[] =>
  lines
    .filter(line => !new Decimal(line.sums.ordered).isZero())
    .map(line => stop('pool.partOrdered', { line: plainWords(line), ordered: line.sums.ordered }))

/** Lets lines go that will not be bought; what they reserved is free again, the rest of the request goes on. */
export function dropLines(
  request: RequisitionFacts,
  actor: ActorFacts,
  reason: string,
  lineIds: readonly string[],
): Decision<ReturnedNext> {
  const lines = request.lines.filter(line => lineIds.includes(line.id))
  const against = [...needsRight(actor, 'order.write'), ...whyNotDrop(lines), ...whyMissing(reason)]
  if (against.length > 0) return refused(against)
  return done<ReturnedNext>(
    { state: null, ends: lines.map(line => line.id), consent: null },
    { action: 'linesDropped', changes: { lines: positionsOf(request, lineIds) }, reason },
    { ...takeBack(lines), says: [returnMail(request, actor.name, reason)] },
  )
}

const positionsOf = (request: RequisitionFacts, lineIds: readonly string[]): number[] =>
  request.lines.filter(line => lineIds.includes(line.id)).map(line => line.position)

const returnMail = (request: RequisitionFacts, by: string, reason: string): Message => ({
  template: 'requisition.returned',
  to: { kind: 'person', id: request.requesterId },
  key: `decided:${request.id}:${request.round}:returned:${request.lines.map(line => line.state).join('')}`,
  details: { number: request.number, title: request.title, by, reason, path: `/request/${request.id}` },
})
