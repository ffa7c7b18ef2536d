import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { AgreementContent } from '#core/agreements/content.ts'
import type { AgreementFacts } from '#core/agreements/facts.ts'
import type { AgreementNext } from '#core/agreements/next.ts'
import { AGREEMENT_STATES } from '#core/agreements/states.ts'
import { AGREEMENT_RIGHT } from '#core/agreements/write.ts'
import { whyNotCancel } from '#core/order/cancelOrder.ts'
import { whyNotClose } from '#core/order/closeOrder.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { isSettled } from '#core/order/measures.ts'
import { whyNotSeal } from '#core/order/sealOrder.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What a wind-down does with something that hangs on the agreement. */
export type WindDownDeed = 'seal' | 'closeAndSeal' | 'cancel' | 'person' | 'told' | 'done'

/** A document that hangs on an agreement, with what becomes of it. */
export interface HangingDocument {
  readonly kind: 'order' | 'requisition' | 'invoice'
  readonly id: string
  readonly number: string
  readonly title: string
  readonly state: string
  readonly deed: WindDownDeed
  /** Why a person has to do something first, and who. */
  readonly reasons: readonly Reason[]
}

/** A step of a wind-down that has begun. */
export interface WindDownStep {
  readonly position: number
  readonly kind: 'order' | 'end' | 'seal'
  readonly documentId: string
  readonly number: string
  readonly state: 'todo' | 'done' | 'person'
  readonly reasons: readonly Reason[]
  readonly at: string | null
}

/**
 * What becomes of an order under it. Sealed and cancelled ones are done; a closed one is sealed; one of which everything is in and billed is closed and
 * sealed; a draft is cancelled, its need goes back to be bought elsewhere; everything else takes a person.
 */
export function orderDeed(order: OrderFacts, actor: ActorFacts): { deed: WindDownDeed; reasons: Reason[] } {
  if (order.state === 'sealed' || order.state === 'cancelled') return { deed: 'done', reasons: [] }
  if (order.state === 'draft') return answered('cancel', whyNotCancel(order, actor))
  if (order.state === 'closed') return answered('seal', whyNotSeal(order, actor))
  const open = order.lines.filter(line => !isSettled(line, order.state))
  if (open.length > 0)
    return {
      deed: 'person',
      reasons: [
        stop('agreement.orderOpen', { number: order.number, lines: open.length }, { clearedBy: ['buyer', 'receiver'] }),
      ],
    }
  const close = whyNotClose(order, actor)
  return answered('closeAndSeal', close.length > 0 ? close : whyNotSeal({ ...order, state: 'closed' }, actor))
}

const answered = (deed: WindDownDeed, reasons: Reason[]): { deed: WindDownDeed; reasons: Reason[] } =>
  reasons.length === 0 ? { deed, reasons: [] } : { deed: 'person', reasons }

/** What becomes of a request that calls it off: a draft is told when it is submitted; what is reserved has to be bought another way or given up by a person. */
export const requestDeed = (reserved: boolean): { deed: WindDownDeed; reasons: Reason[] } =>
  reserved
    ? { deed: 'person', reasons: [stop('agreement.requestReserved', {}, { clearedBy: ['buyer', 'requester'] })] }
    : { deed: 'told', reasons: [] }

export const whyNotWindDown = (
  agreement: Pick<AgreementFacts, 'state' | 'amendment' | 'number'>,
  actor: ActorFacts,
): Reason[] => [
  ...needsRight(actor, AGREEMENT_RIGHT),
  ...notNow(AGREEMENT_STATES, 'agreement', agreement.state, 'windDown'),
  ...(agreement.amendment === 'none' ? [] : [stop('agreement.amendedAlready', { number: agreement.number })]),
]

/** Begins the wind-down, for good: whoever does it types the number. From now on nothing is called off. */
export function windDown(
  agreement: AgreementFacts,
  actor: ActorFacts,
  typed: string,
  reason: string,
): Decision<AgreementNext> {
  const against = [
    ...whyNotWindDown(agreement, actor),
    ...(typed.trim().toUpperCase() === agreement.number.toUpperCase()
      ? []
      : [stop('agreement.typeNumber', { number: agreement.number }, { place: 'number' })]),
  ]
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>({ state: 'windingDown', amendment: 'none' }, { action: 'windDown', reason })
}

/** Ends it by an amendment with today's date: nothing else of it changes. */
export function endByAmendment(agreement: AgreementFacts, today: string): Decision<AgreementNext> {
  if (agreement.state !== 'windingDown')
    return refused([stop('agreement.notWindingDown', { number: agreement.number })])
  const endsOn = agreement.content.endsOn < today ? agreement.content.endsOn : today
  const content: AgreementContent = { ...agreement.content, endsOn }
  return done<AgreementNext>(
    { state: 'windingDown', amendment: 'none', inForce: content, reason: 'Wind-down' },
    { action: 'amended', changes: { endsOn, revision: agreement.revision + 1 }, reason: null },
  )
}

/** What stands against sealing: it is not being wound down, something under it is open, or something is still called off of it. */
export const whyNotSealAgreement = (
  agreement: Pick<AgreementFacts, 'state' | 'number' | 'lines'>,
  hanging: readonly HangingDocument[],
): Reason[] => [
  ...notNow(AGREEMENT_STATES, 'agreement', agreement.state, 'seal'),
  ...hanging
    .filter(one => one.kind === 'order' && one.deed !== 'done')
    .map(one => stop('agreement.hangs', { number: one.number, kind: one.kind }, { clearedBy: ['buyer'] })),
  ...agreement.lines
    .filter(line => line.consumed.reserved.amount > 0n || line.consumed.committed.amount > 0n)
    .map(line => stop('agreement.stillCalled', { line: line.description }, { clearedBy: ['buyer'] })),
]

/** Seals an agreement for good. */
export function sealAgreement(agreement: AgreementFacts, hanging: readonly HangingDocument[]): Decision<AgreementNext> {
  const against = whyNotSealAgreement(agreement, hanging)
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>({ state: 'sealed', amendment: 'none' }, { action: 'seal' })
}
