import { found, type Read } from '#server/call.ts'
import { needVisible } from '#server/documents/visible.ts'
import { sentFile } from '#server/files/fileActs.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { needOwn } from '#server/order/orderStore.ts'

/** A file that hangs on what a supplier announced of its order, or reported. */
export async function ownOrderFile(call: Read, orderId: string, fileId: string): Promise<FileAnswer> {
  await needOwn(call, orderId)
  return await fileOf(call, orderId, fileId)
}

export async function deliveryFile(call: Read, orderId: string, fileId: string): Promise<FileAnswer> {
  await needVisible(call, 'delivery', orderId)
  return await fileOf(call, orderId, fileId)
}

async function fileOf(call: Read, orderId: string, fileId: string): Promise<FileAnswer> {
  const { rows } = await call.trx.raw<{ rows: { id: string; name: string; mediaType: string }[] }>(
    `select f.id, f.name, f.media_type from files f where f.id = :fileId
     and exists (select 1 from despatches where order_id = :orderId and f.id = any(file_ids) union all select 1 from work_reports where order_id = :orderId and f.id = any(file_ids))`,
    { orderId, fileId },
  )
  return sentFile(call, found(rows[0], 'file'))
}
