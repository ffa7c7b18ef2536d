import { RuleBroken, stop } from '#core/reasons.ts'
import type { Call } from '#server/call.ts'
import type { RequisitionLineRow } from '#server/request/requisitionStore.ts'

/** Locks lines in id order; each of them has to wait to be bought. */
export async function lockToBuy(call: Call, lineIds: readonly string[]): Promise<RequisitionLineRow[]> {
  const lines = (await call
    .trx('requisitionLines')
    .whereIn('id', [...lineIds])
    .orderBy('id')
    .forNoKeyUpdate()) as RequisitionLineRow[]
  if (lines.length !== new Set(lineIds).size) throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
  const late = lines.filter(line => line.state !== 'toBuy')
  if (late.length > 0) throw new RuleBroken(late.map(line => stop('order.lineNotToBuy', { line: line.description, state: line.state })))
  return lines
}
