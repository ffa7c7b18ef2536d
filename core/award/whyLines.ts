import { type CompiledPlan, isAllowed } from '#core/award/compilePlan.ts'
import type { PlanFacts } from '#core/award/planFacts.ts'
import { type Award, costOfSpend, goodsFor } from '#core/award/problem.ts'
import { spendRows } from '#core/award/spendRows.ts'
import type { Wish } from '#core/award/wishes.ts'
import { Decimal } from '#core/money/decimal.ts'

/** Why a line does not go to who is cheapest for it by price. */
export interface LineWhy {
  readonly lineId: string
  readonly cheapestId: string
  readonly because:
    'wish' | 'capacity' | 'minimum' | 'together' | 'oneMoreSupplier' | 'notUsed' | 'limit' | 'rebate' | 'charge'
  /** The wish that leaves it out. */
  readonly wishId: string | null
  /** How much cheaper it is for the line, in per cent of what the line costs now. */
  readonly cheaper: string
}

/** For each line of a plan that does not go whole to the supplier with the lowest price for all of it: why. */
export function whyLines(
  facts: PlanFacts,
  wishes: readonly Wish[],
  compiled: CompiledPlan,
  awards: readonly Award[],
): LineWhy[] {
  const { problem, lines } = compiled
  const spend = problem.suppliers.map(() => 0)
  for (const { line, supplier, quantity } of awards)
    spend[supplier]! += goodsFor(problem.bids[line]![supplier], quantity)!
  return facts.lines.flatMap(({ id, quantity }) => {
    const place = lines.findIndex(group => group.includes(id))
    if (place < 0) return []
    const unit = facts.bids
      .filter(bid => bid.lineId === id)
      .map(bid => ({ bid, cost: unitCostAt(bid.tiers, quantity) }))
      .sort((a, b) => a.cost.comparedTo(b.cost) || (a.bid.supplierId < b.bid.supplierId ? -1 : 1))
    const own = awards.filter(one => one.line === place)
    const [cheapest] = unit
    const supplierId = (index: number): string => facts.suppliers[index]!.id
    if (!cheapest || own.every(one => unitOf(unit, supplierId(one.supplier)).lte(cheapest.cost))) return []
    const paid = own
      .reduce((sum, one) => sum.plus(unitOf(unit, supplierId(one.supplier)).times(one.quantity)), new Decimal(0))
      .dividedBy(own.reduce((sum, one) => sum + one.quantity, 0))
    const cheaper = paid.isZero() ? '0' : paid.minus(cheapest.cost).dividedBy(paid).times(100).toFixed(1)
    const say = (because: LineWhy['because'], wishId: string | null = null): LineWhy[] => [
      { lineId: id, cheapestId: cheapest.bid.supplierId, because, wishId, cheaper },
    ]
    const out = wishes.find(wish => !isAllowed(facts, cheapest.bid, [wish]))
    if (out) return say('wish', out.id)
    const at = facts.suppliers.findIndex(one => one.id === cheapest.bid.supplierId)
    if (lines[place]!.length > 1) return say('together')
    const demand = problem.demands[place]!
    const segments = problem.bids[place]![at]
    if (!segments || segments.length === 0 || segments[0]!.least > demand) return say('minimum')
    if (segments.at(-1)!.most < demand) return say('capacity')
    if (spend[at] === 0)
      return say(new Set(awards.map(one => one.supplier)).size >= problem.mostSuppliers ? 'oneMoreSupplier' : 'notUsed')
    // the whole line moved there, all else as it is
    const moved = [...spend]
    for (const one of own) moved[one.supplier]! -= goodsFor(problem.bids[place]![one.supplier], one.quantity)!
    moved[at]! += goodsFor(segments, demand)!
    if (
      spendRows(problem).some(
        row => row.weights.reduce((sum, weight, index) => sum + weight * moved[index]!, -row.limit) > 1e-6,
      )
    )
      return say('limit')
    const costs = (spent: readonly number[], rebates: boolean): number =>
      spent.reduce((sum, one, index) => sum + (rebates ? costOfSpend(problem.suppliers[index]!, one) : one), 0)
    return say(
      costs(moved, true) >= costs(spend, true) && costs(moved, false) < costs(spend, false) ? 'rebate' : 'charge',
    )
  })
}

/** What one unit costs in the tier that a quantity reaches. */
export const unitCostAt = (tiers: PlanFacts['bids'][number]['tiers'], quantity: string): Decimal => {
  const reached = [...tiers]
    .filter(one => new Decimal(one.from).lte(quantity))
    .sort((a, b) => new Decimal(b.from).comparedTo(a.from))[0]
  return new Decimal((reached ?? tiers[0])?.unitCost ?? '0')
}

const unitOf = (unit: readonly { bid: { supplierId: string }; cost: Decimal }[], supplierId: string): Decimal =>
  unit.find(one => one.bid.supplierId === supplierId)!.cost
