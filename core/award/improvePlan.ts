import { type Award, type AwardProblem, costOfSpend, goodsFor, WHOLE } from '#core/award/problem.ts'
import type { Split } from '#core/award/splitLine.ts'
import { type SpendRow, spendRows } from '#core/award/spendRows.ts'

/** What breaking a limit of spend by one unit of money counts while a plan is improved: more than anything can save. */
const PENALTY = 2
const PASSES = 12

/** A plan while it is improved: one split for each line, and what each supplier has by them. */
export interface Draft {
  readonly splits: Split[]
  readonly spend: Float64Array
}

export function draftOf(problem: AwardProblem, splits: readonly Split[]): Draft {
  const spend = new Float64Array(problem.suppliers.length)
  for (const split of splits) split.suppliers.forEach((supplier, part) => (spend[supplier]! += split.goods[part]!))
  return { splits: [...splits], spend }
}

export const awardsOf = (splits: readonly Split[]): Award[] =>
  splits.flatMap((split, line) =>
    split.suppliers.map((supplier, part) => ({ line, supplier, quantity: split.quantities[part]! })),
  )

/** What a draft costs with what its breaches count; below `PENALTY` only where every limit is kept. */
export function weighing(problem: AwardProblem) {
  const rows = spendRows(problem)
  const withExtras = problem.lotCharges.length + problem.bundles.length > 0
  const broken = (row: SpendRow, spend: Float64Array): number => {
    let sum = -row.limit
    for (let supplier = 0; supplier < spend.length; supplier++) if (spend[supplier] !== 0) sum += row.weights[supplier]! * spend[supplier]! // prettier-ignore
    return Math.max(0, sum)
  }
  const ofSpend = (spend: Float64Array): number => {
    let cost = 0
    let used = 0
    for (let supplier = 0; supplier < spend.length; supplier++) {
      if (spend[supplier] === 0) continue
      used++
      cost += costOfSpend(problem.suppliers[supplier]!, spend[supplier]!)
    }
    for (const row of rows) cost += broken(row, spend) * PENALTY
    return used > problem.mostSuppliers ? cost + (used - problem.mostSuppliers) * cost : cost
  }
  const extras = (splits: readonly Split[]): number => {
    let cost = 0
    for (const { supplier, lines, amount } of problem.lotCharges) if (lines.some(line => splits[line]!.suppliers.includes(supplier))) cost += amount // prettier-ignore
    for (const { supplier, lines, off } of problem.bundles)
      if (lines.every(line => splits[line]!.suppliers.length === 1 && splits[line]!.suppliers[0] === supplier))
        cost -= (lines.reduce((sum, line) => sum + splits[line]!.goods[0]!, 0) * off) / WHOLE
    return cost
  }
  return {
    withExtras,
    ofSpend,
    whole: (draft: Draft): number => ofSpend(draft.spend) + (withExtras ? extras(draft.splits) : 0),
    extras,
    kept: (spend: Float64Array): boolean =>
      rows.every(row => broken(row, spend) <= 1e-6 * Math.max(1, Math.abs(row.limit))),
  }
}

/**
 * Makes a plan cheaper, line by line: another of the splits that are known for the line, or a quantity moved between two suppliers so that one of them
 * just reaches, or just keeps, a level of its rebate or a limit of spend. Ends where no single line makes it cheaper.
 *
 * @param known other splits of each line
 */
export function improvePlan(problem: AwardProblem, draft: Draft, known: readonly (readonly Split[])[]): number {
  const weigh = weighing(problem)
  let cost = weigh.whole(draft)
  const trial = new Float64Array(draft.spend.length)
  const test = (line: number, split: Split): boolean => {
    trial.set(draft.spend)
    const now = draft.splits[line]!
    now.suppliers.forEach((supplier, part) => (trial[supplier]! -= now.goods[part]!))
    split.suppliers.forEach((supplier, part) => (trial[supplier]! += split.goods[part]!))
    let next = weigh.ofSpend(trial)
    if (weigh.withExtras) {
      draft.splits[line] = split
      next += weigh.extras(draft.splits)
      draft.splits[line] = now
    }
    if (next >= cost - 1e-6) return false
    draft.splits[line] = split
    draft.spend.set(trial)
    cost = next
    return true
  }
  for (let pass = 0; pass < PASSES; pass++) {
    let better = false
    for (let line = 0; line < draft.splits.length; line++) {
      for (const split of known[line] ?? []) if (test(line, split)) better = true
      for (const split of movesOf(problem, draft, line)) if (test(line, split)) better = true
    }
    if (!better) break
  }
  return cost
}

/** Quantities of a line moved from one of its suppliers to another, as far as a level or a limit needs, or as far as it leaves room. */
function* movesOf(problem: AwardProblem, draft: Draft, line: number): Generator<Split> {
  const bids = problem.bids[line]!
  const now = draft.splits[line]!
  for (let part = 0; part < now.suppliers.length; part++)
    for (let supplier = 0; supplier < bids.length; supplier++) {
      if (supplier === now.suppliers[part] || draft.spend[supplier] === 0 || !bids[supplier]?.length) continue
      const has = now.suppliers.indexOf(supplier)
      const own = has < 0 ? 0 : now.quantities[has]!
      for (const amount of amountsOf(
        problem,
        draft,
        line,
        now.suppliers[part]!,
        supplier,
        own,
        now.quantities[part]!,
      )) {
        const next = moved(problem, now, line, part, supplier, amount)
        if (next) yield next
      }
    }
}

function* amountsOf(
  problem: AwardProblem,
  { spend }: Draft,
  line: number,
  from: number,
  to: number,
  own: number,
  there: number,
): Generator<number> {
  const priceOf = (supplier: number, quantity: number): number => {
    const segments = problem.bids[line]![supplier]!
    return (segments.find(one => quantity <= one.most) ?? segments.at(-1)!).price
  }
  // so much more that the one just reaches a level
  const gain = priceOf(to, own + 1)
  for (const level of problem.suppliers[to]!.levels) {
    const missing = level.from - spend[to]!
    if (missing > 0 && gain > 0) {
      const amount = Math.ceil(missing / gain)
      if (amount <= there) yield amount
    }
  }
  // so much less that the other just keeps its level
  const level = problem.suppliers[from]!.levels.findLast(one => spend[from]! >= one.from)!
  const loss = priceOf(from, there)
  if (level.from > 0 && loss > 0) {
    const amount = Math.floor((spend[from]! - level.from) / loss)
    if (amount > 0 && amount < there) yield amount
  }
  // to the ends of what can be had
  for (const { least, most } of problem.bids[line]![to]!) for (const end of [least - own, most - own]) if (end > 0 && end <= there) yield end // prettier-ignore
  for (const { least, most } of problem.bids[line]![from]!) for (const end of [there - least, there - most]) if (end > 0 && end < there) yield end // prettier-ignore
  yield there
}

function moved(
  problem: AwardProblem,
  split: Split,
  line: number,
  part: number,
  to: number,
  amount: number,
): Split | undefined {
  const parts = new Map(split.suppliers.map((supplier, index) => [supplier, split.quantities[index]!]))
  const from = split.suppliers[part]!
  parts.set(to, (parts.get(to) ?? 0) + amount)
  const left = parts.get(from)! - amount
  if (left > 0) parts.set(from, left)
  else parts.delete(from)
  const suppliers = [...parts.keys()]
  const goods: number[] = []
  for (const [supplier, quantity] of parts) {
    const paid = goodsFor(problem.bids[line]![supplier], quantity)
    if (paid === undefined) return undefined
    goods.push(paid)
  }
  return { cost: 0, suppliers, quantities: [...parts.values()], goods }
}
