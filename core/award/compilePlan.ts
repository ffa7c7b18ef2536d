import type { PlanBid, PlanCharge, PlanFacts } from '#core/award/planFacts.ts'
import {
  type Award,
  type AwardProblem,
  goodsFor,
  type Segment,
  segmentsOf,
  type SpendRule,
  WHOLE,
} from '#core/award/problem.ts'
import { openBids, splitLine } from '#core/award/splitLine.ts'
import type { Whom, Wish } from '#core/award/wishes.ts'
import { Decimal } from '#core/money/decimal.ts'

/** A share of a line for a supplier, in the unit that is asked for. */
export interface PlanShare {
  readonly lineId: string
  readonly supplierId: string
  readonly quantity: string
}

/** A problem made of facts and wishes, and the way back from it. */
export interface CompiledPlan {
  readonly problem: AwardProblem
  /** Lines of the facts that each line of the problem stands for: several where one supplier shall have them all. */
  readonly lines: readonly (readonly string[])[]
  /** Units of the problem in one unit that is asked for. */
  readonly perUnit: number
  /** Units of the problem's money in one unit of the currency. */
  readonly perMoney: number
  /** Lines of which less can be had than is asked for, with what is missing. */
  readonly short: readonly { readonly lineId: string; readonly missing: string }[]
}

/** Digits of unit costs that count. */
const COST_DIGITS = 4
/** What "two suppliers" leaves the larger of them at most, in per cent of the line. */
const LARGER = '90'

/**
 * The whole-number problem of a plan: what is wished becomes limits, bids that are left out, smaller capacities and lines that are put together. Unit
 * costs are rounded to four digits, half away from zero; all else is exact.
 *
 * @param wishes those that are to be kept
 */
export function compilePlan(facts: PlanFacts, wishes: readonly Wish[]): CompiledPlan {
  const perUnit =
    10 **
    Math.max(
      0,
      ...[
        ...facts.lines.map(one => one.quantity),
        ...facts.bids.flatMap(one => [
          one.capacity,
          one.minimum,
          one.multiple ?? '',
          ...one.tiers.map(tier => tier.from),
        ]),
      ].map(digitsOf),
    )
  const perMoney = 10 ** COST_DIGITS * perUnit
  const units = (quantity: string, round: 'up' | 'down'): number => {
    const exact = new Decimal(quantity || '0').times(perUnit)
    return (round === 'up' ? exact.ceil() : exact.floor()).toNumber()
  }
  const money = (amount: string): number => new Decimal(amount || '0').times(perMoney).round().toNumber()
  const supplierAt = new Map(facts.suppliers.map((one, index) => [one.id, index]))
  const allowed = facts.bids.filter(bid => isAllowed(facts, bid, wishes))

  const segmentsFor = (bid: PlanBid, demand: number, most: number): Segment[] =>
    segmentsOf(
      {
        capacity: Math.min(units(bid.capacity, 'down'), most),
        minimum: units(bid.minimum, 'up'),
        tiers: bid.tiers.map(tier => ({ from: Math.max(1, units(tier.from, 'up')), price: unitCostOf(tier.unitCost) })),
        tierPrices: bid.tierPrices,
        multiple: units(bid.multiple ?? '', 'up'),
      },
      demand,
    )
  // what nobody can deliver in full is planned as far as it can be had, whatever is wished
  const demandOf = new Map(
    facts.lines.map(line => {
      const asked = units(line.quantity, 'down')
      const offers = facts.bids.filter(bid => bid.lineId === line.id).map(bid => segmentsFor(bid, asked, asked))
      return [line.id, asked === 0 ? 0 : mostOf(offers, asked)]
    }),
  )
  const short = facts.lines.flatMap(line => {
    const missing = new Decimal(line.quantity).minus(new Decimal(demandOf.get(line.id)!).dividedBy(perUnit))
    return missing.gt(0) ? [{ lineId: line.id, missing: missing.toString() }] : []
  })
  const lines = groupsOf(facts.lines.map(one => one.id).filter(id => demandOf.get(id)! > 0), wishes) // prettier-ignore

  const own = (bid: PlanBid): Segment[] => {
    const demand = demandOf.get(bid.lineId)!
    return segmentsFor(bid, demand, capOf(bid.lineId, demand, wishes))
  }
  const bidsBy = new Map(allowed.map(bid => [`${bid.lineId} ${bid.supplierId}`, bid]))
  const bids = lines.map(group =>
    facts.suppliers.map(supplier => {
      const offers = group.map(lineId => bidsBy.get(`${lineId} ${supplier.id}`))
      if (offers.some(one => one === undefined)) return undefined
      if (group.length === 1) return own(offers[0]!)
      const goods = group.map((lineId, index) => goodsFor(own(offers[index]!), demandOf.get(lineId)!))
      return goods.some(one => one === undefined)
        ? undefined
        : [{ least: 1, most: 1, price: goods.reduce<number>((sum, one) => sum + one!, 0), base: 0 }]
    }),
  )
  const placesOf = (lineIds: readonly string[]): number[] =>
    [...new Set(lineIds.map(id => lines.findIndex(group => group.includes(id))))].filter(place => place >= 0)
  /** Charges that fall due whatever a supplier gets: they are charged for the supplier as such. */
  const wholly = (supplierId: string): PlanCharge[] => {
    const own = facts.bids.filter(bid => bid.supplierId === supplierId).map(bid => bid.lineId)
    return facts.charges.filter(one => one.supplierId === supplierId && own.every(id => one.lineIds.includes(id)))
  }
  const most = wishes.flatMap(wish => (wish.what.kind === 'mostSuppliers' ? [wish.what.count] : []))
  return {
    problem: {
      demands: lines.map(group => (group.length === 1 ? demandOf.get(group[0]!)! : 1)),
      suppliers: facts.suppliers.map(supplier => ({
        id: supplier.id,
        charge: money(supplier.charge) + wholly(supplier.id).reduce((sum, one) => sum + money(one.amount), 0),
        levels: levelsOf(supplier.rebates, supplier.rebateOn, money),
      })),
      bids,
      mostSuppliers: Math.min(facts.suppliers.length, ...most),
      spendRules: wishes.flatMap(wish => spendRuleOf(facts, wish, money)),
      lotCharges: facts.charges.flatMap(one => {
        if (wholly(one.supplierId).includes(one)) return []
        const places = placesOf(one.lineIds)
        const amount = money(one.amount)
        return places.length === 0 || amount === 0
          ? []
          : [{ supplier: supplierAt.get(one.supplierId)!, lines: places, amount }]
      }),
      bundles: facts.bundles.flatMap(one =>
        // of somebody who does not answer any more, or lines that cannot be had, nothing comes together
        !supplierAt.has(one.supplierId) || one.lineIds.some(id => !demandOf.get(id))
          ? []
          : [
              {
                supplier: supplierAt.get(one.supplierId)!,
                lines: placesOf(one.lineIds),
                off: basisPoints(one.percent),
              },
            ],
      ),
    },
    lines,
    perUnit,
    perMoney,
    short,
  }
}

/** The shares of a plan, line by line as the facts have them. */
export const sharesOf = (
  facts: PlanFacts,
  { lines, perUnit, short }: CompiledPlan,
  awards: readonly Award[],
): PlanShare[] =>
  [...awards]
    .sort((a, b) => a.line - b.line || a.supplier - b.supplier)
    .flatMap(({ line, supplier, quantity }) =>
      lines[line]!.map(lineId => {
        const asked = facts.lines.find(one => one.id === lineId)!.quantity
        const missing = short.find(one => one.lineId === lineId)?.missing ?? '0'
        const whole = new Decimal(asked).minus(missing)
        return {
          lineId,
          supplierId: facts.suppliers[supplier]!.id,
          quantity: (lines[line]!.length === 1 ? new Decimal(quantity).dividedBy(perUnit) : whole).toString(),
        }
      }),
    )

/** Shares as the awards of a compiled plan; what it has no line for is left out. */
export function awardsFor({ lines, problem, perUnit }: CompiledPlan, shares: readonly PlanShare[]): Award[] {
  const supplierAt = new Map(problem.suppliers.map((one, index) => [one.id, index]))
  const found = new Map<string, Award>()
  for (const { lineId, supplierId, quantity } of shares) {
    const line = lines.findIndex(group => group.includes(lineId))
    const supplier = supplierAt.get(supplierId) ?? -1
    if (line < 0) continue
    const amount = lines[line]!.length === 1 ? new Decimal(quantity).times(perUnit).toNumber() : 1
    found.set(`${line} ${supplier}`, { line, supplier, quantity: amount })
  }
  return [...found.values()]
}

/** Cents and the like of an exact cost in ten-thousandths of a problem's money, half a cent and more away from zero. */
export function minorOf(cost: bigint, perMoney: number, digits: number): bigint {
  const down = BigInt(WHOLE) * BigInt(perMoney)
  const up = cost * 10n ** BigInt(digits)
  return up >= 0n ? (up + down / 2n) / down : -((-up + down / 2n) / down)
}

const unitCostOf = (text: string): number =>
  new Decimal(text)
    .times(10 ** COST_DIGITS)
    .round()
    .toNumber()

/** How much of a line can be had at most: all of it where it can be split so, else as much as one supplier has. */
function mostOf(offers: readonly (readonly Segment[])[], asked: number): number {
  const bids = openBids(offers)
  if (
    splitLine(
      bids,
      asked,
      offers.map(() => 1),
    )
  )
    return asked
  const together = bids.reduce((sum, one) => sum + one.most, 0)
  return together <= asked ? together : Math.max(0, ...bids.map(one => one.most))
}

const digitsOf = (text: string): number => text.split('.')[1]?.replace(/0+$/, '').length ?? 0
const basisPoints = (percent: string): number => new Decimal(percent || '0').times(100).round().toNumber()

function levelsOf(
  rebates: PlanFacts['suppliers'][number]['rebates'],
  on: 'everything' | 'above',
  money: (amount: string) => number,
): AwardProblem['suppliers'][number]['levels'] {
  let offset = 0
  let before = 0
  const sorted = [...rebates].sort((a, b) => new Decimal(a.from).comparedTo(b.from))
  return [
    { from: 0, rate: 0, offset: 0 },
    ...sorted.map(level => {
      const from = money(level.from)
      const rate = basisPoints(level.percent)
      // what is below the level keeps the rate that it had
      offset += (rate - before) * from
      before = rate
      return { from, rate, offset: on === 'above' ? offset : 0 }
    }),
  ]
}

/** Whether a wish leaves a bid in. */
export function isAllowed(facts: PlanFacts, bid: PlanBid, wishes: readonly Wish[]): boolean {
  const supplier = facts.suppliers.find(one => one.id === bid.supplierId)!
  const scored = (least: string): boolean =>
    least !== '' && supplier.score !== null && new Decimal(supplier.score).gte(least)
  return wishes.every(({ what }) => {
    switch (what.kind) {
      case 'without':
        return what.supplierId !== bid.supplierId
      case 'scoreAtLeast':
        return scored(what.score)
      case 'deliveredWithin':
        return bid.leadDays !== null && bid.leadDays <= what.days
      case 'nobodyNew':
        return !supplier.isNew || scored(what.unlessScore)
      case 'keepIncumbent': {
        if (!what.lineIds.includes(bid.lineId)) return true
        const incumbent = facts.lines.find(one => one.id === bid.lineId)!.incumbentId
        // who does not offer it any more cannot keep it
        return (
          incumbent === bid.supplierId ||
          !facts.bids.some(one => one.lineId === bid.lineId && one.supplierId === incumbent)
        )
      }
      default:
        return true
    }
  })
}

/** The most of a line that may go to one supplier. */
const capOf = (lineId: string, demand: number, wishes: readonly Wish[]): number =>
  Math.min(
    demand,
    ...wishes.flatMap(({ what }) => {
      if (what.kind !== 'shareLine' && what.kind !== 'twoSuppliers') return []
      if (!what.lineIds.includes(lineId)) return []
      const share = what.kind === 'shareLine' ? what.most : LARGER
      return [new Decimal(demand).times(share).dividedBy(100).floor().toNumber()]
    }),
  )

/** Lines that one supplier shall have all of stand together; groups that share a line become one. */
function groupsOf(lineIds: readonly string[], wishes: readonly Wish[]): string[][] {
  let groups = lineIds.map(id => [id])
  for (const { what } of wishes) {
    if (what.kind !== 'oneSupplier') continue
    const joined = groups.filter(group => group.some(id => what.lineIds.includes(id)))
    if (joined.length < 2) continue
    const [first] = joined
    groups = groups.flatMap(group => (group === first ? [joined.flat()] : joined.includes(group) ? [] : [group]))
  }
  return groups
}

export const suppliersOf = (facts: PlanFacts, whom: Whom): string[] =>
  facts.suppliers
    .filter(one => (whom.kind === 'country' ? one.country === whom.country : whom.supplierIds.includes(one.id)))
    .map(one => one.id)

function spendRuleOf(facts: PlanFacts, { what }: Wish, money: (amount: string) => number): SpendRule[] {
  if (what.kind !== 'share') return []
  const own = new Set(suppliersOf(facts, what.whom))
  const suppliers = facts.suppliers.flatMap((one, index) => (own.has(one.id) ? [index] : []))
  const limit = (text: string): number => (what.in === 'percent' ? basisPoints(text) : money(text))
  return [
    {
      suppliers,
      ...(what.least === ''
        ? {}
        : what.in === 'percent'
          ? { leastShare: limit(what.least) }
          : { least: limit(what.least) }),
      ...(what.most === '' ? {} : what.in === 'percent' ? { mostShare: limit(what.most) } : { most: limit(what.most) }),
    },
  ]
}
