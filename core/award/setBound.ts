import { type AwardProblem, WHOLE } from '#core/award/problem.ts'
import { bidsOf, type OpenBid, type Split, splitLine } from '#core/award/splitLine.ts'
import { spendRows } from '#core/award/spendRows.ts'

/** Which levels of its rebate each supplier of a set may reach: from place `low` to place `high`. */
interface Levels {
  readonly low: readonly number[]
  readonly high: readonly number[]
}
interface Node extends Levels {
  readonly bound: number
  readonly reach: readonly number[]
  readonly weights: readonly number[]
}

/** What is told of every way to give all lines that turns up: one split for each line. */
export type Found = (splits: readonly Split[]) => void

const PATIENCE = 3
const SHORTER = 1.8
const TOO_SHORT = 0.004

/**
 * A lower bound for what a given set of suppliers costs, all of them used. Lines are split exactly; only what joins them (levels of rebates, limits of
 * spend) is priced (Lagrangian relaxation), and the levels are branched on: a set of levels counts the highest rate and asks for the lowest spend among
 * them. With many lines and few such joints little is lost (Aubin and Ekeland, Mathematics of Operations Research 1, 1976).
 *
 * @param goal the cost of the best plan that is known
 * @param stop asked between steps; where it says yes the bound so far is given
 * @returns Infinity where the set cannot give some line
 */
export function setBound(
  problem: AwardProblem,
  set: readonly number[],
  goal: number,
  found: Found,
  stop: (bound: number) => boolean,
  effort: { readonly steps: number; readonly nodes: number },
): number {
  const lines = bidsOf(problem, set)
  if (lines.some((bids, line) => !coverable(bids, problem.demands[line]!))) return Infinity
  const rows = spendRows(problem)
  const levelsOf = (at: number) => problem.suppliers[set[at]!]!.levels
  const charges = set.reduce((sum, supplier) => sum + problem.suppliers[supplier]!.charge, 0)
  const factors = new Float64Array(problem.suppliers.length)

  /** Raises the bound of some levels; tells what spend each supplier has at the best of it. */
  function ascend(levels: Levels, from: Node, steps: number): { node: Node; spend: Float64Array } {
    let reach = [...from.reach]
    let weights = [...from.weights]
    let best = { bound: -Infinity, reach, weights, spend: new Float64Array(set.length) }
    let length = 1
    let stalled = 0
    for (let step = 0; step < steps; step++) {
      let value = charges
      const over = rows.map(row => -row.limit)
      set.forEach((supplier, at) => {
        const { rate } = levelsOf(at)[levels.high[at]!]!
        const { from: least, offset } = levelsOf(at)[levels.low[at]!]!
        const adjust = rows.reduce((sum, row, index) => sum + weights[index]! * row.weights[supplier]!, 0)
        factors[supplier] = 1 - rate / WHOLE + adjust - reach[at]!
        value += offset / WHOLE + reach[at]! * least
      })
      rows.forEach((row, index) => (value -= weights[index]! * row.limit))
      const spend = new Float64Array(set.length)
      const splits: Split[] = []
      for (let line = 0; line < lines.length; line++) {
        const split = splitLine(lines[line]!, problem.demands[line]!, factors)
        if (!split) return { node: { ...from, ...levels, bound: Infinity }, spend }
        splits.push(split)
        value += split.cost
        split.suppliers.forEach((supplier, part) => {
          spend[set.indexOf(supplier)]! += split.goods[part]!
          rows.forEach((row, index) => (over[index]! += row.weights[supplier]! * split.goods[part]!))
        })
      }
      found(splits)
      if (value > best.bound) {
        stalled = value > best.bound + Math.abs(value) * 1e-6 ? 0 : stalled + 1
        best = { bound: value, reach, weights, spend }
      } else if (++stalled > PATIENCE) {
        length /= SHORTER
        stalled = 0
        ;({ reach, weights } = best)
      }
      if (best.bound >= goal || length < TOO_SHORT || stop(best.bound)) break
      const missing = set.map((_one, at) => levelsOf(at)[levels.low[at]!]!.from - spend[at]!)
      const pulls = missing.map((one, at) => (one > 0 || reach[at]! > 0 ? one : 0))
      const pushes = over.map((one, index) => (one > 0 || weights[index]! > 0 ? one : 0))
      const size = [...pulls, ...pushes].reduce((sum, one) => sum + one * one, 0)
      if (size === 0) break
      const far = (length * Math.max(goal - value, Math.abs(goal) * 1e-5)) / size
      reach = reach.map((one, at) => Math.max(0, one + far * pulls[at]!))
      weights = weights.map((one, index) => Math.max(0, one + far * pushes[index]!))
    }
    return { node: { ...levels, bound: best.bound, reach: best.reach, weights: best.weights }, spend: best.spend }
  }

  const first: Node = {
    low: set.map(() => 0),
    high: set.map((_one, at) => levelsOf(at).length - 1),
    bound: -Infinity,
    reach: set.map(() => 0),
    weights: rows.map(() => 0),
  }
  const root = ascend(first, first, effort.steps)
  const open = [root]
  for (let nodes = 0; nodes < effort.nodes; nodes++) {
    open.sort((a, b) => a.node.bound - b.node.bound)
    const { node, spend } = open[0]!
    if (node.bound >= goal || stop(node.bound)) break
    const at = splitAt(node, spend, levelsOf, set.length)
    if (at < 0) break
    open.shift()
    const levels = levelsOf(at)
    // the level that the spend reaches by itself, and those above it
    let reached = node.low[at]!
    for (let level = node.low[at]!; level <= node.high[at]!; level++)
      if (spend[at]! >= levels[level]!.from) reached = level
    const middle = Math.min(reached, node.high[at]! - 1)
    for (const levelsNow of [
      { low: node.low, high: node.high.map((one, index) => (index === at ? middle : one)) },
      { low: node.low.map((one, index) => (index === at ? middle + 1 : one)), high: node.high },
    ]) {
      const next = ascend(levelsNow, node, effort.steps)
      open.push({ ...next, node: { ...next.node, bound: Math.max(next.node.bound, node.bound) } })
    }
  }
  return Math.min(...open.map(one => one.node.bound))
}

/** The supplier whose levels are furthest from what its spend reaches; −1 where all are told. */
function splitAt(
  node: Node,
  spend: Float64Array,
  levelsOf: (at: number) => AwardProblem['suppliers'][number]['levels'],
  count: number,
): number {
  let worst = -1
  let most = 0
  for (let at = 0; at < count; at++) {
    if (node.low[at] === node.high[at]) continue
    const levels = levelsOf(at)
    let reached = node.low[at]!
    for (let level = reached; level <= node.high[at]!; level++) if (spend[at]! >= levels[level]!.from) reached = level
    const lost = (spend[at]! * (levels[node.high[at]!]!.rate - levels[reached]!.rate)) / WHOLE + 1
    if (reached < node.high[at]! && lost > most) {
      most = lost
      worst = at
    }
  }
  return worst
}

/** Whether some bids can give a line whole, minimums apart. */
export const coverable = (bids: readonly OpenBid[], demand: number): boolean =>
  bids.reduce((sum, bid) => sum + bid.most, 0) >= demand
