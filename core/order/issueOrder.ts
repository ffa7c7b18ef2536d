import type { ActorFacts } from '#core/acts/actor.ts'
import { needsRight } from '#core/acts/actor.ts'
import { type Decision, done, obstacles, refused } from '#core/acts/decision.ts'
import type { AccountFacts, BudgetEntry } from '#core/ledger/budget.ts'
import { spread } from '#core/ledger/commitments.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { formatAmount, portion } from '#core/money/amount.ts'
import { againstRequest } from '#core/order/againstRequest.ts'
import { follow, orderedEntries, type Outcome, outcomeOverdrafts } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { SoFar } from '#core/order/orderImport.ts'
import { orderTotal } from '#core/order/revision.ts'
import type { OrderNext } from '#core/order/next.ts'
import { revisionLeaves } from '#core/order/tellSupplier.ts'
import { lineValues, payersByLine } from '#core/order/standing.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import { provenBy } from '#core/request/kinds.ts'
import { notNow } from '#core/states.ts'

/** What stands in the way of issuing; checks among them want a reason. */
export const whyNotIssue = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'issue'),
  ...(order.lines.length === 0 ? [stop('order.noLines')] : []),
  ...order.supplierReasons,
  ...order.agreementReasons,
  ...againstRequest(order),
]

/**
 * Issues a draft: its value is committed in place of what was reserved for it, revision 0 is frozen and goes to the supplier.
 * Refused where the supplier takes no orders, where more than requested or dearer than approved is on it, or where an account that
 * stops would be overdrawn.
 */
export function issueOrder(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  checkReason: string,
): Decision<OrderNext> {
  const against = obstacles(
    whyNotIssue(order, actor),
    checkReason,
    stop('order.checkReason', {}, { place: 'checkReason' }),
  )
  if (against.length > 0) return refused(against)
  const issued = committed(order, accounts)
  return 'reasons' in issued
    ? refused(issued.reasons)
    : done<OrderNext>(FIRST, did(order, 'issued', checkReason), {
        ...issued.outcome,
        says: revisionLeaves(issued.outcome.after, '', actor.name),
      })
}

/**
 * Puts an order in force that was written for a bill that had none, once those who pay for it said yes: it commits as an issued one does; the supplier, who
 * has delivered and billed it, is told nothing. Refused where an account that stops would be overdrawn.
 */
export function confirmOrder(order: OrderFacts, accounts: readonly AccountFacts[]): Decision<OrderNext> {
  const against = [...notNow(ORDER_STATES, 'order', order.state, 'issue'), ...againstRequest(order)]
  if (against.length > 0) return refused(against)
  const issued = committed(order, accounts)
  return 'reasons' in issued
    ? refused(issued.reasons)
    : done<OrderNext>({ ...FIRST, state: 'acknowledged' }, did(order, 'inForceAfter', ''), issued.outcome)
}

/**
 * Takes over an order that was issued before this program was used: it commits as an issued one does and its revision 0 is frozen, but the
 * supplier, who has it, is told nothing. What had come in is proven and, where it is not billed, accrued; what was billed is spent at the ordered
 * price; a day that was promised confirms its line. `soFar`: of each line, in their order.
 */
export function takeOverOrder(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  soFar: readonly SoFar[] = [],
): Decision<OrderNext> {
  const against = stops(whyNotIssue(order, actor))
  if (against.length > 0) return refused(against)
  const confirmed = soFar.length > 0 && soFar.every(one => one.promised !== null)
  const issued = committed(order, accounts, progressOf(order, soFar))
  if ('reasons' in issued) return refused(issued.reasons)
  const promises = order.lines.flatMap((line, at) => {
    const date = soFar[at]?.promised
    return date ? [{ lineId: line.id, date }] : []
  })
  const before = order.lines.flatMap((line, at) => {
    const { received = '0', billed = '0' } = soFar[at] ?? {}
    return received === '0' && billed === '0' ? [] : [{ lineId: line.id, received, billed }]
  })
  return done<OrderNext>(
    {
      ...FIRST,
      state: confirmed ? 'acknowledged' : 'issued',
      ...(promises.length > 0 ? { promises } : {}),
      ...(before.length > 0 ? { before } : {}),
    },
    did(order, 'takenOver', ''),
    issued.outcome,
  )
}

/** What had happened to an order before, as both ledgers keep it. */
function progressOf(order: OrderFacts, soFar: readonly SoFar[]): Progress {
  const values = lineValues(order)
  const payers = payersByLine(order)
  const real = order.lines.flatMap((line, at) => (soFar[at] ? [{ line, so: soFar[at] }] : []))
  return {
    quantity: real.flatMap(({ line, so }): QuantityEntry[] => [
      { lineId: line.id, kind: provenBy(line.kind), quantity: so.received },
      { lineId: line.id, kind: 'billed', quantity: so.billed },
      ...(so.promised === null ? [] : [{ lineId: line.id, kind: 'confirmed' as const, quantity: line.quantity }]),
    ]),
    spent: real.flatMap(({ line, so }) =>
      spread('spent', line.id, portion(values.get(line.id)!, so.billed, line.quantity), payers.get(line.id)!),
    ),
  }
}

interface Progress {
  readonly quantity: readonly QuantityEntry[]
  readonly spent: readonly BudgetEntry[]
}

const FIRST: OrderNext = { state: 'issued', revision: 0, issues: { reason: '' } }

const did = (order: OrderFacts, action: string, reason: string) => ({
  action,
  changes: { revision: 0, total: formatAmount(orderTotal(order), order.currency) },
  reason,
})

/** What issuing posts, or the accounts that would be overdrawn by it. */
function committed(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  { quantity, spent }: Progress = { quantity: [], spent: [] },
): { readonly outcome: Outcome } | { readonly reasons: Reason[] } {
  const followed = follow({ ...order, state: 'issued', revision: 0 }, [
    ...order.lines.flatMap(line => orderedEntries(line, line.quantity)),
    ...quantity,
  ])
  const outcome = { ...followed, budget: [...followed.budget, ...spent] }
  const reasons = outcomeOverdrafts(outcome, accounts, order.base)
  return reasons.length > 0 ? { reasons } : { outcome }
}
