import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, Line, ReasonJson, Stamp, Uuid, Version } from '#contract/fields.ts'
import { CHARGE_KINDS, type ChargeKind, MOST_CHARGES } from '#core/order/charges.ts'
import { EXCHANGE_FORMAT, EXCHANGE_VERSION, MAPPED_KINDS } from '#core/order/orderExchange.ts'

/** Orders, and lines of all of them, that one file may hold. */
export const MOST_EXCHANGED = 2_000
export const MOST_EXCHANGED_LINES = 10_000
const Figure = z.union([z.literal(''), DecimalText])
const Said = z.string().max(500)
/** Orders as JSON, as they go from one installation to another. */
export const ExchangeFileJson = z.object({
  format: z.literal(EXCHANGE_FORMAT),
  version: z.int().max(EXCHANGE_VERSION),
  sender: Line.min(1),
  orders: z
    .array(
      z.object({
        number: Line.min(1),
        title: Said,
        currency: z.string().max(3),
        supplier: z.object({ name: Said, vat: Line }),
        charges: z
          .array(
            z.object({
              kind: z.enum(Object.keys(CHARGE_KINDS) as [ChargeKind, ...ChargeKind[]]),
              words: Line,
              amount: AmountText,
            }),
          )
          .max(MOST_CHARGES),
        lines: z
          .array(
            z.object({
              position: z.int(),
              description: Said,
              item: Line,
              gtin: Line,
              quantity: DecimalText,
              unit: z.string().max(3),
              price: DecimalText,
              priceBase: Figure,
              needBy: z.string().max(10),
              place: Said,
              account: Line,
              received: Figure,
              billed: Figure,
              promised: z.string().max(10),
            }),
          )
          .max(MOST_EXCHANGED_LINES),
      }),
    )
    .min(1)
    .max(MOST_EXCHANGED),
})

/** Lays out open orders of goods for another installation; the file is fetched by its id. */
export const MakeExchange = defineEndpoint({
  name: 'exchange.make',
  method: 'post',
  path: '/order-exchanges/out',
  permission: 'order.write',
  body: z.strictObject({ orderIds: z.array(Uuid).min(1).max(MOST_EXCHANGED) }),
  response: z.strictObject({ id: Uuid, orders: z.int(), left: z.int() }),
})
export const ExchangeFile = defineEndpoint({
  name: 'exchange.file',
  method: 'get',
  path: '/order-exchanges/:id/file',
  permission: 'order.write',
  params: ById,
  answers: 'file',
})
/** Takes files of another installation: JSON, or UBL Orders. Nothing is made yet: what names mean here is asked first. */
export const TakeExchange = defineEndpoint({
  name: 'exchange.take',
  method: 'post',
  path: '/order-exchanges',
  permission: 'order.write',
  body: z.strictObject({ fileIds: z.array(Uuid).min(1).max(200) }),
  response: z.strictObject({ id: Uuid }),
})
export const EXCHANGED_STATES = ['ready', 'refused', 'made'] as const
export const ReadExchange = defineEndpoint({
  name: 'exchange.read',
  method: 'get',
  path: '/order-exchanges/:id',
  permission: 'order.write',
  params: ById,
  response: z.strictObject({
    id: Uuid,
    version: z.int(),
    sender: z.string(),
    at: Stamp,
    names: z.array(
      z.strictObject({
        kind: z.enum(MAPPED_KINDS),
        theirs: z.string(),
        code: z.string(),
        words: z.string(),
        used: z.int(),
        ours: z.string(),
        oursLabel: z.string(),
        /** It was chosen, now or the time before; else it is a guess. */
        kept: z.boolean(),
        needed: z.boolean(),
      }),
    ),
    orders: z.array(
      z.strictObject({
        number: z.string(),
        supplier: z.string(),
        lines: z.int(),
        state: z.enum(EXCHANGED_STATES),
        reasons: z.array(ReasonJson),
        made: z.strictObject({ number: z.string(), path: z.string() }).nullable(),
      }),
    ),
  }),
})
/** Says what names mean here; kept for the sender. An empty `ours` forgets it. */
export const MapExchange = defineEndpoint({
  name: 'exchange.map',
  method: 'put',
  path: '/order-exchanges/:id/names',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    names: z
      .array(z.strictObject({ kind: z.enum(MAPPED_KINDS), theirs: Said, ours: Line }))
      .min(1)
      .max(MOST_EXCHANGED_LINES),
  }),
  response: z.strictObject({ id: Uuid, version: z.int() }),
})
/** Takes over the orders that are ready; the others stay. */
export const LoadExchange = defineEndpoint({
  name: 'exchange.load',
  method: 'post',
  path: '/order-exchanges/:id/load',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: z.strictObject({ made: z.int() }),
})
