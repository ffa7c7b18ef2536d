import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ReasonJson, Sentence, Text, Uuid, Version } from '#contract/fields.ts'

/** Documents that are acted on at once, at most. */
export const MOST_TOGETHER = 500

/** What can be done with several documents at once, by their kind. */
export const TOGETHER = {
  order: ['chase', 'issue', 'close', 'reopen', 'seal', 'cancel'],
  requisition: ['approve', 'return', 'reject'],
  invoice: ['post', 'clear'],
} as const
export type TogetherAct = (typeof TOGETHER)[keyof typeof TOGETHER][number]

const Several = z.strictObject({
  kind: z.enum(['order', 'requisition', 'invoice']),
  act: z.enum([...TOGETHER.order, ...TOGETHER.requisition, ...TOGETHER.invoice]),
  ids: z.array(Uuid).min(1).max(MOST_TOGETHER),
  reason: Text,
  /** Versions of those that were seen before: one that has changed since is refused. */
  seen: z.record(Uuid, Version).optional(),
})
const Each = { id: Uuid, number: z.string(), title: z.string(), reasons: z.array(ReasonJson) }

/** What an act would do with each of several documents, and with which of them it cannot be done and why. Nothing happens. */
export const PreviewTogether = defineEndpoint({
  name: 'together.preview',
  method: 'post',
  path: '/together/preview',
  permission: 'signedIn',
  safe: true,
  body: Several,
  response: z.strictObject({
    rows: z.array(z.strictObject({ ...Each, possible: z.boolean(), says: Sentence.nullable() })),
  }),
})
/** Does it with each for itself: one that cannot be done any more does not hold up the others. */
export const ActTogether = defineEndpoint({
  name: 'together.act',
  method: 'post',
  path: '/together',
  permission: 'signedIn',
  body: Several,
  response: z.strictObject({ rows: z.array(z.strictObject({ ...Each, done: z.boolean() })) }),
})
