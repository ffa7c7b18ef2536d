import type { Award, AwardProblem } from '#core/award/problem.ts'

/** A place at which a plan breaks a rule of its problem. */
export interface PlanFault {
  readonly code:
    'plan.unknown' | 'plan.quantity' | 'plan.twice' | 'plan.noBid' | 'plan.cover' | 'plan.suppliers' | 'plan.spendRule'
  readonly place: string
}

/** What a plan costs, in ten-thousandths of the smallest unit of money, and what it breaks. */
export interface Recheck {
  readonly faults: readonly PlanFault[]
  readonly goods: bigint
  readonly charges: bigint
  readonly rebates: bigint
  /** Goods + charges − rebates − bundles. */
  readonly cost: bigint
  readonly spend: ReadonlyMap<number, bigint>
}

const TEN_THOUSAND = 10_000n

/**
 * What a plan really costs and whether it keeps every rule, in whole numbers without limit of size. It shares nothing with what finds plans: no
 * function, no rounding, no order of work; so a fault there shows here.
 */
export function recheckPlan(problem: AwardProblem, plan: readonly Award[]): Recheck {
  const faults: PlanFault[] = []
  const covered = problem.demands.map(() => 0n)
  const spend = new Map<number, bigint>()
  const goodsOf = new Map<string, { quantity: bigint; goods: bigint }>()
  for (const { line, supplier, quantity } of plan) {
    const key = `${line} ${supplier}`
    const offered = problem.bids[line]?.[supplier]
    if (problem.demands[line] === undefined || problem.suppliers[supplier] === undefined)
      faults.push({ code: 'plan.unknown', place: key })
    else if (!Number.isSafeInteger(quantity) || quantity <= 0) faults.push({ code: 'plan.quantity', place: key })
    else if (goodsOf.has(key)) faults.push({ code: 'plan.twice', place: key })
    else if (!offered || offered.length === 0) faults.push({ code: 'plan.noBid', place: key })
    else {
      const within = offered.filter(one => one.least <= quantity && quantity <= one.most).at(0)
      if (!within) {
        faults.push({ code: 'plan.quantity', place: key })
        continue
      }
      const goods = BigInt(within.base) + BigInt(within.price) * BigInt(quantity)
      goodsOf.set(key, { quantity: BigInt(quantity), goods })
      covered[line] = covered[line]! + BigInt(quantity)
      spend.set(supplier, (spend.get(supplier) ?? 0n) + goods)
    }
  }
  problem.demands.forEach((demand, line) => {
    if (covered[line] !== BigInt(demand)) faults.push({ code: 'plan.cover', place: String(line) })
  })
  let goods = 0n
  let charges = 0n
  let rebates = 0n
  for (const [supplier, spent] of spend) {
    const { charge, levels } = problem.suppliers[supplier]!
    goods += spent
    charges += BigInt(charge)
    const reached = levels.filter(level => BigInt(level.from) <= spent).reduce((a, b) => (b.from >= a.from ? b : a))
    rebates += spent * BigInt(reached.rate) - BigInt(reached.offset)
  }
  for (const { supplier, lines, amount } of problem.lotCharges)
    if (lines.some(line => goodsOf.has(`${line} ${supplier}`))) charges += BigInt(amount)
  for (const { supplier, lines, off } of problem.bundles) {
    const parts = lines.map(line => goodsOf.get(`${line} ${supplier}`))
    if (parts.every((part, index) => part && part.quantity === BigInt(problem.demands[lines[index]!]!)))
      rebates += parts.reduce((sum, part) => sum + part!.goods, 0n) * BigInt(off)
  }
  if (spend.size > problem.mostSuppliers) faults.push({ code: 'plan.suppliers', place: String(spend.size) })
  problem.spendRules.forEach((rule, index) => {
    const own = rule.suppliers.reduce((sum, supplier) => sum + (spend.get(supplier) ?? 0n), 0n)
    const broken =
      (rule.leastShare !== undefined && own * TEN_THOUSAND < BigInt(rule.leastShare) * goods) ||
      (rule.mostShare !== undefined && own * TEN_THOUSAND > BigInt(rule.mostShare) * goods) ||
      (rule.least !== undefined && own < BigInt(rule.least)) ||
      (rule.most !== undefined && own > BigInt(rule.most))
    if (broken) faults.push({ code: 'plan.spendRule', place: String(index) })
  })
  return { faults, goods, charges, rebates, cost: (goods + charges) * TEN_THOUSAND - rebates, spend }
}

/** An exact cost in whole units of money, half a unit and more rounded up. */
export const wholeCost = (cost: bigint): bigint =>
  cost >= 0n ? (cost + TEN_THOUSAND / 2n) / TEN_THOUSAND : -((-cost + TEN_THOUSAND / 2n) / TEN_THOUSAND)
