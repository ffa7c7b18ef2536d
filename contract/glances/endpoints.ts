import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, Sentence, Uuid } from '#contract/fields.ts'

export const GLANCES = ['source', 'request', 'decide', 'order', 'receive', 'bill', 'pay', 'insight'] as const
export type GlanceStage = (typeof GLANCES)[number]

const Tone = z.enum(['plain', 'settled', 'attention', 'stop'])
/** Where the list behind a figure is. */
const to = z.string()
const key = z.string()

/** Amounts over days, weeks or ages; of each a part is filled. */
const Bars = z.strictObject({
  kind: z.literal('bars'),
  key,
  bars: z.array(z.strictObject({ key: z.string(), amount: AmountText, part: AmountText, tone: Tone, to })),
})
const Rows = z.strictObject({
  kind: z.literal('rows'),
  key,
  rows: z.array(
    z.strictObject({
      title: z.string(),
      says: Sentence.nullable(),
      count: z.int().nullable(),
      amount: AmountText.nullable(),
      tone: Tone,
      to,
    }),
  ),
  /** Where all of them are, if these are not all. */
  more: z.string().nullable(),
  /** Documents that can be acted on at once. */
  together: z.strictObject({ act: z.literal('chase'), ids: z.array(Uuid) }).nullable(),
})
/** How many of what comes where on which day. */
const Grid = z.strictObject({
  kind: z.literal('grid'),
  key,
  days: z.array(z.string()),
  rows: z.array(
    z.strictObject({ title: z.string(), cells: z.array(z.strictObject({ count: z.int(), tone: Tone, to })) }),
  ),
})
const Budgets = z.strictObject({
  kind: z.literal('budgets'),
  key,
  /** Per cent of the fiscal year that has gone. */
  pace: z.int(),
  rows: z.array(
    z.strictObject({
      title: z.string(),
      allotted: AmountText,
      spent: AmountText,
      committed: AmountText,
      reserved: AmountText,
      to,
    }),
  ),
})
const Search = z.strictObject({ kind: z.literal('search'), key, to })
export const GlancePart = z.discriminatedUnion('kind', [Bars, Rows, Grid, Budgets, Search])
export type GlancePart = z.output<typeof GlancePart>

export const GlanceJson = z.strictObject({
  /** What stands first, in one or two sentences; each leads to a list. */
  says: z.array(z.strictObject({ sentence: Sentence, tone: Tone, to: z.string().nullable() })),
  parts: z.array(GlancePart),
  currency: z.string(),
})
export type GlanceJson = z.output<typeof GlanceJson>

/** What a person of a stage wants to know first, before a document is opened. */
export const ReadGlance = defineEndpoint({
  name: 'glance.read',
  method: 'get',
  path: '/glances/:stage',
  permission: 'signedIn',
  params: z.strictObject({ stage: z.enum(GLANCES) }),
  response: GlanceJson,
})
