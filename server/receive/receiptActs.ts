import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { AnswerReceipt, Receive, ReverseReceipt, SetBecomes } from '#contract/receive/endpoints.ts'
import type { Done as Decided } from '#core/acts/decision.ts'
import type { Counted, CountedPart } from '#core/receive/counts.ts'
import { serialKey } from '#core/receive/facts.ts'
import { answerOver, withdrawOver } from '#core/receive/overReceipt.ts'
import { receiveDelivery } from '#core/receive/receiveDelivery.ts'
import { allOf, reverseReceipt as decideReversal, type TakenBack } from '#core/receive/reverseReceipt.ts'
import { isWork } from '#core/request/kinds.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { DESPATCH_STATES } from '#core/receive/despatch.ts'
import { notNow } from '#core/states.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { ask, consentsById, settleConsent } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { heldOrder, type KnownOrder } from '#server/order/orderStore.ts'
import {
  countedParts,
  partsOf,
  type ReceiptLineRow,
  type ReceiptSource,
  receiptFacts,
} from '#server/receive/receiptStore.ts'
import { arrivalsOfCounts } from '#server/receive/arrivalStore.ts'
import { inspectionsOfCounts } from '#server/receive/inspectionStore.ts'
import { piecesOfCounts } from '#server/receive/assetStore.ts'
import type { Becomes, Taken } from '#server/receive/becoming.ts'
import { stockOfCounts } from '#server/receive/stockStore.ts'
import { receivingFacts } from '#server/receive/receivingStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** What becomes of counts, each kind of it. */
const BECOMING: readonly Becomes[] = [piecesOfCounts, stockOfCounts, inspectionsOfCounts, arrivalsOfCounts]

/** Takes goods in, or accepts work. Counts add up: two people receiving the same line wait for each other. */
export async function receive(
  call: Write,
  orderId: string,
  body: BodyOf<typeof Receive>,
  source: ReceiptSource = 'desk',
): Promise<Done & { number: string; state: string }> {
  const order = await heldOrder(call, orderId)
  const { open } = found(await call.trx('addresses').where({ id: body.placeId }).first('open'), 'address')
  if (!open) throw new RuleBroken(stop('receive.closedPlace', {}, { place: 'placeId' }))
  const counted: Counted = { receivedOn: body.receivedOn, lines: body.lines, checkReason: body.checkReason ?? '' }
  const facts = await receivingFacts(call, counted.lines)
  const decided = obey(receiveDelivery(order, counted, call.actor, call.today, facts))
  return await keepReceipt(call, order, decided, { ...body, source })
}

type ReceiptNextDone = Decided<{
  state: 'posted' | 'asked'
  lines: readonly CountedPart[]
  asks: Parameters<typeof ask>[1] | null
}>

async function keepReceipt(
  call: Write,
  order: KnownOrder,
  decided: ReceiptNextDone,
  {
    receivedOn,
    placeId,
    note,
    checkReason = '',
    despatchId,
    source,
  }: Omit<BodyOf<typeof Receive>, 'lines'> & { source: ReceiptSource },
): Promise<Done & { number: string; state: string }> {
  const { state, lines, asks } = decided.next
  const id = randomUUID()
  const number = await nextNumber(call, 'receipt')
  const taken = { id, number, receivedOn, placeId }
  if (despatchId !== undefined) await arrived(call, order, despatchId)
  await call.trx('receipts').insert({ ...taken, orderId: order.id, state, note, source, checkReason, despatchId: despatchId ?? null, byId: call.actor.id, at: call.now, changedAt: call.now }) // prettier-ignore
  const rows = lines.map(({ lineId, serials, ...part }, index): ReceiptLineRow => ({
    ...part,
    id: randomUUID(),
    receiptId: id,
    orderLineId: lineId,
    position: index + 1,
    serials: [...serials],
    reversed: '0',
    returned: '0',
  }))
  await call.trx('receiptLines').insert(rows)
  if (asks) await askOver(call, order, { id, number }, asks)
  await postLedgers(call, { kind: 'receipt', id }, decided)
  const changes = { receipt: number, ...decided.did.changes }
  await record(call, { kind: 'receipt', id, ...decided.did, changes })
  if (state === 'posted') await nowCounts(call, order, taken, rows)
  await move(call, 'order', order.row, {}, { ...decided.did, changes })
  await refreshThread(call, { orderIds: [order.id] })
  return { id, version: 1, number, state }
}

/** The announcement is here: it is corrected no more. */
async function arrived(call: Write, order: KnownOrder, despatchId: string): Promise<void> {
  const row = await hold(call, 'despatch', despatchId)
  found(row.orderId === order.id ? row : undefined, 'despatch')
  const against = notNow(DESPATCH_STATES, 'despatch', row.state, 'receive')
  if (against.length > 0) throw new RuleBroken(against)
  await move(call, 'despatch', row, { state: 'received' }, { action: 'received', changes: {}, reason: null })
}

/** What counts becomes what it becomes, and its serial numbers are here. */
async function nowCounts(
  call: Write,
  order: KnownOrder,
  receipt: Taken,
  rows: readonly ReceiptLineRow[],
): Promise<void> {
  const lines = new Map(order.rows.map(line => [line.id, line]))
  const serials = rows.flatMap(row => row.serials.map(serial => ({ key: serialKey(lines.get(row.orderLineId)!.itemId ?? row.orderLineId, serial), serial, receiptLineId: row.id }))) // prettier-ignore
  await serialsCome(call, serials)
  const inspected = [
    ...new Set(
      rows.filter(row => row.billsWait && !isWork(lines.get(row.orderLineId)!.kind)).map(row => row.orderLineId),
    ),
  ]
  if (inspected.length > 0) await call.trx('orderLines').whereIn('id', inspected).update({ inspects: true })
  for (const one of BECOMING) await one.taken(call, order, receipt, rows)
}

/** Serial numbers are here from now on: one that came meanwhile, with another count, is refused. */
async function serialsCome(
  call: Write,
  serials: readonly { key: string; serial: string; receiptLineId: string }[],
): Promise<void> {
  if (serials.length === 0) return
  const { rows } = await call.trx.raw<{ rows: { key: string }[] }>(
    `insert into serials_here (key, serial, receipt_line_id) select key, serial, receipt_line_id from jsonb_to_recordset(?::jsonb) as one (key text, serial text, receipt_line_id uuid)
     on conflict do nothing returning key`,
    [JSON.stringify(serials.map(({ receiptLineId, ...one }) => ({ ...one, receipt_line_id: receiptLineId })))],
  )
  const come = new Set(rows.map(row => row.key))
  const known = serials.find(one => !come.has(one.key))
  if (known) throw new RuleBroken(stop('serial.known', { serial: known.serial }, { place: 'serials' }))
}

async function askOver(
  call: Write,
  order: KnownOrder,
  receipt: { id: string; number: string },
  asks: Parameters<typeof ask>[1],
): Promise<void> {
  const about = {
    number: receipt.number,
    title: `${order.number}, ${order.supplier}`,
    who: call.actor.name,
    extra: asks.reason,
    amount: null,
    currency: null,
    needBy: null,
    path: pathOf('receipt', order.id),
  }
  const consent = await ask(call, { ...asks, documentId: receipt.id }, about)
  await call.trx('receipts').where({ id: receipt.id }).update({ consentId: consent.id })
}

/** Somebody else answers for a count above the tolerance, or whoever made it takes it back. */
export async function answerReceipt(
  call: Write,
  receiptId: string,
  { answer, reason }: BodyOf<typeof AnswerReceipt>,
): Promise<Done> {
  const { orderId } = found(await call.trx('receipts').where({ id: receiptId }).first('orderId'), 'receipt')
  const order = await heldOrder(call, orderId)
  const row = await hold(call, 'receipt', receiptId)
  const parts = await partsOf(call, [receiptId])
  const consent =
    row.consentId === null ? null : ((await consentsById(call, [row.consentId])).get(row.consentId) ?? null)
  const asked = { number: row.number, state: row.state, parts: countedParts(parts), consent }
  const decided = obey(
    answer === 'withdraw'
      ? withdrawOver(asked, call.actor, reason)
      : answerOver(asked, order, call.actor, answer, reason),
  )
  await settleConsent(call, consent!, decided.next.consent)
  await postLedgers(call, { kind: 'receipt', id: receiptId }, decided)
  if (decided.next.state === 'posted') await nowCounts(call, order, row, parts)
  const done = await move(call, 'receipt', row, { state: decided.next.state }, decided.did)
  await move(call, 'order', order.row, {}, decided.did)
  await refreshThread(call, { orderIds: [orderId] })
  return done
}

/** Takes counts out of a receipt with counter-entries; what is billed on the strength of them is matched anew. */
export async function reverseReceipt(
  call: Write,
  receiptId: string,
  { reason, parts: wanted }: BodyOf<typeof ReverseReceipt>,
): Promise<Done & { unproven: number }> {
  const { orderId } = found(await call.trx('receipts').where({ id: receiptId }).first('orderId'), 'receipt')
  const order = await heldOrder(call, orderId)
  const row = await hold(call, 'receipt', receiptId)
  const receipt = (await receiptFacts(call, [receiptId])).get(receiptId)!
  const decided = obey(decideReversal(receipt, order, call.actor, reason, wanted ?? allOf(receipt)))
  const { state, parts, unproven } = decided.next
  await postLedgers(call, { kind: 'receipt', id: receiptId }, decided)
  await takeOut(call, order, row, parts)
  const done = await move(call, 'receipt', row, { state }, decided.did)
  await move(call, 'order', order.row, {}, decided.did)
  // bills first: what they no longer bill is what the order's figures are made of
  await refreshThread(call, { unprovenIds: unproven.map(line => line.lineId) })
  await refreshThread(call, { orderIds: [orderId] })
  return { ...done, unproven: unproven.length }
}

async function takeOut(call: Write, order: KnownOrder, receipt: Taken, taken: readonly TakenBack[]): Promise<void> {
  const rows = await partsOf(call, [receipt.id])
  const outs = taken.map(out => {
    const row = rows.find(one => one.id === out.partId)!
    return { ...row, out, reversed: tidy(new Decimal(row.reversed).plus(out.quantity)) }
  })
  for (const { id, reversed } of outs) await call.trx('receiptLines').where({ id }).update({ reversed })
  const whole = outs.filter(one => new Decimal(one.reversed).equals(one.quantity)).map(one => one.id)
  await call.trx('serialsHere').whereIn('receiptLineId', whole).delete()
  for (const one of BECOMING) await one.back(call, order, receipt, outs)
}

/** Says of a line what its goods become, otherwise than its item and category say. */
export async function setBecomes(
  call: Write,
  orderId: string,
  lineId: string,
  { version, becomes }: BodyOf<typeof SetBecomes>,
): Promise<Done> {
  const order = await heldOrder(call, orderId, version)
  const line = found(
    order.rows.find(one => one.id === lineId),
    'orderLine',
  )
  if (isWork(line.kind)) throw new RuleBroken(stop('receive.workBecomes'))
  const { becomes: before, ...rest } = line.receiving
  const receiving = becomes === null ? rest : { ...rest, becomes }
  await call
    .trx('orderLines')
    .where({ id: lineId })
    .update({ receiving: json(receiving) })
  const changes = { line: line.position, before: { becomes: before ?? '' }, after: { becomes: becomes ?? '' } }
  return await move(call, 'order', order.row, {}, { action: 'becomes', changes, reason: null })
}
