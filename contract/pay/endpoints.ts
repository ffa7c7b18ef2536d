import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Day,
  Done,
  GivenReason,
  ReasonJson,
  Sentence,
  SheetFrame,
  Stamp,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'

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
  messages: z.array(z.strictObject({ id: Uuid, kind: z.string(), messageId: z.string(), path: z.string(), at: Stamp })),
  /** A recall that somebody asked for and that nobody has answered yet. */
  recall: z.strictObject({ askedBy: z.string(), at: Stamp, reason: z.string() }).nullable(),
  /** Why its file could not be handed to the bank yet. */
  trouble: z.string().nullable(),
})
export const Payables = defineList('payables', '/payables', 'payment.read', ['invoice', 'paymentRun', 'supplier'])
export const Runs = defineList('paymentRuns', '/payment-runs', 'payment.read', ['paymentRun'])
export const ProposeRun = defineEndpoint({
  name: 'run.propose',
  method: 'post',
  path: '/payment-runs',
  permission: 'payment.propose',
  body: z.strictObject({ dueUntil: Day, executeOn: Day }),
  response: z.strictObject({ id: Uuid.nullable(), version: z.int(), taken: z.int(), left: z.array(ReasonJson) }),
})
export const ReadRun = defineEndpoint({
  name: 'run.read',
  method: 'get',
  path: '/payment-runs/:id',
  permission: 'payment.read',
  params: ById,
  response: RunSheet,
})
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
export const RunFile = defineEndpoint({
  name: 'run.file',
  method: 'get',
  path: '/payment-runs/:id/file',
  permission: 'payment.approve',
  params: ById,
  answers: 'file',
})
export const RecallRun = defineEndpoint({
  name: 'run.recall',
  method: 'post',
  path: '/payment-runs/:id/recall',
  permission: 'payment.propose',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: Done,
})
export const AnswerRecall = defineEndpoint({
  name: 'run.answerRecall',
  method: 'post',
  path: '/payment-runs/:id/recall-answer',
  permission: 'payment.approve',
  params: ById,
  body: z.strictObject({ version: Version, answer: z.enum(['approve', 'reject']), reason: GivenReason }),
  response: Done,
})

export const BankItemJson = z.strictObject({
  id: Uuid,
  level: z.enum(['file', 'batch', 'payment']),
  reference: z.string(),
  outcome: z.string(),
  status: z.string(),
  reasonCode: z.string(),
  amounts: z.array(z.strictObject({ amount: z.string(), currency: z.string() })),
  date: z.string(),
  effect: z.enum(['moved', 'known', 'noted', 'open']),
  /** Why a person has to look. */
  why: Sentence.nullable(),
  payments: z.array(z.strictObject({ endToEndId: z.string(), runNumber: z.string(), path: z.string() })),
  settled: z.strictObject({ by: z.string(), at: Stamp, note: z.string() }).nullable(),
})
export const BankMessages = defineList('bankMessages', '/bank-messages', 'payment.read', ['bankMessage'])
export const ReadBankMessage = defineEndpoint({
  name: 'bankMessage.read',
  method: 'get',
  path: '/bank-messages/:id',
  permission: 'payment.read',
  params: ById,
  response: z.strictObject({
    id: Uuid,
    version: z.int(),
    name: z.string(),
    kind: z.string(),
    messageId: z.string(),
    state: z.enum(['read', 'repeated', 'unreadable']),
    at: Stamp,
    faults: z.array(ReasonJson),
    items: z.array(BankItemJson),
    /** Whether this person may say that an open item is dealt with. */
    maySettle: z.boolean(),
  }),
})
export const BankMessageFile = defineEndpoint({
  name: 'bankMessage.file',
  method: 'get',
  path: '/bank-messages/:id/file',
  permission: 'payment.approve',
  params: ById,
  answers: 'file',
})
export const SettleBankItem = defineEndpoint({
  name: 'bankMessage.settleItem',
  method: 'post',
  path: '/bank-messages/:id/items/:itemId/settle',
  permission: 'payment.propose',
  params: z.strictObject({ id: Uuid, itemId: Uuid }),
  body: z.strictObject({ version: Version, note: GivenReason }),
  response: Done,
})
