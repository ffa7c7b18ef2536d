import { isValidIBAN } from 'ibantools'
import type { Report } from '#core/bill/en16931.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { daysBetween, isDay } from '#core/calendar/days.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'

/** A date further away than this is a slip of the pen: ten years of 366 days. */
const FARTHEST_DAYS = 3660

/** Form of what is written: vocabulary, dates, numbers, currencies, the account. */
export function checkForm(invoice: InvoiceText, report: Report, today: string | undefined): void {
  for (const place of invoice.foreign)
    report('UBL-NAMESPACE', place, 'another namespace', 'an element of UBL 2.1 in its own namespace')
  checkDates(invoice, report, today)
  checkNumbers(invoice, report)
  for (const { place, text } of invoice.currencies)
    if (text !== invoice.currency) report('BT-5', place, text, invoice.currency)
  checkAccount(invoice.iban, report)
}

function checkDates(invoice: InvoiceText, report: Report, today: string | undefined): void {
  for (const { place, text } of invoice.dates) {
    if (text === '') continue
    if (!isDay(text)) report('UBL-DATE', place, text, 'a day of the calendar as YYYY-MM-DD')
    else if (today !== undefined && Math.abs(daysBetween(today, text)) > FARTHEST_DAYS)
      report('UBL-DATE', place, text, 'a day within ten years of today')
  }
}

/** An account that begins like an IBAN has to be one (BT-84; ISO 13616 check digits). */
function checkAccount(account: string, report: Report): void {
  const text = account.replace(/\s/g, '').toUpperCase()
  if (/^[A-Z]{2}\d{2}/.test(text) && !isValidIBAN(text))
    report('BT-84', 'PayeeFinancialAccount', account, 'an IBAN with right country, length and check digits')
}

function checkNumbers(invoice: InvoiceText, report: Report): void {
  const lines = invoice.lines.flatMap((line, i): [string, string][] => [
    [`InvoiceLine[${i + 1}]/InvoicedQuantity`, line.quantity],
    [`InvoiceLine[${i + 1}]/PriceAmount`, line.price],
    [`InvoiceLine[${i + 1}]/BaseQuantity`, line.priceBase],
    [`InvoiceLine[${i + 1}]/Percent`, line.rate],
  ])
  const adjustments = [
    ...invoice.adjustments.map((part, i) => ({ part, place: `AllowanceCharge[${i + 1}]` })),
    ...invoice.lines.flatMap((line, i) =>
      line.adjustments.map((part, j) => ({ part, place: `InvoiceLine[${i + 1}]/AllowanceCharge[${j + 1}]` })),
    ),
  ]
  const amounts: [string, string][] = [
    ...Object.entries(invoice.totals),
    ...invoice.taxes.flatMap((tax, i): [string, string][] => [
      [`TaxSubtotal[${i + 1}]/TaxableAmount`, tax.taxable],
      [`TaxSubtotal[${i + 1}]/TaxAmount`, tax.tax],
    ]),
    ...adjustments.map(({ part, place }): [string, string] => [`${place}/Amount`, part.amount]),
    ...invoice.lines.map((line, i): [string, string] => [`InvoiceLine[${i + 1}]/LineExtensionAmount`, line.net]),
  ]
  for (const [place, text] of amounts)
    if (text !== '' && !/^-?\d{1,13}(\.\d{1,2})?$/.test(text))
      report('BR-DEC', place, text, 'at most two digits after the point')
  const others: [string, string][] = [
    ...lines,
    ...adjustments.map(({ part, place }): [string, string] => [`${place}/Percent`, part.rate]),
    ...invoice.taxes.map((tax, i): [string, string] => [`TaxSubtotal[${i + 1}]/Percent`, tax.rate]),
  ]
  for (const [place, text] of others)
    if (text !== '' && !isDecimalText(text)) report('UBL-NUMBER', place, text, 'a decimal number without exponent')
  invoice.lines.forEach((line, i) => {
    if (isDecimalText(line.priceBase) && new Decimal(line.priceBase).lte(0))
      report('BT-149', `InvoiceLine[${i + 1}]/BaseQuantity`, line.priceBase, 'above zero')
  })
}
