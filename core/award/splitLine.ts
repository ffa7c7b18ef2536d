import { type AwardProblem, goodsFor, type Segment, WHOLE } from '#core/award/problem.ts'

/** A bid for a line as the search works with it. */
export interface OpenBid {
  readonly supplier: number
  readonly segments: readonly Segment[]
  readonly least: number
  readonly most: number
  /** What falls due once, if anything of the line is given to it; no part of its goods. */
  readonly once: number
  /** What a bundle takes off where all of the line is given to it; whether the bundle is had does not count here. */
  readonly off: number
}

/** How one line is given: parts with their goods. `cost` weighs the goods of each supplier by its factor. */
export interface Split {
  readonly cost: number
  readonly suppliers: readonly number[]
  readonly quantities: readonly number[]
  readonly goods: readonly number[]
}

/** Bids of a line by supplier, where nothing falls due and nothing is had beside them. */
export const openBids = (offers: readonly (readonly Segment[] | undefined)[]): OpenBid[] =>
  offers.flatMap((segments, supplier) =>
    segments && segments.length > 0
      ? [{ supplier, segments, least: segments[0]!.least, most: segments.at(-1)!.most, once: 0, off: 0 }]
      : [],
  )

/** Bids for each line from some suppliers only. Charges for a single line stand with its bid. */
export const bidsOf = (problem: AwardProblem, suppliers: readonly number[]): OpenBid[][] =>
  problem.bids.map((line, at) =>
    openBids(line)
      .filter(one => suppliers.includes(one.supplier))
      .map(one => ({ ...one, once: onceFor(problem, at, one.supplier), off: offFor(problem, at, one.supplier) })),
  )

const offFor = ({ bundles, bids, demands }: AwardProblem, line: number, supplier: number): number =>
  bundles.reduce(
    (sum, one) =>
      one.supplier === supplier && one.lines.includes(line)
        ? sum + ((goodsFor(bids[line]![supplier], demands[line]!) ?? 0) * one.off) / WHOLE
        : sum,
    0,
  )

const onceFor = ({ lotCharges }: AwardProblem, line: number, supplier: number): number =>
  lotCharges.reduce(
    (sum, one) =>
      one.supplier === supplier && one.lines.length === 1 && one.lines[0] === line ? sum + one.amount : sum,
    0,
  )

interface Work {
  readonly bids: readonly OpenBid[]
  readonly factors: ArrayLike<number>
  /** Places of bids, the cheapest unit first, and what a unit costs at least there. */
  readonly order: number[]
  readonly floor: number[]
  readonly used: boolean[]
  readonly chosen: number[]
  readonly quantities: number[]
  readonly goods: number[]
  best: { cost: number; chosen: number[]; quantities: number[]; goods: number[] } | null
}

/**
 * The cheapest way to give a line to some suppliers, goods weighed by a factor for each, with what falls due for it once; undefined where it cannot be given whole. Exact: with linear
 * costs inside each segment a cheapest split has at most one part that does not stand at an end of its segment (a vertex of its one equation), so all
 * but one part are tried at their ends and one part takes the rest. What cannot become cheaper any more is not gone into.
 */
export function splitLine(bids: readonly OpenBid[], demand: number, factors: ArrayLike<number>): Split | undefined {
  const floor = bids.map(bid => floorOf(bid, factors[bid.supplier]!))
  const order = bids
    .map((_bid, place) => place)
    .sort((a, b) => floor[a]! - floor[b]! || bids[a]!.supplier - bids[b]!.supplier)
  const work: Work = {
    bids,
    factors,
    order,
    floor,
    used: bids.map(() => false),
    chosen: [],
    quantities: [],
    goods: [],
    best: null,
  }
  // what is cheaper whole is looked at first, as pieces are left out by what they cost at least
  for (const place of order) if (bids[place]!.off > 0) takeRest(work, place, demand, -bids[place]!.off)
  go(work, 0, demand, 0)
  if (!work.best) return undefined
  const { cost, chosen, quantities, goods } = work.best
  return { cost, suppliers: chosen.map(place => bids[place]!.supplier), quantities, goods }
}

/** The least that a unit can cost: at one of the ends of a segment, as a share of what is paid before falls with the quantity. */
function floorOf({ segments }: OpenBid, factor: number): number {
  let least = Infinity
  for (const { base, price, least: from, most } of segments)
    least = Math.min(least, (price + base / from) * factor, (price + base / most) * factor)
  return least
}

function go(work: Work, start: number, rest: number, cost: number): void {
  const { bids, factors, order, floor, used, chosen, quantities, goods } = work
  let cheapest = Infinity
  for (const place of order) {
    if (used[place]) continue
    if (cheapest === Infinity) cheapest = floor[place]!
    if (work.best && cost + rest * floor[place]! >= work.best.cost) break
    takeRest(work, place, rest, cost)
  }
  if (cheapest === Infinity || (work.best && cost + rest * cheapest >= work.best.cost)) return
  for (let at = start; at < order.length; at++) {
    const place = order[at]!
    const next = order.find(other => other !== place && !used[other])
    if (next === undefined) continue
    used[place] = true
    for (const segment of bids[place]!.segments)
      for (const quantity of segment.least === segment.most ? [segment.least] : [segment.least, segment.most]) {
        if (quantity >= rest) continue
        const paid = segment.base + segment.price * quantity
        const sum = cost + paid * factors[bids[place]!.supplier]! + bids[place]!.once
        if (work.best && sum + (rest - quantity) * floor[next]! >= work.best.cost) continue
        chosen.push(place)
        quantities.push(quantity)
        goods.push(paid)
        go(work, at + 1, rest - quantity, sum)
        chosen.pop()
        quantities.pop()
        goods.pop()
      }
    used[place] = false
  }
}

function takeRest(work: Work, place: number, rest: number, cost: number): void {
  const bid = work.bids[place]!
  if (rest < bid.least || rest > bid.most) return
  const segment = bid.segments.find(one => rest >= one.least && rest <= one.most)
  if (!segment) return
  const paid = segment.base + segment.price * rest
  const sum = cost + paid * work.factors[bid.supplier]! + bid.once
  if (work.best && sum >= work.best.cost) return
  work.best = {
    cost: sum,
    chosen: [...work.chosen, place],
    quantities: [...work.quantities, rest],
    goods: [...work.goods, paid],
  }
}
