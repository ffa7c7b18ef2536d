import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, Day, Sentence, Stamp, Uuid } from '#contract/fields.ts'

export const DeskItem = z.strictObject({
  key: z.string(),
  /** The document because of which it waits. */
  documentKind: z.string(),
  documentId: Uuid,
  stage: z.string(),
  path: z.string(),
  sentence: Sentence,
  amount: AmountText.nullable(),
  currency: z.string().nullable(),
  since: Stamp,
  needBy: z.string().nullable(),
  act: z.string(),
  /** In whose place it waits for this person; null: for themselves. */
  standsInFor: z.string().nullable(),
  tone: z.enum(['plain', 'attention', 'stop']),
})
export type DeskItem = z.output<typeof DeskItem>
export const ReadDesk = defineEndpoint({
  name: 'desk.read',
  method: 'get',
  path: '/desk',
  permission: 'signedIn',
  response: z.strictObject({
    items: z.array(DeskItem),
    /** Put off until a day to come. */
    later: z.array(z.strictObject({ key: z.string(), path: z.string(), sentence: Sentence, until: Day })),
  }),
})

export const StageCount = z.strictObject({ stage: z.string(), waiting: z.int(), open: AmountText })
export const ReadCounts = defineEndpoint({
  name: 'desk.counts',
  method: 'get',
  path: '/counts',
  permission: 'signedIn',
  response: z.strictObject({ desk: z.int(), stages: z.array(StageCount), currency: z.string() }),
})

/** Puts something on one's own Desk off until a day, or takes it back (null). It waits on for everybody else. */
export const PutOff = defineEndpoint({
  name: 'desk.putOff',
  method: 'post',
  path: '/desk/put-off',
  permission: 'signedIn',
  body: z.strictObject({ keys: z.array(z.string().max(120)).min(1).max(500), until: Day.nullable() }),
})
/** What this person did today, the last first. */
export const ReadDone = defineEndpoint({
  name: 'desk.done',
  method: 'get',
  path: '/desk/done',
  permission: 'signedIn',
  response: z.strictObject({
    count: z.int(),
    done: z.array(
      z.strictObject({
        at: Stamp,
        action: z.string(),
        kind: z.string(),
        number: z.string(),
        title: z.string(),
        path: z.string(),
      }),
    ),
  }),
})
