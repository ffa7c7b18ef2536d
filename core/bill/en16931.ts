import { checkCodes } from '#core/bill/checkCodes.ts'
import { checkForm } from '#core/bill/checkForm.ts'
import { checkGerman } from '#core/bill/checkGerman.ts'
import { checkPeppol } from '#core/bill/checkPeppol.ts'
import { checkPresence } from '#core/bill/checkPresence.ts'
import { checkTax } from '#core/bill/checkTax.ts'
import { checkTotals } from '#core/bill/checkTotals.ts'
import { placeIn } from '#core/bill/invoicePlaces.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'

/** Sets of rules beside the standard's own, of which a house or a caller selects. */
export const RULE_SETS = ['german', 'peppol'] as const
export type RuleSet = (typeof RULE_SETS)[number]
/** `stop`: it cannot be taken; `check`: somebody should look at it. */
export type Severity = 'stop' | 'check'

export interface Violation {
  /** Number of the broken rule: BR-… of EN 16931-1 or of a national set, BT-… where a business term itself is wrong, UBL-… or CII-… of the syntax. */
  readonly rule: string
  readonly place: string
  readonly expected: string
  readonly found: string
  readonly severity: Severity
  readonly set: 'en16931' | RuleSet
}

export type Report = (rule: string, place: string, found?: string, expected?: string, severity?: Severity) => void

/**
 * Checks an invoice or credit note against the business rules of EN 16931-1:2017+A1: presence and cardinality (BR-01 … BR-67, BR-CO-03, -04, -09,
 * -18 … -26), form of dates, numbers, currencies and accounts, decimals (BR-DEC), codes (BR-CL), arithmetic (BR-CO-10 … BR-CO-17) and VAT categories
 * (BR-S/Z/E/AE/IC/G/O/IG/IP/B), and against the sets that are named. Returns every rule that is broken, in reading order; sums are only held against
 * each other where all numbers can be read. `today` bounds the dates to ten years around it.
 */
export function checkInvoice(invoice: InvoiceText, today?: string, sets: readonly RuleSet[] = []): Violation[] {
  const violations: Violation[] = []
  const reportFor =
    (set: Violation['set']): Report =>
    (rule, place, found = '', expected = '', severity = 'stop') =>
      violations.push({ rule: ruleIn(invoice, rule), place: placeIn(invoice.syntax, place), found, expected, severity, set }) // prettier-ignore
  const report = reportFor('en16931')
  const profile = withoutLines(invoice.customizationId)
  if (profile !== null) {
    report('BT-24', 'CustomizationID', profile, 'a profile with lines: BASIC, EN 16931, EXTENDED')
    return violations
  }
  checkPresence(invoice, report)
  const before = violations.length
  checkForm(invoice, report, today)
  checkCodes(invoice, report)
  const readable = !violations.slice(before).some(one => isUnreadable(one.rule))
  if (readable) {
    checkTotals(invoice, report)
    checkTax(invoice, report)
  }
  if (sets.includes('german')) checkGerman(invoice, reportFor('german'))
  if (sets.includes('peppol') && readable) checkPeppol(invoice, reportFor('peppol'))
  return violations
}

/** Profiles of Factur-X and ZUGFeRD that are no invoices: sums alone, without lines. withoutLines('urn:factur-x.eu:1p0:minimum') //=> 'MINIMUM' */
function withoutLines(customizationId: string): string | null {
  const [, name] = /:(minimum|basicwl)$/i.exec(customizationId.trim()) ?? []
  return name === undefined ? null : name.toLowerCase() === 'basicwl' ? 'BASIC WL' : 'MINIMUM'
}

/** Rules whose breach leaves numbers that cannot be added. */
const isUnreadable = (rule: string): boolean => /^(BR-DEC-\d+|(UBL|CII)-NUMBER|BT-149)$/.test(rule)

/** Rules of the syntax are named after it. */
const ruleIn = (invoice: InvoiceText, rule: string): string =>
  invoice.syntax === 'cii' ? rule.replace(/^UBL-/, 'CII-') : rule
