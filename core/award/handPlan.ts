import { awardsOf, draftOf, improvePlan, weighing } from '#core/award/improvePlan.ts'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { coverable } from '#core/award/setBound.ts'
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
      .find(left => bidsOf(problem, left).every((own, line) => coverable(own, problem.demands[line]!)))
    if (!without) return null
    set = without
  }
}
