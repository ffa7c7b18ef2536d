import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Something that a bank said and that could not be assigned. */
export interface OpenItem {
  readonly id: string
  readonly effect: 'moved' | 'known' | 'noted' | 'open'
  readonly settled: boolean
  readonly reference: string
}

/** What stands in the way of setting an item aside: nobody has to look at it any more, or it is not this person's work. */
export const whyNotSettle = (item: OpenItem, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'payment.propose'),
  ...(item.effect === 'open' && !item.settled ? [] : [stop('bank.settledAlready')]),
]

/** A person looked at what could not be assigned, and says what they did about it. Nothing moves by it. */
export function settleItem(item: OpenItem, actor: ActorFacts, note: string): Decision<{ readonly itemId: string }> {
  const against = [
    ...whyNotSettle(item, actor),
    ...(saysWhy(note) ? [] : [stop('pay.wantsReason', {}, { place: 'note' })]),
  ]
  if (against.length > 0) return refused(against)
  return done({ itemId: item.id }, { action: 'itemSettled', changes: { reference: item.reference }, reason: note })
}
