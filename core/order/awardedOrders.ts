import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { LineSplit } from '#core/ledger/commitments.ts'
import { toOrder } from '#core/ledger/quantity.ts'
import { lineAmount, roundAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal, sumDecimals, tidy } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { type ChargeItem, chargesTotal } from '#core/order/charges.ts'
import type { NewOrder, NewOrderLine, PoolLine } from '#core/order/draftOrders.ts'
import { earliestNeed } from '#core/order/measures.ts'
import { whyNotWaiting } from '#core/order/poolLines.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { KINDS } from '#core/request/kinds.ts'
import { type AnswerContent, emptyLine, priceAt } from '#core/source/answer.ts'
import type { LineShare } from '#core/source/award.ts'
import type { EventFacts, EventLine } from '#core/source/event.ts'
import { notNow } from '#core/states.ts'
import { EVENT_STATES } from '#core/source/eventStates.ts'

/** What is known when an award is placed. */
export interface PlacingFacts {
  readonly event: Pick<EventFacts, 'number' | 'title' | 'state' | 'kind' | 'lines' | 'lots'>
  readonly shares: readonly LineShare[]
  readonly answers: ReadonlyMap<string, AnswerContent>
  /** Lines of requests that it buys for, by their id. */
  readonly pool: ReadonlyMap<string, PoolLine>
  readonly suppliers: ReadonlyMap<string, { readonly name: string; readonly overReceiptPercent: number }>
  /** The account of each line that no request stands behind. */
  readonly accounts: ReadonlyMap<string, string>
  /** Base currency for one unit of each currency; null where there is no rate. */
  readonly rates: ReadonlyMap<string, string | null>
  readonly base: string
  /** Texts that go on to the orders, as they are written. */
  readonly message: string
}

/** What stands against orders from an award: requests that wait no more, accounts and rates that are missing, more than is still to buy. */
export function whyNotPlace(facts: PlacingFacts, actor: ActorFacts): Reason[] {
  const lines = new Map(facts.event.lines.map(line => [line.id, line]))
  return [
    ...needsRight(actor, 'order.write'),
    ...notNow(EVENT_STATES, 'event', facts.event.state, 'place'),
    ...[...new Set(facts.shares.map(one => one.lineId))].flatMap(id => againstLine(facts, lines.get(id)!)),
    ...[...new Set(facts.shares.map(one => one.supplierId))].flatMap(id => {
      const currency = facts.answers.get(id)?.currency ?? facts.base
      return (facts.rates.get(currency) ?? null) === null ? [stop('line.noRate', { currency, base: facts.base })] : []
    }),
  ]
}

function againstLine(facts: PlacingFacts, line: EventLine): Reason[] {
  if (line.requisitionLineId === null)
    return facts.accounts.has(line.id)
      ? []
      : [stop('place.account', { line: line.description }, { place: `accounts.${line.id}` })]
  const pooled = facts.pool.get(line.requisitionLineId)
  if (!pooled) return [stop('order.lineNotToBuy', { line: line.description, state: 'cancelled' })]
  const waiting = whyNotWaiting(pooled)
  if (waiting.length > 0) return waiting
  const awarded = facts.shares
    .filter(one => one.lineId === line.id)
    .reduce((sum, one) => sum.plus(one.quantity), new Decimal(0))
  const open = toOrder(pooled.sums)
  return awarded.lte(open)
    ? []
    : [stop('place.lessLeft', { line: line.description, open: tidy(open), awarded: tidy(awarded) })]
}

/** Makes the draft orders that follow an award: one for each supplier, prices as they were answered, components of the price as its charges. */
export function awardedOrders(
  facts: PlacingFacts,
  actor: ActorFacts,
): Decision<{ readonly orders: readonly NewOrder[] }> {
  const against = whyNotPlace(facts, actor)
  if (against.length > 0) return refused(against)
  const suppliers = [...new Set(facts.shares.map(one => one.supplierId))].sort()
  const orders = suppliers.map(id => orderFor(facts, id))
  return done({ orders }, { action: 'place', changes: { orders: orders.length } })
}

function orderFor(facts: PlacingFacts, supplierId: string): NewOrder {
  const answer = facts.answers.get(supplierId)!
  const rate = facts.rates.get(answer.currency)!
  const shares = facts.shares.filter(one => one.supplierId === supplierId)
  const lines = [...facts.event.lines]
    .sort((a, b) => a.position - b.position)
    .flatMap(line => shares.filter(one => one.lineId === line.id).map(share => orderLine(facts, line, share, answer, rate))) // prettier-ignore
  const chargeItems = chargesOf(facts, answer, shares)
  const charges = chargesTotal(chargeItems)
  const chargesBase = toBase(charges, answer.currency, rate, facts.base)
  const first = facts.event.lines.find(line => shares.some(one => one.lineId === line.id))!
  return {
    title: facts.event.title,
    message: facts.message,
    supplierId,
    supplierName: facts.suppliers.get(supplierId)?.name ?? '',
    currency: answer.currency,
    rate,
    agreement: '',
    addressId: first.addressId ?? facts.pool.get(first.requisitionLineId ?? '')?.addressId ?? null,
    needBy: earliestNeed(lines),
    charges,
    chargeItems,
    total: sumMinor([...lines.map(line => line.amount), charges]),
    baseTotal: sumMinor([...lines.map(line => line.baseAmount), chargesBase]),
    lines,
    from: [...new Set([facts.event.number, ...shares.flatMap(one => requestOf(facts, one.lineId))])],
  }
}

function requestOf(facts: PlacingFacts, lineId: string): string[] {
  const line = facts.event.lines.find(one => one.id === lineId)!
  const pooled = facts.pool.get(line.requisitionLineId ?? '')
  return pooled ? [pooled.requisition] : []
}

function orderLine(
  facts: PlacingFacts,
  line: EventLine,
  share: LineShare,
  answer: AnswerContent,
  rate: string,
): NewOrderLine {
  const given = answer.lines.find(one => one.lineId === line.id) ?? emptyLine(line.id)
  const pooled = facts.pool.get(line.requisitionLineId ?? '')
  const kind = pooled?.kind ?? (facts.event.kind.bought === 'work' ? 'fixedPriceWork' : 'goods')
  const price = priceAt(given, share.quantity) || '0'
  const priceBase = given.priceBase === '' ? '1' : given.priceBase
  const amount = lineAmount({ quantity: share.quantity, price, priceBase, currency: answer.currency })
  const splits: readonly LineSplit[] = pooled?.splits ?? [{ accountId: facts.accounts.get(line.id)!, share: '100' }]
  return {
    requisitionLineId: line.requisitionLineId,
    eventLineId: line.id,
    kind,
    itemId: line.itemId,
    description: line.description,
    quantity: share.quantity,
    unit: line.unit,
    price,
    priceBase,
    amount,
    baseAmount: toBase(amount, answer.currency, rate, facts.base),
    needBy: line.needBy,
    addressId: line.addressId ?? pooled?.addressId ?? null,
    proof: pooled?.proof ?? KINDS[kind].proofs[0]!,
    details: pooled?.details ?? {},
    incoterm: line.incoterm,
    incotermPlace: line.incotermPlace,
    overReceiptPercent: kind === 'goods' ? (facts.suppliers.get(share.supplierId)?.overReceiptPercent ?? 0) : 0,
    splits,
  }
}

/**
 * What components of the price cost for what is awarded: for each unit by its quantity, for each line whole, for a lot whole as soon as anything of it is
 * awarded. In the answer's currency, each component rounded once; what costs nothing is left out.
 */
export function chargesOf(
  { event }: Pick<PlacingFacts, 'event'>,
  answer: AnswerContent,
  shares: readonly LineShare[],
): ChargeItem[] {
  const lots = new Set(shares.map(one => event.lines.find(line => line.id === one.lineId)?.lotId))
  const given = new Map(answer.lines.map(line => [line.lineId, line]))
  return event.kind.components.flatMap(({ key, name, kind, basis }) => {
    const parts =
      basis === 'perLot'
        ? Object.entries(answer.lump).flatMap(([lotId, amounts]) => (lots.has(lotId) ? [new Decimal(amounts[key] || '0')] : [])) // prettier-ignore
        : shares.map(share => {
            const each = new Decimal(given.get(share.lineId)?.components[key] || '0')
            return basis === 'perUnit' ? each.times(share.quantity) : each
          })
    const amount = roundAmount(sumDecimals(parts), answer.currency)
    return amount === 0n ? [] : [{ kind, words: name, percent: null, amount, splits: [] }]
  })
}
