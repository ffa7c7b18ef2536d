import type { BudgetFigures } from '#contract/fields.ts'
import type { Minor } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'
import { visibleIds } from '#server/documents/visible.ts'
import { budgetFigures } from '#server/ledger/budgetStore.ts'

/**
 * Budget figures beside a document: all for whoever charges these accounts with it or decides that they are charged, else of those accounts
 * only that the reader may see anyway.
 */
export async function shownFigures(
  call: Read,
  here: ReadonlyMap<string, Minor>,
  counted: boolean,
  charges: boolean,
): Promise<BudgetFigures[]> {
  if (charges) return await budgetFigures(call, here, counted)
  const seen = await visibleIds(call, 'budgetAccount', [...here.keys()])
  return await budgetFigures(call, new Map([...here].filter(([id]) => seen.has(id))), counted)
}
