import { openFigures } from '#core/ledger/quantity.ts'
import { lineAmount, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'

import { baseRate } from '#server/request/rates.ts'
import { refreshRequisitions, type RequisitionLineRow } from '#server/request/requisitionStore.ts'
import { randomUUID } from 'node:crypto'

/** Groups approved lines by supplier and currency into draft orders; what was ordered of a line already stays out. */
export async function draftOrders(call: Call, lineIds: readonly string[]): Promise<(Done & { number: string })[]> {
  const lines = (await call
    .trx('requisitionLines')
    .whereIn('id', [...lineIds])
    .orderBy('id')
    .forNoKeyUpdate()) as RequisitionLineRow[]
  if (lines.length !== new Set(lineIds).size) throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
  const taken = lines.filter(line => line.state !== 'toBuy')
  if (taken.length > 0) throw new RuleBroken(taken.map(line => stop('order.lineNotToBuy', { line: line.description, state: line.state })))
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const groups = new Map<string, RequisitionLineRow[]>()
  for (const line of lines) groups.set(`${line.supplierId} ${line.currency}`, [...(groups.get(`${line.supplierId} ${line.currency}`) ?? []), line])
  const made = []
  for (const group of groups.values()) made.push(await draftOrder(call, group, id => openFigures(sums(id)).toOrder))
  await refreshRequisitions(call, lineIds)
  return made
}

async function draftOrder(call: Call, group: readonly RequisitionLineRow[], toOrder: (lineId: string) => string): Promise<Done & { number: string }> {
  const first = group[0]!
  const supplier = found(
    (await call.trx('suppliers').where({ id: first.supplierId }).first('id', 'name', 'state', 'overReceiptPercent')) as
      { id: string; name: string; state: string; overReceiptPercent: number } | undefined,
    'supplier',
  )
  const heads = (await call
    .trx('requisitions')
    .whereIn(
      'id',
      group.map(line => line.requisitionId),
    )
    .orderBy('number')
    .select('number', 'title')) as { number: string; title: string }[]
  const rate = await baseRate(call, first.currency)
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'O-' || nextval('order_numbers') as number`)) as { rows: [{ number: string }] }
  const number = rows[0].number
  const lines = [...group]
    .sort((a, b) => (a.requisitionId < b.requisitionId ? -1 : a.requisitionId > b.requisitionId ? 1 : a.position - b.position))
    .map((line, index) => {
      const quantity = toOrder(line.id)
      const amount = lineAmount({ ...line, quantity })
      return {
        id: randomUUID(),
        orderId: id,
        position: index + 1,
        requisitionLineId: line.id,
        kind: line.kind,
        itemId: line.itemId,
        description: line.description,
        quantity,
        unit: line.unit,
        price: line.price,
        priceBase: line.priceBase,
        amount,
        baseAmount: toBase(amount, line.currency, rate, call.base),
        needBy: line.needBy,
        addressId: line.addressId,
        splits: JSON.stringify(line.splits),
        overReceiptPercent: supplier.overReceiptPercent,
      }
    })
  const title = heads.length === 1 ? heads[0]!.title : `${heads[0]!.title} and ${heads.length - 1} more`
  const total = sumMinor(lines.map(line => line.amount))
  await call.trx('orders').insert({
    id,
    number,
    title,
    state: 'draft',
    supplierId: supplier.id,
    buyerId: call.actor.id,
    currency: first.currency,
    rate,
    total,
    baseTotal: sumMinor(lines.map(line => line.baseAmount)),
    addressId: first.addressId,
    needBy:
      lines
        .map(line => line.needBy)
        .filter(day => day !== null)
        .sort()[0] ?? null,
    createdAt: call.now,
    changedAt: call.now,
    search: `${number} ${title} ${supplier.name} ${heads.map(head => head.number).join(' ')} ${lines.map(line => line.description).join(' ')}`.toLowerCase().slice(0, 4000),
  })
  await call.trx.batchInsert('orderLines', lines as unknown as Record<string, unknown>[], 200)
  await record(call, { kind: 'order', id, action: 'drafted', changes: { from: heads.map(head => head.number) } })
  return { id, version: 1, number }
}
