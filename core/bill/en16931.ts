import { Decimal, isDecimalText } from '#core/money/decimal.ts'

/** VAT category codes of EN 16931 (UNCL 5305 subset). */
export const VAT_CATEGORIES = ['S', 'Z', 'E', 'AE', 'K', 'G', 'O', 'L', 'M'] as const

export interface PartyText {
  readonly name: string
  readonly country: string
  readonly vatId: string
  readonly registrationId: string
  readonly endpointId: string
}

/** An allowance or charge of the document (BG-20, BG-21) or of a line (BG-27, BG-28). */
export interface Adjustment {
  readonly charge: boolean
  readonly amount: string
  readonly reason: string
  readonly reasonCode: string
  readonly category: string
  readonly rate: string
}

export interface InvoiceLineText {
  readonly id: string
  readonly name: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly net: string
  readonly category: string
  readonly rate: string
  readonly orderLineReference: string
  readonly sellerItemId: string
  readonly buyerItemId: string
  readonly adjustments: readonly Adjustment[]
}

export interface TaxSubtotal {
  readonly taxable: string
  readonly tax: string
  readonly category: string
  readonly rate: string
  readonly exemptionReason: string
}

/** What an invoice says, as text exactly as written (EN 16931-1 semantic model; numbers are checked, never re-formatted). */
export interface InvoiceText {
  readonly customizationId: string
  readonly number: string
  readonly typeCode: string
  readonly issueDate: string
  readonly dueDate: string
  readonly currency: string
  readonly taxCurrency: string
  readonly orderReference: string
  readonly paymentTerms: string
  readonly seller: PartyText
  readonly buyer: PartyText
  readonly iban: string
  readonly lines: readonly InvoiceLineText[]
  readonly adjustments: readonly Adjustment[]
  readonly taxes: readonly TaxSubtotal[]
  readonly totals: {
    readonly lines: string
    readonly allowances: string
    readonly charges: string
    readonly net: string
    readonly tax: string
    readonly gross: string
    readonly prepaid: string
    readonly rounding: string
    readonly payable: string
  }
}

export interface Violation {
  readonly rule: string
  readonly place: string
  readonly expected: string
  readonly found: string
}

type Report = (rule: string, place: string, found?: string, expected?: string) => void

/**
 * Checks an invoice against the business rules of EN 16931-1: presence (BR-01 … BR-27), arithmetic (BR-CO-10 … BR-CO-17),
 * decimals (BR-DEC) and VAT categories (BR-S/Z/E/AE/K/G/O-05, -08, -10). Returns every rule that is broken, in reading order.
 */
export function checkInvoice(invoice: InvoiceText): Violation[] {
  const violations: Violation[] = []
  const report: Report = (rule, place, found = '', expected = '') => violations.push({ rule, place, found, expected })
  checkPresence(invoice, report)
  const before = violations.length
  checkNumbers(invoice, report)
  if (violations.length === before) {
    checkLines(invoice, report)
    checkTotals(invoice, report)
    checkTaxes(invoice, report)
  }
  return violations
}

function checkPresence(invoice: InvoiceText, report: Report): void {
  const needed: [string, string, string][] = [
    ['BR-01', 'CustomizationID', invoice.customizationId],
    ['BR-02', 'ID', invoice.number],
    ['BR-03', 'IssueDate', invoice.issueDate],
    ['BR-04', 'InvoiceTypeCode', invoice.typeCode],
    ['BR-05', 'DocumentCurrencyCode', invoice.currency],
    ['BR-06', 'AccountingSupplierParty', invoice.seller.name],
    ['BR-07', 'AccountingCustomerParty', invoice.buyer.name],
    ['BR-09', 'AccountingSupplierParty/Country', invoice.seller.country],
    ['BR-11', 'AccountingCustomerParty/Country', invoice.buyer.country],
    ['BR-12', 'LineExtensionAmount', invoice.totals.lines],
    ['BR-13', 'TaxExclusiveAmount', invoice.totals.net],
    ['BR-14', 'TaxInclusiveAmount', invoice.totals.gross],
    ['BR-15', 'PayableAmount', invoice.totals.payable],
  ]
  for (const [rule, place, text] of needed) if (text === '') report(rule, place)
  if (invoice.lines.length === 0) report('BR-16', 'InvoiceLine')
  invoice.lines.forEach((line, index) => {
    const place = `InvoiceLine[${index + 1}]`
    const parts: [string, string][] = [
      ['BR-21', line.id],
      ['BR-22', line.quantity],
      ['BR-23', line.unit],
      ['BR-24', line.net],
      ['BR-25', line.name],
      ['BR-26', line.price],
      ['BR-CO-04', line.category],
    ]
    for (const [rule, text] of parts) if (text === '') report(rule, place)
  })
  if (invoice.taxes.length === 0) report('BR-CO-18', 'TaxTotal')
  for (const [place, text] of [
    ['IssueDate', invoice.issueDate],
    ['DueDate', invoice.dueDate],
  ] as const)
    if (text !== '' && !/^\d{4}-\d{2}-\d{2}$/.test(text)) report('UBL-DATE', place, text)
}

function checkNumbers(invoice: InvoiceText, report: Report): void {
  const { totals } = invoice
  const amounts: [string, string][] = [
    ...Object.entries(totals),
    ...invoice.taxes.flatMap((tax, i): [string, string][] => [
      [`TaxSubtotal[${i + 1}]/TaxableAmount`, tax.taxable],
      [`TaxSubtotal[${i + 1}]/TaxAmount`, tax.tax],
    ]),
    ...invoice.adjustments.map((part, i): [string, string] => [`AllowanceCharge[${i + 1}]/Amount`, part.amount]),
    ...invoice.lines.map((line, i): [string, string] => [`InvoiceLine[${i + 1}]/LineExtensionAmount`, line.net]),
  ]
  for (const [place, text] of amounts) if (text !== '' && !/^-?\d{1,13}(\.\d{1,2})?$/.test(text)) report('BR-DEC', place, text, 'at most two digits after the point')
  const others = [
    ...invoice.lines.flatMap((line, i): [string, string][] => [
      [`InvoiceLine[${i + 1}]/InvoicedQuantity`, line.quantity],
      [`InvoiceLine[${i + 1}]/PriceAmount`, line.price],
      [`InvoiceLine[${i + 1}]/BaseQuantity`, line.priceBase],
      [`InvoiceLine[${i + 1}]/Percent`, line.rate],
    ]),
    ...invoice.lines.flatMap((line, i) => line.adjustments.map((part, j): [string, string] => [`InvoiceLine[${i + 1}]/AllowanceCharge[${j + 1}]/Amount`, part.amount])),
    ...invoice.taxes.map((tax, i): [string, string] => [`TaxSubtotal[${i + 1}]/Percent`, tax.rate]),
    ...invoice.adjustments.map((part, i): [string, string] => [`AllowanceCharge[${i + 1}]/Percent`, part.rate]),
  ]
  for (const [place, text] of others) if (text !== '' && !isDecimalText(text)) report('UBL-NUMBER', place, text, 'a decimal number without exponent')
}

function checkLines(invoice: InvoiceText, report: Report): void {
  invoice.lines.forEach((line, index) => {
    const place = `InvoiceLine[${index + 1}]`
    if (number(line.price).lt(0)) report('BR-27', place, line.price)
    const base = number(line.priceBase || '1')
    if (base.lte(0)) return report('BT-149', place, line.priceBase, 'above zero')
    const gross = number(line.quantity).times(number(line.price)).dividedBy(base).toDecimalPlaces(2)
    const expected = gross.plus(signedSum(line.adjustments))
    if (!expected.equals(number(line.net))) report('BT-131', place, line.net, expected.toFixed(2))
  })
}

function checkTotals({ totals, lines, adjustments, taxes, dueDate, paymentTerms }: InvoiceText, report: Report): void {
  const equal = (rule: string, place: string, found: string, expected: Decimal): void => {
    if (!number(found).equals(expected)) report(rule, place, found === '' ? '0' : found, expected.toFixed(2))
  }
  equal('BR-CO-10', 'LineExtensionAmount', totals.lines, sum(lines.map(line => line.net)))
  equal('BR-CO-11', 'AllowanceTotalAmount', totals.allowances, sum(adjustments.filter(part => !part.charge).map(part => part.amount)))
  equal('BR-CO-12', 'ChargeTotalAmount', totals.charges, sum(adjustments.filter(part => part.charge).map(part => part.amount)))
  equal('BR-CO-13', 'TaxExclusiveAmount', totals.net, number(totals.lines).minus(number(totals.allowances)).plus(number(totals.charges)))
  equal('BR-CO-14', 'TaxAmount', totals.tax, sum(taxes.map(tax => tax.tax)))
  equal('BR-CO-15', 'TaxInclusiveAmount', totals.gross, number(totals.net).plus(number(totals.tax)))
  equal('BR-CO-16', 'PayableAmount', totals.payable, number(totals.gross).minus(number(totals.prepaid)).plus(number(totals.rounding)))
  if (number(totals.payable).gt(0) && dueDate === '' && paymentTerms === '') report('BR-CO-25', 'DueDate')
}

function checkTaxes(invoice: InvoiceText, report: Report): void {
  const parts = [...invoice.lines.map(line => ({ ...line, value: number(line.net) })), ...invoice.adjustments.map(part => ({ ...part, value: signedSum([part]) }))]
  const groups = new Map<string, Decimal>()
  for (const part of parts) groups.set(groupOf(part), (groups.get(groupOf(part)) ?? number('0')).plus(part.value))
  invoice.taxes.forEach((tax, index) => {
    const place = `TaxSubtotal[${index + 1}]`
    const expected = groups.get(groupOf(tax)) ?? number('0')
    if (!number(tax.taxable).equals(expected)) report(`BR-${tax.category}-08`, place, tax.taxable, expected.toFixed(2))
    const due = number(tax.taxable).times(number(tax.rate)).dividedBy(100).toDecimalPlaces(2)
    if (!number(tax.tax).equals(due)) report('BR-CO-17', place, tax.tax, due.toFixed(2))
    checkRate(tax, place, report)
    groups.delete(groupOf(tax))
  })
  for (const [group] of groups) report('BR-CO-18', 'TaxTotal', '', group)
}

function checkRate(tax: TaxSubtotal, place: string, report: Report): void {
  if (!VAT_CATEGORIES.some(category => category === tax.category)) return report('BR-CL-17', place, tax.category)
  if (tax.category === 'S' && number(tax.rate).lte(0)) report('BR-S-05', place, tax.rate, 'above 0')
  if (['Z', 'E', 'AE', 'K', 'G'].includes(tax.category) && !number(tax.rate).isZero()) report(`BR-${tax.category}-05`, place, tax.rate, '0')
  if (['E', 'AE', 'K', 'G', 'O'].includes(tax.category) && tax.exemptionReason === '') report(`BR-${tax.category}-10`, place)
}

const number = (text: string): Decimal => new Decimal(text === '' ? 0 : text)
const sum = (texts: readonly string[]): Decimal => texts.reduce<Decimal>((total, text) => total.plus(number(text)), new Decimal(0))
const signedSum = (parts: readonly { charge: boolean; amount: string }[]): Decimal =>
  parts.reduce<Decimal>((total, part) => (part.charge ? total.plus(number(part.amount)) : total.minus(number(part.amount))), new Decimal(0))
const groupOf = (part: { category: string; rate: string }): string => `${part.category} ${part.category === 'O' ? 0 : number(part.rate).toString()}`
