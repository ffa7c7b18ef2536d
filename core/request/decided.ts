import type { Minor } from '#core/money/amount.ts'
import { type LineKind } from '#core/request/kinds.ts'
import { splitAmounts } from '#core/request/lines.ts'
import type { Split } from '#core/request/splits.ts'
import { type DecidedDocument, type DecidedLine, partFacts } from '#core/rules/facts.ts'
import { withAbove } from '#core/source/categories.ts'

/** A line of a request, as far as rules ask about it. */
export interface DecidedRequestLine {
  readonly id: string
  readonly kind: LineKind
  readonly category: string
  readonly itemId: string | null
  readonly supplierId: string | null
  readonly addressId: string | null
  /** In the base currency's smallest unit. */
  readonly baseAmount: Minor
  readonly splits: readonly Split[]
}

/** What the lines of a request stand among. */
export interface DecidedAround {
  readonly requester: { readonly id: string; readonly roles: readonly string[] }
  readonly overBudget: boolean
  readonly parents: ReadonlyMap<string, string | null>
  /** `suppliers`: how many can be asked for the item. */
  readonly items: ReadonlyMap<string, { readonly number: string; readonly suppliers: number }>
  readonly suppliers: ReadonlyMap<string, { readonly number: string; readonly state: string }>
  readonly sites: ReadonlyMap<string, { readonly code: string }>
  readonly accounts: ReadonlyMap<
    string,
    { readonly costCentre: string; readonly account: string; readonly project: string | null }
  >
}

/**
 * A request as rules see it. A line has a sole source where its item has one supplier, or where it names a supplier without an item.
 */
export function decidedRequest(
  total: Minor,
  lines: readonly DecidedRequestLine[],
  around: DecidedAround,
): DecidedDocument {
  return {
    kind: 'requisition',
    requesterId: around.requester.id,
    total,
    facts: {
      requester: around.requester.id,
      requesterRole: around.requester.roles,
      ...(around.overBudget ? { overBudget: 'yes' } : {}),
    },
    lines: lines.map(line => ({ id: line.id, facts: lineFacts(line, around), parts: partsOf(line, around) })),
  }
}

function lineFacts(line: DecidedRequestLine, around: DecidedAround): DecidedLine['facts'] {
  const item = line.itemId === null ? undefined : around.items.get(line.itemId)
  const supplier = line.supplierId === null ? undefined : around.suppliers.get(line.supplierId)
  const site = line.addressId === null ? undefined : around.sites.get(line.addressId)
  const sole = item ? item.suppliers === 1 : supplier !== undefined
  // whom a personal fee goes to is nobody's business who reads why a rule applied
  if (line.kind === 'personalFee') return { lineKind: line.kind, category: withAbove(line.category, around.parents) }
  return {
    lineKind: line.kind,
    category: withAbove(line.category, around.parents),
    ...(item ? { item: item.number } : {}),
    ...(supplier ? { supplier: supplier.number, supplierState: supplier.state } : {}),
    ...(site ? { site: site.code } : {}),
    ...(sole ? { soleSource: 'yes' } : {}),
  }
}

const partsOf = (line: DecidedRequestLine, around: DecidedAround): DecidedLine['parts'] =>
  splitAmounts(line.baseAmount, line.splits).map(({ accountId, amount }) => ({
    amount,
    facts: partFacts(around.accounts.get(accountId)),
  }))
