import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type Call } from '#server/call.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { type OrderLineRow } from '#server/order/orderStore.ts'

/** How much dearer than approved, in per cent, an order line may be before the request has to be decided again. */
export const OVER_APPROVED_PERCENT = 10

export async function checkAgainstRequest(call: Call, lines: readonly OrderLineRow[]): Promise<Reason[]> {
  const ids = lines.map(line => line.requisitionLineId).filter(id => id !== null)
  const requested = new Map(
    ((await call.trx('requisitionLines').whereIn('id', ids).select('id', 'quantity', 'baseAmount')) as { id: string; quantity: string; baseAmount: bigint }[]).map(row => [
      row.id,
      row,
    ]),
  )
  const sums = await quantitySums(call, ids)
  const ordered = (await call.trx.raw(
    `select requisition_line_id as id, sum(quantity) as quantity from order_lines join orders on orders.id = order_id where requisition_line_id = any(?) and orders.state not in ('draft', 'cancelled') and order_lines.id <> all(?) group by 1`,
    [ids, lines.map(line => line.id)],
  )) as { rows: { id: string; quantity: string }[] }
  const elsewhere = new Map(ordered.rows.map(row => [row.id, row.quantity]))
  return lines.flatMap(line => {
    const request = line.requisitionLineId ? requested.get(line.requisitionLineId) : undefined
    if (!request || !line.requisitionLineId) return []
    const open = new Decimal(sums(line.requisitionLineId).requested).minus(elsewhere.get(line.requisitionLineId) ?? 0)
    const place = `lines.${line.position}`
    if (new Decimal(line.quantity).gt(open))
      return [stop('order.overRequested', { line: line.description, open: open.toString(), wanted: line.quantity }, { place: `${place}.quantity`, clearedBy: ['requester'] })]
    const approved = new Decimal(request.baseAmount.toString()).times(line.quantity).dividedBy(request.quantity)
    const limit = approved.times(100 + OVER_APPROVED_PERCENT).dividedBy(100)
    return new Decimal(line.baseAmount.toString()).gt(limit)
      ? [
          stop(
            'order.overApproved',
            {
              line: line.description,
              approved: formatAmount(BigInt(approved.toFixed(0)), call.base),
              wanted: formatAmount(line.baseAmount, call.base),
              percent: OVER_APPROVED_PERCENT,
            },
            { place: `${place}.price`, clearedBy: ['requester'] },
          ),
        ]
      : []
  })
}
