import { buyPart } from '#core/build/buyPart.ts'
import { groupOf } from '#core/build/offerGroup.ts'
import { needAt } from '#core/build/need.ts'
import type { ReadyBuild } from '#core/build/prepareBuild.ts'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { searchAward } from '#core/award/searchAward.ts'

/**
 * Which supplier each part is bought from so that there are as few as can be, and of all such ways a cheap one: every part a line of an award problem
 * of one piece, every supplier's bid what the whole need costs there; the search of award plans with one more supplier allowed each time, until a plan
 * is found. Parts that no single supplier covers are left out. `looks` is how long each number of suppliers is searched for.
 */
export function fewestSuppliers(ready: ReadyBuild, builds: number, looks = 4000): Map<string, string> {
  const lines = ready.parts.flatMap(part => {
    const costs = costsBySupplier(part.choices[0], builds)
    return costs.size === 0 ? [] : [{ key: part.needed.key, costs }]
  })
  const suppliers = [...new Set(lines.flatMap(line => [...line.costs.keys()]))]
  if (lines.length === 0) return new Map()
  const least = coverAtLeast(lines.map(line => new Set(line.costs.keys())))
  for (let most = least; most < suppliers.length; most++) {
    const awards = solved(
      problemOf(
        lines.map(line => line.costs),
        suppliers,
        most,
      ),
      looks,
    )
    if (awards) return new Map(awards.map(one => [lines[one.line]!.key, suppliers[one.supplier]!]))
  }
  return new Map(
    lines.map(line => [line.key, [...line.costs].reduce((best, one) => (one[1] < best[1] ? one : best))[0]]),
  )
}

function costsBySupplier(
  choice: ReadyBuild['parts'][number]['choices'][number] | undefined,
  builds: number,
): Map<string, number> {
  const costs = new Map<string, number>()
  const open = choice ? needAt(choice.need, builds) - choice.need.nearly.onHand : 0
  if (!choice || open <= 0 || open === Infinity) return costs
  const offers = choice.buyable.groups.flatMap(group => group.offers)
  for (const supplier of new Set(offers.map(one => one.offer.supplierId))) {
    const own = offers.filter(one => one.offer.supplierId === supplier)
    const buys = buyPart({ groups: [groupOf(own)], excess: choice.buyable.excess }, open)
    if (buys?.length === 1) costs.set(supplier, buys[0]!.cost)
  }
  return costs
}

/** Suppliers that are needed at the least: parts of which no two have a supplier in common. */
function coverAtLeast(lines: readonly ReadonlySet<string>[]): number {
  const taken = new Set<string>()
  let count = 0
  for (const line of [...lines].sort((a, b) => a.size - b.size)) {
    if ([...line].some(one => taken.has(one))) continue
    for (const one of line) taken.add(one)
    count++
  }
  return Math.max(1, count)
}

const problemOf = (
  lines: readonly ReadonlyMap<string, number>[],
  suppliers: readonly string[],
  mostSuppliers: number,
): AwardProblem => ({
  demands: lines.map(() => 1),
  suppliers: suppliers.map(id => ({ id, charge: 0, levels: [{ from: 0, rate: 0, offset: 0 }] })),
  bids: lines.map(costs =>
    suppliers.map(id => {
      const cost = costs.get(id)
      return cost === undefined ? undefined : [{ least: 1, most: 1, price: cost, base: 0 }]
    }),
  ),
  mostSuppliers,
  spendRules: [],
  lotCharges: [],
  bundles: [],
})
/** How far above the cheapest possible a plan for a number of suppliers may stay. */
const NEAR = 0.001

/** A plan for the problem, or null where none turned up; the search is ended after so many looks at its clock, so that it ends the same way each time. */
function solved(problem: AwardProblem, looks: number): readonly Award[] | null {
  let looked = 0
  const search = searchAward(problem, { now: () => looked++, until: looks, gap: NEAR })
  for (;;) {
    const { value, done } = search.next()
    if (done) return value.awards
  }
}
