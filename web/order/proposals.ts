import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadProposals } from '#contract/order/pool.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import {
  NO_LIMITS,
  orderKey,
  type OrderLimits,
  type PoolRules,
  proposeOrders,
  routeOf,
  savedTogether,
  weighOrder,
} from '#core/order/proposeOrders.ts'

type Proposals = ResponseOf<typeof ReadProposals>
export type Line = Proposals['lines'][number]
/** An order as it is proposed, and as lines are moved about. */
export interface Proposal {
  readonly id: string
  /** Lines may be moved to and from orders of the same key only. */
  readonly key: string
  lines: Line[]
}

const weighed = (line: Line) => ({ ...line, amount: parseAmount(line.amount, line.currency) })

/** The orders that the rules make of the lines. */
export function proposed(lines: readonly Line[], rules: PoolRules): Proposal[] {
  const known = new Map(lines.map(line => [line.id, line]))
  return proposeOrders(lines.map(weighed), rules).map(({ lineIds }) => {
    const own = lineIds.map(id => known.get(id)!)
    return { id: lineIds[0]!, key: orderKey(weighed(own[0]!)), lines: own }
  })
}

/** Orders as somebody has arranged them, with what the lines are now: what is gone leaves its order, what is new is proposed beside them. */
export function arranged(before: readonly Proposal[], lines: readonly Line[], rules: PoolRules): Proposal[] {
  const known = new Map(lines.map(line => [line.id, line]))
  const held = before
    .map(one => ({
      ...one,
      lines: one.lines.flatMap(({ id }) => {
        const now = known.get(id)
        return now && orderKey(weighed(now)) === one.key ? [now] : []
      }),
    }))
    .filter(one => one.lines.length > 0)
  const there = new Set(held.flatMap(one => one.lines.map(line => line.id)))
  return [...held, ...proposed(lines.filter(line => !there.has(line.id)), rules)] // prettier-ignore
}

/** What the supplier of an order says of orders in its currency. */
function limitsFor(limits: Proposals['limits'], { supplierId, currency }: Line): OrderLimits {
  const own = limits.find(one => one.supplierId === supplierId && one.currency === currency)
  if (!own) return NO_LIMITS
  const read = (value: string | null) => (value === null ? null : parseAmount(value, currency))
  return { minimumOrder: read(own.minimumOrder), freight: read(own.freight), freightFrom: read(own.freightFrom) }
}

/** An order with its figures, as texts in its currency; empty ones say nothing. */
export function figuresOf({ lines }: Proposal, limits: Proposals['limits']) {
  const first = lines[0]!
  const { total, missing, freight } = weighOrder(lines.map(weighed), limitsFor(limits, first))
  const text = (value: typeof total): string => (value === 0n ? '' : formatAmount(value, first.currency))
  const days = lines.flatMap(line => line.needBy ?? []).sort()
  return {
    currency: first.currency,
    supplier: first.supplier,
    route: routeOf(first),
    agreement: routeOf(first) === 'callOff' ? first.agreement : '',
    places: [...new Set(lines.map(line => line.place).filter(Boolean))],
    total: formatAmount(total, first.currency),
    missing: text(missing),
    freight: text(freight),
    from: days[0] ?? null,
    to: days.at(-1) ?? null,
  }
}

/** What putting all orders of a key together saves; nothing where there is one. */
export function savedOf(
  own: readonly Proposal[],
  limits: Proposals['limits'],
): { freight: string; reaches: boolean } | null {
  const first = own[0]?.lines[0]
  if (own.length < 2 || !first) return null
  const { freight, reaches } = savedTogether(own.map(one => one.lines.map(weighed)), limitsFor(limits, first)) // prettier-ignore
  return freight > 0n || reaches
    ? { freight: freight > 0n ? formatAmount(freight, first.currency) : '', reaches }
    : null
}
