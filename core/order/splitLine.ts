import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type AccountFacts, overdrafts } from '#core/ledger/budget.ts'
import { type QuantityEntry, sumQuantities } from '#core/ledger/quantity.ts'
import { lineAmount, type Minor, minor, moneyText } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { mostFor } from '#core/order/againstRequest.ts'
import { whyNotWaiting } from '#core/order/poolLines.ts'
import { stop } from '#core/reasons.ts'
import { cutOff } from '#core/request/pool.ts'
import { reservationEntries, type RequestedFacts } from '#core/request/reservation.ts'

/** What a part of a line costs. */
export interface PartPrice {
  readonly price: string
  readonly priceBase: string
  readonly currency: string
  /** Base currency for one unit of `currency`. */
  readonly rate: string
}

export interface SplitPart {
  readonly quantity: string
  readonly price: string
  readonly amount: Minor
  readonly baseAmount: Minor
}

export interface SplitNext {
  readonly kept: SplitPart
  readonly cut: SplitPart
}

export interface SplitWanted {
  /** Of the new line, made for it. */
  readonly newId: string
  readonly quantity: string
  readonly kept: PartPrice
  readonly cut: PartPrice
}

/**
 * Cuts a quantity off a line, for another supplier. What is requested stays the same in sum, and so does what is reserved when the price
 * does; a dearer part has to find its budget, and both parts together stay within what was approved.
 */
export function splitLine(
  line: RequestedFacts & { readonly position: number },
  wanted: SplitWanted,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  base: string,
): Decision<SplitNext> {
  const { cut, kept, reasons } = cutOff(line.quantity, wanted.quantity, line.position)
  const against = [
    ...needsRight(actor, 'order.write'),
    ...whyNotWaiting(line),
    ...(new Decimal(line.sums.ordered).isZero()
      ? []
      : [stop('pool.partOrdered', { line: line.description, ordered: line.sums.ordered })]),
    ...reasons,
  ]
  if (against.length > 0) return refused(against)
  const parts = { kept: priced(kept, wanted.kept, base), cut: priced(cut, wanted.cut, base) }
  const together = minor(parts.kept.baseAmount + parts.cut.baseAmount)
  if (new Decimal(together.toString()).gt(mostFor(line.baseAmount)))
    return refused([
      stop(
        'pool.overApproved',
        {
          line: line.description,
          approved: moneyText(line.baseAmount, base),
          wanted: moneyText(together, base),
          percent: new Decimal(mostFor(minor(100)).toString()).minus(100).toNumber(),
        },
        { clearedBy: ['requester'] },
      ),
    ])
  const quantity: QuantityEntry[] = [
    { lineId: line.id, kind: 'requested', quantity: `-${cut}` },
    { lineId: wanted.newId, kind: 'requested', quantity: cut },
  ]
  const budget = reservationEntries([
    { ...line, quantity: kept, baseAmount: parts.kept.baseAmount, sums: { ...line.sums, requested: kept } },
    {
      ...line,
      id: wanted.newId,
      quantity: cut,
      baseAmount: parts.cut.baseAmount,
      sums: sumQuantities([{ kind: 'requested', quantity: cut }]),
      standing: [],
    },
  ])
  const overdrawn = overdrafts(accounts, budget, amount => moneyText(amount, base))
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<SplitNext>(
    parts,
    {
      action: 'lineSplit',
      changes: { position: line.position, cut, price: parts.cut.price, currency: wanted.cut.currency },
    },
    { quantity, budget },
  )
}

function priced(quantity: string, { price, priceBase, currency, rate }: PartPrice, base: string): SplitPart {
  const amount = lineAmount({ quantity, price, priceBase, currency })
  return { quantity, price, amount, baseAmount: toBase(amount, currency, rate, base) }
}
