import { awardsOf, type Draft, draftOf, improvePlan, weighing } from '#core/award/improvePlan.ts'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { coverable, setBound } from '#core/award/setBound.ts'
import { bidsOf, type Split } from '#core/award/splitLine.ts'
import { type Priced, supplierBound } from '#core/award/supplierBound.ts'

/** How far a search is. Money in the problem's smallest unit. */
export interface SearchState {
  /** The best plan so far, rechecked; null while there is none. */
  readonly awards: readonly Award[] | null
  /** Its cost in ten-thousandths; null while there is none. */
  readonly cost: bigint | null
  /** No plan is cheaper; −∞ while nothing is known. */
  readonly bound: number
  readonly nodes: number
  /** Nothing is left to look at: no plan is cheaper than the best by more than was asked for, or there is none at all. */
  readonly done: boolean
}

export interface SearchEffort {
  /** Milliseconds of any clock; the search ends when it has shown `until`. */
  readonly now: () => number
  readonly until: number
  /** How far above the bound the best plan may stay, as a share of its cost. */
  readonly gap: number
  /** A plan that is known already, from elsewhere or an earlier run. */
  readonly start?: readonly Award[]
}

interface Node extends Omit<Priced, 'bound'> {
  readonly bound: number
  readonly inside: readonly number[]
  readonly open: readonly number[]
  /** How often a set that is told has been looked at closely. */
  readonly closer: number
}

const FIRST_STEPS = 60
const ROOT_STEPS = 240
const NODE_STEPS = 30
/** What the cheapest prices are thought to miss before a plan is known. */
const GUESS = 1.08
/** Splits of a line that are kept for improving plans. */
const KNOWN = 16
/** How much closer a told set is looked at, each time it is what holds the bound down. */
const CLOSER = [
  { steps: 30, nodes: 4 },
  { steps: 40, nodes: 16 },
  { steps: 60, nodes: 60 },
  { steps: 90, nodes: 250 },
] as const
const LOOK = { steps: 18, nodes: 0 } as const
const TEN_THOUSAND = 10_000

/**
 * Looks for the cheapest plan and for what no plan can undercut (branch and bound over the set of suppliers: Land and Doig, Econometrica 28, 1960;
 * bounds by `supplierBound`, and by `setBound` where the set is told; plans by what turns up there, improved line by line). Deterministic apart from
 * when its time is up: of equal plans the one found first stays, and everything is gone through in the order of lines and suppliers.
 */
export function* searchAward(problem: AwardProblem, effort: SearchEffort): Generator<SearchState, SearchState> {
  const all = problem.suppliers.map((_one, supplier) => supplier)
  const over = (): boolean => effort.now() >= effort.until
  const bounder = supplierBound(problem)
  const plans = planKeeper(problem)
  if (effort.start) plans.offer(effort.start)
  const tried = new Set<string>()
  let nodes = 0
  const state = (bound: number, done: boolean): SearchState => ({
    awards: plans.best.awards,
    cost: plans.best.cost,
    bound: plans.best.cost === null ? bound : Math.min(bound, plans.goal()),
    nodes,
    done,
  })
  const covers = (suppliers: readonly number[]): boolean =>
    bidsOf(problem, suppliers).every((bids, line) => coverable(bids, problem.demands[line]!))
  if (!covers(all)) return state(Infinity, true)

  const guess = GUESS * problem.demands.reduce((sum, demand, line) => sum + demand * bounder.first.prices[line]!, 0)
  // what costs more than everything at its dearest is no plan at all
  const worst = dearest(problem)
  let bound = -Infinity
  // where there is no plan yet, one is thought to cost a little more than what none can undercut
  const goal = (): number => (plans.best.cost === null ? Math.max(guess, bound * GUESS) : plans.goal())
  /** Looks at one set of suppliers for plans. */
  function look(set: readonly number[]): void {
    const key = [...set].sort((a, b) => a - b).join()
    if (tried.has(key) || over()) return
    tried.add(key)
    setBound(problem, set, goal(), plans.found, over, LOOK)
    plans.improve()
  }

  const rough = bounder.ascend({ inside: [], open: all }, FIRST_STEPS, bounder.first, guess, Infinity)
  for (const set of likelySets(problem, rough.use, [], all, covers)) look(set)
  yield state(rough.bound, false)
  const root = bounder.ascend({ inside: [], open: all }, ROOT_STEPS, rough, goal(), Infinity)
  for (const set of likelySets(problem, root.use, [], all, covers)) look(set)
  const open: Node[] = [{ ...root, inside: [], open: all, closer: 0 }]
  bound = root.bound
  yield state(bound, false)

  while (open.length > 0 && !over()) {
    const enough = (): number => goal() * (1 - effort.gap)
    open.sort((a, b) => a.bound - b.bound)
    const node = open.shift()!
    nodes++
    bound = Math.max(bound, node.bound)
    if (plans.best.cost !== null && node.bound >= enough()) {
      open.unshift(node)
      break
    }
    if (node.open.length === 0) {
      const told = lookCloser(node)
      if (told.bound < (plans.best.cost === null ? worst : goal())) open.push(told)
    } else {
      const [set] = likelySets(problem, node.use, node.inside, node.open, covers)
      if (set && (nodes % 4 === 1 || plans.best.cost === null)) look(set)
      for (const next of branch(node, problem.mostSuppliers)) {
        if (!covers([...next.inside, ...next.open])) continue
        const priced = bounder.ascend(next, NODE_STEPS, node, goal(), enough())
        if (priced.bound <= worst)
          open.push({ ...priced, ...next, bound: Math.max(priced.bound, node.bound), closer: 0 })
      }
    }
    yield state(open.length > 0 ? Math.max(bound, least(open)) : bound, false)
  }
  return state(Math.max(bound, least(open)), open.length === 0 || !over())

  function lookCloser(node: Node): Node {
    const much = CLOSER[Math.min(node.closer, CLOSER.length - 1)]!
    const found = setBound(problem, node.inside, goal(), plans.found, over, much)
    plans.improve()
    // what is looked at for the last time without a word stays as it is known
    const last = node.closer >= CLOSER.length - 1
    return { ...node, bound: Math.max(node.bound, found), closer: node.closer + (last ? 0 : 1) }
  }
}

/** The lowest bound of all that is left to look at; Infinity where nothing is. */
const least = (open: readonly Node[]): number => Math.min(Infinity, ...open.map(one => one.bound))

/** Everything at its dearest: with every charge, without a rebate; a little more, for the rounding of shares. */
const dearest = ({ demands, bids, suppliers, lotCharges }: AwardProblem): number =>
  (demands.reduce(
    (sum, demand, line) =>
      sum +
      demand *
        Math.max(0, ...bids[line]!.flatMap(segments => (segments ?? []).map(one => one.price + one.base / one.least))),
    0,
  ) +
    suppliers.reduce((sum, one) => sum + one.charge, 0) +
    lotCharges.reduce((sum, one) => sum + one.amount, 0)) *
    1.001 +
  1

/** The supplier on which it is least clear whether it is used is told first: once with it, once without. */
function branch(node: Node, most: number): { inside: number[]; open: number[] }[] {
  const [first] = [...node.open].sort((a, b) => Math.abs(node.use[a]! - 0.5) - Math.abs(node.use[b]! - 0.5) || a - b)
  const rest = node.open.filter(one => one !== first)
  return [
    // where it was the last that may come in, nobody else is open
    { inside: [...node.inside, first!], open: node.inside.length + 1 < most ? rest : [] },
    { inside: [...node.inside], open: rest },
  ]
}

/** Sets that are likely to be good: those that are used most, made to cover every line and to leave room for limits of spend. */
function likelySets(
  problem: AwardProblem,
  use: readonly number[],
  inside: readonly number[],
  open: readonly number[],
  covers: (suppliers: readonly number[]) => boolean,
): number[][] {
  const ranked = [...open].sort((a, b) => use[b]! - use[a]! || a - b)
  const room = Math.min(problem.mostSuppliers - inside.length, ranked.length)
  const sets: number[][] = []
  const add = (set: number[]): void => {
    if (covers(set)) sets.push(set)
  }
  const top = [...inside, ...ranked.slice(0, room)]
  add(top)
  // where it does not cover everything: one after the other of the last ones is exchanged
  for (let at = room - 1; at >= 0 && sets.length < 2; at--)
    for (const other of ranked.slice(room, room + 6)) {
      if (sets.length >= 2) break
      add([...inside, ...ranked.slice(0, room).filter((_one, index) => index !== at), other])
    }
  for (const rule of problem.spendRules) {
    const wants = (rule.leastShare ?? 0) > 0 || (rule.least ?? 0) > 0
    if (!wants || top.some(one => rule.suppliers.includes(one))) continue
    const own = ranked.find(one => rule.suppliers.includes(one))
    if (own !== undefined && room > 0) add([...inside, ...ranked.slice(0, room - 1), own])
  }
  return sets
}

/** Keeps the best plan of all that turn up, and the splits that better ones can be made of. */
function planKeeper(problem: AwardProblem) {
  const weigh = weighing(problem)
  const best: { awards: readonly Award[] | null; cost: bigint | null } = { awards: null, cost: null }
  const known = new Map<number, Map<string, Split>>()
  let waiting: { draft: Draft; weight: number }[] = []
  const goal = (): number => Number(best.cost) / TEN_THOUSAND

  function offer(awards: readonly Award[]): void {
    const { faults, cost } = recheckPlan(problem, awards)
    if (faults.length > 0 || (best.cost !== null && cost >= best.cost)) return
    best.awards = awards
    best.cost = cost
  }
  function found(splits: readonly Split[]): void {
    splits.forEach((split, line) => {
      const key = split.suppliers.map((supplier, part) => `${supplier}:${split.quantities[part]}`).join()
      const own = known.get(line) ?? new Map<string, Split>()
      known.set(line, own)
      own.delete(key)
      own.set(key, split)
      if (own.size > KNOWN) own.delete(own.keys().next().value!)
    })
    const draft = draftOf(problem, splits)
    const weight = weigh.whole(draft)
    waiting.push({ draft, weight })
    waiting.sort((a, b) => a.weight - b.weight)
    if (waiting.length > 3) waiting.pop()
  }
  /** Improves the best of what turned up since. */
  function improve(): void {
    for (const { draft } of waiting) {
      improvePlan(
        problem,
        draft,
        problem.demands.map((_one, line) => [...(known.get(line)?.values() ?? [])]),
      )
      offer(awardsOf(draft.splits))
    }
    waiting = []
  }
  return { best, goal, offer, found, improve }
}
