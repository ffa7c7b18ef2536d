import { daysBetween } from '#core/calendar/days.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** How one component of an answer is priced. */
export type ComponentBasis = 'perUnit' | 'perLine' | 'perLot'

/** A component of a price beside the goods: freight, tooling, installation and the like. Amounts as decimals in the answer's currency. */
export interface CostComponent {
  readonly name: string
  readonly basis: ComponentBasis
  /** Freight carries insurance and, by the rule, duty; other components do not. */
  readonly kind: 'freight' | 'other'
  readonly amount: string
}

export interface CostedLine {
  readonly id: string
  /** In the unit that is asked for. */
  readonly quantity: string
  readonly price: string
  readonly priceBase: string
  readonly components: readonly CostComponent[]
  /** Per cent of duty for the category and the country that it comes from; '0' where none is due. */
  readonly dutyPercent: string
}

/** What is counted, and how. */
export interface LandedRules {
  /** Insurance in per cent of goods and freight; '0': none. */
  readonly insurancePercent: string
  /** What is insured: the value, or 110 per cent of it (Incoterms 2020, CIP and CIF, A5). */
  readonly insured: '1' | '1.1'
  /** What duty is taken on: the goods, or goods with freight and insurance (customs value, WTO Valuation Agreement, article 8.2). */
  readonly dutyOn: 'goods' | 'goodsFreightInsurance'
  /** Time value of money: the goods are worth less the later they are paid. Per cent a year of 365 days; '0': not counted. */
  readonly interestPercent: string
  readonly interest: 'simple' | 'compound'
  /** One unit of the answer's currency in that of the comparison, of the fixed day. */
  readonly rate: string
}

/** How one line's landed cost comes about, in the currency of the comparison; nothing is rounded. */
export interface LandedLine {
  readonly id: string
  readonly goods: Decimal
  /** The goods as they are worth when the rest is paid: discounted from the day on which they are. */
  readonly goodsNow: Decimal
  readonly freight: Decimal
  readonly other: Decimal
  readonly insurance: Decimal
  readonly duty: Decimal
  readonly total: Decimal
  /** For one unit that is asked for. */
  readonly perUnit: Decimal
}

const NOTHING = new Decimal(0)
// most lines have no rate, percentage or component to reckon with: exact figures are made only where there is something to do
const percentOf = (percent: string, of: Decimal): Decimal => of.times(percent).dividedBy(100)
const atRate = (amount: Decimal, rate: string): Decimal => (rate === '1' ? amount : amount.times(rate))
/** A sum of which most parts are nothing. */
const sumOf = (...parts: readonly Decimal[]): Decimal =>
  parts.reduce((sum, one) => (one.isZero() ? sum : sum.isZero() ? one : sum.plus(one)), NOTHING)
const perBase = (amount: Decimal, base: string): Decimal => (base === '1' ? amount : amount.dividedBy(base))

/**
 * Landed cost of the lines that one supplier answers, line by line (domain page, section 9): goods + freight + insurance + duty + what else is asked,
 * lump sums of the lot shared by the value of the goods (equally where they are worth nothing). The goods are discounted from their payment day by
 * `days`. Exact decimals without rounding; whoever shows them rounds once.
 *
 * @param lump components for the whole lot
 */
export function landedCost(
  lines: readonly CostedLine[],
  lump: readonly CostComponent[],
  rules: LandedRules,
  days: number,
): LandedLine[] {
  const goods = lines.map(line =>
    atRate(perBase(new Decimal(line.quantity).times(line.price), line.priceBase), rules.rate),
  )
  const whole = goods.reduce((sum, one) => sum.plus(one), new Decimal(0))
  const share = (index: number): Decimal =>
    whole.isZero() ? new Decimal(1).dividedBy(lines.length) : goods[index]!.dividedBy(whole)
  return lines.map((line, index) => landed(line, goods[index]!, lumpOf(lump, share(index), rules.rate), rules, days))
}

interface Lump {
  readonly freight: Decimal
  readonly other: Decimal
}

const lumpOf = (lump: readonly CostComponent[], share: Decimal, rate: string): Lump => {
  const sum = (kind: CostComponent['kind']): Decimal => {
    const own = lump.filter(one => one.kind === kind)
    if (own.length === 0) return NOTHING
    return atRate(own.reduce((total, one) => total.plus(one.amount), NOTHING), rate).times(share) // prettier-ignore
  }
  return { freight: sum('freight'), other: sum('other') }
}

function landed(line: CostedLine, goods: Decimal, lump: Lump, rules: LandedRules, days: number): LandedLine {
  const each = (one: CostComponent): Decimal =>
    one.basis === 'perUnit' ? new Decimal(one.amount).times(line.quantity) : new Decimal(one.amount)
  const own = (kind: CostComponent['kind']): Decimal => {
    const asked = line.components.filter(one => one.kind === kind)
    return asked.length === 0
      ? NOTHING
      : atRate(
          asked.reduce((sum, one) => sum.plus(each(one)), NOTHING),
          rules.rate,
        )
  }
  const freight = sumOf(own('freight'), lump.freight)
  const other = sumOf(own('other'), lump.other)
  const insurance =
    rules.insurancePercent === '0'
      ? NOTHING
      : percentOf(rules.insurancePercent, sumOf(goods, freight).times(rules.insured))
  const duty =
    line.dutyPercent === '0'
      ? NOTHING
      : percentOf(line.dutyPercent, rules.dutyOn === 'goods' ? goods : sumOf(goods, freight, insurance))
  const goodsNow = discounted(goods, rules, days)
  const total = sumOf(goodsNow, freight, other, insurance, duty)
  return {
    id: line.id,
    goods,
    goodsNow,
    freight,
    other,
    insurance,
    duty,
    total,
    perUnit: total.dividedBy(line.quantity),
  }
}

/**
 * What an amount that is paid so many days later is worth: amount ÷ (1 + r·d/365) or amount × (1 + r)^(−d/365).
 *
 * discounted(new Decimal(100), { interestPercent: '7.3', interest: 'simple' }, 100).toFixed(4) //=> '98.0392'
 */
export function discounted(
  amount: Decimal,
  { interestPercent, interest }: Pick<LandedRules, 'interestPercent' | 'interest'>,
  days: number,
): Decimal {
  if (interestPercent === '0' || days === 0) return amount
  const rate = new Decimal(interestPercent).dividedBy(100)
  const years = new Decimal(days).dividedBy(365)
  return interest === 'simple'
    ? amount.dividedBy(rate.times(years).plus(1))
    : amount.times(rate.plus(1).pow(years.negated()))
}

/** Days from a delivery to the day on which it is paid: none where it is paid before. */
export const daysToPayment = (deliveredOn: string, paidOn: string): number =>
  Math.max(0, daysBetween(deliveredOn, paidOn))

/** What stands against an answer's figures: a line cannot be compared without them. */
export function checkCosted(line: CostedLine): Reason[] {
  const place = `lines.${line.id}`
  return [
    ...(new Decimal(line.quantity).gt(0) ? [] : [stop('answer.quantity', {}, { place: `${place}.quantity` })]),
    ...(new Decimal(line.price).gte(0) ? [] : [stop('answer.price', {}, { place: `${place}.price` })]),
    ...line.components.flatMap((one, index) =>
      new Decimal(one.amount).gte(0)
        ? []
        : [stop('answer.component', { name: one.name }, { place: `${place}.components.${index}` })],
    ),
  ]
}
