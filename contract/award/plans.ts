import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, DecimalText, Done, ReasonJson, Stamp, Uuid, VersionOrNew } from '#contract/fields.ts'
import { JobJson } from '#contract/source/duplicates.ts'
import { MaybeDecimal } from '#contract/source/eventKinds.ts'
import { LONG_JOB_STATES } from '#core/desk/longJob.ts'
import { PLAN_ROWS } from '#core/award/computePlan.ts'

const Lines = z.array(Uuid).min(1).max(1000)
/** A decimal that is not below zero, or nothing. */
const Held = MaybeDecimal.refine(text => !text.startsWith('-'), { error: 'not below zero' })
const HeldAlways = DecimalText.refine(text => !text.startsWith('-'), { error: 'not below zero' })
const Percent = MaybeDecimal.refine(text => text === '' || (Number(text) >= 0 && Number(text) <= 100), {
  error: 'per cent from 0 to 100',
})
export const WishJson = z.strictObject({
  id: Uuid,
  must: z.boolean(),
  worth: Held,
  worthIn: z.enum(['amount', 'percent']),
  what: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('mostSuppliers'), count: z.int().min(1).max(500) }),
    z.strictObject({
      kind: z.literal('share'),
      whom: z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('suppliers'), supplierIds: z.array(Uuid).min(1).max(500) }),
        z.strictObject({ kind: z.literal('country'), country: z.string().length(2) }),
      ]),
      in: z.enum(['percent', 'amount']),
      least: Held,
      most: Held,
    }),
    z.strictObject({ kind: z.literal('oneSupplier'), lineIds: Lines }),
    z.strictObject({ kind: z.literal('keepIncumbent'), lineIds: Lines }),
    z.strictObject({ kind: z.literal('shareLine'), lineIds: Lines, most: Percent }),
    z.strictObject({ kind: z.literal('twoSuppliers'), lineIds: Lines }),
    z.strictObject({ kind: z.literal('scoreAtLeast'), score: HeldAlways }),
    z.strictObject({ kind: z.literal('deliveredWithin'), days: z.int().min(0).max(3650) }),
    z.strictObject({ kind: z.literal('nobodyNew'), unlessScore: Held }),
    z.strictObject({ kind: z.literal('without'), supplierId: Uuid }),
  ]),
})
const TierJson = z.strictObject({ from: HeldAlways, unitCost: HeldAlways })
/** What the team adds to the answers, or tries with them. */
export const PlanTermsJson = z.strictObject({
  suppliers: z.record(
    Uuid,
    z.strictObject({
      charge: Held,
      rebates: z.array(z.strictObject({ from: HeldAlways, percent: Percent })).max(10),
      rebateOn: z.enum(['everything', 'above']),
    }),
  ),
  bids: z.record(
    z.string().max(80),
    z.strictObject({
      unitCost: Held,
      capacity: Held,
      multiple: Held.optional(),
      tiers: z.array(TierJson).max(20),
      tierPrices: z.enum(['allUnits', 'incremental']),
    }),
  ),
  bundles: z.array(z.strictObject({ supplierId: Uuid, lineIds: Lines, percent: Percent })).max(50),
  quantities: z.record(Uuid, Held),
})
const ShareJson = z.strictObject({ lineId: Uuid, supplierId: Uuid, quantity: DecimalText })
const RowJson = z.strictObject({
  key: z.enum(PLAN_ROWS),
  cost: z.string(),
  bound: z.string().nullable(),
  gap: z.string().nullable(),
  suppliers: z.array(z.strictObject({ supplierId: Uuid, amount: z.string(), lines: z.int() })),
  leadDays: z.int().nullable(),
  score: z.string().nullable(),
  shares: z.array(ShareJson),
  figures: z.array(z.strictObject({ lineId: Uuid, each: z.string(), above: z.string(), amount: z.string() })),
  breaks: z.array(z.string()),
})
export const PlanOutcomeJson = z.strictObject({
  rows: z.array(RowJson),
  prices: z.array(z.strictObject({ wishId: z.string(), kept: z.boolean(), price: z.string().nullable() })),
  curve: z.array(z.strictObject({ suppliers: z.int(), cost: z.string().nullable(), bound: z.string().nullable() })),
  why: z.array(
    z.strictObject({
      lineId: Uuid,
      cheapestId: Uuid,
      because: z.enum([
        'wish',
        'capacity',
        'minimum',
        'together',
        'oneMoreSupplier',
        'notUsed',
        'limit',
        'rebate',
        'charge',
      ]),
      wishId: z.string().nullable(),
      cheaper: z.string(),
    }),
  ),
  conflict: z
    .strictObject({
      wishIds: z.array(z.string()),
      proved: z.boolean(),
      easing: z.array(z.strictObject({ wishId: z.string(), cost: z.string().nullable() })),
    })
    .nullable(),
  short: z.array(z.strictObject({ lineId: Uuid, missing: z.string() })),
  stopped: z.boolean(),
})
/** How far a computation is that still runs. */
export const PlanSoFar = z.strictObject({
  cost: z.string().nullable(),
  gap: z.string().nullable(),
  seconds: z.number(),
})
export const ReadAwardPlan = defineEndpoint({
  name: 'awardPlan.read',
  method: 'get',
  path: '/source-events/:id/plan',
  permission: 'event.read',
  params: ById,
  response: z.strictObject({
    /** Why there is nothing to plan with (yet). */
    reasons: z.array(ReasonJson),
    version: z.int(),
    number: z.string(),
    title: z.string(),
    currency: z.string(),
    ratesOn: z.string(),
    mayPlan: z.boolean(),
    mayPropose: z.boolean(),
    eventVersion: z.int(),
    wishes: z.array(WishJson),
    terms: PlanTermsJson,
    lines: z.array(
      z.strictObject({
        id: Uuid,
        position: z.int(),
        description: z.string(),
        quantity: z.string(),
        unit: z.string(),
        incumbentId: Uuid.nullable(),
      }),
    ),
    suppliers: z.array(
      z.strictObject({
        id: Uuid,
        name: z.string(),
        country: z.string(),
        score: z.string().nullable(),
        isNew: z.boolean(),
      }),
    ),
    bids: z.array(
      z.strictObject({
        lineId: Uuid,
        supplierId: Uuid,
        unitCost: z.string(),
        capacity: z.string(),
        leadDays: z.int().nullable(),
      }),
    ),
    run: z
      .strictObject({
        id: Uuid,
        state: z.enum(LONG_JOB_STATES),
        jobId: Uuid,
        failure: z.string().nullable(),
        by: z.string(),
        at: Stamp,
        seconds: z.number().nullable(),
        outcome: PlanOutcomeJson.nullable(),
        /** Wishes as they were then. */
        wishes: z.array(WishJson),
        /** Answers, rates or scores are others now. */
        outdated: z.boolean(),
      })
      .nullable(),
    /** The best plan of the computation before, to see what a change did. */
    before: z.strictObject({ cost: z.string(), shares: z.array(ShareJson) }).nullable(),
  }),
})
/** How far the newest computation is. */
export const ReadPlanProgress = defineEndpoint({
  name: 'awardPlan.progress',
  method: 'get',
  path: '/source-events/:id/plan/progress',
  permission: 'event.read',
  params: ById,
  response: z.strictObject({ job: JobJson, soFar: PlanSoFar.nullable() }),
})
/** Keeps wishes and terms, and computes the plan anew. */
export const ChangeAwardPlan = defineEndpoint({
  name: 'awardPlan.change',
  method: 'put',
  path: '/source-events/:id/plan',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: VersionOrNew, wishes: z.array(WishJson).max(40), terms: PlanTermsJson }),
  response: Done,
})
/** Ends a computation; the best plan so far is kept. */
export const StopAwardPlan = defineEndpoint({
  name: 'awardPlan.stop',
  method: 'post',
  path: '/source-events/:id/plan/stop',
  permission: 'event.write',
  params: ById,
  response: z.strictObject({ stopped: z.boolean() }),
})
/** Whether a kept plan comes to the same cent when it is added up again from what it was made of. */
export const RecheckAwardPlan = defineEndpoint({
  name: 'awardPlan.recheck',
  method: 'get',
  path: '/source-events/:id/plan/recheck',
  permission: 'event.read',
  params: ById,
  response: z.strictObject({
    plans: z.array(z.strictObject({ key: z.enum(PLAN_ROWS), kept: z.string(), again: z.string(), same: z.boolean() })),
  }),
})
