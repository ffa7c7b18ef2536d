import { z } from 'zod'
import { DecimalText, Line } from '#contract/fields.ts'
import { AQLS } from '#core/receive/sampling.ts'
import { ASKED, BECOMES, INSPECTED } from '#core/receive/terms.ts'

const LimitText = z.union([z.literal(''), DecimalText])
export const CharacteristicJson = z.strictObject({
  name: Line,
  unit: z.string().max(20),
  low: LimitText,
  high: LimitText,
})
/** How goods are received: what they become, what has to be told of them, how they are inspected. */
export const TermsJson = z.strictObject({
  becomes: z.enum(BECOMES),
  overPercent: z.int().min(0).max(1000).nullable(),
  serial: z.enum(ASKED),
  batch: z.enum(ASKED),
  bestBefore: z.enum(ASKED),
  blind: z.boolean(),
  inspect: z.enum(INSPECTED),
  aql: z.enum(AQLS),
  characteristics: z.array(CharacteristicJson).max(30),
  billsWait: z.boolean(),
  warrantyMonths: z.int().min(0).max(600),
  serviceMonths: z.int().min(0).max(600),
  tagRange: z.string().max(20),
})
/** What is said at one place of how goods are received: what is not said there is left out. */
export const ToldTerms = TermsJson.partial()
export type ToldTerms = z.output<typeof ToldTerms>
