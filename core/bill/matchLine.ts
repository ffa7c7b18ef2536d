import type { InvoiceLine } from '#core/bill/facts.ts'
import { type Hold, holdOf } from '#core/bill/holds.ts'
import { type ToleranceProfile, within } from '#core/bill/tolerance.ts'
import { amountToDecimal, lineAmount, type Minor, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { billed, provenForBill } from '#core/order/measures.ts'
import { comesAgain, plannedUntil } from '#core/order/recurring.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { provenBy, waitsForProof } from '#core/request/kinds.ts'
import { isIn } from '#core/states.ts'

/** What an invoice line is held against. */
export interface MatchedAgainst {
  readonly order: Pick<OrderFacts, 'state' | 'currency'>
  readonly line: OrderLine
  /** What earlier lines of the same invoice bill of the same order line. */
  readonly sameInvoice: string
}

/**
 * Three-way match of one line: price and quantity against the order, quantity against what was received or accepted (domain page,
 * section 7). Each difference is a hold of its own. The billed price is the line's net ÷ quantity, so allowances on the line count.
 */
export function matchLine(
  line: Pick<InvoiceLine, 'position' | 'quantity' | 'unit' | 'net'>,
  against: MatchedAgainst | null,
  profile: ToleranceProfile,
  currency: string,
  issueDate = '',
): Hold[] {
  const whole = (kind: 'noOrderLine' | 'orderEnded' | 'currency' | 'unit'): Hold[] => [
    holdOf(kind, line.position, line.net, kind === 'currency' ? '0' : line.quantity),
  ]
  if (against === null) return whole('noOrderLine')
  if (!isIn(ORDER_GROUPS.billable, against.order.state)) return whole('orderEnded')
  if (against.order.currency !== currency) return whole('currency')
  if (against.line.unit !== line.unit) return whole('unit')
  return [
    ...priceHold(line, against.line, profile, currency),
    ...amountHold(line, against, profile, currency),
    ...earlyHold(line, against, currency, issueDate),
    ...quantityHolds(line, against, profile, currency),
  ]
}

const worth = (line: OrderLine, quantity: string, currency: string): Minor =>
  lineAmount({ quantity, price: line.price, priceBase: line.priceBase, currency })

/** The whole of (billed price − ordered price) × billed quantity, judged upwards only unless less is held, too. */
function priceHold(
  line: Pick<InvoiceLine, 'position' | 'quantity' | 'net'>,
  ordered: OrderLine,
  profile: ToleranceProfile,
  currency: string,
): Hold[] {
  const expected = worth(ordered, line.quantity, currency)
  const over = minor(line.net - expected)
  const priceUnits = new Decimal(line.quantity).dividedBy(ordered.priceBase)
  const passes = (by: bigint): boolean =>
    within(amountToDecimal(minor(by), currency), amountToDecimal(expected, currency), profile.price, priceUnits)
  if (!passes(over)) return [holdOf('price', line.position, over)]
  return profile.price.both && !passes(-over) ? [holdOf('below', line.position, -over)] : []
}

/** What is billed by a plan before its time. */
function earlyHold(
  line: Pick<InvoiceLine, 'position' | 'quantity'>,
  { line: ordered, sameInvoice }: MatchedAgainst,
  currency: string,
  issueDate: string,
): Hold[] {
  if (issueDate === '' || !comesAgain(ordered)) return []
  const total = new Decimal(billed(ordered)).plus(sameInvoice).plus(line.quantity)
  const over = Decimal.min(total.minus(plannedUntil(ordered, issueDate)), line.quantity)
  return over.lte(0) ? [] : [holdOf('early', line.position, worth(ordered, tidy(over), currency), tidy(over))]
}

/** What a line costs above the ordered price of what may still be billed, where a limit is set for that. */
function amountHold(
  line: Pick<InvoiceLine, 'position' | 'quantity' | 'net'>,
  { line: ordered, sameInvoice }: MatchedAgainst,
  { amount }: ToleranceProfile,
  currency: string,
): Hold[] {
  if (!amount) return []
  const left = new Decimal(ordered.quantity).minus(billed(ordered)).minus(sameInvoice)
  const allowed = worth(ordered, tidy(Decimal.max(0, Decimal.min(left, line.quantity))), currency)
  const over = minor(line.net - allowed)
  return within(amountToDecimal(over, currency), amountToDecimal(allowed, currency), amount)
    ? []
    : [holdOf('amount', line.position, over)]
}

/** Cumulative over everything that is billed net of credits, against what was ordered and, where that is wanted, what is proven. */
function quantityHolds(
  line: Pick<InvoiceLine, 'position' | 'quantity'>,
  against: MatchedAgainst,
  profile: ToleranceProfile,
  currency: string,
): Hold[] {
  const { line: ordered } = against
  // credited as a whole: nothing of it is billed
  if (new Decimal(line.quantity).isZero()) return []
  const total = new Decimal(billed(ordered)).plus(against.sameInvoice).plus(line.quantity)
  const excess = (limit: string): { over: Decimal; quantity: string; amount: Minor } => {
    const over = total.minus(limit)
    const quantity = tidy(Decimal.max(0, Decimal.min(over, line.quantity)))
    return { over, quantity, amount: worth(ordered, quantity, currency) }
  }
  const holds: Hold[] = []
  const beyond = excess(ordered.quantity)
  if (!within(beyond.over, ordered.quantity, profile.quantity))
    holds.push(holdOf('quantity', line.position, beyond.amount, beyond.quantity))
  if (!waitsForProof(ordered)) return holds
  const done = provenForBill(ordered)
  const early = excess(done)
  const nothingCame = new Decimal(done).lte(0) && early.over.gt(0)
  if (nothingCame || !within(early.over, done, profile.quantity))
    holds.push(
      holdOf(
        'proof',
        line.position,
        early.amount,
        early.quantity,
        provenBy(ordered.kind) === 'received' ? 'receiver' : 'requester',
      ),
    )
  return holds
}
