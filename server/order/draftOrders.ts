import { openFigures } from '#core/ledger/quantity.ts'
import { lineAmount, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { lockToBuy } from '#server/order/toBuy.ts'

import { baseRate } from '#server/request/rates.ts'
import { refreshRequisitions, type RequisitionLineRow } from '#server/request/requisitionStore.ts'
import { randomUUID } from 'node:crypto'

/** Groups approved lines by supplier and currency into draft orders; what was ordered of a line already stays out. */
export async function draftOrders(call: Call, lineIds: readonly string[], route: 'orderNow' | 'callOff' = 'orderNow'): Promise<(Done & { number: string })[]> {
  const lines = await lockToBuy(call, lineIds)
  await refuseRoute(call, lines, route)
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const agreements = await agreementsOf(call, lines)
  const agreement = (line: RequisitionLineRow): string => (route === 'callOff' ? (agreements.get(line.id) ?? '') : '')
  const groups = new Map<string, RequisitionLineRow[]>()
  const key = (line: RequisitionLineRow): string => `${line.supplierId} ${line.currency} ${agreement(line)}`
  for (const line of lines) groups.set(key(line), [...(groups.get(key(line)) ?? []), line])
  const made = []
  for (const group of groups.values()) made.push(await draftOrder(call, group, id => openFigures(sums(id)).toOrder, agreement(group[0]!)))
  await refreshRequisitions(call, lineIds)
  return made
}

/** Buying lines together allows only what all of them allow; a line with an open question waits for its answer. */
async function refuseRoute(call: Call, lines: readonly RequisitionLineRow[], route: 'orderNow' | 'callOff'): Promise<void> {
  const reasons = lines.flatMap(line => {
    if (line.asked) return [stop('pool.questionOpen', { line: line.description }, { clearedBy: ['requester'] })]
    if (line.supplierId === null) return [stop('pool.noSupplier', { line: line.description })]
    return line.routes.includes(route) ? [] : [stop('pool.routeForbids', { line: line.description, route, routes: line.routes.join(', ') }, { clearedBy: ['requester'] })]
  })
  if (route === 'callOff') {
    const agreements = await agreementsOf(call, lines)
    for (const line of lines) if (!agreements.get(line.id)) reasons.push(stop('pool.noAgreement', { line: line.description }))
  }
  if (reasons.length > 0) throw new RuleBroken(reasons)
}

async function agreementsOf(call: Call, lines: readonly RequisitionLineRow[]): Promise<Map<string, string>> {
  const ids = lines.map(line => line.offerId).filter(id => id !== null)
  const offers = new Map(((await call.trx('offers').whereIn('id', ids).select('id', 'agreement')) as { id: string; agreement: string }[]).map(row => [row.id, row.agreement]))
  return new Map(lines.map(line => [line.id, (line.offerId && offers.get(line.offerId)) || '']))
}

async function draftOrder(call: Call, group: readonly RequisitionLineRow[], toOrder: (lineId: string) => string, agreement: string): Promise<Done & { number: string }> {
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
        proof: line.proof,
        details: JSON.stringify({ ...line.details, person: undefined }),
        incoterm: line.incoterm,
        incotermPlace: line.incotermPlace,
        overReceiptPercent: line.kind === 'goods' ? supplier.overReceiptPercent : 0,
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
    agreement,
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
