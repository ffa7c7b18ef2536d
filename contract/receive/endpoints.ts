import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  ById,
  Day,
  DecimalText,
  Done,
  GaugeJson,
  GivenReason,
  SheetFrame,
  Stamp,
  Text,
  Uuid,
} from '#contract/fields.ts'
import { DeliveryJson } from '#contract/order/endpoints.ts'
import { defineList } from '#contract/lists/list.ts'

export const DeliverySheet = SheetFrame.extend({
  supplier: z.string(),
  orderPath: z.string().nullable(),
  places: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  usualPlaceId: Uuid.nullable(),
  today: z.string(),
  lines: z.array(
    z.strictObject({
      id: Uuid,
      position: z.int(),
      kind: z.string(),
      description: z.string(),
      itemNumber: z.string().nullable(),
      unit: z.string(),
      ordered: DecimalText,
      done: DecimalText,
      open: DecimalText,
      proof: z.string(),
      instalments: z.array(z.strictObject({ title: z.string(), amount: z.string(), due: z.string() })),
      needBy: z.string().nullable(),
      promisedDate: z.string().nullable(),
      /** Its deliveries, where it comes in several. */
      schedule: z.array(DeliveryJson),
      address: z.string().nullable(),
      mayProve: z.boolean(),
      gauge: GaugeJson,
    }),
  ),
  receipts: z.array(
    z.strictObject({
      id: Uuid,
      number: z.string(),
      state: z.string(),
      receivedOn: z.string(),
      place: z.string(),
      by: z.string(),
      at: Stamp,
      note: z.string(),
      mayReverse: z.boolean(),
      lines: z.array(z.strictObject({ position: z.int(), quantity: DecimalText, unit: z.string() })),
    }),
  ),
})
export const Deliveries = defineList('deliveries', '/deliveries', 'delivery.read', ['order'])
export const ReadDelivery = defineEndpoint({
  name: 'delivery.read',
  method: 'get',
  path: '/deliveries/:id',
  permission: 'delivery.read',
  params: ById,
  response: DeliverySheet,
})
/** Goods are counted in by a receiver, work is accepted by its requester; both make a receipt. */
export const Receive = defineEndpoint({
  name: 'delivery.receive',
  method: 'post',
  path: '/deliveries/:id/receipts',
  permission: 'delivery.read',
  params: ById,
  body: z.strictObject({
    receivedOn: Day,
    placeId: Uuid,
    note: Text,
    checkReason: Text.optional(),
    lines: z
      .array(z.strictObject({ lineId: Uuid, quantity: DecimalText }))
      .min(1)
      .max(500),
  }),
  response: Done.extend({ number: z.string() }),
})
export const ReverseReceipt = defineEndpoint({
  name: 'receipt.reverse',
  method: 'post',
  path: '/receipts/:id/reverse',
  permission: 'delivery.read',
  params: ById,
  body: z.strictObject({ reason: GivenReason }),
  response: Done,
})
