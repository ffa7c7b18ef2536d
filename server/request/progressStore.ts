import { NO_QUANTITIES, type QuantityKind } from '#core/ledger/quantity.ts'
import type { Proof } from '#core/request/kinds.ts'
import { stillToCome } from '#core/order/measures.ts'
import { ORDER_GROUPS, type OrderState } from '#core/order/states.ts'
import { isIn } from '#core/states.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import type { SumsOf } from '#server/ledger/quantityStore.ts'

/** An order line that buys a requested one. */
export interface BoughtLine {
  readonly requestLineId: string
  readonly orderId: string
  readonly orderNumber: string
  /** The supplier owes it. */
  readonly live: boolean
  /** Something is still to come in or to be accepted. */
  readonly comes: boolean
}

/** What buys requested lines, the newest order first; cancelled orders buy nothing. */
export async function boughtLines(call: Read, lineIds: readonly string[]): Promise<Map<string, BoughtLine[]>> {
  if (lineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{
      rows: (Pick<BoughtLine, 'requestLineId' | 'orderId' | 'orderNumber'> & {
        state: OrderState
        proof: Proof
        quantity: string
        proven: string
      })[]
    }>(
      `select l.requisition_line_id as request_line_id, o.id as order_id, o.number as order_number, o.state, l.proof, l.quantity, l.proven
       from order_lines l join orders o on o.id = l.order_id where l.requisition_line_id = any(:ids) and o.state = any(:standing) order by o.created_at desc`,
      { ids: [...lineIds], standing: [...ORDER_GROUPS.standing] },
    )
    .options({ name: 'lines-that-buy' })
  return groupBy(
    rows.map(({ state, proof, quantity, proven, ...line }) => ({
      ...line,
      live: isIn(ORDER_GROUPS.live, state),
      comes: isIn(ORDER_GROUPS.live, state) && stillToCome({ proof, quantity, proven }) !== '0',
    })),
    line => line.requestLineId,
  )
}

/** How far requested lines have come through all their orders: what is proven and billed there is theirs. */
export async function sumsThroughOrders(call: Read, lineIds: readonly string[]): Promise<SumsOf> {
  if (lineIds.length === 0) return () => NO_QUANTITIES
  const { rows } = await call.trx
    .raw<{ rows: { lineId: string; kind: QuantityKind; quantity: string }[] }>(
      `select line_id, kind, quantity from quantity_balances where line_id = any(:ids) and kind in ('requested', 'ordered')
       union all select ol.requisition_line_id, b.kind, sum(b.quantity) from order_lines ol join orders o on o.id = ol.order_id join quantity_balances b on b.line_id = ol.id
       where ol.requisition_line_id = any(:ids) and o.state = any(:counted) and b.kind not in ('requested', 'ordered') group by 1, 2`,
      { ids: [...lineIds], counted: [...ORDER_GROUPS.counted] },
    )
    .options({ name: 'sums-through-orders' })
  const sums = new Map<string, Record<QuantityKind, string>>()
  for (const row of rows) sums.set(row.lineId, { ...(sums.get(row.lineId) ?? NO_QUANTITIES), [row.kind]: row.quantity })
  return lineId => sums.get(lineId) ?? NO_QUANTITIES
}
