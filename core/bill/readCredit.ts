import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { CreditedInvoice, CreditFigures, CreditLine } from '#core/bill/creditFacts.ts'
import type { InvoiceLine } from '#core/bill/facts.ts'
import type { InvoiceLineText, InvoiceText } from '#core/bill/invoiceText.ts'
import { baseNetOf, leftOf, whyBeyond } from '#core/bill/writeCredit.ts'
import { minor, parseAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'

/**
 * What a credit note that was read takes from its invoice. A line of it belongs to the line of the invoice that says the same of what it bills: its words,
 * unit and tax; of several to the one at the same price, with as much left. At the billed price it is by quantity, at another by price. Figures are the
 * document's own.
 */
export function readCredit(invoice: CreditedInvoice, text: InvoiceText): Decision<CreditFigures> {
  if (text.currency !== invoice.currency)
    return refused([stop('credit.currency', { currency: text.currency, wanted: invoice.currency })])
  const read = (amount: string): bigint => parseAmount(amount === '' ? '0' : amount, invoice.currency)
  const free = new Set(invoice.lines)
  const reasons: Reason[] = []
  const lines = text.lines.flatMap((line, index): CreditLine[] => {
    const of = lineFor([...free], invoice, line, text.lines.length)
    if (!of) {
      reasons.push(stop('credit.lineNotFound', { line: index + 1, name: line.name.slice(0, 80) }, { place: `lines.${index}` })) // prettier-ignore
      return []
    }
    free.delete(of)
    return [creditLine(of, line, index + 1, minor(read(line.net)))]
  })
  if (reasons.length > 0) return refused(reasons)
  const net = minor(read(text.totals.net))
  const charges = minor(net - sumMinor(lines.map(line => line.net)))
  const figures: CreditFigures = {
    lines,
    charges,
    net,
    baseNet: baseNetOf(invoice, net),
    tax: minor(read(text.totals.tax)),
    gross: minor(read(text.totals.gross)),
    taxes: text.taxes.map(({ category, rate, taxable, tax }) => ({ category, rate: rate || '0', taxable, tax })),
  }
  const against = [
    ...(charges < 0n || net <= 0n ? [stop('credit.belowZero', {}, { place: 'charges' })] : []),
    ...(figures.gross === net + figures.tax ? [] : [stop('credit.totals')]),
    ...whyBeyond(invoice, figures),
  ]
  return against.length > 0 ? refused(against) : done<CreditFigures>(figures, { action: 'read' })
}

const words = (text: string): string => text.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim()
const priceOf = (net: string | bigint, quantity: string): Decimal =>
  new Decimal(quantity).isZero() ? new Decimal(0) : new Decimal(net.toString()).dividedBy(quantity)

/** The line of the invoice that a line of the credit note takes from. */
function lineFor(
  free: readonly InvoiceLine[],
  invoice: CreditedInvoice,
  line: InvoiceLineText,
  count: number,
): InvoiceLine | undefined {
  // prettier-ignore
  const same = free.filter(one => words(one.description) === words(line.name))
  if (same.length === 0) return count === 1 && invoice.lines.length === 1 ? free[0] : undefined
  const rated = same.filter(
    one => one.taxCategory === line.category && new Decimal(one.taxRate).equals(line.rate || '0'),
  )
  const priced = rated.filter(one => new Decimal(one.price).equals(line.price || '0'))
  const enough = priced.filter(one => new Decimal(leftOf(invoice, one).quantity).gte(line.quantity))
  return enough[0] ?? priced[0] ?? rated[0] ?? same[0]
}

function creditLine(of: InvoiceLine, line: InvoiceLineText, position: number, net: bigint): CreditLine {
  // the unit of an order may be another than that of the bill: what is left of the net says how many of ours they are
  const sameUnit = line.unit === of.unit
  const byPrice = sameUnit
    ? !new Decimal(line.price).dividedBy(line.priceBase || '1').equals(new Decimal(of.price).dividedBy(of.priceBase))
    : false
  const quantity = sameUnit ? tidy(line.quantity) : tidy(new Decimal(net.toString()).dividedBy(priceOf(of.net, of.quantity)).toDecimalPlaces(6)) // prettier-ignore
  const { orderLineId, description, unit, taxCategory, taxRate } = of
  return {
    position,
    of: of.position,
    orderLineId,
    description,
    way: byPrice ? 'price' : 'quantity',
    quantity,
    unit,
    price: tidy(line.price),
    priceBase: sameUnit ? tidy(line.priceBase || '1') : of.priceBase,
    net: minor(net),
    taxCategory,
    taxRate,
  }
}
