import { awardInstance, type InstanceSize } from '#bench/awardInstances.ts'
import type { Figure } from '#bench/figures.ts'
import { handPlan } from '#core/award/handPlan.ts'
import { problemOfInstance } from '#core/award/instanceFile.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { solveAward } from '#server/award/solveAward.ts'

const SEEDS = [1, 2, 3]
/** For each size: seconds until the first checked plan, seconds in all, and the gap in per cent that has to be proved by then. */
const LIMITS: Readonly<Record<InstanceSize, { first: number; seconds: number; gap: number }>> = {
  small: { first: 1, seconds: 6, gap: 0.01 },
  medium: { first: 2, seconds: 30, gap: 0.5 },
  large: { first: 4, seconds: 30, gap: 0.7 },
  xlarge: { first: 10, seconds: 30, gap: 1.5 },
}
/** Seconds of a small run. */
const FEW = 3
const PERCENT = 100

const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!

/**
 * How far above the proved bound our plan stays, and beside it the award made by hand on the same instances, in per cent; medians of three seeds. The
 * limit is that of the gap.
 */
export const awardFigure =
  (size: InstanceSize) =>
  async (_world: unknown, _runs: number, small: boolean): Promise<Figure> => {
    const limit = LIMITS[size]
    const firsts: number[] = []
    const gaps: number[] = []
    const byHand: number[] = []
    const totals: number[] = []
    for (const seed of SEEDS) {
      const problem = problemOfInstance(awardInstance(size, seed))
      const solved = await solveAward(problem, { seconds: small ? Math.min(FEW, limit.seconds) : limit.seconds, gap: 0.0001 }) // prettier-ignore
      firsts.push(solved.firstSeconds ?? Infinity)
      gaps.push((solved.gap ?? 1) * PERCENT)
      totals.push(solved.seconds)
      const hand = handPlan(problem)
      const { faults, cost } = recheckPlan(problem, hand ?? [])
      if (hand && faults.length === 0) byHand.push((1 - (solved.bound * 10_000) / Number(cost)) * PERCENT)
    }
    const ours = middle(gaps)
    const baseline = byHand.length > 0 ? middle(byHand) : Infinity
    const first = middle(firsts)
    return {
      name: `award.${size}`,
      ours: Math.round(ours * 1e4) / 1e4,
      baseline: Math.round(baseline * 100) / 100,
      ratio: Math.round((ours / baseline) * 1000) / 1000,
      limit: limit.gap,
      ok: ours <= limit.gap && first <= limit.first,
      unit: '% above the bound',
      note: `first checked plan ${first.toFixed(2)} s (${limit.first}), proved gaps ${gaps.map(one => one.toFixed(3)).join(', ')} % after ${totals.map(one => one.toFixed(1)).join(', ')} s; baseline: by hand`, // prettier-ignore
    }
  }
