import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, Done, Line, ReasonJson, Stamp, Text, Uuid, Version } from '#contract/fields.ts'
import { INVITED_STANDINGS } from '#core/source/event.ts'

/** How a landed cost comes about, in the event's currency, as shown: rounded once. */
export const LandedPartsJson = z.strictObject({
  goods: DecimalText,
  goodsNow: DecimalText,
  freight: DecimalText,
  other: DecimalText,
  insurance: DecimalText,
  duty: DecimalText,
  total: DecimalText,
  perUnit: DecimalText,
})
/** How the landed cost of one line of one supplier comes about; read when somebody opens it. */
export const ReadLanded = defineEndpoint({
  name: 'event.landed',
  method: 'get',
  path: '/source-events/:id/comparison/landed',
  permission: 'signedIn',
  params: ById,
  query: z.strictObject({ lineId: Uuid, supplierId: Uuid }),
  response: z.strictObject({
    landed: LandedPartsJson.nullable(),
    /** Landed unit costs from a quantity on, where the price goes by it. */
    tiers: z.array(z.strictObject({ from: DecimalText, perUnit: DecimalText })),
  }),
})
const Turn = z.strictObject({ from: DecimalText, supplierId: Uuid })
export const CompareEvent = defineEndpoint({
  name: 'event.compare',
  method: 'get',
  path: '/source-events/:id/comparison',
  permission: 'signedIn',
  params: ById,
  response: z.strictObject({
    /** Why nothing can be compared (yet). */
    reasons: z.array(ReasonJson),
    currency: z.string(),
    ratesOn: z.string().nullable(),
    suppliers: z.array(
      z.strictObject({
        supplierId: Uuid,
        name: z.string(),
        standing: z.enum(INVITED_STANDINGS),
        onBehalf: z.boolean(),
        /** False: its prices were known, and it was not asked. */
        asked: z.boolean(),
        knockedOut: z.boolean(),
        currency: z.string(),
        rate: z.string().nullable(),
        paymentDays: z.int().nullable(),
        validUntil: z.string(),
        note: z.string(),
        lines: z.int(),
        own: DecimalText.nullable(),
        common: DecimalText.nullable(),
        reference: DecimalText.nullable(),
        ownLines: z.array(z.strictObject({ description: z.string(), quantity: z.string(), unit: z.string(), price: z.string() })), // prettier-ignore
        files: z.array(z.strictObject({ id: Uuid, name: z.string() })),
      }),
    ),
    common: z.int(),
    lines: z.array(
      z.strictObject({
        id: Uuid,
        position: z.int(),
        lot: z.string(),
        description: z.string(),
        quantity: DecimalText,
        unit: z.string(),
        reference: z.string(),
        spread: z.string().nullable(),
        /** In the order of the suppliers; null: nothing is offered. */
        cells: z.array(
          z
            .strictObject({
              price: z.string(),
              priceBase: z.string(),
              quantity: DecimalText,
              part: z.boolean(),
              leadDays: z.int().nullable(),
              minimum: z.string(),
              note: z.string(),
              best: z.boolean(),
              /** Landed cost of one unit; null: there is no rate. */
              landed: DecimalText.nullable(),
              alternatives: z.array(z.strictObject({ description: z.string(), price: z.string(), priceBase: z.string(), leadDays: z.int().nullable(), note: z.string() })), // prettier-ignore
            })
            .nullable(),
        ),
      }),
    ),
    scores: z
      .strictObject({
        formula: z.string(),
        criteria: z.array(z.strictObject({ key: z.string(), weight: DecimalText })),
        rows: z.array(
          z.strictObject({
            supplierId: Uuid,
            total: DecimalText.nullable(),
            place: z.int().nullable(),
            points: z.record(z.string(), DecimalText),
          }),
        ),
        turns: z.array(Turn),
        /** Every question that counts, with what it got. */
        questions: z.array(
          z.strictObject({
            key: z.string(),
            section: z.string(),
            label: z.string(),
            weight: DecimalText,
            most: DecimalText,
            scoredBy: z.enum(['rule', 'people']),
            answers: z.array(
              z.strictObject({
                supplierId: Uuid,
                answer: z.string(),
                points: DecimalText.nullable(),
                spread: DecimalText.nullable(),
                /** What each scorer gave; empty until all are done. */
                given: z.array(z.strictObject({ by: z.string(), points: DecimalText, note: z.string() })),
                mine: DecimalText.nullable(),
              }),
            ),
          }),
        ),
        scorers: z.array(z.strictObject({ id: Uuid, name: z.string(), done: z.boolean(), me: z.boolean() })),
        /** Until all scorers are done, points that people give stay with them. */
        complete: z.boolean(),
      })
      .nullable(),
  }),
})
export const GivePoints = defineEndpoint({
  name: 'event.points',
  method: 'put',
  path: '/source-events/:id/points',
  permission: 'signedIn',
  params: ById,
  body: z.strictObject({
    points: z.array(z.strictObject({ supplierId: Uuid, question: Line, points: DecimalText, note: Text })).max(2000),
    done: z.boolean(),
  }),
  response: z.strictObject({ at: Stamp }),
})
const Shares = z.array(z.strictObject({ lineId: Uuid, supplierId: Uuid, quantity: DecimalText })).max(5000)
export const ProposeAward = defineEndpoint({
  name: 'event.proposeAward',
  method: 'post',
  path: '/source-events/:id/award',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, shares: Shares, reason: Text }),
  response: Done,
})
/** What an award would cost and what stands against it, before it is proposed. */
export const TryAward = defineEndpoint({
  name: 'event.tryAward',
  method: 'post',
  path: '/source-events/:id/award/try',
  permission: 'event.write',
  safe: true,
  params: ById,
  body: z.strictObject({ shares: Shares, reason: Text }),
  response: z.strictObject({
    reasons: z.array(ReasonJson),
    cost: AmountText.nullable(),
    above: AmountText.nullable(),
    deciders: z.array(z.string()),
  }),
})
export const AnswerAward = defineEndpoint({
  name: 'event.answerAward',
  method: 'post',
  path: '/source-events/:id/award/answer',
  permission: 'signedIn',
  params: ById,
  body: z.strictObject({ version: Version, answer: z.enum(['approve', 'reject', 'takeBack']), reason: Text }),
  response: Done,
})
