import { expose } from 'comlink'
import { readyBuild } from '#core/build/computeBuild.ts'
import { type CostedBuild, costBuild } from '#core/build/costBuild.ts'
import { type CostingRow, costingRow, costingRows } from '#core/build/costingRows.ts'
import { betterNear, type BetterQuantity, costCurve, curveSteps } from '#core/build/curve.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import { buildFigures, drivers, excesses } from '#core/build/figures.ts'
import { type OfferOfPart, offersOfPart } from '#core/build/offersOfPart.ts'
import { noReadyOffers, type ReadyBuild, type ReadyOffers } from '#core/build/prepareBuild.ts'
import { type BuildSettings, MOST_ON_CURVE, type PartSettings } from '#core/build/settings.ts'
import { formatAmount } from '#core/money/amount.ts'
import { minorDigits } from '#core/money/currency.ts'
import { Decimal } from '#core/money/decimal.ts'

type Parts = Readonly<Record<string, PartSettings>>

/** Sums of a costing as people read them. */
export interface ShownFigures {
  readonly builds: number
  readonly total: string
  readonly each: string
  readonly excess: string
  readonly suppliers: number
  readonly inOn: string | null
  readonly parts: number
  readonly unpriced: number
}
export interface ShownCosting {
  readonly figures: ShownFigures
  readonly rows: readonly CostingRow[]
  readonly drivers: readonly { readonly part: number; readonly amount: string; readonly share: number }[]
  readonly excesses: readonly { readonly part: number; readonly amount: string }[]
  readonly circles: readonly (readonly number[])[]
  readonly unclear: readonly number[]
}
export interface ShownCurve {
  /** What one build costs, by how many are built, from one on. */
  readonly each: readonly number[]
  readonly better: readonly BetterQuantity[]
  readonly steps: readonly { readonly builds: number; readonly more: string; readonly parts: readonly string[] }[]
}

let facts: BuildFacts | undefined
let known: ReadyOffers = noReadyOffers()
let ready: ReadyBuild | undefined
let settings: BuildSettings | undefined

const DRIVERS = 7
const STEPS = 6

function figuresOf(costed: CostedBuild, currency: string): ShownFigures {
  const { total, each, excess, ...rest } = buildFigures(facts!, costed)
  const digits = minorDigits(currency)
  return {
    ...rest,
    builds: costed.builds,
    total: formatAmount(total, currency),
    excess: formatAmount(excess, currency),
    each: each.div(new Decimal(10).pow(digits)).toFixed(digits),
  }
}

/** Computes a costing beside the page, so that a slider never waits. */
const worker = {
  load(given: BuildFacts): void {
    facts = given
    known = noReadyOffers()
  },
  /** Everything for these settings. */
  full(wanted: BuildSettings, parts: Parts): ShownCosting {
    settings = wanted
    ready = readyBuild(facts!, wanted, parts, known)
    const costed = costBuild(ready, wanted.builds)
    const money = (amount: number): string => formatAmount(BigInt(amount), wanted.currency)
    const total = Number(costed.total)
    return {
      figures: figuresOf(costed, wanted.currency),
      rows: costingRows(facts!, ready, costed),
      drivers: drivers(costed, DRIVERS).map(one => ({
        part: one.part,
        amount: money(one.cost),
        share: Math.round((one.cost / total) * 1000) / 10,
      })),
      excesses: excesses(ready, costed)
        .slice(0, 3)
        .map(one => ({ part: one.part, amount: money(one.value) })),
      circles: ready.exploded.circles,
      unclear: ready.exploded.unclear,
    }
  },
  /** The sums for another number of builds, and some parts of it; nothing else changes. */
  quick(builds: number, parts: readonly number[]): { figures: ShownFigures; rows: [number, CostingRow][] } {
    const costed = costBuild(ready!, builds)
    const rows = parts
      .filter(at => at < ready!.parts.length)
      .map((at): [number, CostingRow] => [at, costingRow(facts!, ready!, costed, at)])
    return { figures: figuresOf(costed, settings!.currency), rows }
  },
  curve(most: number, builds: number): ShownCurve {
    const curve = costCurve(ready!, Math.min(MOST_ON_CURVE, most))
    const over = 10 ** minorDigits(settings!.currency)
    return {
      each: curve.totals.map((total, at) => total / (at + 1) / over),
      better: betterNear(curve, builds),
      steps: curveSteps(ready!, curve, STEPS).map(step => ({
        builds: step.builds,
        more: formatAmount(BigInt(step.more), settings!.currency),
        parts: step.parts.map(one => nameOf(one.part)),
      })),
    }
  },
  /** The sums under other settings, for the same builds. */
  beside(others: readonly BuildSettings[], parts: Parts): ShownFigures[] {
    return others.map(other => {
      const built = readyBuild(facts!, other, parts, known)
      return figuresOf(costBuild(built, other.builds), other.currency)
    })
  },
  /** What a part costs from anybody, whatever is preferred: every offer of it for the builds that are wanted. */
  offers(part: number, builds: number): OfferOfPart[] {
    return offersOfPart(facts!, ready!, part, builds)
  },
}
export type CostingWorker = typeof worker

const nameOf = (part: number): string => {
  const one = ready!.parts[part]!
  return one.item?.name ?? facts!.lines[one.needed.uses[0]!.line]!.description
}

expose(worker)
