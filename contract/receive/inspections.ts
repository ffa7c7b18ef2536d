import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, Done, ReasonJson, SheetFrame, Text, Uuid, Version } from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { CharacteristicJson } from '#contract/receivingTerms.ts'

/** By the name of what was looked at: a measured value, `pass` or `fail`. */
const ReadingJson = z.record(z.string().max(500), z.string().max(40))
const FindingBody = z.strictObject({
  looked: z.int().min(0).max(1_000_000),
  readings: z.array(ReadingJson).max(1_250),
  accepted: DecimalText,
  deducted: DecimalText,
  deductPercent: DecimalText,
  rejected: DecimalText,
  reason: Text,
})

export const Inspections = defineList('inspections', '/inspections', 'order.read', ['inspection'])
export const ReadInspection = defineEndpoint({
  name: 'inspection.read',
  method: 'get',
  path: '/inspections/:id',
  permission: 'order.read',
  params: ById,
  response: SheetFrame.extend({
    orderId: Uuid,
    order: z.string(),
    supplier: z.string(),
    position: z.int(),
    unit: z.string(),
    receipt: z.string(),
    place: z.string(),
    detail: z.string(),
    /** What is still here of what was counted. */
    left: DecimalText,
    plan: z.strictObject({ sample: z.int(), acceptUpTo: z.int() }),
    characteristics: z.array(CharacteristicJson),
    billsWait: z.boolean(),
    finding: FindingBody,
    failed: z.int(),
    debitNumber: z.string().nullable(),
    debitNet: AmountText,
    currency: z.string(),
    by: z.string().nullable(),
    mayConclude: z.array(ReasonJson),
  }),
})
/** Says which of the goods are good: bills, stock of what goes back and the supplier follow. */
export const ConcludeInspection = defineEndpoint({
  name: 'inspection.conclude',
  method: 'post',
  path: '/inspections/:id',
  permission: 'delivery.receive',
  params: ById,
  body: FindingBody.extend({ version: Version }),
  response: Done.extend({ state: z.string(), debitNumber: z.string().nullable() }),
})
/** The debit note of what was taken for less. */
export const InspectionDebit = defineEndpoint({
  name: 'inspection.debit',
  method: 'get',
  path: '/inspections/:id/debit',
  permission: 'order.read',
  params: ById,
  answers: 'file',
})
