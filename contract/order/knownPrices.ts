import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Done, Uuid, Version } from '#contract/fields.ts'

/** Compares what is known without asking anybody: offers of the catalogue, a list of prices (from a file, or pasted), or both. */
export const CompareKnown = defineEndpoint({
  name: 'event.compareKnown',
  method: 'post',
  path: '/source-events/:id/known-prices',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    catalogue: z.boolean(),
    fileId: Uuid.nullable(),
    pasted: z.string().max(200_000),
  }),
  /** `left`: prices that could not be used, because their unit or currency does not fit, or a cheaper one of the same supplier was there. */
  response: Done.extend({ suppliers: z.int(), left: z.int() }),
})
