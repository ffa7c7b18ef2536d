import { type ActorFacts, mayDo, needsRight } from '#core/acts/actor.ts'
import { type Action, action, type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import {
  answerConsent,
  type ConsentAnswer,
  type ConsentNext,
  endConsent,
  type NewConsent,
  whyNotDecide,
  whyNotWithdraw,
} from '#core/consent/consent.ts'
import { formatAmount, type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { notAllowed, type OverApproved } from '#core/order/againstRequest.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { changeLines, type WantedOrder } from '#core/order/changeLines.ts'
import type { OrderNext } from '#core/order/next.ts'
import { wantedBy } from '#core/order/settleAnswer.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** Whether somebody has been asked and has not answered. */
const isAsked = (order: Pick<OrderFacts, 'excess'>): boolean => order.excess?.consent.state === 'open'

/** What all these lines cost above what was approved, in the base currency's smallest unit. */
export const excessAmount = (above: readonly OverApproved[]): Minor =>
  sumMinor(above.map(({ approved, value }) => minor(value - approved)))

const unchanged = ({ state, revision }: OrderFacts): OrderNext => ({ state, revision })

/**
 * The order as it would be: after a change that somebody wants, else after the supplier's answer that waits; else as it is.
 */
export function wouldBe(order: OrderFacts, wanted: WantedOrder | null): { order: OrderFacts; reasons: Reason[] } {
  const after = wanted ?? (order.state !== 'draft' && order.answer ? wantedBy(order, order.answer).wanted : null)
  return after === null ? { order, reasons: [] } : changeLines(order, after)
}

/** What stands in the way of asking: nothing is above what was approved, it is asked already, or the order has ended. */
export const whyNotAskExcess = (order: OrderFacts, next: OrderFacts, actor: ActorFacts): Reason[] => [
  // whoever says who pays for a bill without an order asks with it
  ...needsRight(actor, order.forInvoiceId ? 'invoice.write' : 'order.write'),
  ...(order.state === 'draft' || isIn(ORDER_GROUPS.live, order.state)
    ? []
    : [stop('order.excessTooLate', { number: order.number })]),
  ...(isAsked(order) ? [stop('order.excessAsked')] : []),
  ...(notAllowed(next).length > 0 ? [] : [stop('order.excessNone')]),
]

/** The cost centre of an account, and who holds it. */
export interface Payer {
  readonly costCentre: string
  readonly holderId: string | null
}

export interface AskedNext {
  readonly asks: NewConsent
  readonly above: readonly OverApproved[]
}

/**
 * Asks whether an order, as it is or as it would be after a change, may cost more than was approved. Where no rule says otherwise the
 * holder of each cost centre that pays decides, or whoever keeps the budgets where that is who asks, who requested it, or nobody.
 *
 * `payers`: what pays, by account. `subject`: what is kept with the question beside the values asked about.
 */
export function askExcess(
  order: OrderFacts,
  next: OrderFacts,
  payers: ReadonlyMap<string, Payer>,
  subject: Readonly<Record<string, unknown>>,
  actor: ActorFacts,
  reason: string,
): Decision<AskedNext> {
  const against = [
    ...whyNotAskExcess(order, next, actor),
    ...(saysWhy(reason) ? [] : [stop('order.excessReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const above = notAllowed(next)
  const centres = new Map(
    above
      .flatMap(({ line }) => line.splits.flatMap(one => payers.get(one.accountId) ?? []))
      .map(one => [one.costCentre, one.holderId]),
  )
  const notBy = [
    ...new Set([actor.id, ...above.flatMap(({ line }) => (line.requesterId === null ? [] : [line.requesterId]))]),
  ]
  const asks: NewConsent = {
    purpose: 'excess',
    documentKind: 'order',
    documentId: order.id,
    reason,
    subject: {
      ...subject,
      revision: order.revision,
      upTo: Object.fromEntries(above.map(({ line, value }) => [line.id, value.toString()])),
    },
    steps: [...centres].sort().map(([costCentre, holderId]) => ({
      stage: 1,
      asked: [
        holderId === null || notBy.includes(holderId)
          ? { kind: 'right' as const, right: 'budget.write', costCentre: null }
          : { kind: 'person' as const, personId: holderId, right: 'requisition.decide' },
      ],
      notBy,
      label: costCentre,
    })),
  }
  return done<AskedNext>(
    { asks, above },
    { action: 'excessAsked', changes: { above: formatAmount(excessAmount(above), order.base) }, reason },
  )
}

/** Somebody decides whether an order may cost more. The last yes opens the way to what was asked about, and the buyer is told. */
export function decideExcess(
  order: OrderFacts,
  actor: ActorFacts,
  answer: Extract<ConsentAnswer, 'approve' | 'reject'>,
  reason: string,
): Decision<OrderNext> {
  const consent = order.excess?.consent ?? null
  const answered = consent === null ? undefined : answerConsent(consent, actor, answer, reason)
  if (!answered?.ok) return refused(answered ? answered.reasons : whyNotDecide(null, actor))
  const ends = answered.next.state !== 'open'
  return done<OrderNext>(
    { ...unchanged(order), excess: answered.next },
    {
      action: ends ? (answer === 'approve' ? 'excessApproved' : 'excessRefused') : 'decided',
      changes: { rule: answered.step.label },
      reason,
    },
    { says: ends ? [decidedMail(order, answer, actor.name, reason)] : [] },
  )
}

/** Whoever asked takes the question back. */
export function withdrawExcess(order: OrderFacts, actor: ActorFacts, reason: string): Decision<OrderNext> {
  const consent = order.excess?.consent
  const against = consent ? whyNotWithdraw(consent, actor) : whyNotDecide(null, actor)
  if (against.length > 0) return refused(against)
  return done<OrderNext>(
    { ...unchanged(order), excess: endConsent(consent!, 'withdrawn') },
    { action: 'excessWithdrawn', reason },
  )
}

/** Acts after which an order is no longer what was asked about: an open question ends with them. */
const ENDED_BY: readonly string[] = ['edited', 'revised', 'answerAccepted', 'answerAcceptedInPart', 'cancel', 'close']

/** What becomes of an open question by another act on the order. */
export const excessAfter = (order: OrderFacts, act: string): ConsentNext | undefined =>
  isAsked(order) && ENDED_BY.includes(act) ? endConsent(order.excess!.consent, 'dropped') : undefined

/** Whether a change that was asked about can still be made as it was asked: the order is the same since, and nobody said no. */
export const isStillWanted = (order: Pick<OrderFacts, 'revision' | 'excess'>): boolean =>
  order.excess !== null &&
  order.excess.revision === order.revision &&
  (order.excess.consent.state === 'open' || order.excess.consent.state === 'given')

/** What can be done about it now, and for the rest why not. */
export function excessActions(order: OrderFacts, actor: ActorFacts): Action[] {
  if (!isAsked(order)) {
    const next = wouldBe(order, null).order
    return notAllowed(next).length > 0 && mayDo(actor, 'order.write')
      ? [action('askExcess', whyNotAskExcess(order, next, actor), true)]
      : []
  }
  const against = whyNotDecide(order.excess!.consent, actor)
  return [
    action('approveExcess', against, true),
    action('refuseExcess', against),
    ...(whyNotWithdraw(order.excess!.consent, actor).length === 0 ? [action('withdrawExcess', [])] : []),
  ]
}

const decidedMail = (order: OrderFacts, answer: 'approve' | 'reject', by: string, reason: string): Message => ({
  template: answer === 'approve' ? 'order.excess.approved' : 'order.excess.refused',
  to: { kind: 'person', id: order.excess!.consent.askedBy },
  key: `order-excess:${order.excess!.consent.id}`,
  details: {
    number: order.number,
    title: order.title,
    currency: order.base,
    amount: formatAmount(order.excess!.consent.amount ?? minor(0), order.base),
    by,
    reason,
    path: `/order/${order.id}`,
  },
})
