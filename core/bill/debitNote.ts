import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Message, saysWhy } from '#core/acts/decision.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import { lessCredits } from '#core/bill/lessCredits.ts'
import type { WantedCredit } from '#core/bill/writeCredit.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { formatAmount, type Minor, minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** What stands against a debit note of ours: the right is missing, its invoice is over, or nobody says why. */
export const whyNotDebit = (invoice: Pick<InvoiceFacts, 'state'>, reason: string, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'hold.clear'),
  ...(isIn(INVOICE_GROUPS.standing, invoice.state) ? [] : [stop('bill.holdEnded')]),
  ...(saysWhy(reason) ? [] : [stop('bill.wantsReason', {}, { place: 'reason' })]),
]

/** Differences that a debit note takes off the bill: the undisputed rest is paid. */
const DEBITED = ['price', 'quantity', 'proof', 'charges'] as const
export const canBeDebited = (hold: Pick<KeptHold, 'kind'>): boolean => DEBITED.some(kind => kind === hold.kind)

/**
 * The debit note that takes a difference off a bill: of a price hold its money over the whole line, of a quantity or proof hold the pieces that are too
 * many, of charges what is above. Null where no debit note mends it.
 */
export function debitFor(invoice: InvoiceFacts, hold: KeptHold): Pick<WantedCredit, 'charges' | 'lines'> | null {
  if (!canBeDebited(hold)) return null
  if (hold.kind === 'charges') return { charges: hold.amount, lines: [] }
  const line = lessCredits(invoice).lines.find(one => one.position === hold.position)
  if (!line || new Decimal(line.quantity).lte(0)) return null
  if (hold.kind !== 'price') return { charges: minor(0), lines: [{ of: line.position, way: 'quantity', quantity: hold.quantity, priceOff: '0' }] } // prettier-ignore
  const priceOff = new Decimal(formatAmount(hold.amount, invoice.currency))
    .times(line.priceBase)
    .dividedBy(line.quantity)
  // rounded up to what a price can hold: the rest of a cent is in our favour, and never above what was billed
  return { charges: minor(0), lines: [{ of: line.position, way: 'price', quantity: line.quantity, priceOff: priceOff.toDecimalPlaces(6, Decimal.ROUND_UP).toString() }] } // prettier-ignore
}

/** What the supplier is told of a debit note. */
export const debitMail = (
  invoice: Pick<InvoiceFacts, 'id' | 'supplierId' | 'supplierNumber' | 'currency'>,
  number: string,
  gross: Minor,
  reason: string,
): Message => ({
  template: 'invoice.debited',
  to: { kind: 'supplier', id: invoice.supplierId, message: 'invoices' },
  key: `debit-note:${number}`,
  details: { number, invoice: invoice.supplierNumber, currency: invoice.currency, amount: formatAmount(gross, invoice.currency), reason, path: `/supplier/invoices/${invoice.id}` }, // prettier-ignore
})
