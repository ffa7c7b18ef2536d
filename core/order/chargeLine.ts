import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { LineSplit } from '#core/ledger/commitments.ts'
import { sumQuantities } from '#core/ledger/quantity.ts'
import { formatAmount } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { headOf } from '#core/order/changeLines.ts'
import { CHARGE_KINDS, type ChargeItem, chargesTotal, weightsOf } from '#core/order/charges.ts'
import { whyNotEdit } from '#core/order/editDraft.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What stands against giving a charge of a draft a line of its own. */
export function whyNotLineOf(order: OrderFacts, at: number, actor: ActorFacts): Reason[] {
  const item = order.chargeItems[at]
  const place = { place: 'charges' }
  return [
    ...whyNotEdit(order, actor),
    ...(item === undefined ? [stop('order.charge.gone', {}, place)] : []),
    ...(item && !CHARGE_KINDS[item.kind].adds ? [stop('order.charge.discountLine', {}, place)] : []),
    ...(item?.amount === 0n ? [stop('order.charge.nothing', {}, place)] : []),
  ]
}

/**
 * Gives a charge of a draft a line of its own: it is ordered, committed and billed by itself, and nobody has to prove it. Its accounts pay for it; without any those
 * of the lines do, by value. A per cent becomes the amount that it is now.
 *
 * @param id of the new line
 */
export function chargeAsLine(
  order: OrderFacts,
  at: number,
  id: string,
  words: string,
  actor: ActorFacts,
): Decision<OrderNext & { readonly line: OrderLine }> {
  const against = whyNotLineOf(order, at, actor)
  if (against.length > 0) return refused(against)
  const item = order.chargeItems[at]!
  const line = lineOf(order, item, id, words)
  const chargeItems = order.chargeItems.filter((_one, index) => index !== at)
  const changed = { ...order, chargeItems, charges: chargesTotal(chargeItems), lines: [...order.lines, line] }
  return done<OrderNext & { readonly line: OrderLine }>(
    { state: order.state, revision: order.revision, head: headOf(changed), line },
    { action: 'chargeAsLine', changes: { line: line.description, amount: formatAmount(item.amount, order.currency) } },
  )
}

function lineOf(order: OrderFacts, item: ChargeItem, id: string, words: string): OrderLine {
  return {
    id,
    position: Math.max(0, ...order.lines.map(line => line.position)) + 1,
    kind: 'fixedPriceWork',
    charge: item.kind,
    description: item.words.trim() || words,
    proof: 'none',
    quantity: '1',
    unit: 'E48',
    price: formatAmount(item.amount, order.currency),
    priceBase: '1',
    amount: item.amount,
    baseAmount: toBase(item.amount, order.currency, order.rate, order.base),
    needBy: null,
    addressId: null,
    place: '',
    schedule: [],
    promisedDate: null,
    promisedParts: [],
    overReceiptPercent: 0,
    splits: item.splits.length > 0 ? item.splits : splitsOf(order),
    requestLineId: null,
    requesterId: null,
    sums: sumQuantities([]),
    standing: [],
  }
}

/** The accounts of all lines, by what each pays of their value; equally where the lines are worth nothing. */
function splitsOf(order: OrderFacts): readonly LineSplit[] {
  const weights = weightsOf(order.lines.map(({ baseAmount, splits }) => ({ amount: baseAmount, splits })))
  if (weights.length > 0) return weights
  const accounts = new Set(order.lines.flatMap(line => line.splits.map(split => split.accountId)))
  return [...accounts].map(accountId => ({ accountId, share: '1' }))
}
