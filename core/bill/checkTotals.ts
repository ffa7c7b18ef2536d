import type { Report } from '#core/bill/en16931.ts'
import { number, signedSum, sumTexts } from '#core/bill/figures.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'
import type { Decimal } from '#core/money/decimal.ts'

/** Sums and products of an invoice (BR-27, BR-28, BT-131, BR-CO-10 … BR-CO-16, BR-CO-25), each rounded half away from zero to two digits. */
export function checkTotals(invoice: InvoiceText, report: Report): void {
  invoice.lines.forEach((line, index) => {
    const place = `InvoiceLine[${index + 1}]`
    if (number(line.price).lt(0)) report('BR-27', place, line.price, '0 or above')
    if (number(line.grossPrice).lt(0)) report('BR-28', place, line.grossPrice, '0 or above')
    const gross = number(line.quantity)
      .times(number(line.price))
      .dividedBy(number(line.priceBase || '1'))
    const expected = gross.toDecimalPlaces(2).plus(signedSum(line.adjustments))
    if (!expected.equals(number(line.net))) report('BT-131', place, line.net, expected.toFixed(2))
  })
  const { totals, lines, adjustments, taxes } = invoice
  const equal = (rule: string, place: string, found: string, expected: Decimal): void => {
    if (!number(found).equals(expected)) report(rule, place, found === '' ? '0' : found, expected.toFixed(2))
  }
  const amounts = (charge: boolean): string[] =>
    adjustments.filter(part => part.charge === charge).map(part => part.amount)
  equal('BR-CO-10', 'LineExtensionAmount', totals.lines, sumTexts(lines.map(line => line.net)))
  equal('BR-CO-11', 'AllowanceTotalAmount', totals.allowances, sumTexts(amounts(false)))
  equal('BR-CO-12', 'ChargeTotalAmount', totals.charges, sumTexts(amounts(true)))
  equal(
    'BR-CO-13',
    'TaxExclusiveAmount',
    totals.net,
    number(totals.lines).minus(number(totals.allowances)).plus(number(totals.charges)),
  )
  equal('BR-CO-14', 'TaxAmount', totals.tax, sumTexts(taxes.map(tax => tax.tax)))
  equal('BR-CO-15', 'TaxInclusiveAmount', totals.gross, number(totals.net).plus(number(totals.tax)))
  equal(
    'BR-CO-16',
    'PayableAmount',
    totals.payable,
    number(totals.gross).minus(number(totals.prepaid)).plus(number(totals.rounding)),
  )
  if (number(totals.payable).gt(0) && invoice.dueDate === '' && invoice.paymentTerms === '')
    report('BR-CO-25', 'DueDate', '', 'a due date or terms of payment')
}
