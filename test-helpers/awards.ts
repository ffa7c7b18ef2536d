import { type Award, type AwardProblem, goodsFor, segmentsOf } from '#core/award/problem.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { seeded } from '#bench/awardInstances.ts'

/** A small problem that comes the same for the same seed: tiers both ways, minimums, rebates both ways, charges, lots, bundles, limits. */
export function smallProblem(seed: number): AwardProblem {
  const random = seeded(seed + 17)
  const some = (least: number, most: number): number => least + Math.floor(random() * (most - least + 1))
  const lines = some(1, 3)
  const count = some(1, 3)
  const demands = Array.from({ length: lines }, () => some(1, 7))
  const bids = demands.map(demand =>
    Array.from({ length: count }, () => {
      if (random() < 0.12) return undefined
      const price = some(40, 90)
      const tiers = [{ from: 1, price }, ...(random() < 0.6 ? [{ from: some(2, 5), price: price - some(1, 12) }] : [])]
      return segmentsOf({ capacity: some(3, 9), minimum: random() < 0.25 ? some(1, 3) : 0, tiers, tierPrices: random() < 0.5 ? 'allUnits' : 'incremental' }, demand) // prettier-ignore
    }),
  )
  const suppliers = Array.from({ length: count }, (_one, index) => {
    const from = some(80, 400)
    const rate = some(2, 20) * 100
    return {
      id: `S${index}`,
      charge: random() < 0.6 ? some(0, 60) : 0,
      levels: [
        { from: 0, rate: 0, offset: 0 },
        ...(random() < 0.5 ? [{ from, rate, offset: random() < 0.4 ? from * rate : 0 }] : []),
      ],
    }
  })
  const any = (): number[] => suppliers.flatMap((_one, index) => (random() < 0.6 ? [index] : []))
  return {
    demands,
    suppliers,
    bids,
    mostSuppliers: Math.max(some(1, count), some(1, count)),
    spendRules: [
      ...(random() < 0.3 ? [{ suppliers: any(), mostShare: some(4, 9) * 1000 }] : []),
      ...(random() < 0.2 ? [{ suppliers: any(), leastShare: some(1, 4) * 1000 }] : []),
      ...(random() < 0.15 ? [{ suppliers: any(), most: some(150, 600) }] : []),
      ...(random() < 0.15 ? [{ suppliers: any(), least: some(50, 200) }] : []),
    ],
    lotCharges: random() < 0.3 ? [{ supplier: some(0, count - 1), lines: [0], amount: some(5, 60) }] : [],
    bundles: random() < 0.3 && lines > 1 ? [{ supplier: some(0, count - 1), lines: [0, 1], off: some(1, 15) * 100 }] : [], // prettier-ignore
  }
}

/** Every way to give one line whole. */
function waysOf(problem: AwardProblem, line: number): Award[][] {
  const go = (supplier: number, rest: number): Award[][] => {
    if (rest === 0) return [[]]
    if (supplier === problem.suppliers.length) return []
    const ways = go(supplier + 1, rest)
    for (let quantity = 1; quantity <= rest; quantity++)
      if (goodsFor(problem.bids[line]![supplier], quantity) !== undefined) ways.push(...go(supplier + 1, rest - quantity).map(way => [{ line, supplier, quantity }, ...way])) // prettier-ignore
    return ways
  }
  return go(0, problem.demands[line]!)
}

/** The cheapest plan by trying every one, in ten-thousandths; null where none keeps every rule. */
export function cheapestByTrying(problem: AwardProblem): bigint | null {
  let best: bigint | null = null
  const ways = problem.demands.map((_one, line) => waysOf(problem, line))
  const go = (line: number, plan: Award[]): void => {
    if (line === ways.length) {
      const { faults, cost } = recheckPlan(problem, plan)
      if (faults.length === 0 && (best === null || cost < best)) best = cost
      return
    }
    for (const way of ways[line]!) go(line + 1, [...plan, ...way])
  }
  go(0, [])
  return best
}
