import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ActionState, AmountText, GivenReason, Uuid } from '#contract/fields.ts'

export const Month = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/)
/** What was posted in a month: its journal in sums, and whether it is what the ledger says. */
export const ReadJournal = defineEndpoint({
  name: 'journal.read',
  method: 'get',
  path: '/journal',
  permission: 'budget.readAll',
  query: z.strictObject({ month: Month.optional() }),
  response: z.strictObject({
    month: z.string(),
    currency: z.string(),
    documents: z.int(),
    lines: z.int(),
    /** Both sides are the same sum. */
    total: AmountText,
    accounts: z.array(z.strictObject({ account: z.string(), debit: AmountText, credit: AmountText, ledger: AmountText.nullable() })), // prettier-ignore
    /** Documents and accounts that do not re-add. */
    differences: z.array(z.string()),
    period: z.strictObject({
      closed: z.boolean(),
      /** Who closed it, or opened it again. */
      by: z.string(),
      at: z.string().nullable(),
      reason: z.string(),
      /** Whether its journal is still what it was when it was closed; null while it is open. */
      same: z.boolean().nullable(),
      actions: z.array(ActionState),
    }),
  }),
})
const OpenLines = z.strictObject({
  total: AmountText,
  /** The dearest of them. */
  lines: z.array(z.strictObject({ id: Uuid, order: z.string(), path: z.string(), position: z.int(), description: z.string(), supplier: z.string(), amount: AmountText })), // prettier-ignore
})
/** What a month left open: received and not billed, billed and not received, and bills that waited. */
export const ReadLeftOpen = defineEndpoint({
  name: 'journal.leftOpen',
  method: 'get',
  path: '/journal/left-open',
  permission: 'budget.readAll',
  query: z.strictObject({ month: Month }),
  response: z.strictObject({
    currency: z.string(),
    accounts: z.array(z.strictObject({ account: z.string(), received: AmountText, billed: AmountText })),
    received: OpenLines,
    billed: OpenLines,
    waiting: z.strictObject({ count: z.int(), total: AmountText }),
  }),
})
const OfMonth = z.strictObject({ month: Month })
/** Closes a month: nothing is received into it any more, and its journal stays as it is. */
export const ClosePeriod = defineEndpoint({
  name: 'journal.close',
  method: 'post',
  path: '/journal/:month/close',
  permission: 'budget.write',
  params: OfMonth,
})
export const ReopenPeriod = defineEndpoint({
  name: 'journal.reopen',
  method: 'post',
  path: '/journal/:month/reopen',
  permission: 'budget.write',
  params: OfMonth,
  body: z.strictObject({ reason: GivenReason }),
})
/** The same line by line, as a table. */
export const JournalFile = defineEndpoint({
  name: 'journal.file',
  method: 'get',
  path: '/journal/file',
  permission: 'budget.readAll',
  query: z.strictObject({ month: Month }),
  answers: 'file',
})
