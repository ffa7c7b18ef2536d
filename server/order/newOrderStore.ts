import { randomUUID } from 'node:crypto'
import type { NewOrder } from '#core/order/draftOrders.ts'
import type { Done, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { nextNumber } from '#server/documents/number.ts'
import { insertSplits } from '#server/ledger/splitStore.ts'
import { chargeRows } from '#server/order/orderStore.ts'

/** Writes a draft with its lines. */
export async function insertDraft(
  call: Write,
  order: NewOrder & { readonly formerNumber?: string; readonly forInvoiceId?: string },
): Promise<Done & { number: string }> {
  const id = randomUUID()
  const number = await nextNumber(call, 'order')
  const { lines, from, supplierName, chargeItems = [], ...head } = order
  await call.trx('orders').insert({
    ...head,
    chargeItems: json(chargeRows(chargeItems)),
    id,
    number,
    state: 'draft',
    buyerId: call.actor.id,
    createdAt: call.now,
    changedAt: call.now,
    search: [
      number,
      head.title,
      supplierName,
      ...from,
      ...lines.filter(line => line.kind !== 'personalFee').map(line => line.description),
    ]
      .join(' ')
      .toLowerCase()
      .slice(0, 4000),
  })
  const rows = lines.map((line, index) => ({ ...line, id: randomUUID(), orderId: id, position: index + 1 }))
  await insertMany(
    call.trx,
    'orderLines',
    rows.map(({ splits: _splits, details, ...row }) => ({ ...row, details: json(details) })),
  )
  await insertSplits(call, 'orderLineId', rows)
  await record(call, { kind: 'order', id, action: 'drafted', changes: { from } })
  return { id, version: 1, number }
}
