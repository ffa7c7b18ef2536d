import { awardsOf, draftOf, improvePlan, weighing } from '#core/award/improvePlan.ts'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { bidsOf, type Split, splitLine } from '#core/award/splitLine.ts'

/**
 * The award as it is made by hand, line by line: each line where it is cheapest by its price; whoever has least is left out until no more suppliers
 * are used than may be; then lines are moved only where a limit of spend is broken. Null where that ends nowhere.
 *
 * @param factors what the goods of each supplier weigh; one each where only the price counts
 */
export function handPlan(
  problem: AwardProblem,
  factors: ArrayLike<number> = problem.suppliers.map(() => 1),
): Award[] | null {
  let set = problem.suppliers.map((_one, supplier) => supplier)
  let carried = false
  for (;;) {
    const bids = bidsOf(problem, set)
    const splits: Split[] = []
    for (const [line, demand] of problem.demands.entries()) {
      const split = splitLine(bids[line]!, demand, factors)
      if (!split) return null
      splits.push(split)
    }
    const draft = draftOf(problem, splits)
    const used = set
      .filter(supplier => draft.spend[supplier]! > 0)
      .sort((a, b) => draft.spend[a]! - draft.spend[b]! || b - a)
    if (used.length <= problem.mostSuppliers) {
      if (!weighing(problem).kept(draft.spend)) improvePlan(problem, draft, [])
      return awardsOf(draft.splits)
    }
    const without = used
      .map(out => used.filter(one => one !== out))
      .find(left => bidsOf(problem, left).every((own, line) => splitLine(own, problem.demands[line]!, factors)))
    // where nobody can be left out any more, those are taken who carry most between them, once
    const carrying = without ? null : mostCarrying(problem)
    if (!without && (!carrying || carried)) return null
    carried ||= !without
    set = without ?? carrying!
  }
}

/** As many suppliers as may be used, each the one that carries most of what the others before it leave open. */
function mostCarrying(problem: AwardProblem): number[] {
  const open = problem.demands.map(() => 1)
  const set: number[] = []
  const share = (supplier: number, line: number): number =>
    Math.min(open[line]!, (problem.bids[line]![supplier]?.at(-1)?.most ?? 0) / problem.demands[line]!)
  const carries = (supplier: number): number => open.reduce((sum, _one, line) => sum + share(supplier, line), 0)
  while (set.length < problem.mostSuppliers) {
    const [best] = problem.suppliers
      .map((_one, supplier) => supplier)
      .filter(supplier => !set.includes(supplier))
      .sort((a, b) => carries(b) - carries(a) || a - b)
    if (best === undefined) break
    set.push(best)
    open.forEach((left, line) => (open[line] = left - share(best, line)))
  }
  return set
}
