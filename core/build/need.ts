import type { NeededPart } from '#core/build/explode.ts'
import type { BuildFacts, BuildItem } from '#core/build/facts.ts'
import type { Limits } from '#core/build/settings.ts'
import { Decimal } from '#core/money/decimal.ts'
import { unitDigits, unitsIn } from '#core/units/units.ts'

/** Needs beyond this are not computed with. */
export const MOST_STEPS = 2 ** 51

/** Need of one build in whole numbers: (builds × `each` + `once`) ÷ `over`, rounded up to `grain`; all in steps of the part. */
export interface NeedOf {
  readonly each: bigint
  readonly once: bigint
  readonly over: bigint
  readonly grain: bigint
  /** What lies in the house and is used first. */
  readonly onHand: bigint
  /** The same as plain numbers, each as near as they come. */
  readonly nearly: {
    readonly each: number
    readonly once: number
    readonly by: number
    readonly grain: number
    readonly onHand: number
  }
}

export interface Used {
  /** Per build, wastage in per cent included, in the item's unit. */
  readonly each: Decimal
  /** Once, whatever is built. */
  readonly once: Decimal
}

/** What the places of a part take of an item, in its unit; undefined where a unit of the list does not convert exactly. */
export function usesIn(facts: BuildFacts, needed: NeededPart, item: BuildItem, limits: Limits): Used | undefined {
  const { percent, pieces } = limits.wastage
  let each = new Decimal(0)
  for (const use of needed.uses) {
    const holds = unitsIn(facts.lines[use.line]!.unit, item.unit, item.packs)
    if (holds === undefined || new Decimal(holds).decimalPlaces() > MOST_FACTOR_DIGITS) return undefined
    each = each.plus(use.perBuild.times(holds))
  }
  return { each: each.times(new Decimal(percent || '0').div(PERCENT).plus(1)), once: new Decimal(pieces || '0') }
}
const PERCENT = 100
/** Digits of a factor between two units; one that has more does not convert exactly. */
const MOST_FACTOR_DIGITS = 12

export function needOf(
  { each, once }: Used,
  { digits, unit, onHand }: { digits: number; unit: string; onHand: string },
): NeedOf {
  const step = new Decimal(10).pow(digits)
  const [eachSteps, onceSteps] = [each.times(step), once.times(step)]
  const over = new Decimal(10).pow(Math.max(eachSteps.decimalPlaces(), onceSteps.decimalPlaces()))
  const whole = (figure: Decimal): bigint => BigInt(figure.toFixed(0))
  return needIn({
    each: whole(eachSteps.times(over)),
    once: whole(onceSteps.times(over)),
    over: whole(over),
    grain: 10n ** BigInt(Math.max(0, digits - unitDigits(unit))),
    onHand: whole(new Decimal(onHand || '0').times(step)),
  })
}

export const needIn = (of: Omit<NeedOf, 'nearly'>): NeedOf => ({
  ...of,
  nearly: {
    each: Number(of.each),
    once: Number(of.once),
    by: Number(of.over * of.grain),
    grain: Number(of.grain),
    onHand: Number(of.onHand),
  },
})

/**
 * Need of a number of builds in steps, rounded up once, after wastage. Infinity beyond what can be computed with.
 *
 * needAt(needIn({ each: 1236n, once: 0n, over: 100n, grain: 1n, onHand: 0n }), 8) //=> 99
 */
export function needAt(of: NeedOf, builds: number): number {
  const { each, once, by, grain } = of.nearly
  const exact = builds * each + once
  const need = exact < MOST_STEPS && by < MOST_STEPS ? Math.ceil(exact / by) * grain : exactNeed(of, builds)
  return need < MOST_STEPS ? need : Infinity
}
const exactNeed = ({ each, once, over, grain }: NeedOf, builds: number): number => {
  const [exact, by] = [BigInt(builds) * each + once, over * grain]
  return Number(((exact + by - 1n) / by) * grain)
}
