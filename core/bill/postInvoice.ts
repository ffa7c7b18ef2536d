import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { HoldChange } from '#core/bill/holds.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { spentOn } from '#core/bill/spent.ts'
import { INVOICE_STATES, type InvoiceState } from '#core/bill/states.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type AccountFacts, type BudgetEntry, overdrafts } from '#core/ledger/budget.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { formatAmount, moneyText } from '#core/money/amount.ts'
import { follow } from '#core/order/after.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** Kept although posting is refused: what stops it is seen and can be cleared. */
export interface HeldUp {
  readonly state: InvoiceState
  readonly holds: HoldChange
}

/** What stands in the way of posting: a difference, or that it is posted or over already. */
export function whyNotPost(invoice: InvoiceFacts, actor: ActorFacts): Reason[] {
  const open = invoice.holds.filter(hold => !hold.ended)
  const held =
    invoice.state === 'onHold'
      ? [stop('bill.heldUp', { holds: open.length }, { clearedBy: [...new Set(open.map(hold => hold.clearedBy))] })]
      : notNow(INVOICE_STATES, 'invoice', invoice.state, 'post')
  return [...needsRight(actor, 'invoice.write'), ...held]
}

/**
 * Posts: bills the order lines, frees their commitment and accrual at the ordered price and spends at the billed one. It is matched once
 * more first; what stops it now is kept as holds although posting is refused. Refused too where an account that stops would be overdrawn
 * by what is billed above the ordered price.
 */
export function postInvoice(
  invoice: InvoiceFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  dueOn: string,
): Decision<InvoiceNext, HeldUp> {
  const against = whyNotPost(invoice, actor)
  if (against.length > 0) return refused(against)
  const matched = matchInvoice(invoice)
  if (matched.standing.length > 0)
    return {
      ok: false,
      reasons: [stop('bill.heldUpNow', {}, { clearedBy: [...new Set(matched.standing.map(hold => hold.clearedBy))] })],
      keep: { state: matched.state, holds: matched.holds },
    }
  const { quantity, budget } = postingEntries(invoice)
  const overdrawn = overdrafts(accounts, budget, amount => moneyText(amount, invoice.base))
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<InvoiceNext>(
    { state: 'cleared', holds: matched.holds, posts: { dueOn } },
    { action: 'posted', changes: { payable: formatAmount(invoice.payable, invoice.currency), dueOn } },
    { quantity, budget },
  )
}

/** What an invoice posts in both ledgers: several lines of it may bill one order line. */
export function postingEntries(invoice: InvoiceFacts): { quantity: QuantityEntry[]; budget: BudgetEntry[] } {
  const quantity = invoice.lines.map((line): QuantityEntry => ({
    lineId: line.orderLineId!,
    kind: 'billed',
    quantity: line.quantity,
  }))
  const spent = spentOn(invoice)
  const freed = invoice.orders.flatMap(order => {
    const own = new Set(order.lines.map(line => line.id))
    return follow(
      order,
      quantity.filter(entry => own.has(entry.lineId)),
    ).budget
  })
  return { quantity, budget: [...freed, ...spent] }
}
