import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { SaveReceivingSettings } from '#contract/receive/settings.ts'
import type { Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { HOUSE, writeSetting } from '#server/house/house.ts'
import { receivingSettings } from '#server/receive/receivingStore.ts'

/** How this house receives: the open period, and whether whoever asked for goods says that they have them. */
export async function saveReceivingSettings(
  call: Write,
  body: BodyOf<typeof SaveReceivingSettings>,
): Promise<ResponseOf<typeof SaveReceivingSettings>> {
  const before = await receivingSettings(call)
  await writeSetting(call, 'receiving', { ...before, ...body })
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { before, after: body } }) // prettier-ignore
  return body
}
