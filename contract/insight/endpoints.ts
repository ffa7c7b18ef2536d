import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, BudgetFigures, ById, DecimalText, Stamp } from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'

export const Budgets = defineList('budgets', '/budgets', 'budget.read', [
  'budgetAccount',
  'budgetTransfer',
  'requisition',
  'order',
  'invoice',
])
export const ReadBudget = defineEndpoint({
  name: 'budget.read',
  method: 'get',
  path: '/budgets/:id',
  permission: 'budget.read',
  params: ById,
  response: z.strictObject({
    figures: BudgetFigures,
    level: z.string(),
    entries: z.array(
      z.strictObject({
        id: z.string(),
        kind: z.string(),
        amount: AmountText,
        at: Stamp,
        document: z.string(),
        path: z.string().nullable(),
        actor: z.string(),
      }),
    ),
    entryCount: z.int(),
  }),
})
/** The entries behind a Gauge. */
export const ReadLineEntries = defineEndpoint({
  name: 'ledger.line',
  method: 'get',
  path: '/ledger/lines/:id',
  permission: 'order.read',
  params: ById,
  response: z.strictObject({
    entries: z.array(
      z.strictObject({
        id: z.string(),
        kind: z.string(),
        quantity: DecimalText,
        at: Stamp,
        document: z.string(),
        actor: z.string(),
        reverses: z.string().nullable(),
      }),
    ),
  }),
})
export const AuditDifference = z.strictObject({
  check: z.string(),
  document: z.string(),
  expected: z.string(),
  found: z.string(),
})
export type AuditDifference = z.output<typeof AuditDifference>
export const RunAudit = defineEndpoint({
  name: 'audit.run',
  method: 'post',
  path: '/audit',
  permission: 'audit.run',
  safe: true,
  response: z.strictObject({
    quantityEntries: z.int(),
    budgetEntries: z.int(),
    historyRecords: z.int(),
    differences: z.array(AuditDifference),
  }),
})
