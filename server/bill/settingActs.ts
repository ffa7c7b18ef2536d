import type { SaveBillingSettings } from '#contract/bill/settings.ts'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import type { Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { HOUSE, writeSetting } from '#server/house/house.ts'

/** How this house takes invoices: what posts itself, and which rules hold beside the standard's. */
export async function saveBillingSettings(
  call: Write,
  body: BodyOf<typeof SaveBillingSettings>,
): Promise<ResponseOf<typeof SaveBillingSettings>> {
  const before = await billingSettings(call)
  await writeSetting(call, 'billing', body)
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { before, after: body } })
  return body
}
