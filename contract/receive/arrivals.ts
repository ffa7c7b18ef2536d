import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Day, DecimalText, Done, GivenReason, ReasonJson, Text, Uuid, Version } from '#contract/fields.ts'
import { ARRIVAL_ANSWERS } from '#core/receive/arrival.ts'

const ArrivedLineJson = z.strictObject({
  position: z.int(),
  description: z.string(),
  quantity: DecimalText,
  unit: z.string(),
})
const Answer = z.strictObject({ answer: z.enum(ARRIVAL_ANSWERS), note: Text })
const Token = z.strictObject({ token: z.string().regex(/^[\w-]{20,80}$/) })

/** Who has been told of an order's goods, and what they said. */
export const ReadArrivals = defineEndpoint({
  name: 'arrival.list',
  method: 'get',
  path: '/deliveries/:id/arrivals',
  permission: 'delivery.read',
  params: ById,
  response: z.strictObject({
    arrivals: z.array(
      z.strictObject({
        id: Uuid,
        version: z.int(),
        state: z.string(),
        receipt: z.string(),
        place: z.string(),
        requester: z.string(),
        lines: z.array(ArrivedLineJson),
        note: z.string(),
        askedOn: Day,
        mine: z.boolean(),
        maySettle: z.boolean(),
      }),
    ),
  }),
})
/** Whoever asked for the goods says whether they have them. */
export const AnswerArrival = defineEndpoint({
  name: 'arrival.answer',
  method: 'post',
  path: '/arrivals/:id',
  permission: 'delivery.read',
  params: ById,
  body: Answer.extend({ version: Version }),
  response: Done,
})
export const SettleArrival = defineEndpoint({
  name: 'arrival.settle',
  method: 'post',
  path: '/arrivals/:id/settle',
  permission: 'delivery.read',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: Done,
})
/** What a mail's link shows; looking says nothing. */
export const ReadArrivalLink = defineEndpoint({
  name: 'arrival.link',
  method: 'get',
  path: '/arrived/:token',
  permission: 'anyone',
  params: Token,
  response: z.strictObject({
    house: z.string(),
    number: z.string(),
    title: z.string(),
    receipt: z.string(),
    place: z.string(),
    reasons: z.array(ReasonJson),
    lines: z.array(ArrivedLineJson),
  }),
})
/** Answers by a mail's link, once. */
export const AnswerArrivalLink = defineEndpoint({
  name: 'arrival.answerLink',
  method: 'post',
  path: '/arrived/:token',
  permission: 'anyone',
  params: Token,
  body: Answer,
  response: z.strictObject({ number: z.string() }),
})
