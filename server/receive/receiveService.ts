import { randomUUID } from 'node:crypto'
import { type Outstanding, releaseShare, spread } from '#core/ledger/commitments.ts'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { checkReceipt, checkReversal } from '#core/receive/receipt.ts'
import { checks, refuseStops, type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { isWork, provenBy, provenFirst } from '#core/request/kinds.ts'
import { rematchForOrders } from '#server/bill/matchService.ts'
import { type Call, type Done, found, may } from '#server/call.ts'
import { outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { committedValues } from '#server/order/commitment.ts'
import { lockOrder, type OrderLineRow, orderLines, type OrderRow, refreshExtents } from '#server/order/orderStore.ts'
import { refreshRequisitions } from '#server/request/requisitionStore.ts'

export interface Counted {
  readonly receivedOn: string
  readonly placeId: string
  readonly note: string
  readonly checkReason?: string | undefined
  readonly lines: readonly { lineId: string; quantity: string }[]
}

/** Who asked for each line; work is accepted by them, and only by them. */
export async function requesterOf(call: Call, lines: readonly OrderLineRow[]): Promise<Map<string, string>> {
  const ids = lines.map(line => line.requisitionLineId).filter(id => id !== null)
  const rows = (await call
    .trx('requisitionLines')
    .join('requisitions', 'requisitions.id', 'requisitionLines.requisitionId')
    .whereIn('requisitionLines.id', ids)
    .select('requisitionLines.id', 'requesterId')) as { id: string; requesterId: string }[]
  const byRequest = new Map(rows.map(row => [row.id, row.requesterId]))
  return new Map(lines.map(line => [line.id, byRequest.get(line.requisitionLineId ?? '') ?? '']))
}

/** Takes goods in, or accepts work. Counts add up: two people receiving the same line wait for each other. */
export async function receive(call: Call, orderId: string, counted: Counted): Promise<Done & { number: string }> {
  const order = await lockOrder(call, orderId)
  if (order.state !== 'issued' && order.state !== 'acknowledged')
    throw new RuleBroken(stop('receive.notOpen', { number: order.number, state: order.state }, { clearedBy: ['buyer'] }))
  if (counted.receivedOn > call.today) throw new RuleBroken(stop('receive.future', { today: call.today }, { place: 'receivedOn' }))
  found(await call.trx('addresses').where({ id: counted.placeId }).first('id'), 'address')
  const all = await orderLines(call, orderId)
  const lines = counted.lines.map(count => ({
    ...found(
      all.find(line => line.id === count.lineId),
      'orderLine',
    ),
    counted: count.quantity,
  }))
  if (new Set(lines.map(line => line.id)).size !== lines.length) throw new RuleBroken(stop('receive.lineTwice'))
  await refuseOthers(call, lines)
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const unproven = lines.filter(line => line.proof === 'none')
  if (unproven.length > 0) throw new RuleBroken(unproven.map(line => stop('receive.notProven', { line: line.description })))
  const reasons = lines.flatMap((line): Reason[] =>
    checkReceipt({
      position: line.position,
      quantity: line.counted,
      ordered: line.quantity,
      alreadyReceived: sums(line.id)[provenBy(line.kind)],
      overTolerancePercent: line.overReceiptPercent,
    }),
  )
  refuseStops(reasons)
  const asking = checks(reasons)
  if (asking.length > 0 && (counted.checkReason ?? '').trim().length < 3) throw new RuleBroken([stop('receive.wantsReason'), ...asking])
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'G-' || nextval('receipt_numbers') as number`)) as { rows: [{ number: string }] }
  await call.trx('receipts').insert({
    id,
    number: rows[0].number,
    orderId,
    state: 'posted',
    receivedOn: counted.receivedOn,
    placeId: counted.placeId,
    note: counted.note,
    byId: call.actor.id,
    at: call.now,
  })
  await call.trx('receiptLines').insert(lines.map(line => ({ id: randomUUID(), receiptId: id, orderLineId: line.id, quantity: line.counted })))
  await postQuantities(
    call,
    { kind: 'receipt', id },
    lines.map(line => ({ lineId: line.id, kind: provenBy(line.kind), quantity: line.counted })),
  )
  await postBudget(call, { kind: 'receipt', id }, accrue(call, order, all, lines, sums))
  await after(call, order, all, {
    action: 'received',
    changes: { receipt: rows[0].number, lines: lines.map(line => ({ position: line.position, quantity: line.counted, unit: line.unit })) },
    reason: counted.checkReason ?? null,
  })
  return { id, version: 1, number: rows[0].number }
}

/** What came in and is not yet billed is accrued at the ordered price; work that was billed before it is accepted is spent already. */
function accrue(
  call: Call,
  order: OrderRow,
  all: readonly OrderLineRow[],
  lines: readonly (OrderLineRow & { counted: string })[],
  before: Awaited<ReturnType<typeof quantitySums>>,
) {
  const values = committedValues(order, all, call.base)
  return lines.flatMap(line => {
    const own = before(line.id)
    const proven = new Decimal(own[provenBy(line.kind)])
    const billed = new Decimal(own.billed).minus(own.credited)
    const open = Decimal.max(0, proven.plus(line.counted).minus(billed)).minus(Decimal.max(0, proven.minus(billed)))
    const value = new Decimal(values.get(line.id)!.toString()).times(open).dividedBy(line.quantity)
    return spread('accrued', line.id, minor(BigInt(value.toFixed(0, Decimal.ROUND_HALF_UP))), line.splits)
  })
}

async function refuseOthers(call: Call, lines: readonly OrderLineRow[]): Promise<void> {
  if (lines.some(line => !isWork(line.kind)) && !may(call, 'delivery.receive')) throw new RuleBroken(stop('receive.goodsByReceiver', {}, { clearedBy: ['receiver'] }))
  const work = lines.filter(line => isWork(line.kind))
  if (work.length === 0) return
  const requesters = await requesterOf(call, work)
  if (work.some(line => requesters.get(line.id) !== call.actor.id)) throw new RuleBroken(stop('receive.workByRequester', {}, { clearedBy: ['requester'] }))
}

async function after(call: Call, order: OrderRow, lines: readonly OrderLineRow[], happening: { action: string; changes: unknown; reason: string | null }): Promise<void> {
  await refreshExtents(call, order.id, lines)
  await call
    .trx('orders')
    .where({ id: order.id })
    .update({ version: order.version + 1, changedAt: call.now })
  await record(call, { kind: 'order', id: order.id, ...happening })
  await refreshRequisitions(
    call,
    lines.map(line => line.requisitionLineId).filter(id => id !== null),
  )
  await rematchForOrders(
    call,
    lines.map(line => line.id),
  )
}

/** Takes a receipt back with counter-entries, as far as it is not billed. */
export async function reverseReceipt(call: Call, receiptId: string, reason: string): Promise<Done> {
  const known = found((await call.trx('receipts').where({ id: receiptId }).first('orderId')) as { orderId: string } | undefined, 'receipt')
  const order = await lockOrder(call, known.orderId)
  const receipt = found(
    (await call.trx('receipts').where({ id: receiptId }).forNoKeyUpdate().first()) as { id: string; number: string; state: string; version: number; byId: string } | undefined,
    'receipt',
  )
  if (receipt.state === 'reversed') throw new RuleBroken(stop('receive.reversedAlready', { number: receipt.number }))
  if (order.state === 'closed' || order.state === 'sealed') throw new RuleBroken(stop('receive.notOpen', { number: order.number, state: order.state }, { clearedBy: ['buyer'] }))
  if (!may(call, 'delivery.receive') && receipt.byId !== call.actor.id) throw new RuleBroken(stop('right.notYours'))
  const all = await orderLines(call, order.id)
  const entries = (await call.trx('quantityEntries').where({ documentId: receiptId }).orderBy('id')) as {
    id: bigint
    lineId: string
    kind: 'received' | 'accepted'
    quantity: string
  }[]
  const sums = await quantitySums(
    call,
    entries.map(entry => entry.lineId),
  )
  refuseStops(
    entries.flatMap(entry =>
      checkReversal({
        quantity: entry.quantity,
        received: sums(entry.lineId)[entry.kind],
        billed: provenFirst(all.find(line => line.id === entry.lineId)!.proof) ? sums(entry.lineId).billed : '0',
      }),
    ),
  )
  const accrued = await outstanding(
    call,
    entries.map(entry => entry.lineId),
  )
  await postQuantities(
    call,
    { kind: 'receipt', id: receiptId },
    entries.map(entry => ({ lineId: entry.lineId, kind: entry.kind, quantity: `-${entry.quantity}`, reversesId: entry.id.toString() })),
  )
  await postBudget(
    call,
    { kind: 'receipt', id: receiptId },
    entries.flatMap(entry =>
      releaseShare(
        accrued.filter((part: Outstanding) => part.lineId === entry.lineId),
        'accrued',
        entry.quantity,
        new Decimal(sums(entry.lineId)[entry.kind]).minus(sums(entry.lineId).billed).toString(),
      ),
    ),
  )
  await call
    .trx('receipts')
    .where({ id: receiptId })
    .update({ state: 'reversed', version: receipt.version + 1 })
  await after(call, order, all, { action: 'receiptReversed', changes: { receipt: receipt.number }, reason })
  return { id: receiptId, version: receipt.version + 1 }
}
