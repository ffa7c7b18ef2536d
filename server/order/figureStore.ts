import { isBillable } from '#core/order/measures.ts'
import { keptFigures } from '#core/order/laws.ts'
import { lineValues, valuesSoFar } from '#core/order/standing.ts'
import type { Write } from '#server/call.ts'
import type { KnownOrder, OrderLineRow } from '#server/order/orderStore.ts'

/** Writes beside an order what the core says of it, where that changed: lists, threads and suppliers' pages read it. */
export async function keepFigures(call: Write, order: KnownOrder): Promise<void> {
  const now = keptFigures(order)
  const { receiveExtent, billExtent, needBy } = now
  if (
    receiveExtent !== order.kept.receiveExtent ||
    billExtent !== order.kept.billExtent ||
    needBy !== order.kept.needBy
  )
    // prettier-ignore
    await call.trx('orders').where({ id: order.id }).update({ receiveExtent, billExtent, needBy })
  const values = lineValues(order)
  const rows = order.lines.map((line, index) => {
    const { ordered: _ordered, ...soFar } = valuesSoFar(line, values.get(line.id)!)
    const { proven, billed, settled } = now.lines[index]!
    const billable = isBillable(line)
    return {
      id: line.id,
      proven,
      billed,
      settled,
      billable,
      confirmed_value: soFar.confirmed.toString(),
      received_value: soFar.received.toString(),
      billed_value: soFar.billed.toString(),
      paid_value: soFar.paid.toString(),
    }
  })
  const changed = rows.filter((row, index) => !sameFigures(row, order.rows[index]!))
  if (changed.length === 0) return
  await call.trx
    .raw(
      `update order_lines l set proven = f.proven, billed = f.billed, settled = f.settled, billable = f.billable, confirmed_value = f.confirmed_value, received_value = f.received_value, billed_value = f.billed_value, paid_value = f.paid_value
       from jsonb_to_recordset(?::jsonb) as f (id uuid, proven numeric, billed numeric, settled boolean, billable boolean, confirmed_value bigint, received_value bigint, billed_value bigint, paid_value bigint) where l.id = f.id`,
      [JSON.stringify(changed)],
    )
    .options({ name: 'keep-figures' })
}

type Figures = Record<'confirmed_value' | 'received_value' | 'billed_value' | 'paid_value', string> &
  Pick<OrderLineRow, 'proven' | 'billed' | 'settled' | 'billable'>

const sameFigures = (now: Figures, kept: OrderLineRow): boolean =>
  now.proven === kept.proven &&
  now.billed === kept.billed &&
  now.settled === kept.settled &&
  now.billable === kept.billable &&
  now.confirmed_value === kept.confirmedValue.toString() &&
  now.received_value === kept.receivedValue.toString() &&
  now.billed_value === kept.billedValue.toString() &&
  now.paid_value === kept.paidValue.toString()
