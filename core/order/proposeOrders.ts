import { daysBetween } from '#core/calendar/days.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { type BuyingRoute, type PoolLine, whyNotBuy } from '#core/order/draftOrders.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** By what the team keeps orders apart, beside supplier and currency. */
export interface PoolRules {
  /** Each place of delivery has an order of its own. */
  readonly byPlace: boolean
  readonly byIncoterm: boolean
  /** Days from the first day of need within which lines go together; null: however long. */
  readonly windowDays: number | null
}
export const POOL_RULES: PoolRules = { byPlace: false, byIncoterm: true, windowDays: 30 }

/** What a supplier wants of an order, in the currency that it usually sells in; null where it says nothing. */
export interface OrderLimits {
  readonly minimumOrder: Minor | null
  /** What carrying an order costs, and the value from which it costs nothing. */
  readonly freight: Minor | null
  readonly freightFrom: Minor | null
}
export const NO_LIMITS: OrderLimits = { minimumOrder: null, freight: null, freightFrom: null }

/** What decides into which order a line goes. */
export type ProposedLine = Pick<
  PoolLine,
  'id' | 'supplierId' | 'currency' | 'addressId' | 'incoterm' | 'incotermPlace' | 'needBy' | 'agreement' | 'routes'
> & {
  /** What is still to be ordered of it comes to, in its currency. */
  readonly amount: Minor
}

export interface ProposedOrder {
  readonly route: BuyingRoute
  readonly lineIds: readonly string[]
}

/** What a line may only stand with: the same supplier, currency and way of buying. Lines may be moved between orders of one key. */
export const orderKey = (line: ProposedLine): string => {
  const route = routeOf(line)
  return [line.supplierId, line.currency, route, route === 'callOff' ? line.agreement : ''].join(' ')
}

/** Agreements come first: what may be called off is. */
export const routeOf = (line: Pick<ProposedLine, 'agreement' | 'routes'>): BuyingRoute =>
  line.agreement !== '' && line.routes.includes('callOff') ? 'callOff' : 'orderNow'

/**
 * Proposes draft orders of lines that wait: agreements first, then by supplier and currency, kept apart by the team's rules; within an order the last
 * line is needed at most `windowDays` after the first. The order of what is given does not matter.
 */
export function proposeOrders(lines: readonly ProposedLine[], rules: PoolRules): ProposedOrder[] {
  const groups = new Map<string, ProposedLine[]>()
  for (const line of [...lines].sort(byNeed)) {
    const key = [
      orderKey(line),
      rules.byPlace ? line.addressId : '',
      rules.byIncoterm ? `${line.incoterm} ${line.incotermPlace}` : '',
    ].join(' ')
    groups.set(key, [...(groups.get(key) ?? []), line])
  }
  return [...groups.values()]
    .flatMap(group => windows(group, rules.windowDays))
    .map(own => ({ route: routeOf(own[0]!), lineIds: own.map(line => line.id) }))
}

/** Lines without a day last. */
const byNeed = (a: ProposedLine, b: ProposedLine): number => {
  const [x, y] = [a.needBy ?? '9', b.needBy ?? '9']
  return x === y ? (a.id < b.id ? -1 : 1) : x < y ? -1 : 1
}

function windows(sorted: readonly ProposedLine[], days: number | null): ProposedLine[][] {
  const made: ProposedLine[][] = []
  for (const line of sorted) {
    const last = made.at(-1)
    const first = last?.[0]?.needBy ?? null
    const fits = last !== undefined && (days === null || first === null || line.needBy === null || daysBetween(first, line.needBy) <= days) // prettier-ignore
    if (fits) last.push(line)
    else made.push([line])
  }
  return made
}

/** What an order comes to, what is missing to what its supplier takes at least, and what carrying it costs. */
export interface WeighedOrder {
  readonly total: Minor
  readonly missing: Minor
  readonly freight: Minor
}

export function weighOrder(lines: readonly Pick<ProposedLine, 'amount'>[], limits: OrderLimits): WeighedOrder {
  const total = sumMinor(lines.map(line => line.amount))
  const short = (limits.minimumOrder ?? 0n) - total
  const free = limits.freightFrom !== null && total >= limits.freightFrom
  return {
    total,
    missing: minor(short > 0n ? short : 0n),
    freight: free || lines.length === 0 ? minor(0) : (limits.freight ?? minor(0)),
  }
}

/** What is saved on carrying by putting orders of one key together, and whether they then reach what the supplier takes at least where one alone does not. */
export function savedTogether(
  orders: readonly (readonly Pick<ProposedLine, 'amount'>[])[],
  limits: OrderLimits,
): { readonly freight: Minor; readonly reaches: boolean } {
  const apart = orders.map(lines => weighOrder(lines, limits))
  const together = weighOrder(orders.flat(), limits)
  return {
    freight: minor(sumMinor(apart.map(one => one.freight)) - together.freight),
    reaches: together.missing === 0n && apart.some(one => one.missing > 0n),
  }
}

/** What stands against some groups together: a line is ordered once. */
export function whyNotGroups(groups: readonly { readonly lineIds: readonly string[] }[]): Reason[] {
  const ids = groups.flatMap(group => group.lineIds)
  return new Set(ids).size === ids.length ? [] : [stop('pool.lineTwice')]
}

/** What stands against a group of lines as one order: each can be bought that way, and all of them stand with each other. */
export function whyNotOneOrder(lines: readonly (PoolLine & ProposedLine)[], route: BuyingRoute): Reason[] {
  const keys = new Set(lines.map(line => [line.supplierId, line.currency, route === 'callOff' ? line.agreement : ''].join(' '))) // prettier-ignore
  return [...lines.flatMap(line => whyNotBuy(line, route)), ...(keys.size > 1 ? [stop('pool.notOneOrder')] : [])]
}
