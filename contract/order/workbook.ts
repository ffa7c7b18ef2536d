import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, GivenReason, ReasonJson, Stamp, Uuid, Version } from '#contract/fields.ts'
import { ROW_STATES, WORKBOOK_FIELDS } from '#core/order/workbook.ts'

/** Lines that one workbook may have. */
export const MOST_WORKBOOK_LINES = 20_000
const Field = z.enum(WORKBOOK_FIELDS)
const Value = z.string().max(80)
export const ReturnedRowJson = z.strictObject({
  row: z.int(),
  lineId: Uuid.nullable(),
  order: z.string(),
  orderPath: z.string(),
  position: z.int(),
  supplier: z.string(),
  what: z.string(),
  state: z.enum(ROW_STATES),
  changes: z.array(z.strictObject({ field: Field, before: z.string(), after: z.string(), now: z.string() })),
  reasons: z.array(ReasonJson),
})

/** Lines of orders as a workbook in which this person can change what they may change. */
export const MakeWorkbook = defineEndpoint({
  name: 'workbook.make',
  method: 'post',
  path: '/order-workbooks',
  permission: 'order.read',
  body: z.strictObject({ orderIds: z.array(Uuid).min(1).max(10_000) }),
  response: z.strictObject({ id: Uuid, lines: z.int(), orders: z.int() }),
})
export const WorkbookFile = defineEndpoint({
  name: 'workbook.file',
  method: 'get',
  path: '/order-workbooks/:id/file',
  permission: 'order.read',
  params: ById,
  answers: 'file',
})
/** Takes a workbook back: nothing is changed yet, what it would change is laid out. */
export const TakeWorkbook = defineEndpoint({
  name: 'workbook.take',
  method: 'post',
  path: '/order-workbook-returns',
  permission: 'order.write',
  body: z.strictObject({ fileId: Uuid }),
  response: z.strictObject({ id: Uuid }),
})
export const ReadReturn = defineEndpoint({
  name: 'workbook.readReturn',
  method: 'get',
  path: '/order-workbook-returns/:id',
  permission: 'order.write',
  params: ById,
  response: z.strictObject({
    id: Uuid,
    version: z.int(),
    state: z.enum(['open', 'applying', 'settled']),
    fileName: z.string(),
    at: Stamp,
    madeBy: z.string(),
    madeAt: Stamp,
    /** Lines that went out and did not come back: they stay as they are. */
    missing: z.int(),
    rows: z.array(ReturnedRowJson),
    outcome: z.strictObject({ orders: z.int(), lines: z.int(), failed: z.int(), mails: z.int() }).nullable(),
    jobId: Uuid.nullable(),
  }),
})
/** Corrects rows in place, or says of a conflict what counts. */
export const ChangeReturn = defineEndpoint({
  name: 'workbook.changeReturn',
  method: 'put',
  path: '/order-workbook-returns/:id',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    rows: z
      .array(
        z.strictObject({
          row: z.int(),
          values: z.partialRecord(Field, Value).optional(),
          /** What counts of a conflict: what the file says, or what stands there now. */
          choice: z.enum(['file', 'now']).optional(),
        }),
      )
      .min(1)
      .max(MOST_WORKBOOK_LINES),
  }),
  response: z.strictObject({ id: Uuid, version: z.int() }),
})
/** Does what is ready, in the background: revisions, promises, closings and cancellations, one mail to each supplier. */
export const ApplyReturn = defineEndpoint({
  name: 'workbook.apply',
  method: 'post',
  path: '/order-workbook-returns/:id/apply',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: z.strictObject({ jobId: Uuid }),
})
