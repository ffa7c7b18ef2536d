import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { inOrderedUnit, type ItemUnits } from '#core/bill/inOrderedUnit.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** What stands against linking: it is posted or over. */
export const whyNotLink = (invoice: Pick<InvoiceFacts, 'state'>, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'invoice.write'),
  ...(isIn(INVOICE_GROUPS.waiting, invoice.state)
    ? []
    : [stop('state.notNow', { kind: 'invoice', state: invoice.state, action: 'link', possible: '' })]),
]

/** Says to which order line a line of the invoice belongs; it is converted to the ordered unit and matched again. */
export function linkLine(
  invoice: InvoiceFacts,
  lineId: string,
  order: OrderFacts,
  orderLineId: string,
  item: ItemUnits | null,
  actor: ActorFacts,
): Decision<InvoiceNext> {
  const line = invoice.lines.find(one => one.id === lineId)
  const ordered = order.lines.find(one => one.id === orderLineId)
  const against = [
    ...whyNotLink(invoice, actor),
    ...(line && ordered ? [] : [stop('bill.foreignLine')]),
    ...(order.supplierId === invoice.supplierId ? [] : [stop('bill.otherSupplier', { number: order.number })]),
    ...(isIn(ORDER_GROUPS.billable, order.state) ? [] : [stop('bill.orderEnded', { number: order.number })]),
  ]
  if (against.length > 0 || !line || !ordered) return refused(against)
  const figures = inOrderedUnit(line, ordered.unit, item)
  const linked: InvoiceFacts = {
    ...invoice,
    lines: invoice.lines.map(one => (one.id === lineId ? { ...one, ...figures, orderLineId } : one)),
    orders: [...invoice.orders.filter(one => one.id !== order.id), order],
  }
  const matched = matchInvoice(linked)
  const links = { lineId, orderLineId, quantity: figures.quantity, unit: figures.unit, priceBase: figures.priceBase }
  return done<InvoiceNext>(
    { state: matched.state, holds: matched.holds, links },
    {
      action: 'linked',
      changes: { line: line.position, order: order.number, orderLine: ordered.position },
    },
  )
}
