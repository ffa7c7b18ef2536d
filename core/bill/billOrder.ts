import { type Decision, done, refused } from '#core/acts/decision.ts'
import { formatAmount, lineAmount, type Minor, minor, roundAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { whyNotCurrent } from '#core/order/answerOrder.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { InvoiceLine, InvoiceTax } from '#core/bill/facts.ts'

/** An invoice as a supplier makes it on its own pages. */
export interface BilledByHand {
  readonly revision: number
  readonly issueDate: string
  /** In the order's currency. */
  readonly freight: Minor
  readonly taxCategory: string
  readonly taxRate: string
  readonly lines: readonly { readonly lineId: string; readonly quantity: string; readonly price: string }[]
}

/** An invoice made from an order: figures and lines, ready to be taken in. */
export interface MadeInvoice {
  readonly lines: readonly Omit<InvoiceLine, 'id'>[]
  readonly charges: Minor
  readonly net: Minor
  readonly tax: Minor
  readonly gross: Minor
  readonly taxes: readonly InvoiceTax[]
}

/**
 * Makes an invoice from the current revision of an order: lines at their price base, freight as a charge, one tax rate, rounded once per
 * line and once for the tax. Whether it agrees with the order is for the match to say.
 */
export function billOrder(order: OrderFacts, wanted: BilledByHand, today: string): Decision<MadeInvoice> {
  const against = [...whyNotCurrent(order, wanted.revision), ...checkBilled(order, wanted, today)]
  if (against.length > 0) return refused(against)
  const ordered = new Map(order.lines.map(line => [line.id, line]))
  const lines = wanted.lines
    .filter(line => !new Decimal(line.quantity).isZero())
    .map((line, index) => {
      const { description, unit, priceBase } = ordered.get(line.lineId)!
      return {
        position: index + 1,
        orderLineId: line.lineId,
        description,
        quantity: line.quantity,
        unit,
        price: line.price,
        priceBase,
        net: lineAmount({ quantity: line.quantity, price: line.price, priceBase, currency: order.currency }),
        taxCategory: wanted.taxCategory,
        taxRate: wanted.taxRate,
      }
    })
  const net = sumMinor([wanted.freight, ...lines.map(line => line.net)])
  const text = (amount: bigint): string => formatAmount(amount, order.currency)
  const tax = roundAmount(new Decimal(text(net)).times(wanted.taxRate).dividedBy(100), order.currency)
  const taxes = [{ category: wanted.taxCategory, rate: wanted.taxRate, taxable: text(net), tax: text(tax) }]
  return done<MadeInvoice>(
    { lines, charges: wanted.freight, net, tax, gross: minor(net + tax), taxes },
    { action: 'billed' },
  )
}

function checkBilled(order: OrderFacts, wanted: BilledByHand, today: string): Reason[] {
  const known = new Set(order.lines.map(line => line.id))
  const rate = new Decimal(wanted.taxRate)
  const lines = wanted.lines.flatMap((line, index): Reason[] => {
    const place = (field: string): { place: string } => ({ place: `lines.${index}.${field}` })
    if (!known.has(line.lineId)) return [stop('bill.foreignLine', {}, { place: `lines.${index}` })]
    return [
      ...(isDecimalText(line.quantity) && new Decimal(line.quantity).gte(0)
        ? []
        : [stop('line.quantity', { quantity: line.quantity }, place('quantity'))]),
      ...(isDecimalText(line.price) && new Decimal(line.price).gte(0)
        ? []
        : [stop('order.priceBelowZero', {}, place('price'))]),
    ]
  })
  const nothing = wanted.lines.every(line => isDecimalText(line.quantity) && new Decimal(line.quantity).isZero())
  return [
    ...(wanted.issueDate > today ? [stop('bill.futureDate', { today }, { place: 'issueDate' })] : []),
    ...(rate.lt(0) || rate.gt(100) ? [stop('bill.taxRate', {}, { place: 'taxRate' })] : []),
    // below zero only as far as the order takes off more than it adds
    ...(wanted.freight < (order.charges < 0n ? order.charges : 0n) ? [stop('order.charges', {}, { place: 'freight' })] : []), // prettier-ignore
    ...(nothing ? [stop('bill.notAboveZero')] : []),
    ...lines,
  ]
}
