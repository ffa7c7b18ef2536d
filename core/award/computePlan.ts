import {
  awardsFor,
  type CompiledPlan,
  compilePlan,
  minorOf,
  type PlanShare,
  sharesOf,
} from '#core/award/compilePlan.ts'
import { handPlan } from '#core/award/handPlan.ts'
import type { PlanFacts } from '#core/award/planFacts.ts'
import { type Award, type AwardProblem, WHOLE } from '#core/award/problem.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { type LineFigures, lineFigures } from '#core/award/lineFigures.ts'
import { type LineWhy, whyLines } from '#core/award/whyLines.ts'
import type { Wish } from '#core/award/wishes.ts'
import { formatAmount } from '#core/money/amount.ts'
import { minorDigits } from '#core/money/currency.ts'
import { Decimal } from '#core/money/decimal.ts'

/** What a solver says of a problem: its best plan, and what no plan can undercut; Infinity where there is none. */
export interface SolvedProblem {
  readonly awards: readonly Award[] | null
  readonly bound: number
}
/** Solves one problem; the plan that everything hangs on may take longer than those beside it. */
export type Solve = (
  problem: AwardProblem,
  effort: 'main' | 'beside',
  start?: readonly Award[],
) => Promise<SolvedProblem>

export const PLAN_ROWS = ['best', 'withoutWishes', 'fewest', 'incumbents', 'scoreForMoney', 'byHand'] as const
export type PlanRowKey = (typeof PLAN_ROWS)[number]

/** One way to award everything, with its figures. Amounts in the currency of the plan, rounded once. */
export interface PlanRow {
  readonly key: PlanRowKey
  readonly cost: string
  /** No plan with the same wishes costs less; null where nothing was proved. */
  readonly bound: string | null
  /** How far above the bound it stands at most, in per cent; null where nothing was proved. */
  readonly gap: string | null
  readonly suppliers: readonly { readonly supplierId: string; readonly amount: string; readonly lines: number }[]
  /** Until the last of it is here. */
  readonly leadDays: number | null
  /** Of suppliers, weighed by what they get. */
  readonly score: string | null
  readonly shares: readonly PlanShare[]
  readonly figures: readonly LineFigures[]
  /** Wishes that it breaks. */
  readonly breaks: readonly string[]
}

/** What a wish costs: the best plan with it less the best plan without. */
export interface WishPrice {
  readonly wishId: string
  readonly kept: boolean
  /** Null: there is no plan one way or the other. */
  readonly price: string | null
}

/** Wishes that no plan keeps together, none of them to spare; what the best plan would cost without each. */
export interface Conflict {
  readonly wishIds: readonly string[]
  /** Nothing keeps them: else nothing was found in the time that there was. */
  readonly proved: boolean
  readonly easing: readonly { readonly wishId: string; readonly cost: string | null }[]
}

export interface PlanOutcome {
  readonly rows: readonly PlanRow[]
  readonly prices: readonly WishPrice[]
  readonly curve: readonly { readonly suppliers: number; readonly cost: string | null; readonly bound: string | null }[]
  readonly why: readonly LineWhy[]
  readonly conflict: Conflict | null
  /** Lines of which less can be had than is asked for. */
  readonly short: CompiledPlan['short']
  /** It was stopped before everything beside the best plan was computed. */
  readonly stopped: boolean
}

/** Suppliers up to which the cost of using fewer is looked at. */
const MOST_ON_CURVE = 10
/** What a score counts as where nobody gave one. */
const UNSCORED = '50'

interface Work {
  readonly facts: PlanFacts
  readonly solve: Solve
  readonly stopped: () => boolean
  readonly step: () => Promise<void>
}

/** How many problems are solved at most: so that progress can be told. */
export const stepsOf = (facts: PlanFacts, wishes: readonly Wish[]): number =>
  4 + 2 * wishes.length + Math.min(facts.suppliers.length, MOST_ON_CURVE)

/**
 * Computes everything that an award plan shows: the best plan that keeps the wishes, what stands beside it, what each wish costs, the cost with fewer
 * suppliers, and why a line does not go to the cheapest. A wish that need not be is dropped, the dearest against its worth first, as long as keeping it
 * costs more than it is worth. Where nothing keeps all, the wishes that contradict each other are named (deletion filter: Chinneck and Dravnieks, ORSA
 * Journal on Computing 3, 1991).
 */
export async function computePlan(
  facts: PlanFacts,
  wishes: readonly Wish[],
  solve: Solve,
  stopped: () => boolean = () => false,
  step: () => Promise<void> = () => Promise.resolve(),
): Promise<PlanOutcome> {
  const work: Work = { facts, solve: (...what) => solveOrHand(solve, stopped, ...what), stopped, step }
  const { kept, first, conflict } = await withoutConflict(work, wishes)
  const {
    wishes: final,
    best,
    prices,
  } = kept ? await affordable(work, kept, first) : { wishes: [], best: null, prices: [] }
  const dropped = wishes.filter(one => !final.includes(one) && !prices.some(price => price.wishId === one.id))
  const rows: PlanRow[] = []
  const add = (key: PlanRowKey, compiled: CompiledPlan, solved: SolvedProblem | null): PlanRow | null => {
    if (!solved?.awards) return null
    const row = rowOf(facts, wishes, key, compiled, solved)
    if (row) rows.push(row)
    return row
  }
  const compiled = compilePlan(facts, final)
  const bestRow = add('best', compiled, best)
  const free = compilePlan(facts, [])
  add('withoutWishes', free, wishes.length === 0 ? best : await beside(work, free.problem))
  const { points, fewest } = await curveOf(work, final)
  if (fewest) add('fewest', fewest.compiled, fewest.solved)
  const incumbents = facts.lines.filter(line => line.incumbentId !== null).map(line => line.id)
  if (incumbents.length > 0) {
    const keeping: Wish = {
      id: 'incumbents',
      must: true,
      worth: '',
      worthIn: 'amount',
      what: { kind: 'keepIncumbent', lineIds: incumbents },
    }
    const own = compilePlan(facts, [...final.filter(one => one.must), keeping])
    add('incumbents', own, await beside(work, own.problem))
  }
  // by hand the same wishes are kept, so that the two can be compared
  const weights = facts.suppliers.map(one => 100 / Math.max(1, Number(one.score ?? UNSCORED)))
  if (facts.suppliers.some(one => one.score !== null))
    add('scoreForMoney', compiled, { awards: handPlan(compiled.problem, weights), bound: -Infinity })
  add('byHand', compiled, { awards: handPlan(compiled.problem), bound: -Infinity })
  return {
    rows,
    prices: [...prices, ...dropped.map(one => ({ wishId: one.id, kept: false, price: null }))],
    curve: points,
    why: bestRow ? whyLines(facts, final, compiled, best!.awards!) : [],
    conflict,
    short: free.short,
    stopped: stopped(),
  }
}

/** What is stopped before the solver has any plan still has the one that is made by hand, where that keeps all that must be. */
async function solveOrHand(solve: Solve, stopped: () => boolean, ...what: Parameters<Solve>): Promise<SolvedProblem> {
  const solved = await solve(...what)
  if (solved.awards || !stopped() || solved.bound === Infinity) return solved
  const [problem] = what
  const awards = handPlan(problem)
  return { ...solved, awards: awards && recheckPlan(problem, awards).faults.length === 0 ? awards : null }
}

async function beside(
  { solve, stopped, step }: Work,
  problem: AwardProblem,
  start?: readonly Award[],
): Promise<SolvedProblem | null> {
  if (stopped()) return null
  const solved = await solve(problem, 'beside', start)
  await step()
  return solved
}

/** Whether wishes can be kept together, by what was solved; what was stopped may be. */
const possible = (work: Work, solved: SolvedProblem | null): 'yes' | 'no' | 'notFound' =>
  solved?.awards || solved === null || work.stopped() ? 'yes' : solved.bound === Infinity ? 'no' : 'notFound'

const solvedWith = (work: Work, wishes: readonly Wish[]): Promise<SolvedProblem | null> =>
  beside(work, compilePlan(work.facts, wishes).problem)

/** The wishes that can be kept together, null where what must be contradicts itself; and those that contradict each other, of which what need not be is dropped. */
async function withoutConflict(
  work: Work,
  wishes: readonly Wish[],
): Promise<{ kept: readonly Wish[] | null; first: SolvedProblem | null; conflict: Conflict | null }> {
  const first = await solvedWith(work, wishes)
  const whole = possible(work, first)
  // without a wish there is nothing to contradict
  if (whole === 'yes' || wishes.length === 0) return { kept: wishes, first, conflict: null }
  let clashing = [...wishes]
  for (const one of wishes) {
    const less = clashing.filter(other => other !== one)
    if (possible(work, await solvedWith(work, less)) !== 'yes') clashing = less
  }
  const easing = []
  for (const one of clashing) {
    const { problem, perMoney } = compilePlan(work.facts, wishes.filter(other => other !== one)) // prettier-ignore
    const solved = await beside(work, problem)
    easing.push({ wishId: one.id, cost: solved?.awards ? costOf(work.facts, problem, perMoney, solved.awards) : null })
  }
  const conflict = { wishIds: clashing.map(one => one.id), proved: whole === 'no', easing }
  const soft = clashing.filter(one => !one.must)
  if (soft.length === 0 || work.stopped()) return { kept: null, first: null, conflict }
  // what is worth least gives way, and the rest is looked at again
  const [least] = [...soft].sort((a, b) => worthOf(a, '0').comparedTo(worthOf(b, '0')))
  const rest = await withoutConflict(work, wishes.filter(one => one !== least)) // prettier-ignore
  return { ...rest, conflict }
}

/** What keeping a wish may cost; without a limit where none is said. */
const worthOf = (wish: Wish, cost: string): Decimal =>
  wish.worth === ''
    ? new Decimal(Infinity)
    : wish.worthIn === 'amount'
      ? new Decimal(wish.worth)
      : new Decimal(cost).times(wish.worth).dividedBy(100)

/** The best plan, with every wish that is worth what it costs; and the price of each. */
async function affordable(
  work: Work,
  wishes: readonly Wish[],
  first: SolvedProblem | null,
): Promise<{ wishes: readonly Wish[]; best: SolvedProblem | null; prices: WishPrice[] }> {
  const dropped: WishPrice[] = []
  let kept = wishes
  let known = first
  for (;;) {
    const compiled = compilePlan(work.facts, kept)
    const closer = await work.solve(compiled.problem, 'main', known?.awards ?? undefined)
    // what was proved of the same problem before counts, too: also where somebody stops it here
    const best: SolvedProblem = { awards: closer.awards, bound: Math.max(closer.bound, known?.bound ?? -Infinity) }
    known = null
    await work.step()
    if (!best.awards) return { wishes: kept, best, prices: dropped }
    const cost = costOf(work.facts, compiled.problem, compiled.perMoney, best.awards)
    const prices: WishPrice[] = []
    for (const wish of kept) {
      const without = compilePlan(work.facts, kept.filter(one => one !== wish)) // prettier-ignore
      const start = awardsFor(without, sharesOf(work.facts, compiled, best.awards))
      const solved = await beside(work, without.problem, start)
      const less = solved?.awards ? costOf(work.facts, without.problem, without.perMoney, solved.awards) : null
      prices.push({
        wishId: wish.id,
        kept: true,
        price: less === null ? null : new Decimal(cost).minus(less).toFixed(minorDigits(work.facts.currency)),
      })
    }
    const above = (price: WishPrice): Decimal => {
      const wish = kept.find(one => one.id === price.wishId)!
      return new Decimal(wish.must || price.price === null ? -Infinity : price.price).minus(worthOf(wish, cost))
    }
    const [dearest] = [...prices].sort((a, b) => above(b).comparedTo(above(a)))
    if (!dearest || !above(dearest).gt(0) || work.stopped())
      return { wishes: kept, best, prices: [...prices, ...dropped] }
    dropped.push({ ...dearest, kept: false })
    kept = kept.filter(one => one.id !== dearest.wishId)
  }
}

/** What the best plan costs with at most so many suppliers, and the plan with fewest. */
async function curveOf(
  work: Work,
  wishes: readonly Wish[],
): Promise<{ points: PlanOutcome['curve']; fewest: { compiled: CompiledPlan; solved: SolvedProblem } | null }> {
  const points: { suppliers: number; cost: string | null; bound: string | null }[] = []
  let fewest: { compiled: CompiledPlan; solved: SolvedProblem } | null = null
  const compiled = compilePlan(work.facts, wishes.filter(one => one.what.kind !== 'mostSuppliers')) // prettier-ignore
  const offering = work.facts.suppliers.filter(one => work.facts.bids.some(bid => bid.supplierId === one.id)).length
  let start: readonly Award[] | undefined
  for (let most = 1; most <= Math.min(offering, MOST_ON_CURVE); most++) {
    const problem = { ...compiled.problem, mostSuppliers: most }
    const solved = await beside(work, problem, start)
    if (!solved) break
    start = solved.awards ?? undefined
    const cost = solved.awards && costOf(work.facts, problem, compiled.perMoney, solved.awards)
    points.push({ suppliers: most, cost, bound: boundText(work.facts, compiled.perMoney, solved) })
    if (solved.awards && !fewest) fewest = { compiled: { ...compiled, problem }, solved }
    // one more changes nothing where not all of them are used
    if (solved.awards && new Set(solved.awards.map(one => one.supplier)).size < most) break
  }
  return { points, fewest }
}

const amountText = (facts: PlanFacts, cents: bigint): string => formatAmount(cents, facts.currency)

const costOf = (facts: PlanFacts, problem: AwardProblem, perMoney: number, awards: readonly Award[]): string =>
  amountText(facts, minorOf(recheckPlan(problem, awards).cost, perMoney, minorDigits(facts.currency)))

/** A bound as an amount, rounded down, never above the cost of the plan beside it. */
function boundText(facts: PlanFacts, perMoney: number, { bound }: SolvedProblem): string | null {
  if (!Number.isFinite(bound)) return null
  return amountText(facts, BigInt(Math.floor((bound / perMoney) * 10 ** minorDigits(facts.currency))))
}

function rowOf(
  facts: PlanFacts,
  wishes: readonly Wish[],
  key: PlanRowKey,
  compiled: CompiledPlan,
  solved: SolvedProblem,
): PlanRow | null {
  const { problem, perMoney } = compiled
  const { faults, cost, spend } = recheckPlan(problem, solved.awards!)
  if (faults.length > 0) return null
  const digits = minorDigits(facts.currency)
  const shares = sharesOf(facts, compiled, solved.awards!)
  const bids = new Map(facts.bids.map(bid => [`${bid.lineId} ${bid.supplierId}`, bid]))
  const lead = shares.map(one => bids.get(`${one.lineId} ${one.supplierId}`)?.leadDays ?? null)
  const own = facts.suppliers.flatMap((supplier, index) => {
    const spent = spend.get(index)
    if (spent === undefined) return []
    const amount = amountText(facts, minorOf(spent * BigInt(WHOLE), perMoney, digits))
    return [
      {
        supplierId: supplier.id,
        amount,
        lines: new Set(shares.filter(one => one.supplierId === supplier.id).map(one => one.lineId)).size,
        score: supplier.score,
      },
    ]
  })
  const total = own.reduce((sum, one) => sum.plus(one.amount), new Decimal(0))
  const isScored = own.every(one => one.score !== null) && total.gt(0)
  const exact = Number(cost) / WHOLE
  return {
    key,
    cost: amountText(facts, minorOf(cost, perMoney, digits)),
    bound: boundText(facts, perMoney, { ...solved, bound: Math.min(solved.bound, exact) }),
    gap: Number.isFinite(solved.bound) ? Math.max(0, (1 - solved.bound / exact) * 100).toFixed(4) : null,
    suppliers: own.map(({ score: _score, ...one }) => one),
    leadDays: lead.some(one => one === null) ? null : Math.max(...lead.map(one => one!)),
    score: isScored
      ? own
          .reduce((sum, one) => sum.plus(new Decimal(one.amount).times(one.score!)), new Decimal(0))
          .dividedBy(total)
          .toFixed(1)
      : null,
    shares,
    figures: lineFigures(facts, compilePlan(facts, []), shares),
    breaks: wishes.filter(wish => breaks(facts, wish, shares)).map(one => one.id),
  }
}

/** Whether some shares break a wish: they are no plan of the problem that has this wish alone. */
export function breaks(facts: PlanFacts, wish: Wish, shares: readonly PlanShare[]): boolean {
  if (wish.what.kind === 'oneSupplier') {
    const own = wish.what.lineIds
    return new Set(shares.filter(one => own.includes(one.lineId)).map(one => one.supplierId)).size > 1
  }
  const alone = compilePlan(facts, [wish])
  return recheckPlan(alone.problem, awardsFor(alone, shares)).faults.length > 0
}
