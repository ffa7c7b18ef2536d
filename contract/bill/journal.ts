import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText } from '#contract/fields.ts'

const Month = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/)
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
  }),
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
