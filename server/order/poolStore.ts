import type { PoolLine } from '#core/order/draftOrders.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { openEventsOf } from '#server/source/eventStore.ts'
import { type RequisitionLineRow, withSplits } from '#server/request/requisitionStore.ts'

type PoolRow = RequisitionLineRow & {
  requisition: string
  requestTitle: string
  supplierName: string | null
  overReceiptPercent: number | null
  agreement: string | null
}

/** Holds lines in id order. Each of them has to be there; whether it can be bought is for the core to say. */
export async function heldToBuy(call: Write, lineIds: readonly string[]): Promise<PoolLine[]> {
  const held = await call
    .trx('requisitionLines')
    .whereIn('id', [...lineIds])
    .orderBy('id')
    .forNoKeyUpdate()
    .select('id')
  if (held.length !== new Set(lineIds).size)
    throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
  return await poolLines(call, lineIds)
}

export async function poolLines(call: Read, lineIds: readonly string[]): Promise<PoolLine[]> {
  const { rows } = await call.trx
    .raw<{ rows: PoolRow[] }>(
      `select l.*, r.number as requisition, r.title as request_title, s.name as supplier_name, s.over_receipt_percent, coalesce(a.number, o.agreement) as agreement from requisition_lines l
       join requisitions r on r.id = l.requisition_id left join suppliers s on s.id = l.supplier_id left join offers o on o.id = l.offer_id
       left join agreement_lines al on al.id = l.agreement_line_id left join agreements a on a.id = al.agreement_id where l.id = any(?) order by l.id`,
      [[...lineIds]],
    )
    .options({ name: 'pool-lines' })
  const lines = await withSplits(call, rows)
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const events = await openEventsOf(
    call,
    lines.map(line => line.id),
  )
  return lines.map(line => ({
    ...line,
    supplierName: line.supplierName ?? '',
    overReceiptPercent: line.overReceiptPercent ?? 0,
    agreement: line.agreement ?? '',
    event: events.get(line.id)?.number ?? '',
    sums: sums(line.id),
  }))
}
