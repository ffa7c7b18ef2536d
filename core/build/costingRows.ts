import { type CostedBuild, excessOf, excessValue } from '#core/build/costBuild.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import { lineName } from '#core/build/partsList.ts'
import { partNotes, shareOf } from '#core/build/partNotes.ts'
import type { ReadyBuild, ReadyPart } from '#core/build/prepareBuild.ts'
import { stepsText } from '#core/build/steps.ts'
import { formatAmount, unitPriceOf, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { Reason } from '#core/reasons.ts'

/** A part as people read it: quantities in the unit of what is bought, amounts in the costing's currency. */
export interface CostingRow {
  readonly key: string
  /** Places in the list. */
  readonly lines: readonly number[]
  readonly name: string
  readonly number: string
  /** The number that the list gives it, where another item is bought. */
  readonly listed: string
  readonly itemId: string | null
  readonly unit: string
  readonly perBuild: string
  readonly need: string
  readonly fromStock: string
  readonly buy: string
  readonly suppliers: readonly string[]
  /** What one comes to, fee included. */
  readonly each: string
  readonly amount: string
  /** Of the total, in per cent with one digit. */
  readonly share: number
  readonly excess: string
  readonly excessValue: string
  readonly leadDays: number | null
  readonly notes: readonly Reason[]
}

/** One part of a costing as people read it. */
export function costingRow(
  facts: BuildFacts,
  ready: ReadyBuild,
  costed: CostedBuild,
  at: number,
  names = supplierNames(facts),
): CostingRow {
  const [part, bought] = [ready.parts[at]!, costed.parts[at]!]
  const { currency } = ready.settings
  const choice = part.choices[Math.max(0, bought.choice)]
  const line = facts.lines[part.needed.uses[0]!.line]!
  const digits = choice?.digits ?? 0
  const money = (amount: number): string => formatAmount(BigInt(amount), currency)
  return {
    key: part.needed.key,
    lines: part.needed.uses.map(use => use.line),
    name: choice?.item.name ?? lineName(line),
    number: choice?.item.number ?? line.number,
    listed: choice && line.number !== choice.item.number ? line.number : '',
    itemId: choice?.item.id ?? null,
    unit: choice?.item.unit ?? line.unit,
    perBuild: perBuildOf(part),
    need:
      choice && Number.isFinite(bought.need) ? stepsText(bought.need, digits) : needWithoutItem(part, costed.builds),
    fromStock: stepsText(bought.fromStock, digits),
    buy: stepsText(bought.quantity, digits),
    suppliers: bought.buys.map(one => names.get(one.prepared.offer.supplierId) ?? ''),
    each: bought.quantity === 0 ? '' : unitPriceOf(minor(bought.cost), currency, stepsText(bought.quantity, digits)),
    amount: money(bought.cost),
    share: shareOf(bought.cost, costed.total),
    excess: stepsText(excessOf(bought), digits),
    excessValue: money(excessValue(bought)),
    leadDays: bought.buys.length === 0 ? null : Math.max(...bought.buys.map(one => one.prepared.offer.leadTimeDays)),
    notes: partNotes(ready, costed, at),
  }
}

const supplierNames = (facts: BuildFacts): ReadonlyMap<string, string> =>
  new Map(facts.suppliers.map(one => [one.id, one.name]))

/** In the unit of the list; the places of a part that are said in several units are not added up. */
const perBuildOf = (part: ReadyPart): string =>
  tidy(part.needed.uses.reduce((sum, use) => sum.plus(use.perBuild), new Decimal(0)))

/** What is needed of a part that no item is known for, wastage included, rounded up to a whole. */
export function needWithoutItem(part: ReadyPart, builds: number): string {
  const { percent, pieces } = part.limits.wastage
  const each = part.needed.uses.reduce((sum, use) => sum.plus(use.perBuild), new Decimal(0))
  return each
    .times(new Decimal(percent || '0').div(100).plus(1))
    .times(builds)
    .plus(pieces || '0')
    .ceil()
    .toFixed()
}

/** All parts of a costing as people read them. */
export function costingRows(facts: BuildFacts, ready: ReadyBuild, costed: CostedBuild): CostingRow[] {
  const names = supplierNames(facts)
  return ready.parts.map((_part, at) => costingRow(facts, ready, costed, at, names))
}
