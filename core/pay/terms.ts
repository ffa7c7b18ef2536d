import { addDays, endOfMonth } from '#core/calendar/days.ts'

/** Payment terms: so many calendar days, counted from the invoice, the last receipt, or the end of the invoice's month. */
export interface PaymentTerms {
  readonly days: number
  readonly from: 'invoice' | 'receipt' | 'endOfMonth'
}

/**
 * When an invoice is due. With `receipt` and nothing received yet, the invoice date counts.
 *
 * dueDate({ days: 30, from: 'endOfMonth' }, '2026-02-10', null) //=> '2026-03-30'
 */
export function dueDate(terms: PaymentTerms, invoiceDate: string, receivedOn: string | null): string {
  const start = { invoice: invoiceDate, receipt: receivedOn ?? invoiceDate, endOfMonth: endOfMonth(invoiceDate) }[
    terms.from
  ]
  return addDays(start, terms.days)
}

/** Of the supplier's terms and the date printed on the invoice the later one counts: nobody is paid before it was agreed. */
export const agreedDueDate = (byTerms: string, printed: string): string => (printed > byTerms ? printed : byTerms)
