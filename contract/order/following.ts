import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, ReasonJson, Stamp, Text, Uuid } from '#contract/fields.ts'

export const AsideJson = z.strictObject({
  position: z.int().nullable(),
  text: z.string(),
  source: z.enum(['buyer', 'reminder', 'supplier']),
  by: z.string(),
  at: Stamp,
})
/** Orders that want a word, what waiting costs first. */
export const Following = defineEndpoint({
  name: 'order.following',
  method: 'get',
  path: '/orders-following',
  permission: 'order.write',
  query: z.strictObject({ whose: z.enum(['mine', 'all']) }),
  response: z.strictObject({
    more: z.int(),
    beyond: z.boolean(),
    rows: z.array(
      z.strictObject({
        id: Uuid,
        path: z.string(),
        number: z.string(),
        revision: z.int(),
        title: z.string(),
        supplier: z.string(),
        supplierPath: z.string(),
        needBy: z.string().nullable(),
        promised: z.string().nullable(),
        value: AmountText,
        currency: z.string(),
        waitsFor: z.array(z.string()),
        wants: z.array(ReasonJson),
        chasedAt: Stamp.nullable(),
        asides: z.array(AsideJson),
      }),
    ),
  }),
})
export const AddAside = defineEndpoint({
  name: 'order.aside',
  method: 'post',
  path: '/orders/:id/asides',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ lineId: Uuid.nullable(), text: Text.min(1) }),
  response: z.strictObject({ id: Uuid }),
})

const Token = z.strictObject({ token: z.string().regex(/^[\w-]{16,80}$/) })
/** Where the link of a reminder leads: what has not come in yet. Looking changes nothing. */
export const ReadDayLink = defineEndpoint({
  name: 'dayLink.read',
  method: 'get',
  path: '/day-links/:token',
  permission: 'anyone',
  params: Token,
  response: z.strictObject({
    number: z.string(),
    title: z.string(),
    house: z.string(),
    reasons: z.array(ReasonJson),
    lines: z.array(
      z.strictObject({
        id: Uuid,
        position: z.int(),
        what: z.string(),
        quantity: z.string(),
        unit: z.string(),
        needBy: z.string().nullable(),
        promised: z.string().nullable(),
      }),
    ),
  }),
})
export const SayDays = defineEndpoint({
  name: 'dayLink.say',
  method: 'post',
  path: '/day-links/:token',
  permission: 'anyone',
  params: Token,
  body: z.strictObject({
    days: z.array(z.strictObject({ lineId: Uuid, date: Day })).max(500),
    note: Text,
  }),
  response: z.strictObject({ number: z.string() }),
})
