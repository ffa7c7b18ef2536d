import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { spread } from '#core/ledger/commitments.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { type Minor, minor, portion } from '#core/money/amount.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { billed, proven, provenForBill } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isWork } from '#core/request/kinds.ts'
import { isIn, notNow, type StateTable, transition } from '#core/states.ts'

export type ReturnState = 'draft' | 'sent' | 'settled' | 'withdrawn'
export type ReturnAction = 'write' | 'send' | 'settle' | 'withdraw'
/** Goods that go back: written, gone, and settled once the replacement or the credit is there. */
export const RETURN_STATES: StateTable<ReturnState, ReturnAction> = {
  draft: { write: 'draft', send: 'sent', withdraw: 'withdrawn' },
  sent: { settle: 'settled' },
  settled: {},
  withdrawn: {},
}
export const RETURN_WISHES = ['replacement', 'credit'] as const
export type ReturnWish = (typeof RETURN_WISHES)[number]

/** So much of a count goes back; pieces by their names where each is an asset. */
export interface ReturnLine {
  readonly partId: string
  readonly lineId: string
  readonly quantity: string
  readonly pieces: readonly string[]
}
/** A count of which something can go back. */
export interface ReturnablePart {
  readonly partId: string
  readonly lineId: string
  readonly becomes: 'counted' | 'stock' | 'asset' | 'work'
  /** Less what was taken back or went back before. */
  readonly left: string
  /** Of it still where it was put. */
  readonly there: string
  readonly pieces: readonly string[]
  /** So much of it nobody has found good: it waits for its inspection, or did not pass. It goes back first. */
  readonly notAccepted: string
}
export interface ReturnEntry {
  readonly reason: string
  /** The number under which the supplier takes it back. */
  readonly supplierNumber: string
  readonly wish: ReturnWish
  readonly pickUpOn: string | null
  readonly carrier: string
  readonly lines: readonly ReturnLine[]
}
export interface ReturnFacts {
  readonly number: string
  readonly state: ReturnState
  readonly entry: ReturnEntry
}

/** What is wrong with what is to go back. */
export function whyNotReturn(
  order: OrderFacts,
  entry: ReturnEntry,
  parts: ReadonlyMap<string, ReturnablePart>,
): Reason[] {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return [
    ...(isIn(ORDER_GROUPS.billable, order.state) ? [] : [stop('return.orderEnded', { number: order.number })]),
    ...(entry.lines.length === 0 || new Set(entry.lines.map(one => one.partId)).size !== entry.lines.length ? [stop('return.nothing')] : []), // prettier-ignore
    ...(saysWhy(entry.reason) ? [] : [stop('return.why', {}, { place: 'reason' })]),
    ...entry.lines.flatMap((one, index): Reason[] => {
      const place = { place: `lines.${index}.quantity` }
      const part = parts.get(one.partId)
      const line = lines.get(one.lineId)
      if (!part || !line || part.lineId !== one.lineId || isWork(line.kind))
        return [stop('return.foreignLine', {}, place)]
      const most = Decimal.min(part.left, part.there)
      if (!isHeldDecimal(one.quantity) || new Decimal(one.quantity).lte(0) || new Decimal(one.quantity).gt(most))
        return [stop('return.tooMuch', { left: tidy(most) }, place)]
      const known = new Set(part.pieces)
      return part.becomes === 'asset' &&
        (one.pieces.some(id => !known.has(id)) || new Set(one.pieces).size !== Number(one.quantity))
        ? [stop('return.whichPieces', {}, place)]
        : []
    }),
  ]
}

/** What is taken off the supplier's bills because something that was billed went back. */
export interface DebitLine {
  readonly lineId: string
  readonly position: number
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly net: Minor
}
export interface SentNext {
  readonly state: ReturnState
  readonly debit: readonly DebitLine[]
  /** Lines of which now less is proven than is billed. */
  readonly unproven: readonly string[]
}

/**
 * The goods leave: they count as returned, what was accepted of them no longer does, and they are open again. Where the supplier's setting says so and
 * they were billed, a debit note takes their price off: that credits the bill and gives the money back to the accounts.
 */
export function sendReturn(
  order: OrderFacts,
  found: ReturnFacts,
  parts: ReadonlyMap<string, ReturnablePart>,
  debits: boolean,
  actor: ActorFacts,
): Decision<SentNext> {
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...notNow(RETURN_STATES, 'goodsReturn', found.state, 'send'),
    ...whyNotReturn(order, found.entry, parts),
  ]
  if (against.length > 0) return refused(against)
  const back = new Map<string, Decimal>()
  const accepted = new Map<string, Decimal>()
  for (const one of found.entry.lines) {
    add(back, one.lineId, one.quantity)
    const good = new Decimal(one.quantity).minus(parts.get(one.partId)!.notAccepted)
    if (good.gt(0)) add(accepted, one.lineId, good.toString())
  }
  const lines = order.lines.filter(line => back.has(line.id))
  const gone = lines.flatMap((line): QuantityEntry[] => [
    { lineId: line.id, kind: 'returned', quantity: back.get(line.id)!.toString() },
    ...(line.inspects && accepted.has(line.id) ? [{ lineId: line.id, kind: 'accepted' as const, quantity: Decimal.min(accepted.get(line.id)!, line.sums.accepted).negated().toString() }] : []), // prettier-ignore
  ])
  const after = follow(order, gone)
  const debit = debits
    ? after.after.lines.filter(line => back.has(line.id)).flatMap(line => debitLine(order, line, back.get(line.id)!))
    : []
  const outcome = follow(order, [
    ...gone,
    ...debit.map(({ lineId, quantity }): QuantityEntry => ({ lineId, kind: 'credited', quantity })),
  ])
  const unproven = outcome.after.lines
    .filter(line => back.has(line.id) && new Decimal(provenForBill(line)).lt(billed(line)))
    .map(line => line.id)
  return done<SentNext>(
    { state: 'sent', debit, unproven },
    {
      action: 'returned',
      changes: { return: found.number, wish: found.entry.wish, lines: lines.map(line => ({ position: line.position, quantity: tidy(back.get(line.id)!), unit: line.unit })) }, // prettier-ignore
      reason: found.entry.reason,
    },
    { ...outcome, budget: [...outcome.budget, ...debit.flatMap(one => givenBack(order, one))] },
  )
}

/** What the accounts of a line get back for what is taken off its bill, in the base currency at the order's rate. */
function givenBack(order: OrderFacts, { lineId, quantity }: DebitLine): BudgetEntry[] {
  const line = order.lines.find(one => one.id === lineId)!
  return spread('spent', lineId, minor(-portion(line.baseAmount, quantity, line.quantity)), line.splits)
}

const add = (sums: Map<string, Decimal>, key: string, quantity: string): void =>
  void sums.set(key, (sums.get(key) ?? new Decimal(0)).plus(quantity))

/** Of what went back, as much as is billed and no longer proven; at the ordered price, in the order's currency. */
function debitLine(order: OrderFacts, line: OrderLine, back: Decimal): DebitLine[] {
  const quantity = Decimal.min(back, Decimal.max(0, new Decimal(billed(line)).minus(proven(line))))
  if (quantity.lte(0)) return []
  const { position, description, unit } = line
  return [
    {
      lineId: line.id,
      position,
      description,
      quantity: tidy(quantity),
      unit,
      net: portion(line.amount, quantity.toString(), line.quantity),
    },
  ]
}

export const debitNet = (lines: readonly Pick<DebitLine, 'net'>[]): Minor =>
  minor(lines.reduce((sum, line) => sum + line.net, 0n))

/** How a return ends: the replacement or the credit is here, or, as long as it has not left, it does not go back after all. */
export function endReturn(
  found: ReturnFacts,
  how: 'settle' | 'withdraw',
  actor: ActorFacts,
  reason: string,
): Decision<{ readonly state: ReturnState }> {
  const moved = transition(RETURN_STATES, 'goodsReturn', found.state, how)
  const right = needsRight(actor, 'delivery.receive')
  if (right.length > 0) return refused(right)
  if (!moved.ok) return refused(moved.reasons)
  return done({ state: moved.state }, { action: how === 'settle' ? 'settled' : 'returnWithdrawn', reason })
}

/** What the supplier is told when goods go back. */
export const returnMail = (order: OrderFacts, found: ReturnFacts, debit: string): Message => ({
  template: 'goods.returned',
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `goods-return:${found.number}`,
  details: {
    number: found.number,
    order: order.number,
    title: order.title,
    reason: found.entry.reason,
    wish: found.entry.wish,
    supplierNumber: found.entry.supplierNumber,
    pickUpOn: found.entry.pickUpOn ?? '',
    debit,
    path: `/supplier/orders/${order.id}`,
  },
})
