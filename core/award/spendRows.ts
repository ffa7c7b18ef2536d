import { type AwardProblem, WHOLE } from '#core/award/problem.ts'

/** A limit of spend as a row: Σ weight × spend of each supplier ≤ limit. */
export interface SpendRow {
  readonly weights: readonly number[]
  readonly limit: number
}

/** Every limit of a problem as rows. A share of all goods weighs every supplier, so its limit is nothing. */
export function spendRows({ suppliers, spendRules }: AwardProblem): SpendRow[] {
  return spendRules.flatMap(rule => {
    const own = new Set(rule.suppliers)
    const row = (inside: number, outside: number, limit: number): SpendRow => ({
      weights: suppliers.map((_one, supplier) => (own.has(supplier) ? inside : outside)),
      limit,
    })
    const share = (of: number): number => of / WHOLE
    return [
      ...(rule.leastShare === undefined ? [] : [row(share(rule.leastShare) - 1, share(rule.leastShare), 0)]),
      ...(rule.mostShare === undefined ? [] : [row(1 - share(rule.mostShare), -share(rule.mostShare), 0)]),
      ...(rule.least === undefined ? [] : [row(-1, 0, -rule.least)]),
      ...(rule.most === undefined ? [] : [row(1, 0, rule.most)]),
    ]
  })
}
