import { buyPart } from '#core/build/buyPart.ts'
import { costBuild } from '#core/build/costBuild.ts'
import { needAt } from '#core/build/need.ts'
import type { Choice, ReadyBuild, ReadyPart } from '#core/build/prepareBuild.ts'

/** What so many builds cost, for each number from one on: `totals[n - 1]`, in the costing currency's smallest unit. */
export interface CostCurve {
  readonly totals: readonly number[]
}

/**
 * The cost of 1 … `most` builds. Part by part: what was bought for fewer builds stays the best as long as it covers the need of more (it was chosen
 * among all that cover less, and still does), so that each part is computed anew only where its need grows beyond what was bought.
 */
export function costCurve(ready: ReadyBuild, most: number): CostCurve {
  const totals = new Array<number>(most).fill(0)
  const whereCheaper = ready.settings.alternates === 'whereCheaper'
  for (const part of ready.parts) addPart(part, whereCheaper, totals)
  return { totals }
}

function addPart(part: ReadyPart, whereCheaper: boolean, totals: number[]): void {
  const costs = part.choices.map(stairs)
  for (let at = 0; at < totals.length; at++) {
    let best: number | null = null
    for (const cost of costs) {
      if (best !== null && !whereCheaper) break
      const own = cost(at + 1)
      if (own !== null && (best === null || own < best)) best = own
    }
    totals[at]! += best ?? 0
  }
}

/** The cost of one choice by builds, asked in rising order. */
function stairs({ need, buyable }: Choice): (builds: number) => number | null {
  const { onHand } = need.nearly
  let covers = 0
  let cost = 0
  return builds => {
    const open = needAt(need, builds) - onHand
    if (open <= 0) return 0
    if (open <= covers) return cost
    covers = 0
    const buys = open === Infinity ? null : buyPart(buyable, open)
    if (!buys) return null
    if (buys.length > 1) return buys.reduce((sum, one) => sum + one.cost, 0)
    cost = buys[0]!.cost
    if (buyable.excess) covers = buys[0]!.quantity
    return cost
  }
}

/** A number of builds near the wanted one at which each costs less, and by how many per cent, one digit. */
export interface BetterQuantity {
  readonly builds: number
  readonly percent: number
}
/** How far around the wanted number is looked, and what is worth telling, in per cent. */
const AROUND = 0.25
const LEAST_AROUND = 3
const WORTH = 1

/** The best numbers of builds near a wanted one, below and above: where one build costs at least a per cent less, the most that can be saved. */
export function betterNear({ totals }: CostCurve, wanted: number): BetterQuantity[] {
  const own = totals[wanted - 1]
  if (!own) return []
  const each = own / wanted
  const width = Math.max(LEAST_AROUND, Math.floor(wanted * AROUND))
  const bestOf = (from: number, to: number): BetterQuantity[] => {
    let best: { builds: number; each: number } | undefined
    for (let builds = Math.max(1, from); builds <= Math.min(totals.length, to); builds++) {
      const here = totals[builds - 1]! / builds
      if (here < each * (1 - WORTH / 100) && (!best || here < best.each)) best = { builds, each: here }
    }
    return best ? [{ builds: best.builds, percent: Math.round((1 - best.each / each) * 1000) / 10 }] : []
  }
  return [...bestOf(wanted - width, wanted - 1), ...bestOf(wanted + 1, wanted + width)]
}

/** A jump of the curve: from one build less to this many, and the parts that make most of it. */
export interface CurveStep {
  readonly builds: number
  /** What the one build more costs in all, in the smallest unit; below zero where all becomes cheaper. */
  readonly more: number
  readonly parts: readonly { readonly part: number; readonly more: number }[]
}
const MOST_NAMED = 3

/** The greatest jumps of a curve, in the order of builds, each with the parts that make it. A jump is told against what one build more costs in the mean. */
export function curveSteps(ready: ReadyBuild, { totals }: CostCurve, most: number): CurveStep[] {
  const mean = (totals.at(-1) ?? 0) / Math.max(1, totals.length)
  const jumps = totals
    .map((total, at) => ({ builds: at + 1, more: total - (totals[at - 1] ?? 0) }))
    .slice(1)
    .filter(({ more }) => more < 0 || more > 2 * mean)
    .sort((a, b) => Math.abs(b.more - mean) - Math.abs(a.more - mean) || a.builds - b.builds)
    .slice(0, most)
  return jumps.sort((a, b) => a.builds - b.builds).map(jump => ({ ...jump, parts: makers(ready, jump.builds) }))
}

function makers(ready: ReadyBuild, builds: number): CurveStep['parts'] {
  const [before, after] = [costBuild(ready, builds - 1), costBuild(ready, builds)]
  return after.parts
    .map((one, part) => ({ part, more: one.cost - before.parts[part]!.cost }))
    .filter(one => one.more !== 0)
    .sort((a, b) => Math.abs(b.more) - Math.abs(a.more) || a.part - b.part)
    .slice(0, MOST_NAMED)
}
