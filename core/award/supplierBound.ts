import { type AwardProblem, WHOLE } from '#core/award/problem.ts'
import { spendRows } from '#core/award/spendRows.ts'

/**
 * Lower bounds by pricing lines (Lagrangian relaxation of "each line is given whole": Geoffrion, Mathematical Programming Study 2, 1974; for choosing
 * places Cornuéjols, Fisher and Nemhauser, Management Science 23, 1977). Each line pays a price for a unit; each supplier, alone, takes what it can
 * earn with at these prices, with its charge and the level of its rebate; the best few of them count. Whatever the prices are, no plan is cheaper than
 * what lines pay less what suppliers earn. Prices are raised where too little is taken and lowered where too much is (subgradient steps: Held, Wolfe
 * and Crowder, Mathematical Programming 6, 1974).
 */
export interface Priced {
  /** No plan is cheaper. */
  readonly bound: number
  readonly prices: Float64Array
  readonly weights: Float64Array
  /** How often each supplier was among the best. */
  readonly use: readonly number[]
}

/** What may still be chosen: suppliers that are in, and others that can come in. */
export interface Choice {
  readonly inside: readonly number[]
  readonly open: readonly number[]
}

/** Everything a supplier can take, line by line: quantities at the ends of its segments with their goods. */
interface Offered {
  readonly lines: Int32Array
  readonly starts: Int32Array
  readonly quantities: Float64Array
  readonly goods: Float64Array
  /** What a bundle takes off. */
  readonly saved: Float64Array
  /** Charges for lots: amount and places in `lines`. */
  readonly lots: readonly { readonly amount: number; readonly places: readonly number[] }[]
}

/** What a supplier earns at the prices, and how much of each of its lines it takes for that. */
interface Earned {
  profit: number
  spend: number
  readonly taken: Float64Array
}

const offeredBy = (problem: AwardProblem, supplier: number): Offered => {
  const lines: number[] = []
  const starts: number[] = []
  const quantities: number[] = []
  const goods: number[] = []
  const saved: number[] = []
  const off = new Map(
    problem.bundles
      .filter(one => one.supplier === supplier)
      .flatMap(one => one.lines.map(line => [line, one.off] as const)),
  )
  const add = (quantity: number, paid: number, off = 0): void => {
    quantities.push(quantity)
    goods.push(paid)
    saved.push(off)
  }
  problem.bids.forEach((bids, line) => {
    const segments = bids[supplier]
    if (!segments || segments.length === 0) return
    lines.push(line)
    starts.push(quantities.length)
    for (const { least, most, base, price } of segments) {
      add(least, base + price * least)
      if (most > least) add(most, base + price * most)
    }
    // a bundle is taken as if its lines were all given: no plan is dearer for that
    const last = segments.at(-1)!
    const whole = problem.demands[line]!
    const paid = last.base + last.price * whole
    if (off.has(line) && last.most === whole) add(whole, paid, (paid * off.get(line)!) / WHOLE)
  })
  starts.push(quantities.length)
  const lots = problem.lotCharges
    .filter(one => one.supplier === supplier)
    .map(({ amount, lines: own }) => ({
      amount,
      places: own.map(line => lines.indexOf(line)).filter(place => place >= 0),
    }))
  return {
    lines: Int32Array.from(lines),
    starts: Int32Array.from(starts),
    quantities: Float64Array.from(quantities),
    goods: Float64Array.from(goods),
    saved: Float64Array.from(saved),
    lots,
  }
}

/** Steps in which the price of reaching a level is found; each is a bound by itself. */
const LEVEL_STEPS = 6
const CLOSE = 1e-4
const FIRST_STEP = 0.01
/** Bounds that did not rise before steps are shortened. */
const PATIENCE = 5
const SHORTER = 1.8
const TOO_SHORT = 0.002

export function supplierBound(problem: AwardProblem) {
  const { suppliers, demands } = problem
  const offered = suppliers.map((_one, supplier) => offeredBy(problem, supplier))
  const rows = spendRows(problem)
  const reach = suppliers.map(({ levels }) => levels.map(() => 0))
  const earned = offered.map((one): Earned => ({ profit: 0, spend: 0, taken: new Float64Array(one.lines.length) }))
  const trial = offered.map(one => new Float64Array(one.lines.length))

  /** What a supplier takes where its goods weigh so much: fills `taken`. */
  function take(
    { lines, starts, quantities, goods, saved, lots }: Offered,
    prices: Float64Array,
    factor: number,
    taken: Float64Array,
    gains: Float64Array | null,
  ): { gain: number; spend: number } {
    let gain = 0
    let spend = 0
    for (let place = 0; place < lines.length; place++) {
      const price = prices[lines[place]!]!
      let best = 0
      let at = -1
      for (let end = starts[place]!; end < starts[place + 1]!; end++) {
        const value = price * quantities[end]! - factor * goods[end]! + saved[end]!
        if (value > best) {
          best = value
          at = end
        }
      }
      taken[place] = at < 0 ? 0 : quantities[at]!
      if (gains) gains[place] = best
      if (at >= 0) {
        gain += best
        spend += goods[at]!
      }
    }
    if (gains)
      for (const { amount, places } of lots)
        gain -= Math.min(
          amount,
          places.reduce((sum, place) => sum + gains[place]!, 0),
        )
    return { gain, spend }
  }

  const gainsOf = offered.map(one => (one.lots.length > 0 ? new Float64Array(one.lines.length) : null))

  /** What a supplier earns with the level of its rebate that pays best. */
  function earn(supplier: number, prices: Float64Array, adjust: number): Earned {
    const result = earned[supplier]!
    result.profit = -Infinity
    const { levels, charge } = suppliers[supplier]!
    for (let level = 0; level < levels.length; level++) {
      const { from, rate, offset } = levels[level]!
      let low = 0
      let high = 1
      let price = reach[supplier]![level]!
      let best = Infinity
      let kept = price
      for (let step = 0; step < LEVEL_STEPS; step++) {
        const { gain, spend } = take(
          offered[supplier]!,
          prices,
          1 - rate / WHOLE + adjust - price,
          trial[supplier]!,
          gainsOf[supplier]!,
        )
        const profit = gain - price * from - offset / WHOLE - charge
        if (profit < best) {
          best = profit
          kept = price
          // what cannot win any more needs no closer look
          if (best <= result.profit) break
          pending.spend = spend
          pending.taken.set(trial[supplier]!)
        }
        if (from === 0) break
        if (spend >= from) {
          if (price === 0) break
          high = price
        } else low = price
        if (high - low < CLOSE) break
        price = high < 1 ? (low + high) / 2 : price * 2 + FIRST_STEP / 2
      }
      reach[supplier]![level] = kept
      if (best > result.profit) {
        result.profit = best
        result.spend = pending.spend
        result.taken.set(pending.taken.subarray(0, result.taken.length))
      }
    }
    return result
  }
  const pending = { spend: 0, taken: new Float64Array(Math.max(1, ...offered.map(one => one.lines.length))) }

  /** Prices that a unit of each line is worth at first, by which steps are measured. */
  const scale = Float64Array.from(demands, (demand, line) => {
    let least = Infinity
    for (const segments of problem.bids[line]!)
      for (const { base, price, most } of segments ?? []) least = Math.min(least, price + base / most)
    return Number.isFinite(least) ? Math.max(least, 1 / Math.max(1, demand)) : 1
  })
  const whole = Math.max(1, demands.reduce((sum, demand, line) => sum + demand * scale[line]!, 0)) // prettier-ignore

  /** Raises the bound for a choice, step by step, until it is at `enough` or steps become too short. */
  function ascend(
    { inside, open }: Choice,
    steps: number,
    from: { prices: Float64Array; weights: Float64Array },
    goal: number,
    enough: number,
  ): Priced {
    let { prices, weights } = from
    let best = { bound: -Infinity, prices, weights }
    let length = 1
    let stalled = 0
    const use = suppliers.map(() => 0)
    let taken = 0
    const places = Math.max(0, problem.mostSuppliers - inside.length)
    const gradient = new Float64Array(demands.length)
    const over = new Float64Array(rows.length)
    for (let step = 0; step < steps; step++) {
      taken++
      let value = 0
      for (let line = 0; line < demands.length; line++) {
        value += prices[line]! * demands[line]!
        gradient[line] = demands[line]!
      }
      rows.forEach((row, index) => {
        value -= weights[index]! * row.limit
        over[index] = -row.limit
      })
      const adjust = (supplier: number): number =>
        rows.reduce((sum, row, index) => sum + weights[index]! * row.weights[supplier]!, 0)
      for (const supplier of [...inside, ...open]) earn(supplier, prices, adjust(supplier))
      const chosen = [
        ...inside,
        ...[...open]
          .sort((a, b) => earned[b]!.profit - earned[a]!.profit || a - b)
          .slice(0, places)
          .filter(supplier => earned[supplier]!.profit > 0),
      ]
      for (const supplier of chosen) {
        const { profit, spend, taken: amounts } = earned[supplier]!
        value -= profit
        use[supplier]!++
        const { lines } = offered[supplier]!
        for (let place = 0; place < lines.length; place++) gradient[lines[place]!]! -= amounts[place]!
        rows.forEach((row, index) => (over[index]! += row.weights[supplier]! * spend))
      }
      if (value > best.bound) {
        stalled = value > best.bound + Math.abs(value) * 1e-6 ? 0 : stalled + 1
        best = { bound: value, prices, weights }
      } else if (++stalled > PATIENCE) {
        length /= SHORTER
        stalled = 0
        ;({ prices, weights } = best)
      }
      if (best.bound >= enough || length < TOO_SHORT) break
      let size = 0
      for (let line = 0; line < demands.length; line++)
        size += (gradient[line]! * gradient[line]! * scale[line]!) / demands[line]!
      for (let index = 0; index < rows.length; index++)
        if (weights[index]! > 0 || over[index]! > 0) size += (over[index]! * over[index]!) / whole
      if (size === 0) break
      const far = (length * Math.max(goal - value, Math.abs(goal) * 1e-4)) / size
      prices = prices.map((price, line) => price + (far * gradient[line]! * scale[line]!) / demands[line]!)
      weights = weights.map((weight, index) => Math.max(0, weight + (far * over[index]!) / whole))
    }
    return { ...best, use: use.map(count => count / Math.max(1, taken)) }
  }

  return { ascend, first: { prices: scale.slice(), weights: new Float64Array(rows.length) } }
}
