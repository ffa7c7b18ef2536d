import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Done, Line, Uuid, Version } from '#contract/fields.ts'

/** Approved lines become an event, several requests together; nothing of them is typed again. */
export const AskFromPool = defineEndpoint({
  name: 'pool.makeEvent',
  method: 'post',
  path: '/to-buy/event',
  permission: 'event.write',
  body: z.strictObject({ kindId: Uuid, title: Line.min(1), lineIds: z.array(Uuid).min(1).max(500) }),
  response: Done,
})
export const PLACES = ['orders', 'requests'] as const
/** What follows an award: orders, one for each supplier; or the lines go back to their requests with the price and supplier. Prices become offers. */
export const PlaceAward = defineEndpoint({
  name: 'event.place',
  method: 'post',
  path: '/source-events/:id/place',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    how: z.enum(PLACES),
    /** Accounts for lines that no request stands behind. */
    accounts: z.record(Uuid, Uuid),
    offers: z.boolean(),
    letters: z.boolean(),
  }),
  response: Done.extend({ orders: z.array(z.strictObject({ id: Uuid, number: z.string() })) }),
})
