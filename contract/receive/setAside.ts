import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, DecimalText, Done, GivenReason, Line, Stamp, Text, Uuid, Version } from '#contract/fields.ts'

const EntryBody = z.strictObject({
  description: Line.min(1),
  quantity: DecimalText,
  unit: z.string().min(1).max(3),
  supplierId: Uuid.nullable(),
  marks: Line,
  bin: Line.max(40),
  note: Text,
  buyerId: Uuid.nullable(),
})
const Named = z.strictObject({ id: Uuid, label: z.string() })

/** What came and nobody ordered: what waits, and what became of the latest others. */
export const ReadSetAside = defineEndpoint({
  name: 'setAside.list',
  method: 'get',
  path: '/set-aside',
  permission: 'order.read',
  response: z.strictObject({
    rows: z.array(
      z.strictObject({
        id: Uuid,
        version: z.int(),
        number: z.string(),
        state: z.string(),
        description: z.string(),
        quantity: DecimalText,
        unit: z.string(),
        place: z.string(),
        supplier: z.string(),
        marks: z.string(),
        note: z.string(),
        buyer: z.string(),
        by: z.string(),
        at: Stamp,
        outcome: z.string(),
        path: z.string().nullable(),
      }),
    ),
    maySetAside: z.boolean(),
    maySay: z.boolean(),
    places: z.array(Named),
    suppliers: z.array(Named),
    buyers: z.array(Named),
  }),
})
export const SetAside = defineEndpoint({
  name: 'setAside.keep',
  method: 'post',
  path: '/set-aside',
  permission: 'delivery.receive',
  body: EntryBody.extend({ placeId: Uuid }),
  response: Done.extend({ number: z.string() }),
})
/** It belongs to this line of an order: it is counted there. */
export const LinkSetAside = defineEndpoint({
  name: 'setAside.link',
  method: 'post',
  path: '/set-aside/:id/link',
  permission: 'order.read',
  params: ById,
  body: z.strictObject({ version: Version, orderId: Uuid, lineId: Uuid, checkReason: Text }),
  response: Done.extend({ receipt: z.string() }),
})
export const EndSetAside = defineEndpoint({
  name: 'setAside.end',
  method: 'post',
  path: '/set-aside/:id/end',
  permission: 'order.read',
  params: ById,
  body: z.strictObject({ version: Version, how: z.enum(['giveBack', 'settle']), reason: GivenReason }),
  response: Done,
})
