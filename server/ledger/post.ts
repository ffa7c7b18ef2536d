import type { Done } from '#core/acts/decision.ts'
import type { Write } from '#server/call.ts'
import { postBudget } from '#server/ledger/budgetStore.ts'
import { postQuantities, type SourceDocument } from '#server/ledger/quantityStore.ts'

/** Posts what a decision leads to in both ledgers. */
export async function postLedgers(
  call: Write,
  source: SourceDocument,
  decided: Pick<Done<unknown>, 'quantity' | 'budget'>,
): Promise<void> {
  await postQuantities(call, source, decided.quantity)
  await postBudget(call, source, decided.budget)
}
