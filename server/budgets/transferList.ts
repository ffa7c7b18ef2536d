import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListTransfers } from '#contract/budgets/endpoints.ts'
import { whyNotDecide } from '#core/consent/consent.ts'
import { available } from '#core/ledger/budget.ts'
import { formatAmount } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'
import type { TransferRow } from '#server/budgets/transferStore.ts'
import { latestConsents } from '#server/consent/consentStore.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { accountLabel, budgetSums } from '#server/ledger/budgetStore.ts'

/** Transfers that wait, and the last hundred that were decided, as far as they concern this person. */
export async function listTransfers(call: Read): Promise<ResponseOf<typeof ListTransfers>> {
  const rows = await call
    .trx('budgetTransfers as t')
    .join('people as asker', 'asker.id', 't.askedBy')
    .leftJoin('people as decider', 'decider.id', 't.decidedBy')
    .whereRaw(visibleSql(call, 'budgetTransfer', 't'), visibleBindings(call))
    .orderByRaw("(t.state = 'waiting') desc, t.asked_at desc")
    .limit(100)
    .select<(TransferRow & { asker: string; decider: string | null })[]>(
      't.*',
      'asker.name as asker',
      'decider.name as decider',
    )
  const ids = someIds(rows.flatMap(row => [row.fromId, row.toId]))
  const accounts = byId(await call.trx('budgetAccounts').whereIn('id', ids))
  const sums = await budgetSums(call, ids)
  const consents = await latestConsents(
    call,
    rows.map(row => row.id),
    'transfer',
  )
  const side = (id: string) => ({
    id,
    label: accountLabel(accounts.get(id)!),
    available: formatAmount(available(sums.get(id)!), call.base),
  })
  return {
    currency: call.base,
    transfers: rows.map(row => ({
      id: row.id,
      number: row.number,
      from: side(row.fromId),
      to: side(row.toId),
      amount: formatAmount(row.amount, call.base),
      reason: row.reason,
      state: row.state,
      askedBy: row.asker,
      askedAt: row.askedAt,
      decidedBy: row.decider,
      decidedAt: row.decidedAt,
      decidedReason: row.decidedReason,
      version: row.version,
      mayDecide: whyNotDecide(consents.get(row.id) ?? null, call.actor).length === 0,
      mine: row.askedBy === call.actor.id,
    })),
  }
}
