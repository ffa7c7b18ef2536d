import { CREDIT_TYPE_CODES } from '#core/bill/checkCodes.ts'
import { checkInvoice, type RuleSet } from '#core/bill/en16931.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { formatAmount } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Document types that are taken as invoices (UNTDID 1001, as EN 16931 allows them). */
const INVOICE_TYPES: ReadonlySet<string> = new Set(['380', '383', '384', '386', '389', '393', '82', '326'])

/** Whether it takes something off an invoice (UNTDID 1001: 381 and its like). */
export const isCreditNote = (text: Pick<InvoiceText, 'typeCode'>): boolean => CREDIT_TYPE_CODES.has(text.typeCode)

/** What stands against reading an e-invoice: every rule of EN 16931 and of the sets of the house that it breaks, else that it is no invoice but something else. */
export function whyNotRead(text: InvoiceText, today: string, sets: readonly RuleSet[] = []): Reason[] {
  const violations = checkInvoice(text, today, sets).filter(violation => violation.severity === 'stop')
  if (violations.length > 0)
    return violations.map(({ rule, place, found, expected }) => stop('bill.rule', { rule, place, found, expected }, { place })) // prettier-ignore
  return isCreditNote(text) || INVOICE_TYPES.has(text.typeCode)
    ? []
    : [stop('bill.typeNotHandled', { type: text.typeCode })]
}

/** An invoice of the same supplier and number that stands. */
export interface SameNumber {
  readonly number: string
}

/** What stands against taking an invoice in: it asks for nothing, or it is here already. */
export function whyNotTake(
  invoice: { readonly payable: bigint; readonly supplierNumber: string; readonly lines: readonly unknown[] },
  same: SameNumber | null,
): Reason[] {
  return [
    ...(invoice.payable <= 0n || invoice.lines.length === 0 ? [stop('bill.notAboveZero')] : []),
    ...(same ? [stop('bill.duplicate', { number: same.number, supplierNumber: invoice.supplierNumber })] : []),
  ]
}

/** What stands against an invoice that somebody of a supplier sent: it is another company's. */
export const whyNotFromSender = (supplierId: string, sender: string | null): Reason[] =>
  sender === null || sender === supplierId ? [] : [stop('bill.otherSender')]

/** Takes an invoice in and matches it at once. */
export function takeInvoice(invoice: InvoiceFacts, same: SameNumber | null, source: string): Decision<InvoiceNext> {
  const against = whyNotTake(invoice, same)
  if (against.length > 0) return refused(against)
  const matched = matchInvoice({ ...invoice, state: 'read', holds: [] })
  return done<InvoiceNext>(
    { state: matched.state, holds: matched.holds },
    {
      action: 'read',
      changes: {
        supplierNumber: invoice.supplierNumber,
        payable: formatAmount(invoice.payable, invoice.currency),
        source,
        holds: matched.standing.map(({ kind, position, quantity }) => ({ kind, position, quantity })),
      },
    },
  )
}
