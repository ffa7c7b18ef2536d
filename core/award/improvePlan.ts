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
    for (let supplier = 0; supplier < spend.length; supplier++)
      if (spend[supplier] !== 0) sum += row.weights[supplier]! * spend[supplier]!
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
    for (const { supplier, lines, amount } of problem.lotCharges)
      if (lines.some(line => splits[line]!.suppliers.includes(supplier))) cost += amount
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
  const rows = spendRows(problem)
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
      for (const split of movesOf(problem, rows, draft, line)) if (test(line, split)) better = true
    }
    if (!better) break
  }
  return cost
}

/** What a quantity of a line would be moved between. */
interface Move {
  readonly from: number
  readonly to: number
  /** What the one has of the line, and the other. */
  readonly there: number
  readonly own: number
  /** What one unit less costs less there, and one more costs more here. */
  readonly loss: number
  readonly gain: number
}

/** Quantities of a line moved from one of its suppliers to another, as far as a level or a limit needs, or as far as it leaves room. */
function* movesOf(problem: AwardProblem, rows: readonly SpendRow[], draft: Draft, line: number): Generator<Split> {
  const bids = problem.bids[line]!
  const now = draft.splits[line]!
  const priceOf = (supplier: number, quantity: number): number => {
    const segments = bids[supplier]!
    return (segments.find(one => quantity <= one.most) ?? segments.at(-1)!).price
  }
  const full = draft.spend.reduce((used, one) => used + (one === 0 ? 0 : 1), 0) >= problem.mostSuppliers
  for (let part = 0; part < now.suppliers.length; part++)
    for (let to = 0; to < bids.length; to++) {
      const from = now.suppliers[part]!
      if (to === from || !bids[to]?.length || (full && draft.spend[to] === 0)) continue
      const has = now.suppliers.indexOf(to)
      const own = has < 0 ? 0 : now.quantities[has]!
      const there = now.quantities[part]!
      const move: Move = { from, to, there, own, loss: priceOf(from, there), gain: priceOf(to, own + 1) }
      for (const amount of amountsOf(problem, rows, draft.spend, line, move)) {
        if (!(amount > 0 && amount <= there)) continue
        const next = moved(problem, now, line, part, to, amount)
        if (next) yield next
      }
    }
}

function* amountsOf(
  problem: AwardProblem,
  rows: readonly SpendRow[],
  spend: Float64Array,
  line: number,
  { from, to, there, own, loss, gain }: Move,
): Generator<number> {
  // so much more that the one just reaches a level
  for (const level of problem.suppliers[to]!.levels)
    if (level.from > spend[to]!) yield Math.ceil((level.from - spend[to]!) / gain)
  // so much less that the other just keeps its level
  const level = problem.suppliers[from]!.levels.findLast(one => spend[from]! >= one.from)!
  if (level.from > 0) yield Math.floor((spend[from]! - level.from) / loss)
  // so much that a limit which is broken is just kept, or that one which is kept just stays so
  for (const { weights, limit } of rows) {
    const each = weights[to]! * gain - weights[from]! * loss
    if (each === 0) continue
    const over = weights.reduce((sum, weight, supplier) => sum + weight * spend[supplier]!, -limit)
    yield over > 0 ? Math.ceil(over / -each) : Math.floor(-over / each)
  }
  // to the ends of what can be had
  for (const { least, most } of problem.bids[line]![to]!) {
    yield least - own
    yield most - own
  }
  for (const { least, most } of problem.bids[line]![from]!) {
    yield there - least
    yield there - most
  }
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
