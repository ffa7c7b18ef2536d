import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Done, GivenReason, Text, Uuid, Version } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'

/** Allotments from a file: each row says what an account's allotment shall be. */
export const ImportBudgets = defineEndpoint({
  name: 'budget.import',
  method: 'post',
  path: '/budgets-import',
  permission: 'budget.write',
  body: ImportBody,
  response: ImportResult,
})

export const TransferJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  from: z.strictObject({ id: Uuid, label: z.string(), available: AmountText }),
  to: z.strictObject({ id: Uuid, label: z.string(), available: AmountText }),
  amount: AmountText,
  reason: z.string(),
  state: z.string(),
  askedBy: z.string(),
  askedAt: z.string(),
  decidedBy: z.string().nullable(),
  decidedAt: z.string().nullable(),
  decidedReason: z.string().nullable(),
  version: z.int(),
  mayDecide: z.boolean(),
  mine: z.boolean(),
})
export type TransferJson = z.output<typeof TransferJson>
export const ListTransfers = defineEndpoint({
  name: 'transfers.list',
  method: 'get',
  path: '/budget-transfers',
  permission: 'budget.read',
  response: z.strictObject({ transfers: z.array(TransferJson), currency: z.string() }),
})
export const AskTransfer = defineEndpoint({
  name: 'transfers.ask',
  method: 'post',
  path: '/budget-transfers',
  permission: 'budget.transfer',
  body: z.strictObject({ fromId: Uuid, toId: Uuid, amount: z.string().max(24), reason: GivenReason }),
  response: Done.extend({ number: z.string() }),
})
export const DecideTransfer = defineEndpoint({
  name: 'transfers.decide',
  method: 'post',
  path: '/budget-transfers/:id/decide',
  permission: 'budget.transfer',
  params: ById,
  body: z.strictObject({ version: Version, action: z.enum(['approve', 'refuse', 'withdraw']), reason: Text }),
  response: Done,
})

const YearBody = z.strictObject({
  fromYear: z.int().min(2000).max(2099),
  costCentre: z.string().max(20),
  carryBudget: z.boolean(),
  carryRest: z.boolean(),
})
const YearMoveJson = z.strictObject({
  account: z.string(),
  next: z.string(),
  carried: AmountText,
  budget: AmountText,
  rest: AmountText,
  lines: z.int(),
})
/** What changing the year of a cost centre would move. */
export const PreviewYearChange = defineEndpoint({
  name: 'budgetYear.preview',
  method: 'post',
  path: '/budget-years/preview',
  permission: 'budget.write',
  safe: true,
  body: YearBody,
  response: z.strictObject({ moves: z.array(YearMoveJson), currency: z.string(), done: z.boolean() }),
})
export const ChangeYear = defineEndpoint({
  name: 'budgetYear.change',
  method: 'post',
  path: '/budget-years',
  permission: 'budget.write',
  body: YearBody.extend({ reason: GivenReason }),
  response: z.strictObject({ id: Uuid, moves: z.array(YearMoveJson) }),
})
