import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, QueryRevision, Revision, Stamp, Text, Uuid } from '#contract/fields.ts'
import {
  AheadJson,
  AnswerFile,
  AnswerReadJson,
  ChargeShown,
  ClauseJson,
  DeliveryJson,
  DifferenceJson,
  ResponseLineJson,
  RevisionFile,
} from '#contract/order/endpoints.ts'

/** The supplier's own pages: everything is limited to the company of the person signed in. */
const OwnOrder = z.strictObject({
  id: Uuid,
  number: z.string(),
  title: z.string(),
  revision: z.int(),
  state: z.string(),
  total: AmountText,
  currency: z.string(),
  issuedAt: Stamp,
  answered: z.boolean(),
  toBill: z.boolean(),
  waiting: z.string(),
})
export const SupplierOrders = defineEndpoint({
  name: 'supplierPages.orders',
  method: 'get',
  path: '/supplier-pages/orders',
  permission: 'supplierPages.orders',
  response: z.strictObject({ orders: z.array(OwnOrder) }),
})
export const SupplierOrderSheet = z.strictObject({
  id: Uuid,
  number: z.string(),
  title: z.string(),
  revision: z.int(),
  current: z.int(),
  state: z.string(),
  currency: z.string(),
  total: AmountText,
  /** All charges less all discounts, and one by one. */
  charges: AmountText,
  chargeItems: z.array(ChargeShown),
  buyer: z.string(),
  message: z.string(),
  location: z.string(),
  clauses: z.array(ClauseJson),
  ahead: AheadJson,
  terms: z.string(),
  address: z.string().nullable(),
  issuedAt: Stamp,
  reason: z.string(),
  differences: z.array(DifferenceJson),
  answerable: z.boolean(),
  billable: z.boolean(),
  why: z.array(z.strictObject({ code: z.string(), details: z.record(z.string(), z.union([z.string(), z.number()])) })),
  lines: z.array(
    z.strictObject({
      lineId: Uuid,
      position: z.int(),
      kind: z.string(),
      description: z.string(),
      quantity: DecimalText,
      unit: z.string(),
      price: DecimalText,
      priceBase: DecimalText,
      amount: AmountText,
      needBy: z.string().nullable(),
      place: z.string().optional(),
      terms: z.string().optional(),
      schedule: z.array(DeliveryJson),
      confirmed: DecimalText,
      promisedDate: z.string().nullable(),
      received: DecimalText,
      billed: DecimalText,
    }),
  ),
  response: z.strictObject({ state: z.string(), at: Stamp, answerReason: z.string() }).nullable(),
  invoices: z.array(
    z.strictObject({
      id: Uuid,
      number: z.string(),
      state: z.string(),
      gross: AmountText,
      dueOn: z.string().nullable(),
    }),
  ),
  revisions: z.array(z.int()),
})
export const SupplierOrder = defineEndpoint({
  name: 'supplierPages.order',
  method: 'get',
  path: '/supplier-pages/orders/:id',
  permission: 'supplierPages.orders',
  params: ById,
  query: z.strictObject({ revision: QueryRevision.optional() }),
  response: SupplierOrderSheet,
})
export const RespondToOrder = defineEndpoint({
  name: 'supplierPages.respond',
  method: 'post',
  path: '/supplier-pages/orders/:id/response',
  permission: 'supplierPages.orders',
  params: ById,
  body: z.strictObject({ revision: Revision, lines: z.array(ResponseLineJson).min(1).max(500), note: Text }),
  response: z.strictObject({ state: z.string() }),
})
export const SupplierPdf = defineEndpoint({
  name: 'supplierPages.pdf',
  method: 'get',
  path: '/supplier-pages/orders/:id/revisions/:revision/pdf',
  permission: 'supplierPages.orders',
  params: RevisionFile,
  answers: 'file',
})

export const OwnAnswerFile = defineEndpoint({
  name: 'supplierPages.answerFile',
  method: 'post',
  path: '/supplier-pages/orders/:id/response/file',
  permission: 'supplierPages.orders',
  safe: true,
  params: ById,
  body: AnswerFile,
  response: AnswerReadJson,
})
export const SupplierUbl = defineEndpoint({
  name: 'supplierPages.ubl',
  method: 'get',
  path: '/supplier-pages/orders/:id/revisions/:revision/ubl',
  permission: 'supplierPages.orders',
  params: RevisionFile,
  answers: 'file',
})
