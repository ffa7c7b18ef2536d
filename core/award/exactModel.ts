import { type Award, type AwardProblem, goodsFor, WHOLE } from '#core/award/problem.ts'
import { spendRows } from '#core/award/spendRows.ts'

/** How many yes-or-no decisions a model may have to be worth trying. */
export const SMALL_ENOUGH = 1200

/** A whole problem as a mixed-integer linear model, in the text that linear solvers read (LP format). Money is divided by `unit`. */
export interface ExactModel {
  readonly text: string
  readonly unit: number
  /** The plan that values of the model's columns stand for; quantities rounded, the rest of each line to whoever has most room. */
  readonly read: (values: Readonly<Record<string, number>>) => Award[]
}

/** How many yes-or-no decisions the model of a problem has. */
export const decisionsIn = ({ bids, suppliers }: AwardProblem): number =>
  bids.reduce((sum, line) => sum + line.reduce((own, segments) => own + (segments?.length ?? 0), 0), 0) +
  suppliers.reduce((sum, { levels }) => sum + 1 + levels.length, 0)

const MONEY = 1000
const PER_LINE = 6

/**
 * The model: for each segment of a bid whether it is taken (z) and how much of it (q); for each supplier whether it is used (y), which level of its
 * rebate counts (w) and its spend there (s); for each charge of a lot whether it falls due (v), for each bundle whether it is had (b). Quantities are
 * not asked to be whole, so its optimum is a lower bound; tiers are tied to the supplier ("sum of a bid's tiers ≤ supplier used"), which is much tighter
 * than limits by large numbers (Balas, Annals of Discrete Mathematics 5, 1979).
 */
export function exactModel(problem: AwardProblem): ExactModel {
  const { demands, suppliers, bids, mostSuppliers, lotCharges, bundles } = problem
  const goal: string[] = []
  const rows: string[] = []
  const binaries: string[] = []
  const goods: string[][] = suppliers.map(() => [])
  const most = suppliers.map(() => 0)
  demands.forEach((demand, line) => {
    const all: string[] = []
    bids[line]!.forEach((segments, supplier) => {
      if (!segments || segments.length === 0) return
      const taken: string[] = []
      let dearest = 0
      segments.forEach(({ least, most: high, price, base }, at) => {
        const z = `z_${line}_${supplier}_${at}`
        const q = `q_${line}_${supplier}_${at}`
        binaries.push(z)
        taken.push(z)
        all.push(q)
        rows.push(`${q} - ${least} ${z} >= 0`, `${q} - ${high} ${z} <= 0`)
        goods[supplier]!.push(plus(price / MONEY, q))
        if (base !== 0) goods[supplier]!.push(plus(base / MONEY, z))
        dearest = Math.max(dearest, base + price * high)
      })
      most[supplier]! += dearest
      rows.push(`${sum(taken)} - y_${supplier} <= 0`)
    })
    rows.push(`${sum(all)} = ${demand}`)
  })
  suppliers.forEach(({ charge, levels }, supplier) => {
    binaries.push(`y_${supplier}`)
    if (charge !== 0) goal.push(plus(charge / MONEY, `y_${supplier}`))
    const spent = levels.map((_one, level) => `s_${supplier}_${level}`)
    const counts = levels.map((_one, level) => `w_${supplier}_${level}`)
    levels.forEach(({ from, rate, offset }, level) => {
      binaries.push(counts[level]!)
      rows.push(
        `${spent[level]!} - ${decimal(from / MONEY)} ${counts[level]!} >= 0`,
        `${spent[level]!} - ${decimal(most[supplier]! / MONEY)} ${counts[level]!} <= 0`,
      )
      goal.push(plus(1 - rate / WHOLE, spent[level]!))
      if (offset !== 0) goal.push(plus(offset / WHOLE / MONEY, counts[level]!))
    })
    rows.push(`${sum(counts)} - y_${supplier} = 0`)
    if (goods[supplier]!.length > 0)
      rows.push(`${wrap(goods[supplier]!)} ${spent.map(one => `- ${one}`).join(' ')} = 0`)
    else rows.push(`y_${supplier} = 0`)
  })
  if (suppliers.length > mostSuppliers)
    rows.push(`${sum(suppliers.map((_one, supplier) => `y_${supplier}`))} <= ${mostSuppliers}`)
  for (const { weights, limit } of spendRows(problem))
    rows.push(
      `${wrap(weights.flatMap((weight, supplier) => (weight === 0 ? [] : suppliers[supplier]!.levels.map((_one, level) => plus(weight, `s_${supplier}_${level}`)))))} <= ${decimal(limit / MONEY)}`,
    )
  lotCharges.forEach(({ supplier, lines, amount }, lot) => {
    binaries.push(`v_${lot}`)
    goal.push(plus(amount / MONEY, `v_${lot}`))
    for (const line of lines) {
      const segments = bids[line]![supplier] ?? []
      if (segments.length > 0)
        rows.push(`${sum(segments.map((_one, at) => `z_${line}_${supplier}_${at}`))} - v_${lot} <= 0`)
    }
  })
  bundles.forEach(({ supplier, lines, off }, bundle) => {
    const whole = lines.map(line => goodsFor(bids[line]![supplier], demands[line]!))
    if (whole.some(one => one === undefined)) return
    binaries.push(`b_${bundle}`)
    goal.push(plus((-off / WHOLE / MONEY) * whole.reduce<number>((total, one) => total + one!, 0), `b_${bundle}`))
    for (const line of lines)
      rows.push(
        `${sum(bids[line]![supplier]!.map((_one, at) => `q_${line}_${supplier}_${at}`))} - ${demands[line]!} b_${bundle} >= 0`,
      )
  })
  const text = `Minimize\n cost: ${wrap(goal)}\nSubject To\n${rows.map((row, index) => ` r${index}: ${row}`).join('\n')}\nBinaries\n ${wrap(binaries)}\nEnd\n`
  return { text, unit: MONEY, read: values => readPlan(problem, values) }
}

/** Figures as the format takes them: no exponent. */
const decimal = (value: number): string => {
  const text = value.toFixed(10)
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text
}
const plus = (value: number, name: string): string => `${value < 0 ? '-' : '+'} ${decimal(Math.abs(value))} ${name}`
const sum = (names: readonly string[]): string => wrap(names.map(one => `+ ${one}`))
/** Terms over several lines, as lines of the format are limited. */
const wrap = (terms: readonly string[]): string =>
  terms.reduce((text, term, index) => text + (index > 0 ? (index % PER_LINE === 0 ? '\n  ' : ' ') : '') + term, '')

function readPlan({ demands, bids }: AwardProblem, values: Readonly<Record<string, number>>): Award[] {
  return demands.flatMap((demand, line) => {
    const parts = bids[line]!.flatMap((segments, supplier) => {
      const quantity = (segments ?? []).reduce(
        (total, _one, at) => total + (values[`q_${line}_${supplier}_${at}`] ?? 0),
        0,
      )
      return quantity > 0.5 ? [{ line, supplier, quantity: Math.round(quantity) }] : []
    })
    let rest = demand - parts.reduce((total, one) => total + one.quantity, 0)
    for (const part of [...parts].sort((a, b) => b.quantity - a.quantity)) {
      if (rest === 0) break
      const next = part.quantity + rest
      if (goodsFor(bids[line]![part.supplier], next) === undefined) continue
      part.quantity = next
      rest = 0
    }
    return parts
  })
}
