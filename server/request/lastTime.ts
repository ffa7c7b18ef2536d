import { dearer } from '#core/decide/lastTime.ts'
import { dayOf, type Read } from '#server/call.ts'
import { byId } from '#server/database/rows.ts'
import type { RequisitionLine } from '#server/request/requisitionStore.ts'

interface Bought {
  id: string
  issuedAt: string
  price: string
  priceBase: string
  unit: string
  rate: string
}

/** How each line compares with the last order of the same item that was issued before the request was made. */
export async function lastTimes(
  call: Read,
  requisitionId: string,
  lines: readonly RequisitionLine[],
  rates: ReadonlyMap<string, string | null>,
): Promise<Map<string, { day: string; percent: number }>> {
  const { rows } = await call.trx
    .raw<{ rows: Bought[] }>(
      `select distinct on (l.id) l.id, o.issued_at, b.price, b.price_base, b.unit, o.rate
       from requisition_lines l join requisitions r on r.id = l.requisition_id join order_lines b on b.item_id = l.item_id and b.requisition_line_id is distinct from l.id
       join orders o on o.id = b.order_id and o.issued_at < coalesce(r.submitted_at, r.created_at) where l.requisition_id = ? order by l.id, o.issued_at desc, b.id`,
      [requisitionId],
    )
    .options({ name: 'last-times' })
  const before = byId(rows)
  return new Map(
    lines.flatMap(line => {
      const then = before.get(line.id)
      const rate = line.currency === call.base ? '1' : (rates.get(line.currency) ?? null)
      const percent = then && rate !== null ? dearer({ ...line, rate }, then) : null
      return then && percent !== null ? [[line.id, { day: dayOf(then.issuedAt, call.house.zone), percent }]] : []
    }),
  )
}
