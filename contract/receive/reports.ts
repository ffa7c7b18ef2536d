import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Day, DecimalText, Done, Line, Stamp, Text, Uuid, VersionOrNew } from '#contract/fields.ts'
import { FileIds, FileNames } from '#contract/receive/despatch.ts'
import { LINE_KINDS } from '#core/request/kinds.ts'

const ReportBody = z.strictObject({
  number: Line.max(40),
  quantity: DecimalText,
  from: Day,
  to: Day,
  place: Line,
  people: z.array(z.strictObject({ name: Line.min(1), quantity: z.union([z.literal(''), DecimalText]) })).max(60),
  note: Text,
  fileIds: FileIds,
})
export const ReportJson = ReportBody.omit({ fileIds: true }).extend({
  id: Uuid,
  files: FileNames,
  ours: z.string(),
  lineId: Uuid,
  position: z.int(),
  unit: z.string(),
  state: z.enum(['draft', 'sent', 'accepted', 'partAccepted', 'refused', 'withdrawn']),
  origin: z.enum(['supplier', 'requester', 'invoice']),
  accepted: DecimalText,
  answerReason: z.string(),
  by: z.string(),
  at: Stamp,
  version: z.int(),
})
const WorkLine = z.strictObject({
  lineId: Uuid,
  position: z.int(),
  kind: z.enum(LINE_KINDS),
  description: z.string(),
  unit: z.string(),
  ceiling: DecimalText,
  accepted: DecimalText,
  waiting: DecimalText,
  left: DecimalText,
  /** Whether the report or the invoice comes first, or none is needed. */
  order: z.enum(['reportFirst', 'invoiceFirst', 'none']),
})
const Reports = z.strictObject({
  lines: z.array(WorkLine),
  reports: z.array(ReportJson.extend({ mayAnswer: z.boolean() })),
})
export const OwnReports = defineEndpoint({
  name: 'supplierPages.reports',
  method: 'get',
  path: '/supplier-pages/orders/:id/reports',
  permission: 'supplierPages.orders',
  params: ById,
  response: Reports,
})
const SaveBody = z.strictObject({
  reportId: Uuid.nullable(),
  version: VersionOrNew,
  lineId: Uuid,
  send: z.boolean(),
  entry: ReportBody,
})
export const SaveOwnReport = defineEndpoint({
  name: 'supplierPages.saveReport',
  method: 'post',
  path: '/supplier-pages/orders/:id/reports',
  permission: 'supplierPages.orders',
  params: ById,
  body: SaveBody,
  response: Done.extend({ number: z.string() }),
})
export const ReadReports = defineEndpoint({
  name: 'report.list',
  method: 'get',
  path: '/deliveries/:id/reports',
  permission: 'delivery.read',
  params: ById,
  response: Reports,
})
/** Writes a report on the supplier's word. */
export const SaveReport = defineEndpoint({
  name: 'report.save',
  method: 'post',
  path: '/deliveries/:id/reports',
  permission: 'delivery.read',
  params: ById,
  body: SaveBody,
  response: Done.extend({ number: z.string() }),
})
/** Accepts reports in full, one of them in part, or refuses one. */
export const AnswerReports = defineEndpoint({
  name: 'report.answer',
  method: 'post',
  path: '/work-reports/answer',
  permission: 'delivery.read',
  body: z.strictObject({
    answer: z.enum(['accept', 'refuse']),
    reason: Text,
    reports: z
      .array(z.strictObject({ id: Uuid, quantity: DecimalText.optional() }))
      .min(1)
      .max(100),
  }),
  response: z.strictObject({ answered: z.int() }),
})
