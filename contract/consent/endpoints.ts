import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, Done, Line, Uuid, VersionOrNew } from '#contract/fields.ts'
import { STOOD_IN_KINDS } from '#core/consent/standIns.ts'

const Kinds = z.array(z.enum(STOOD_IN_KINDS)).max(STOOD_IN_KINDS.length)
const Person = z.strictObject({ id: Uuid, name: z.string() })

export const AwayJson = z.strictObject({
  id: Uuid,
  version: z.int(),
  person: Person,
  standIn: Person.nullable(),
  fromDay: Day,
  toDay: Day,
  /** Which decisions; none: all. */
  kinds: Kinds,
  /** Up to which amount in the base currency; null: as far as the person themselves. */
  limit: AmountText.nullable(),
  away: z.boolean(),
  note: z.string(),
})
export type AwayJson = z.output<typeof AwayJson>

/** Away times that are not over: one's own, those in which one stands in, and for stewards everybody's. */
export const ReadAway = defineEndpoint({
  name: 'away.read',
  method: 'get',
  path: '/away-times',
  permission: 'signedIn',
  response: z.strictObject({
    currency: z.string(),
    times: z.array(AwayJson),
    people: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  }),
})

/** Enters an away time (`version` 0, with an id made by whoever enters it) or changes it. */
export const SaveAway = defineEndpoint({
  name: 'away.save',
  method: 'put',
  path: '/away-times/:id',
  permission: 'signedIn',
  params: ById,
  body: z.strictObject({
    version: VersionOrNew,
    personId: Uuid,
    standInId: Uuid.nullable(),
    fromDay: Day,
    toDay: Day,
    kinds: Kinds,
    limit: AmountText.nullable(),
    away: z.boolean(),
    note: Line,
  }),
  response: Done,
})

/** Ends an away time: it holds no more from now on. */
export const EndAway = defineEndpoint({
  name: 'away.end',
  method: 'delete',
  path: '/away-times/:id',
  permission: 'signedIn',
  params: ById,
})
