import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { CreditedInvoice, CreditFigures, CreditLine, CreditWay } from '#core/bill/creditFacts.ts'
import type { InvoiceLine, InvoiceTax } from '#core/bill/facts.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { allocate } from '#core/money/allocate.ts'
import {
  formatAmount,
  lineAmount,
  type Minor,
  minor,
  parseAmount,
  portion,
  roundAmount,
  sumMinor,
} from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { Decimal, isHeldDecimal, sumDecimals, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** A credit note as somebody writes it: lines by quantity or by price, and what of the charges goes with them. */
export interface WantedCredit {
  readonly number: string
  readonly issueDate: string
  readonly charges: Minor
  readonly lines: readonly {
    /** Position of the invoice line. */
    readonly of: number
    readonly way: CreditWay
    readonly quantity: string
    /** By price: what each price base costs less. By quantity it is the billed price. */
    readonly priceOff: string
  }[]
}

/** What of a line of an invoice may still be credited. */
export interface LeftToCredit {
  readonly quantity: string
  readonly net: Minor
}

/** leftOf(line of 10 for 100.00, of which 2 for 20.00 were credited) //=> { quantity: '8', net: 8000n } */
export function leftOf(
  invoice: Pick<CreditedInvoice, 'credited'>,
  line: Pick<InvoiceLine, 'position' | 'quantity' | 'net'>,
): LeftToCredit {
  // prettier-ignore
  const taken = invoice.credited.flatMap(credit => credit.lines).filter(one => one.of === line.position)
  const pieces = sumDecimals(taken.filter(one => one.way === 'quantity').map(one => one.quantity))
  return {
    quantity: tidy(Decimal.max(0, new Decimal(line.quantity).minus(pieces))),
    net: minor(line.net - sumMinor(taken.map(one => one.net))),
  }
}

/** What of the charges may still be credited; nothing where the document takes off more than it adds. */
export const chargesLeft = (invoice: Pick<CreditedInvoice, 'charges' | 'credited'>): Minor => {
  const left = invoice.charges - sumMinor(invoice.credited.map(one => one.charges))
  return minor(left > 0n ? left : 0n)
}

/** What of the whole invoice may still be credited, tax included. */
export const grossLeft = (invoice: Pick<CreditedInvoice, 'gross' | 'credited'>): Minor =>
  minor(invoice.gross - sumMinor(invoice.credited.map(one => one.gross)))

/** The most letters of a number that a supplier gives. */
const LONGEST_NUMBER = 60

/**
 * Makes a credit note from an invoice. By quantity a line gives back its billed net, allowances included, in proportion, and all that is left with the
 * last piece; by price so much for each price base. Tax as on the invoice, rounded once for each category and rate, never more than is left of it.
 */
export function writeCredit(invoice: CreditedInvoice, wanted: WantedCredit, today: string): Decision<CreditFigures> {
  const against = whyNotCredit(invoice, wanted, today)
  if (against.length > 0) return refused(against)
  const lines = wanted.lines.filter(one => !new Decimal(one.quantity).isZero()).map((one, index) => creditLine(invoice, one, index + 1)) // prettier-ignore
  const net = sumMinor([wanted.charges, ...lines.map(line => line.net)])
  const taxes = creditTaxes(invoice, lines, wanted.charges)
  const tax = sumMinor(taxes.map(one => parseAmount(one.tax, invoice.currency)))
  const figures = {
    lines,
    charges: wanted.charges,
    net,
    baseNet: baseNetOf(invoice, net),
    tax,
    gross: minor(net + tax),
    taxes,
  }
  const beyond = whyBeyond(invoice, figures)
  return beyond.length > 0 ? refused(beyond) : done<CreditFigures>(figures, { action: 'written' })
}

/** What stands against figures that take more than is left of their invoice: of a line, of its charges, or of the whole. */
export function whyBeyond(invoice: CreditedInvoice, figures: CreditFigures): Reason[] {
  const text = (amount: bigint): string => `${invoice.currency} ${formatAmount(amount, invoice.currency)}`
  const lines = figures.lines.flatMap((one): Reason[] => {
    const line = invoice.lines.find(known => known.position === one.of)
    if (!line) return [stop('credit.foreignLine', {}, { place: `lines.${one.position - 1}` })]
    const left = leftOf(invoice, line)
    const place = { place: `lines.${one.position - 1}.quantity` }
    if (new Decimal(one.quantity).gt(one.way === 'quantity' ? left.quantity : line.quantity))
      return [stop('credit.aboveQuantity', { line: one.of, left: left.quantity }, place)]
    return one.net > left.net ? [stop('credit.aboveNet', { line: one.of, left: text(left.net) }, place)] : []
  })
  const sameLine = figures.lines.some((one, index) => figures.lines.findIndex(other => other.of === one.of) !== index)
  const gross = grossLeft(invoice)
  return [
    ...lines,
    ...(sameLine ? [stop('credit.lineTwice')] : []),
    ...(figures.charges > chargesLeft(invoice) ? [stop('credit.aboveCharges', { left: text(chargesLeft(invoice)) }, { place: 'charges' })] : []), // prettier-ignore
    ...(figures.gross > gross ? [stop('credit.aboveInvoice', { number: invoice.supplierNumber, left: text(gross) })] : []), // prettier-ignore
  ]
}

/** What a credit of this net takes back in the base currency, after what others take back. */
export function baseNetOf(invoice: CreditedInvoice, net: Minor): Minor {
  const all = minor(sumMinor(invoice.credited.map(one => one.net)) + net)
  return minor(
    toBase(all, invoice.currency, invoice.rate, invoice.base) - sumMinor(invoice.credited.map(one => one.baseNet)),
  )
}

function whyNotCredit(invoice: CreditedInvoice, wanted: WantedCredit, today: string): Reason[] {
  const nothing = wanted.charges === 0n && wanted.lines.every(one => isHeldDecimal(one.quantity) && new Decimal(one.quantity).isZero()) // prettier-ignore
  return [
    ...(isIn(INVOICE_GROUPS.standing, invoice.state) ? [] : [stop('credit.invoiceEnded', { number: invoice.supplierNumber })]), // prettier-ignore
    ...(wanted.number.length > LONGEST_NUMBER ? [stop('credit.numberLong', { most: LONGEST_NUMBER }, { place: 'number' })] : []), // prettier-ignore
    ...(wanted.issueDate > today ? [stop('bill.futureDate', { today }, { place: 'issueDate' })] : []),
    ...(wanted.issueDate < invoice.issueDate ? [stop('credit.beforeInvoice', { issueDate: invoice.issueDate }, { place: 'issueDate' })] : []), // prettier-ignore
    ...(wanted.charges < 0n ? [stop('credit.belowZero', {}, { place: 'charges' })] : []),
    ...(nothing ? [stop('credit.nothing')] : []),
    ...wanted.lines.flatMap((one, index): Reason[] => {
      const line = invoice.lines.find(known => known.position === one.of)
      if (!line) return [stop('credit.foreignLine', {}, { place: `lines.${index}` })]
      const bad = (text: string, above: boolean): boolean => !isHeldDecimal(text) || new Decimal(text).lt(0) || (above && new Decimal(text).isZero()) // prettier-ignore
      if (bad(one.quantity, false)) return [stop('line.quantity', { quantity: one.quantity }, { place: `lines.${index}.quantity` })] // prettier-ignore
      if (new Decimal(one.quantity).isZero()) return []
      if (line.net <= 0n) return [stop('credit.nothingBilled', { line: one.of }, { place: `lines.${index}` })]
      return one.way === 'price' && bad(one.priceOff, true) ? [stop('credit.priceOff', {}, { place: `lines.${index}.priceOff` })] : [] // prettier-ignore
    }),
  ]
}

function creditLine(invoice: CreditedInvoice, one: WantedCredit['lines'][number], position: number): CreditLine {
  const line = invoice.lines.find(known => known.position === one.of)!
  const { orderLineId, description, unit, priceBase, taxCategory, taxRate } = line
  const same = { position, of: one.of, orderLineId, description, unit, priceBase, taxCategory, taxRate, way: one.way, quantity: tidy(one.quantity) } // prettier-ignore
  if (one.way === 'price')
    return { ...same, price: tidy(one.priceOff), net: lineAmount({ quantity: one.quantity, price: one.priceOff, priceBase, currency: invoice.currency }) } // prettier-ignore
  const left = leftOf(invoice, line)
  const all = new Decimal(one.quantity).equals(left.quantity)
  const share = portion(line.net, one.quantity, line.quantity)
  return { ...same, price: line.price, net: all || share > left.net ? left.net : share }
}

const keyOf = (tax: { readonly category: string; readonly rate: string }): string => `${tax.category} ${new Decimal(tax.rate || '0').toString()}` // prettier-ignore

/** The charges of an invoice under each of its taxes: what is taxed there and no line's. */
const chargesTaxed = (invoice: CreditedInvoice): bigint[] =>
  invoice.taxes.map(tax => {
    const own = invoice.lines.filter(line => keyOf({ category: line.taxCategory, rate: line.taxRate }) === keyOf(tax))
    return parseAmount(tax.taxable || '0', invoice.currency) - sumMinor(own.map(line => line.net))
  })

function creditTaxes(invoice: CreditedInvoice, lines: readonly CreditLine[], charges: Minor): InvoiceTax[] {
  const shares = chargesTaxed(invoice).map(share => (share > 0n ? share : 0n))
  const parts = charges === 0n ? shares.map(() => minor(0)) : allocate(charges, shares.every(one => one === 0n) ? shares.map(() => '1') : shares.map(String)) // prettier-ignore
  const text = (amount: bigint): string => formatAmount(amount, invoice.currency)
  const read = (amount: string): bigint => parseAmount(amount || '0', invoice.currency)
  return invoice.taxes.flatMap((tax, index): InvoiceTax[] => {
    const own = lines.filter(line => keyOf({ category: line.taxCategory, rate: line.taxRate }) === keyOf(tax))
    const taxable = sumMinor([parts[index]!, ...own.map(line => line.net)])
    if (taxable === 0n) return []
    const before = invoice.credited.flatMap(one => one.taxes).filter(one => keyOf(one) === keyOf(tax))
    const left = { taxable: read(tax.taxable) - sumMinor(before.map(one => read(one.taxable))), tax: read(tax.tax) - sumMinor(before.map(one => read(one.tax))) } // prettier-ignore
    const due = roundAmount(new Decimal(text(taxable)).times(tax.rate || '0').dividedBy(100), invoice.currency)
    const taken = taxable === left.taxable || due > left.tax ? left.tax : due
    return [{ category: tax.category, rate: tax.rate, taxable: text(taxable), tax: text(taken) }]
  })
}
