import { earliestDelivery } from '#core/request/offer.ts'
import { type CostedBuild, excessOf, excessValue } from '#core/build/costBuild.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import type { ReadyBuild } from '#core/build/prepareBuild.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'

/** What a costing comes to in all, in its currency's smallest unit. */
export interface BuildFigures {
  readonly total: Minor
  /** Of one build, exact to a hundredth of the smallest unit, rounded half away from zero. */
  readonly each: Decimal
  /** What is bought beyond the need, at the prices paid for it. */
  readonly excess: Minor
  readonly suppliers: number
  /** The day when all is in that has a price; null where nothing has to be bought. */
  readonly inOn: string | null
  readonly parts: number
  readonly unpriced: number
}

export function buildFigures(facts: BuildFacts, costed: CostedBuild): BuildFigures {
  const buys = costed.parts.flatMap(part => part.buys)
  const leads = buys.map(one => one.prepared.offer.leadTimeDays)
  return {
    total: minor(costed.total),
    each: new Decimal(costed.total.toString()).div(costed.builds).toDecimalPlaces(2, Decimal.ROUND_HALF_UP),
    excess: minor(costed.parts.reduce((sum, part) => sum + BigInt(excessValue(part)), 0n)),
    suppliers: new Set(buys.map(one => one.prepared.offer.supplierId)).size,
    inOn: leads.length === 0 ? null : earliestDelivery(facts.pricedOn, Math.max(...leads), facts.calendar),
    parts: costed.parts.length,
    unpriced: costed.unpriced,
  }
}

/** A part that drives the cost: its place, its cost and what all up to it make of the total, in per cent with one digit. */
export interface Driver {
  readonly part: number
  readonly cost: number
  readonly upTo: number
}

/** The parts by what they cost, the dearest first (Pareto: Juran, "Quality Control Handbook", 1951, on the vital few). */
export function drivers(costed: CostedBuild, most: number): Driver[] {
  const total = Number(costed.total)
  let sum = 0
  return costed.parts
    .map((one, part) => ({ part, cost: one.cost }))
    .filter(one => one.cost > 0)
    .sort((a, b) => b.cost - a.cost || a.part - b.part)
    .slice(0, most)
    .map(one => {
      sum += one.cost
      return { ...one, upTo: Math.round((sum / total) * 1000) / 10 }
    })
}

/** Excess of all parts by worth, the greatest first, those without left out. */
export const excesses = (ready: ReadyBuild, costed: CostedBuild): { part: number; steps: number; value: number }[] =>
  costed.parts
    .slice(0, ready.parts.length)
    .map((one, part) => ({ part, steps: excessOf(one), value: excessValue(one) }))
    .filter(one => one.steps > 0)
    .sort((a, b) => b.value - a.value || a.part - b.part)
