import { plainWords } from '#core/request/personalFee.ts'
import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import { type Decision, done, NOT_YOURS, refused, saysWhy } from '#core/acts/decision.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { billed, proven } from '#core/order/measures.ts'
import { whyNotOpen } from '#core/order/proving.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { provenBy, provenFirst } from '#core/request/kinds.ts'
import { RECEIPT_STATES, type ReceiptState } from '#core/receive/states.ts'
import { notNow } from '#core/states.ts'

/** A receipt with the entries that it posted. */
export interface ReceiptFacts {
  readonly id: string
  readonly number: string
  readonly state: ReceiptState
  readonly byId: string
  readonly entries: readonly { readonly id: string; readonly lineId: string; readonly quantity: string }[]
}

/** What stands in the way of taking a receipt back: it is done already, the order is closed, or part of it is billed. */
export function whyNotReverse(receipt: ReceiptFacts, order: OrderFacts, actor: ActorFacts): Reason[] {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  if (receipt.state === 'reversed') return [stop('receive.reversedAlready', { number: receipt.number })]
  return [
    ...notNow(RECEIPT_STATES, 'receipt', receipt.state, 'reverse'),
    ...whyNotOpen(order),
    ...(mayDo(actor, 'delivery.receive') || receipt.byId === actor.id ? [] : [NOT_YOURS]),
    ...receipt.entries.flatMap(entry => belowBilled(lines.get(entry.lineId)!, entry.quantity)),
  ]
}

/** Never below what is billed already, where the line is proven before it is billed; else never below nothing. */
function belowBilled(line: OrderLine, quantity: string): Reason[] {
  const left = new Decimal(proven(line)).minus(quantity)
  if (left.gte(provenFirst(line.proof) ? billed(line) : 0)) return []
  return [
    stop(
      'receive.alreadyBilled',
      { line: plainWords(line), billed: tidy(billed(line)), left: tidy(left) },
      { clearedBy: ['invoiceClerk'] },
    ),
  ]
}

/** Takes a receipt back by counter-entries; it stays and says so. */
export function reverseReceipt(
  receipt: ReceiptFacts,
  order: OrderFacts,
  actor: ActorFacts,
  reason: string,
): Decision<{ readonly state: ReceiptState }> {
  const against = [
    ...whyNotReverse(receipt, order, actor),
    ...(saysWhy(reason) ? [] : [stop('receive.whyReversed', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const kinds = new Map(order.lines.map(line => [line.id, line.kind]))
  return done(
    { state: 'reversed' as const },
    { action: 'receiptReversed', changes: { receipt: receipt.number }, reason },
    follow(
      order,
      receipt.entries.map(entry => ({
        lineId: entry.lineId,
        kind: provenBy(kinds.get(entry.lineId)!),
        quantity: new Decimal(0).minus(entry.quantity).toString(),
        reversesId: entry.id,
      })),
    ),
  )
}
