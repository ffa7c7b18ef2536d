import { isValidIBAN } from 'ibantools'
import type { Report } from '#core/bill/en16931.ts'
import type { Adjustment, InvoiceText, PeriodText } from '#core/bill/invoiceText.ts'
import { daysBetween, isDay } from '#core/calendar/days.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'

/** A date further away than this is a slip of the pen: ten years of 366 days. */
const FARTHEST_DAYS = 3660

/** Form of what is written: vocabulary, dates, periods, numbers, currencies, the account. */
export function checkForm(invoice: InvoiceText, report: Report, today: string | undefined): void {
  for (const place of invoice.foreign)
    report('UBL-NAMESPACE', place, 'another namespace', 'an element of the document’s own vocabulary')
  checkDates(invoice, report, today)
  checkPeriods(invoice, report)
  checkNumbers(invoice, report)
  for (const { place, text } of invoice.currencies)
    if (text !== invoice.currency) report('BT-5', place, text, invoice.currency)
  for (const { accounts } of invoice.payments) for (const { id } of accounts) checkAccount(id, report)
}

function checkDates(invoice: InvoiceText, report: Report, today: string | undefined): void {
  for (const { place, text } of invoice.dates) {
    if (text === '') continue
    if (!isDay(text)) report('UBL-DATE', place, text, 'a day of the calendar as YYYY-MM-DD')
    else if (today !== undefined && Math.abs(daysBetween(today, text)) > FARTHEST_DAYS)
      report('UBL-DATE', place, text, 'a day within ten years of today')
  }
}

/** A period does not end before it begins (BR-29, BR-30). */
function checkPeriods(invoice: InvoiceText, report: Report): void {
  const backwards = (period: PeriodText | null): boolean =>
    period !== null && isDay(period.from) && isDay(period.to) && period.to < period.from
  if (backwards(invoice.period)) report('BR-29', 'InvoicePeriod', invoice.period!.to, `${invoice.period!.from} or later`) // prettier-ignore
  invoice.lines.forEach(({ period }, index) => {
    if (backwards(period)) report('BR-30', `InvoiceLine[${index + 1}]/InvoicePeriod`, period!.to, `${period!.from} or later`) // prettier-ignore
  })
}

/** An account that begins like an IBAN has to be one (BT-84; ISO 13616 check digits). */
function checkAccount(account: string, report: Report): void {
  const text = account.replace(/\s/g, '').toUpperCase()
  if (/^[A-Z]{2}\d{2}/.test(text) && !isValidIBAN(text))
    report('BT-84', 'PayeeFinancialAccount', account, 'an IBAN with right country, length and check digits')
}

/** Amounts of the document and the rules that bound their decimals (BR-DEC). */
const TOTAL_RULES: Readonly<Record<keyof InvoiceText['totals'], readonly [string, string]>> = {
  lines: ['BR-DEC-09', 'LineExtensionAmount'],
  allowances: ['BR-DEC-10', 'AllowanceTotalAmount'],
  charges: ['BR-DEC-11', 'ChargeTotalAmount'],
  net: ['BR-DEC-12', 'TaxExclusiveAmount'],
  tax: ['BR-DEC-13', 'TaxTotal/TaxAmount'],
  gross: ['BR-DEC-14', 'TaxInclusiveAmount'],
  prepaid: ['BR-DEC-16', 'PrepaidAmount'],
  rounding: ['BR-DEC-17', 'PayableRoundingAmount'],
  payable: ['BR-DEC-18', 'PayableAmount'],
}
/** Rules of an allowance's or charge's amount and base: of the document, and of a line. */
const ADJUSTMENT_RULES = {
  document: { allowance: ['BR-DEC-01', 'BR-DEC-02'], charge: ['BR-DEC-05', 'BR-DEC-06'] },
  line: { allowance: ['BR-DEC-24', 'BR-DEC-25'], charge: ['BR-DEC-27', 'BR-DEC-28'] },
} as const

type Rated = readonly [rule: string, place: string, text: string]

function checkNumbers(invoice: InvoiceText, report: Report): void {
  for (const [rule, place, text] of amountsOf(invoice)) {
    if (text === '') continue
    if (!/^-?\d{1,13}(\.\d+)?$/.test(text))
      report('UBL-NUMBER', place, text, 'an amount without exponent, blanks or marks of thousands') // prettier-ignore
    else if (!/^-?\d+(\.\d{1,2})?$/.test(text)) report(rule, place, text, 'at most two digits after the point')
  }
  for (const [place, text] of othersOf(invoice))
    if (text !== '' && !isDecimalText(text)) report('UBL-NUMBER', place, text, 'a decimal number without exponent')
  invoice.lines.forEach((line, i) => {
    if (isDecimalText(line.priceBase) && new Decimal(line.priceBase).lte(0))
      report('BT-149', `InvoiceLine[${i + 1}]/BaseQuantity`, line.priceBase, 'above zero')
  })
}

const amountsOf = (invoice: InvoiceText): Rated[] => [
  ...Object.entries(TOTAL_RULES).map(([field, [rule, place]]): Rated => [rule, place, invoice.totals[field as keyof InvoiceText['totals']]]), // prettier-ignore
  ['BR-DEC-15', 'TaxTotal/TaxAmount', invoice.taxAccounting],
  ...invoice.taxes.flatMap((tax, i): Rated[] => [
    ['BR-DEC-19', `TaxSubtotal[${i + 1}]/TaxableAmount`, tax.taxable],
    ['BR-DEC-20', `TaxSubtotal[${i + 1}]/TaxAmount`, tax.tax],
  ]),
  ...invoice.adjustments.flatMap((part, i) => adjusted(part, `AllowanceCharge[${i + 1}]`, ADJUSTMENT_RULES.document)),
  ...invoice.lines.flatMap((line, i): Rated[] => [
    ['BR-DEC-23', `InvoiceLine[${i + 1}]/LineExtensionAmount`, line.net],
    ...line.adjustments.flatMap((part, j) => adjusted(part, `InvoiceLine[${i + 1}]/AllowanceCharge[${j + 1}]`, ADJUSTMENT_RULES.line)), // prettier-ignore
  ]),
]

function adjusted(part: Adjustment, place: string, rules: (typeof ADJUSTMENT_RULES)['document' | 'line']): Rated[] {
  const [amount, base] = part.charge ? rules.charge : rules.allowance
  return [
    [amount, `${place}/Amount`, part.amount],
    [base, `${place}/BaseAmount`, part.base],
  ]
}

/** Numbers that may have as many decimals as they like. */
const othersOf = (invoice: InvoiceText): [string, string][] => [
  ...invoice.lines.flatMap((line, i): [string, string][] => [
    [`InvoiceLine[${i + 1}]/InvoicedQuantity`, line.quantity],
    [`InvoiceLine[${i + 1}]/PriceAmount`, line.price],
    [`InvoiceLine[${i + 1}]/Price/BaseAmount`, line.grossPrice],
    [`InvoiceLine[${i + 1}]/Price/Amount`, line.priceDiscount],
    [`InvoiceLine[${i + 1}]/BaseQuantity`, line.priceBase],
    [`InvoiceLine[${i + 1}]/Percent`, line.rate],
    ...line.adjustments.flatMap((part, j) => percents(part, `InvoiceLine[${i + 1}]/AllowanceCharge[${j + 1}]`)),
  ]),
  ...invoice.adjustments.flatMap((part, i) => percents(part, `AllowanceCharge[${i + 1}]`)),
  ...invoice.taxes.map((tax, i): [string, string] => [`TaxSubtotal[${i + 1}]/Percent`, tax.rate]),
]
const percents = (part: Adjustment, place: string): [string, string][] => [
  [`${place}/Percent`, part.rate],
  [`${place}/MultiplierFactorNumeric`, part.percent],
]
