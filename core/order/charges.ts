import type { BudgetEntry } from '#core/ledger/budget.ts'
import { type LineSplit, spread } from '#core/ledger/commitments.ts'
import { allocate } from '#core/money/allocate.ts'
import { amountToDecimal, type Minor, minor, portion, roundAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { type Reason, stop } from '#core/reasons.ts'

/**
 * What comes on top of the lines of an order or is taken off them, with its code: UNTDID 7161 for charges, 5189 for allowances, as EN 16931 takes them
 * (BT-98 and BT-105).
 */
export const CHARGE_KINDS = {
  freight: { adds: true, code: 'FC' },
  packing: { adds: true, code: 'PC' },
  insurance: { adds: true, code: 'IN' },
  handling: { adds: true, code: 'HD' },
  other: { adds: true, code: 'ABK' },
  discount: { adds: false, code: '95' },
} as const
export type ChargeKind = keyof typeof CHARGE_KINDS

/** The most charges and discounts of one order. */
export const MOST_CHARGES = 20

export interface ChargeItem {
  readonly kind: ChargeKind
  readonly words: string
  /** Of the sum of the lines; null where the amount is fixed. */
  readonly percent: string | null
  /** In the order's currency, above zero for a discount, too. */
  readonly amount: Minor
  /** The accounts that pay for it alone; without them those of the lines do, by value. */
  readonly splits: readonly LineSplit[]
}

/** What an item does to the total. signed({ kind: 'discount', amount: 500n }) //=> -500n */
export const signed = ({ kind, amount }: Pick<ChargeItem, 'kind' | 'amount'>): Minor =>
  CHARGE_KINDS[kind].adds ? amount : minor(-amount)

export const chargesTotal = (items: readonly Pick<ChargeItem, 'kind' | 'amount'>[]): Minor =>
  sumMinor(items.map(signed))

/** One sum of freight, as most orders have it; nothing where it is nothing. */
export const freightOf = (amount: Minor): ChargeItem[] =>
  amount === 0n ? [] : [{ kind: 'freight', words: '', percent: null, amount, splits: [] }]

/** Items for what the lines come to: per cent of it, rounded half away from zero, each on its own. */
export const reckoned = (items: readonly ChargeItem[], lines: Minor, currency: string): ChargeItem[] =>
  items.map(item =>
    item.percent === null || !isHeldDecimal(item.percent)
      ? item
      : { ...item, amount: roundAmount(amountToDecimal(lines, currency).times(item.percent).dividedBy(100), currency) },
  )

/** What stands against charges and discounts as they are wanted, already reckoned. `lines`: what the lines come to. */
export function whyNotCharges(items: readonly ChargeItem[], lines: Minor): Reason[] {
  const at = { place: 'charges' }
  const fault = (code: string, found: boolean, details = {}): Reason[] => (found ? [stop(code, details, at)] : [])
  const shared = chargesTotal(items.filter(item => item.splits.length === 0))
  const isBad = ({ percent, amount }: ChargeItem): boolean =>
    amount < 0n || (percent !== null && (!isHeldDecimal(percent) || new Decimal(percent).lt(0)))
  return [
    ...fault('order.charges', items.some(isBad)),
    ...fault('order.charge.tooMany', items.length > MOST_CHARGES, { most: MOST_CHARGES }),
    ...fault(
      'order.charge.discountAccount',
      items.some(item => !CHARGE_KINDS[item.kind].adds && item.splits.length > 0),
    ),
    ...fault(
      'order.charge.shares',
      items.some(item => item.splits.length > 0 && !isShared(item.splits)),
    ),
    ...fault('order.charge.belowNothing', lines + shared < 0n),
  ]
}

/** Shares that something can be divided by: none below zero, one above. */
const isShared = (splits: readonly LineSplit[]): boolean =>
  splits.every(split => isHeldDecimal(split.share) && new Decimal(split.share).gte(0)) &&
  splits.some(split => new Decimal(split.share).gt(0))

/** How charges lie on one line, in the base currency's smallest unit. */
export interface LineCharges {
  /** Paid by the accounts of the line, as its own value is; below zero where discounts are more. */
  readonly shared: Minor
  /** Paid by accounts of their own. */
  readonly own: readonly { readonly amount: Minor; readonly splits: readonly LineSplit[] }[]
}

/** All charges on a line. */
export const chargedOn = ({ shared, own }: LineCharges): Minor => sumMinor([shared, ...own.map(one => one.amount)])

interface Charged {
  readonly charges: Minor
  readonly chargeItems: readonly ChargeItem[]
  readonly currency: string
  readonly rate: string
  readonly base: string
  readonly lines: readonly { readonly id: string; readonly baseAmount: Minor; readonly splits?: readonly LineSplit[] }[]
}

/**
 * The charges of an order on its lines: shared by value, equally where all lines are worth nothing; shares re-add to the charges (domain page, section 2).
 */
export function chargesByLine(order: Charged): Map<string, LineCharges> {
  const base = (amount: Minor): Minor => toBase(amount, order.currency, order.rate, order.base)
  const weights = order.lines.map(line => line.baseAmount.toString())
  const even = weights.every(weight => weight === '0')
  const over = (amount: Minor): Minor[] =>
    amount === 0n || weights.length === 0
      ? weights.map(() => minor(0)) : allocate(amount, even ? weights.map(() => '1') : weights) // prettier-ignore
  const whole = over(base(order.charges))
  const own = order.chargeItems
    .filter(item => item.splits.length > 0)
    .map(item => ({ splits: item.splits, parts: over(base(signed(item))) }))
  return new Map(
    order.lines.map((line, at) => {
      const alone = own.map(({ splits, parts }) => ({ splits, amount: parts[at]! }))
      const shared = minor(whole[at]! - sumMinor(alone.map(one => one.amount)))
      return [line.id, { shared, own: alone }]
    }),
  )
}

/** Who pays for a line with its share of the charges, as weights. */
export function payersOf(
  line: { readonly baseAmount: Minor; readonly splits: readonly LineSplit[] },
  { shared, own }: LineCharges,
): readonly LineSplit[] {
  const value = minor(line.baseAmount + shared)
  if (own.length === 0 || line.splits.length === 0) return line.splits
  const weights = weightsOf([{ amount: value < 0n ? minor(0) : value, splits: line.splits }, ...own])
  return weights.length === 0 ? line.splits : weights
}

/** Who pays for several amounts together, each account weighted by what it pays in all; nothing where they come to nothing. */
export function weightsOf(
  parts: readonly { readonly amount: Minor; readonly splits: readonly LineSplit[] }[],
): LineSplit[] {
  // prettier-ignore
  const sums = new Map<string, bigint>()
  for (const { amount, splits } of parts)
    for (const entry of spread('committed', '', amount, splits))
      sums.set(entry.accountId, (sums.get(entry.accountId) ?? 0n) + entry.amount)
  return [...sums].map(([accountId, sum]) => ({ accountId, share: sum.toString() }))
}

/**
 * How the part of an invoice's charges that falls on a line is paid: accounts that pay for agreed charges alone bear their part of what is billed, as far as
 * charges are billed at all; a discount is credited to the accounts of the line.
 */
export function spreadCharges(
  lineId: string,
  billed: Minor,
  splits: readonly LineSplit[],
  { shared, own }: LineCharges,
): BudgetEntry[] {
  const agreed = sumMinor(own.map(one => one.amount))
  const alone = agreed === 0n ? minor(0) : ownPart(billed, shared, agreed)
  const parts =
    alone === 0n
      ? []
      : allocate(
          alone,
          own.map(one => one.amount.toString()),
        )
  return [
    ...spread('spent', lineId, minor(billed - alone), splits),
    ...parts.flatMap((part, at) => spread('spent', lineId, part, own[at]!.splits)),
  ]
}

/** What of billed charges is for those that are paid by accounts of their own. */
function ownPart(billed: Minor, shared: Minor, own: Minor): Minor {
  if (shared < 0n) {
    const above = billed - shared
    return minor(above < 0n ? 0n : above < own ? above : own)
  }
  return billed <= 0n ? minor(0) : portion(billed, own.toString(), (own + shared).toString())
}
