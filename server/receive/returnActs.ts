import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { EndReturn, ReadReturns, SaveReturn } from '#contract/receive/returns.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { debitNet, endReturn as decideEnd, returnMail, sendReturn, whyNotReturn } from '#core/receive/goodsReturn.ts'
import { takeOut } from '#core/receive/stock.ts'
import { type Done, found, may, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { say } from '#server/mail/mail.ts'
import { HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { defaultsOf } from '#server/order/conditionStore.ts'
import { heldOrder, knownOrder, type KnownOrder } from '#server/order/orderStore.ts'
import { namedPieces } from '#server/receive/assetStore.ts'
import { endInspections } from '#server/receive/inspectionStore.ts'
import { type GoodsReturnRow, nextDebit, returnableParts, returnEntry } from '#server/receive/returnStore.ts'
import { holdStock, itemQuantities, postStock, stockFacts } from '#server/receive/stockStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Whether the supplier's setting is that billed goods that go back are taken off its bills. */
async function debitsOf(call: Read, order: KnownOrder): Promise<boolean> {
  const { supplier, location } = await defaultsOf(call, order.supplierId, order.locationId)
  return (location.debitOnReturn ?? supplier.debitOnReturn ?? HOUSE_DEFAULTS.debitOnReturn) === 'yes'
}

export async function readReturns(call: Read, orderId: string): Promise<ResponseOf<typeof ReadReturns>> {
  await needVisible(call, 'delivery', orderId)
  const order = await knownOrder(call, orderId)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const parts = [...(await returnableParts(call, orderId)).values()]
  const named = await namedPieces(call, parts.map(part => part.row)) // prettier-ignore
  const rows = await call.trx('goodsReturns').join('people', 'people.id', 'goodsReturns.byId').where({ orderId }).orderBy('createdAt', 'desc').select<(GoodsReturnRow & { by: string })[]>('goodsReturns.*', 'people.name as by') // prettier-ignore
  return {
    mayReturn: may(call, 'delivery.receive'),
    debits: await debitsOf(call, order),
    returnable: parts.map(part => ({
      partId: part.partId,
      lineId: part.lineId,
      position: lines.get(part.lineId)!.position,
      description: lines.get(part.lineId)!.description,
      receipt: part.receipt,
      left: part.there,
      unit: lines.get(part.lineId)!.unit,
      detail: [part.row.batch, part.row.bin, part.row.condition === 'damaged' ? 'damaged' : '']
        .filter(Boolean)
        .join(', '),
      notAccepted: part.notAccepted,
      becomes: part.becomes,
      pieces: named.get(part.partId) ?? [],
    })),
    returns: rows.map(row => ({
      ...returnEntry(row),
      lines: row.lines.map(one => ({ ...one, pieces: [...one.pieces] })),
      id: row.id,
      number: row.number,
      state: row.state,
      version: row.version,
      by: row.by,
      at: row.sentAt ?? row.createdAt,
      debitNumber: row.debitNumber,
      debitNet: formatAmount(minor(row.debitNet), row.currency),
      currency: row.currency,
    })),
  }
}

/** Writes a return, or lets the goods go: ledgers, stock, pieces and budget follow, and the supplier is told. */
export async function saveReturn(
  call: Write,
  orderId: string,
  { returnId, version, send, entry }: BodyOf<typeof SaveReturn>,
): Promise<Done & { number: string; debitNumber: string | null }> {
  const order = await heldOrder(call, orderId)
  const parts = await returnableParts(call, orderId)
  refuse(whyNotReturn(order, entry, parts))
  const row = returnId === null ? await fresh(call, order) : await hold(call, 'goodsReturn', returnId, version)
  found(row.orderId === orderId ? row : undefined, 'goodsReturn')
  const written = { ...entry, lines: json(entry.lines) }
  if (!send) {
    const done = await move(call, 'goodsReturn', row, written, { action: 'written', changes: {}, reason: null })
    return { ...done, number: row.number, debitNumber: null }
  }
  const facts = { number: row.number, state: row.state, entry }
  const decided = obey(sendReturn(order, facts, parts, await debitsOf(call, order), call.actor))
  const { debit, unproven } = decided.next
  await postLedgers(call, { kind: 'goodsReturn', id: row.id }, decided)
  await leave(call, row, entry.lines, parts)
  const debitNumber = debit.length > 0 ? await nextDebit(call) : null
  const kept = debit.map(({ net, ...line }) => ({ ...line, net: net.toString() }))
  const done = await move(call, 'goodsReturn', row, { ...written, state: 'sent', sentAt: call.now, debitNumber, debit: json(kept), debitNet: debitNet(debit) }, decided.did) // prettier-ignore
  await move(call, 'order', order.row, {}, decided.did)
  const text = debitNumber ? `${debitNumber}: ${order.currency} ${formatAmount(debitNet(debit), order.currency)}` : ''
  await say(call, [returnMail(order, facts, text)], { kind: 'order', id: orderId })
  await refreshThread(call, { unprovenIds: [...unproven] })
  await refreshThread(call, { orderIds: [orderId] })
  return { ...done, number: row.number, debitNumber }
}

async function fresh(call: Write, order: KnownOrder): Promise<GoodsReturnRow> {
  const row: GoodsReturnRow = { id: randomUUID(), number: await nextNumber(call, 'goodsReturn'), orderId: order.id, supplierId: order.supplierId, state: 'draft', reason: '', supplierNumber: '', wish: 'replacement', pickUpOn: null, carrier: '', lines: [], debitNumber: null, debit: [], debitNet: 0n, currency: order.currency, byId: call.actor.id, sentAt: null, version: 1, createdAt: call.now, changedAt: call.now } // prettier-ignore
  await call.trx('goodsReturns').insert({ ...row, lines: json([]), debit: json([]) })
  await record(call, { kind: 'goodsReturn', id: row.id, action: 'created' })
  return row
}

/** What leaves is no longer in its bin, and its pieces are no longer ours. */
async function leave(
  call: Write,
  row: GoodsReturnRow,
  lines: GoodsReturnRow['lines'],
  parts: Awaited<ReturnType<typeof returnableParts>>,
): Promise<void> {
  for (const { partId, quantity, pieces } of lines) {
    const { row: part } = parts.get(partId)!
    const returned = tidy(new Decimal(part.returned).plus(quantity))
    await call.trx('receiptLines').where({ id: partId }).update({ returned })
    if (new Decimal(returned).plus(part.reversed).equals(part.quantity)) {
      await call.trx('serialsHere').where({ receiptLineId: partId }).delete()
      await endInspections(call, [partId], 'returned')
    }
    for (const id of pieces) {
      const asset = await hold(call, 'asset', id)
      await move(call, 'asset', asset, { state: 'returned' }, { action: 'returned', changes: { return: row.number }, reason: null }) // prettier-ignore
    }
    if (part.becomes === 'stock') await outOfStock(call, row, { ...part, quantity })
  }
}

async function outOfStock(
  call: Write,
  row: GoodsReturnRow,
  part: { receiptId: string; orderLineId: string; bin: string; batch: string; quantity: string },
): Promise<void> {
  const { placeId } = found(await call.trx('receipts').where({ id: part.receiptId }).first('placeId'), 'receipt')
  const [one] = await itemQuantities(call, [part])
  await holdStock(call, [one!.itemId])
  const wanted = { itemId: one!.itemId, placeId, bin: part.bin, batch: part.batch, quantity: one!.quantity }
  await postStock(
    call,
    { kind: 'goodsReturn', id: row.id },
    takeOut(await stockFacts(call, [one!.itemId]), [wanted], 'returned'),
  )
}

export async function endReturn(
  call: Write,
  id: string,
  { version, how, reason }: BodyOf<typeof EndReturn>,
): Promise<Done> {
  const row = await hold(call, 'goodsReturn', id, version)
  const facts = { number: row.number, state: row.state, entry: returnEntry(row) }
  const decided = obey(decideEnd(facts, how, call.actor, reason))
  return await move(call, 'goodsReturn', row, { state: decided.next.state }, decided.did)
}
