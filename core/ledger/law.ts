import type { BudgetKind } from '#core/ledger/budget.ts'
import { type LineSplit, type Outstanding, spread } from '#core/ledger/commitments.ts'
import { QUANTITY_KINDS, type QuantitySums } from '#core/ledger/quantity.ts'
import type { Minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'

/** What stands where something else has to stand. */
export interface Breach {
  readonly law: string
  readonly document: string
  readonly expected: string
  readonly found: string
}

export const breach = (law: string, document: string, expected: string, found: string): Breach => ({
  law,
  document,
  expected,
  found,
})

/** No quantity of a line is ever below nothing, once everything is added up. */
export const neverBelowNothing = (document: string, sums: QuantitySums): Breach[] =>
  QUANTITY_KINDS.filter(kind => new Decimal(sums[kind]).lt(0)).map(kind =>
    breach('quantityBelowNothing', `${document} ${kind}`, '0 or more', sums[kind]),
  )

/** What stands on a line, account by account, is exactly what has to stand there: the wanted amount, split over its accounts. */
export function standsAs(
  law: string,
  document: string,
  line: { readonly id: string; readonly splits: readonly LineSplit[]; readonly standing: readonly Outstanding[] },
  kind: BudgetKind,
  wanted: Minor,
): Breach[] {
  const left = new Map<string, bigint>(
    spread(kind, line.id, wanted, line.splits).map(entry => [entry.accountId, entry.amount]),
  )
  const found = new Map(
    line.standing.filter(part => part.kind === kind).map(part => [part.accountId, part.amount as bigint]),
  )
  return [...new Set([...left.keys(), ...found.keys()])]
    .filter(account => (left.get(account) ?? 0n) !== (found.get(account) ?? 0n))
    .map(account =>
      breach(law, `${document} ${account}`, String(left.get(account) ?? 0n), String(found.get(account) ?? 0n)),
    )
}
