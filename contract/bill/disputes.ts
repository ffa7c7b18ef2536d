import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Done, GivenReason, Text, Uuid, Version } from '#contract/fields.ts'
import { OUTCOMES } from '#core/bill/disputeFacts.ts'

const OutcomeCode = z.enum(OUTCOMES)
/** A dispute about an invoice, as either side reads it. */
export const DisputeJson = z.strictObject({
  id: Uuid,
  state: z.string(),
  openedAt: z.string(),
  endedAt: z.string().nullable(),
  outcome: z.string().nullable(),
  /** What the other side would agree on; null where nothing waits for this side. */
  toAgree: z.string().nullable(),
  /** What this side proposed and the other has not agreed to. */
  ours: z.string().nullable(),
  messages: z.array(
    z.strictObject({ id: Uuid, who: z.string(), mine: z.boolean(), at: z.string(), text: z.string(), outcome: z.string().nullable() }), // prettier-ignore
  ),
})
export type DisputeJson = z.output<typeof DisputeJson>

const Said = z.strictObject({ version: Version, text: Text, outcome: OutcomeCode.nullable() })
/** Disputes an invoice: it waits, and the supplier is asked. */
export const OpenDispute = defineEndpoint({
  name: 'dispute.open',
  method: 'post',
  path: '/invoices/:id/dispute',
  permission: 'hold.clear',
  params: ById,
  body: z.strictObject({ version: Version, text: Text }),
  response: Done,
})
export const SayInDispute = defineEndpoint({
  name: 'dispute.say',
  method: 'post',
  path: '/invoices/:id/dispute/messages',
  permission: 'hold.clear',
  params: ById,
  body: Said,
  response: Done,
})
export const AgreeInDispute = defineEndpoint({
  name: 'dispute.agree',
  method: 'post',
  path: '/invoices/:id/dispute/agree',
  permission: 'hold.clear',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const DropDispute = defineEndpoint({
  name: 'dispute.drop',
  method: 'post',
  path: '/invoices/:id/dispute/drop',
  permission: 'hold.clear',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: Done,
})
/** The supplier answers on its pages, perhaps with what it would agree on. */
export const SupplierSays = defineEndpoint({
  name: 'supplierPages.disputeSay',
  method: 'post',
  path: '/supplier-pages/invoices/:id/dispute/messages',
  permission: 'supplierPages.bill',
  params: ById,
  body: Said,
  response: Done,
})
export const SupplierAgrees = defineEndpoint({
  name: 'supplierPages.disputeAgree',
  method: 'post',
  path: '/supplier-pages/invoices/:id/dispute/agree',
  permission: 'supplierPages.bill',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
