import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, Done, GivenReason, ReasonJson, Stamp, Text, Uuid } from '#contract/fields.ts'
import { LogJson } from '#contract/source/events.ts'
import { ShownJson } from '#contract/source/eventKinds.ts'

const Phase = z.enum(['planned', 'open', 'paused', 'over'])
const DayLine = z.strictObject({
  id: Uuid,
  description: z.string(),
  quantity: DecimalText,
  unit: z.string(),
  /** The most that the line may be worth; empty: no limit. */
  ceiling: z.string(),
})
/** The live page of a reverse auction, for us. Instants as ISO text by the server's clock. */
export const ReadDay = defineEndpoint({
  name: 'day.read',
  method: 'get',
  path: '/source-events/:id/day',
  permission: 'event.read',
  params: ById,
  response: z.strictObject({
    serverTime: Stamp,
    currency: z.string(),
    hidden: z.boolean(),
    lots: z.array(
      z.strictObject({
        id: Uuid,
        position: z.int(),
        title: z.string(),
        phase: Phase,
        opensAt: Stamp.nullable(),
        openedAt: Stamp.nullable(),
        endsAt: Stamp.nullable(),
        /** While it is paused: how many milliseconds it still runs. */
        left: z.int().nullable(),
        byHand: z.boolean(),
        extensions: z.int(),
        ceiling: z.string(),
        step: z.strictObject({ kind: z.string(), value: z.string(), against: z.string() }),
        extension: z.strictObject({ withinSeconds: z.int(), bySeconds: z.int(), from: z.string(), places: z.int().nullable(), most: z.int().nullable() }).nullable(), // prettier-ignore
        shows: ShownJson,
        lines: z.array(DayLine),
        reference: z.string(),
        first: z.string(),
        standing: z.array(z.strictObject({ supplierId: Uuid, place: z.int(), total: AmountText })),
        bids: z.array(z.strictObject({ id: Uuid, supplierId: Uuid, total: AmountText, at: Stamp, out: z.boolean(), onBehalf: z.boolean() })), // prettier-ignore
        may: z.record(z.string(), z.array(ReasonJson)),
      }),
    ),
    suppliers: z.array(
      z.strictObject({
        supplierId: Uuid,
        invitedId: Uuid,
        name: z.string(),
        present: z.boolean(),
        accepted: z.boolean(),
        suspended: z.boolean(),
        suspendReason: z.string(),
        consent: z.boolean(),
      }),
    ),
    log: z.array(LogJson),
  }),
})
export const DAY_ACTS = ['start', 'pause', 'resume', 'extend', 'end'] as const
/** What is done with the clock, of one lot or of all that it can be done with. Everybody who bids is told. */
export const ActOnDay = defineEndpoint({
  name: 'day.act',
  method: 'post',
  path: '/source-events/:id/day',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({
    act: z.enum(DAY_ACTS),
    lotId: Uuid.nullable(),
    bySeconds: z.int().min(0).max(86_400),
    reason: Text,
  }),
  response: Done.extend({ lots: z.int() }),
})
export const RemoveBid = defineEndpoint({
  name: 'day.removeBid',
  method: 'post',
  path: '/source-events/:id/bids/:bidId/remove',
  permission: 'event.write',
  params: ById.extend({ bidId: Uuid }),
  body: z.strictObject({ reason: GivenReason }),
  response: Done,
})
const BidBody = z.strictObject({
  /** Made where the bid is made: the same one sent twice is one bid. */
  bidId: Uuid,
  lotId: Uuid,
  /** The price for one unit of each line. */
  prices: z.record(Uuid, DecimalText),
})
const Taken = z.strictObject({ total: AmountText, place: z.int().nullable(), endsAt: Stamp.nullable() })
export const BidBehalf = defineEndpoint({
  name: 'behalf.bid',
  method: 'post',
  path: '/source-events/:id/invited/:invitedId/bids',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: BidBody,
  response: Taken,
})
export const PlaceBid = defineEndpoint({
  name: 'asked.bid',
  method: 'post',
  path: '/asked/:id/bids',
  permission: 'supplierPages.quotes',
  params: ById,
  body: BidBody,
  response: Taken,
})
/** The live page for a supplier: its own bids, and of the others what the rules show. */
export const ReadAskedDay = defineEndpoint({
  name: 'asked.day',
  method: 'get',
  path: '/asked/:id/day',
  permission: 'supplierPages.quotes',
  params: ById,
  response: z.strictObject({
    serverTime: Stamp,
    currency: z.string(),
    suspended: z.boolean(),
    lots: z.array(
      z.strictObject({
        id: Uuid,
        title: z.string(),
        phase: Phase,
        opensAt: Stamp.nullable(),
        endsAt: Stamp.nullable(),
        left: z.int().nullable(),
        lines: z.array(DayLine),
        own: z.array(z.strictObject({ id: Uuid, total: AmountText, at: Stamp, out: z.boolean(), prices: z.record(z.string(), z.string()) })), // prettier-ignore
        place: z.int().nullable(),
        best: AmountText.nullable(),
        bidders: z.int().nullable(),
        shows: ShownJson,
        nextAtMost: z.string(),
        step: z.strictObject({ kind: z.string(), value: z.string(), against: z.string() }),
      }),
    ),
  }),
})
