import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { MadeInvoice } from '#core/bill/billOrder.ts'
import type { InvoiceTax } from '#core/bill/facts.ts'
import { addDays } from '#core/calendar/days.ts'
import { formatAmount, lineAmount, type Minor, minor, roundAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** One line of a paper. `orderLineId`: the line of the chosen order that it is for, in whose unit it counts. */
export interface EnteredLine {
  readonly orderLineId: string | null
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly taxCategory: string
  readonly taxRate: string
}

/** An invoice as somebody types it beside the paper. Amounts in its currency. */
export interface EnteredInvoice {
  readonly issueDate: string
  readonly dueOn: string | null
  readonly currency: string
  /** Freight and other charges of the document. */
  readonly charges: Minor
  /** What the paper asks for, with VAT. */
  readonly gross: Minor
  readonly lines: readonly EnteredLine[]
}

/** An invoice of more than so many years ago is somebody's slip. */
const OLDEST_YEARS = 10

/**
 * Makes an invoice of what somebody typed beside a paper. Lines are net at their price base, rounded once each; VAT is rounded once for each category and rate,
 * charges at the rate of the first line; together they have to be what the paper asks for. What a cent for each line may be apart by other rounding is taken to the largest VAT.
 *
 * @param order the order that lines are for; null where nobody ordered
 */
export function enterInvoice(order: OrderFacts | null, wanted: EnteredInvoice, today: string): Decision<MadeInvoice> {
  const against = [...checkDays(wanted, today), ...checkLines(order, wanted)]
  if (against.length > 0) return refused(against)
  const { currency, charges } = wanted
  const { lines, net, taxes: asSummed, gross: summed } = sumEntered(wanted)
  if (net <= 0n) return refused([stop('enter.charges', {}, { place: 'charges' })])
  const text = (amount: bigint): string => formatAmount(amount, currency)
  const apart = wanted.gross - summed
  const most = BigInt(lines.length + asSummed.length)
  if (apart > most || apart < -most) return refused([stop('enter.sumsApart', { printed: text(wanted.gross), summed: text(summed), currency }, { place: 'gross' })]) // prettier-ignore
  const taxes = roundedAsPrinted(asSummed, apart)
  return done<MadeInvoice>(
    {
      lines,
      charges,
      net,
      tax: minor(wanted.gross - net),
      gross: wanted.gross,
      taxes: taxes.map(({ category, rate, taxable, tax }): InvoiceTax => ({ category, rate, taxable: text(taxable), tax: text(tax) })), // prettier-ignore
    },
    { action: 'entered' },
  )
}

/** What typed lines come to: net by line, VAT once for each category and rate, and all together. */
export function sumEntered({
  lines: typed,
  charges,
  currency,
}: Pick<EnteredInvoice, 'lines' | 'charges' | 'currency'>) {
  const lines = typed.map((line, index) => ({ ...line, position: index + 1, net: lineAmount({ ...line, currency }) }))
  const net = sumMinor([charges, ...lines.map(line => line.net)])
  const taxes = taxesOf(lines, charges, currency)
  return { lines, net, taxes, gross: sumMinor([net, ...taxes.map(one => one.tax)]) }
}

interface Taxed {
  readonly category: string
  readonly rate: string
  readonly taxable: bigint
  readonly tax: bigint
}

function taxesOf(lines: readonly (EnteredLine & { net: Minor })[], charges: bigint, currency: string): Taxed[] {
  const bases = new Map<string, { category: string; rate: string; taxable: bigint }>()
  const add = (category: string, rate: string, net: bigint): void => {
    const key = `${category} ${new Decimal(rate).toString()}`
    const before = bases.get(key)
    bases.set(key, { category, rate, taxable: (before?.taxable ?? 0n) + net })
  }
  for (const line of lines) add(line.taxCategory, line.taxRate, line.net)
  if (charges !== 0n && lines[0]) add(lines[0].taxCategory, lines[0].taxRate, charges)
  return [...bases.values()].map(one => ({ ...one, tax: roundAmount(new Decimal(formatAmount(one.taxable, currency)).times(one.rate).dividedBy(100), currency) })) // prettier-ignore
}

/** Other rounding than ours stands in the largest VAT. */
function roundedAsPrinted(taxes: readonly Taxed[], apart: bigint): Taxed[] {
  const largest = taxes.reduce((a, b) => (b.tax > a.tax ? b : a))
  return taxes.map(one => (one === largest ? { ...one, tax: one.tax + apart } : one))
}

function checkDays({ issueDate, dueOn }: EnteredInvoice, today: string): Reason[] {
  const oldest = addDays(today, -366 * OLDEST_YEARS)
  return [
    ...(issueDate > today ? [stop('bill.futureDate', { today }, { place: 'issueDate' })] : []),
    ...(issueDate < oldest ? [stop('enter.tooOld', { years: OLDEST_YEARS }, { place: 'issueDate' })] : []),
    ...(dueOn !== null && dueOn < issueDate ? [stop('enter.dueBefore', {}, { place: 'dueOn' })] : []),
  ]
}

function checkLines(order: OrderFacts | null, { lines, gross }: EnteredInvoice): Reason[] {
  const ordered = new Map(order?.lines.map(line => [line.id, line]))
  return [
    ...(lines.length === 0 || gross <= 0n ? [stop('bill.notAboveZero')] : []),
    ...lines.flatMap((line, index): Reason[] => {
      const place = (field: string): { place: string } => ({ place: `lines.${index}.${field}` })
      const rate = new Decimal(line.taxRate)
      return [
        ...(line.orderLineId !== null && !ordered.has(line.orderLineId) ? [stop('bill.foreignLine', {}, { place: `lines.${index}` })] : []), // prettier-ignore
        ...(line.description.trim() === '' ? [stop('enter.noWords', { line: index + 1 }, place('description'))] : []),
        ...(new Decimal(line.quantity).gt(0) ? [] : [stop('line.quantity', { quantity: line.quantity }, place('quantity'))]), // prettier-ignore
        ...(new Decimal(line.price).gte(0) ? [] : [stop('order.priceBelowZero', {}, place('price'))]),
        ...(new Decimal(line.priceBase).gt(0) ? [] : [stop('enter.priceBase', {}, place('priceBase'))]),
        ...(rate.gte(0) && rate.lte(100) && (rate.isZero() || line.taxCategory === 'S') ? [] : [stop('bill.taxRate', {}, place('taxRate'))]), // prettier-ignore
      ]
    }),
  ]
}
