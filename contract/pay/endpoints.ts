import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, Done, GivenReason, ReasonJson, SheetFrame, Stamp, Uuid, Version } from '#contract/fields.ts'
import { defineList } from '#contract/list.ts'

export const PaymentJson = z.strictObject({
  id: Uuid,
  invoiceId: Uuid,
  invoiceNumber: z.string(),
  invoicePath: z.string(),
  supplier: z.string(),
  iban: z.string(),
  /** How the account stands now: a payment to one that is not proven waits. */
  accountState: z.string(),
  amount: AmountText,
  currency: z.string(),
  dueOn: z.string().nullable(),
  state: z.string(),
  endToEndId: z.string(),
  bankReason: z.string().nullable(),
  paidOn: z.string().nullable(),
})
export const RunSheet = SheetFrame.extend({
  executeOn: z.string(),
  totals: z.array(z.strictObject({ currency: z.string(), amount: AmountText, payments: z.int() })),
  proposedBy: z.string(),
  approvedBy: z.string().nullable(),
  payments: z.array(PaymentJson),
  messages: z.array(z.strictObject({ id: Uuid, kind: z.string(), messageId: z.string(), at: Stamp })),
})
export const Payables = defineList('payables', '/payables', 'payment.read')
export const Runs = defineList('paymentRuns', '/payment-runs', 'payment.read')
export const ProposeRun = defineEndpoint({
  name: 'run.propose',
  method: 'post',
  path: '/payment-runs',
  permission: 'payment.propose',
  body: z.strictObject({ dueUntil: Day, executeOn: Day }),
  response: z.strictObject({ id: Uuid.nullable(), version: z.int(), taken: z.int(), left: z.array(ReasonJson) }),
})
export const ReadRun = defineEndpoint({ name: 'run.read', method: 'get', path: '/payment-runs/:id', permission: 'payment.read', params: ById, response: RunSheet })
export const ApproveRun = defineEndpoint({
  name: 'run.approve',
  method: 'post',
  path: '/payment-runs/:id/approve',
  permission: 'payment.approve',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const WithdrawRun = defineEndpoint({
  name: 'run.withdraw',
  method: 'post',
  path: '/payment-runs/:id/withdraw',
  permission: 'payment.propose',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: Done,
})
export const RunFile = defineEndpoint({ name: 'run.file', method: 'get', path: '/payment-runs/:id/file', permission: 'payment.read', params: ById, answers: 'file' })
