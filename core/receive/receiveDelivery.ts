import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, obstacles, refused } from '#core/acts/decision.ts'
import { Decimal, isDecimalText, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { proven, toReceive } from '#core/order/measures.ts'
import { whyNotOpen, whyNotProve } from '#core/order/proving.ts'
import { check, type Reason, stop } from '#core/reasons.ts'
import { provenBy } from '#core/request/kinds.ts'

export interface Count {
  readonly lineId: string
  readonly quantity: string
}

export interface Counted {
  readonly receivedOn: string
  readonly lines: readonly Count[]
  /** Why more is kept than was ordered. */
  readonly checkReason: string
}

/** What is written of a receipt; its number is given by the store. */
export interface ReceiptNext {
  readonly lines: readonly Count[]
}

/**
 * Takes goods in, or accepts work. More than ordered wants a reason up to the line's tolerance and is refused above it, so that the buyer
 * changes the order first. What came in and is not billed is accrued at the ordered price.
 */
export function receiveDelivery(
  order: OrderFacts,
  counted: Counted,
  actor: ActorFacts,
  today: string,
): Decision<ReceiptNext> {
  const against = obstacles(
    [...whyNotOpen(order), ...checkCounted(order, counted, actor, today)],
    counted.checkReason,
    stop('receive.wantsReason', {}, { place: 'checkReason' }),
  )
  if (against.length > 0) return refused(against)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return done<ReceiptNext>(
    { lines: counted.lines },
    {
      action: 'received',
      changes: {
        lines: counted.lines.map(({ lineId, quantity }) => {
          const { position, unit } = lines.get(lineId)!
          return { position, quantity, unit }
        }),
      },
      reason: counted.checkReason,
    },
    follow(
      order,
      counted.lines.map(({ lineId, quantity }) => ({ lineId, kind: provenBy(lines.get(lineId)!.kind), quantity })),
    ),
  )
}

function checkCounted(order: OrderFacts, counted: Counted, actor: ActorFacts, today: string): Reason[] {
  const ids = counted.lines.map(count => count.lineId)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return [
    ...(counted.receivedOn > today ? [stop('receive.future', { today }, { place: 'receivedOn' })] : []),
    ...(ids.length === 0 ? [stop('receive.nothingCounted')] : []),
    ...(new Set(ids).size === ids.length ? [] : [stop('receive.lineTwice')]),
    ...counted.lines.flatMap((count, index): Reason[] => {
      const line = lines.get(count.lineId)
      if (!line) return [stop('receive.foreignLine', {}, { place: `lines.${index}` })]
      const mine = whyNotProve(line, actor)
      return mine.length > 0 ? mine : checkCount(line, count.quantity)
    }),
  ]
}

/** Whether a count can be taken in: up to the tolerance more than ordered is a check, above it stops. */
export function checkCount(line: OrderLine, quantity: string): Reason[] {
  const place = `lines.${line.position}.quantity`
  if (!isDecimalText(quantity) || new Decimal(quantity).lte(0)) return [stop('receive.quantity', {}, { place })]
  const total = new Decimal(proven(line)).plus(quantity)
  const over = total.minus(line.quantity)
  if (over.lte(0)) return []
  const allowed = new Decimal(line.quantity).times(line.overReceiptPercent).dividedBy(100)
  const details = {
    ordered: tidy(line.quantity),
    received: tidy(total),
    over: tidy(over),
    percent: line.overReceiptPercent,
  }
  return over.lte(allowed)
    ? [check('receive.over', details, { place })]
    : [stop('receive.overTolerance', details, { place, clearedBy: ['buyer'] })]
}

/** What stands in the way of taking in everything that is still open and that this person proves. */
export function whyNotReceiveAll(order: OrderFacts, actor: ActorFacts): Reason[] {
  const closed = whyNotOpen(order)
  if (closed.length > 0) return closed
  const open = order.lines.filter(line => new Decimal(toReceive(line)).gt(0))
  if (open.length === 0) return [stop('receive.nothingOpen')]
  const each = open.map(line => whyNotProve(line, actor))
  return each.some(reasons => reasons.length === 0) ? [] : each[0]!
}
