import { amountToDecimal, type Minor, minor, portion, roundAmount } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { billed, type Measured } from '#core/order/measures.ts'
import { openToBill } from '#core/order/standing.ts'
import type { OrderState } from '#core/order/states.ts'
import { toOrder, type QuantitySums } from '#core/ledger/quantity.ts'

/** What calls an agreement off: reserved by requests, committed by orders, used by bills (domain page, section 12). */
export const CONSUMPTION_KINDS = ['reserved', 'committed', 'used'] as const
export type ConsumptionKind = (typeof CONSUMPTION_KINDS)[number]

/** One signed, append-only entry: an amount in the agreement's currency, a quantity in the unit of its line. */
export interface ConsumptionEntry {
  readonly agreementLineId: string
  /** The line of a request or an order that calls off. */
  readonly lineId: string
  readonly kind: ConsumptionKind
  readonly amount: Minor
  readonly quantity: string
}

export interface Consumed {
  readonly amount: Minor
  readonly quantity: string
}
export type ConsumedByKind = Readonly<Record<ConsumptionKind, Consumed>>

const NONE: Consumed = { amount: minor(0), quantity: '0' }
export const NOTHING_CONSUMED: ConsumedByKind = { reserved: NONE, committed: NONE, used: NONE }

export const plus = (a: Consumed, b: Consumed): Consumed => ({
  amount: minor(a.amount + b.amount),
  quantity: tidy(new Decimal(a.quantity).plus(b.quantity)),
})
const less = (a: Consumed, b: Consumed): Consumed => ({
  amount: minor(a.amount - b.amount),
  quantity: tidy(new Decimal(a.quantity).minus(b.quantity)),
})
const isNothing = ({ amount, quantity }: Consumed): boolean => amount === 0n && new Decimal(quantity).isZero()

/** All three together. */
export const consumedAll = (by: ConsumedByKind): Consumed =>
  CONSUMPTION_KINDS.reduce((sum, kind) => plus(sum, by[kind]), NONE)

export function sumConsumption(
  entries: Iterable<Pick<ConsumptionEntry, 'kind' | 'amount' | 'quantity'>>,
): ConsumedByKind {
  const sums: Record<ConsumptionKind, Consumed> = { ...NOTHING_CONSUMED }
  for (const entry of entries) sums[entry.kind] = plus(sums[entry.kind], entry)
  return sums
}

/** An amount of a line as money of its agreement: at the rate that was fixed when it first called off, over the base currency. */
export interface Conversion {
  readonly currency: string
  /** Base currency for one unit of it. */
  readonly rate: string
  readonly base: string
}

/** inAgreement({ amount: 1000n, baseAmount: 86n, currency: 'NOK' }, { currency: 'EUR', rate: '1', base: 'EUR' }) //=> 86n */
export function inAgreement(
  line: { readonly amount: bigint; readonly baseAmount: bigint; readonly currency: string },
  { currency, rate, base }: Conversion,
): Minor {
  if (line.currency === currency) return minor(line.amount)
  if (currency === base) return minor(line.baseAmount)
  return roundAmount(amountToDecimal(line.baseAmount, base).dividedBy(rate), currency)
}

/** What a requested line takes: its value for what is requested and not ordered yet. `value`: of the whole line, in the agreement's currency. */
export function requestConsumes(
  line: { readonly quantity: string; readonly sums: Pick<QuantitySums, 'requested' | 'ordered'> },
  value: Minor,
): ConsumedByKind {
  const open = tidy(Decimal.max(0, toOrder(line.sums)))
  return { ...NOTHING_CONSUMED, reserved: { amount: portion(value, open, line.quantity), quantity: open } }
}

/**
 * What an ordered line takes: committed for what may still be billed, at the ordered price; used is what was billed less what was credited, as billed.
 * `value` and `bills` in the agreement's currency.
 */
export function orderConsumes(line: Measured, value: Minor, bills: Minor, state: OrderState): ConsumedByKind {
  const open = tidy(openToBill(line, state))
  return {
    reserved: NONE,
    committed: { amount: portion(value, open, line.quantity), quantity: open },
    used: { amount: bills, quantity: tidy(billed(line)) },
  }
}

/** The entries that lead from what stands on a line to what has to stand there. */
export const consumptionEntries = (
  line: { readonly lineId: string; readonly agreementLineId: string },
  stands: ConsumedByKind,
  wanted: ConsumedByKind,
): ConsumptionEntry[] =>
  CONSUMPTION_KINDS.flatMap(kind => {
    const by = less(wanted[kind], stands[kind])
    return isNothing(by) ? [] : [{ ...line, kind, ...by }]
  })
