import { checkForm } from '#core/bill/checkForm.ts'
import { checkPresence } from '#core/bill/checkPresence.ts'
import { checkTax } from '#core/bill/checkTax.ts'
import { checkTotals } from '#core/bill/checkTotals.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'

export interface Violation {
  /** Number of the broken rule: BR-… of EN 16931-1, BT-… where a business term itself is wrong, UBL-… of the syntax. */
  readonly rule: string
  readonly place: string
  readonly expected: string
  readonly found: string
}

export type Report = (rule: string, place: string, found?: string, expected?: string) => void

/**
 * Checks an invoice against the business rules of EN 16931-1: presence (BR-01 … BR-27), form of dates, numbers, currencies and accounts,
 * arithmetic (BR-CO-10 … BR-CO-17), decimals (BR-DEC) and VAT categories (BR-S/Z/E/AE/IC/G/O/AF/AG). Returns every rule that is broken,
 * in reading order; sums are only held against each other where all numbers can be read. `today` bounds the dates to ten years around it.
 */
export function checkInvoice(invoice: InvoiceText, today?: string): Violation[] {
  const violations: Violation[] = []
  const report: Report = (rule, place, found = '', expected = '') => violations.push({ rule, place, found, expected })
  checkPresence(invoice, report)
  const before = violations.length
  checkForm(invoice, report, today)
  if (violations.slice(before).some(one => UNREADABLE.has(one.rule))) return violations
  checkTotals(invoice, report)
  checkTax(invoice, report)
  return violations
}

/** Rules whose breach leaves numbers that cannot be added. */
const UNREADABLE: ReadonlySet<string> = new Set(['BR-DEC', 'UBL-NUMBER', 'BT-149'])
