import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AnswerReports, ReadReports, SaveReport } from '#contract/receive/reports.ts'
import { proven } from '#core/order/measures.ts'
import { isWork } from '#core/request/kinds.ts'
import {
  acceptReport,
  leftFor,
  refuseReport,
  type ReportFacts,
  sendReport,
  whyNotAnswer,
  whyNotReport,
  workOrder,
} from '#core/receive/workReport.ts'
import { NOT_YOURS } from '#core/acts/decision.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, may, type Read, type Write } from '#server/call.ts'
import { hangFiles, namesOfFiles } from '#server/files/fileActs.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { say } from '#server/mail/mail.ts'
import { heldOrder, heldOwnOrder, knownOrder, type KnownOrder } from '#server/order/orderStore.ts'
import {
  columnsOf,
  entryOf,
  factsOf,
  freshReport,
  othersOf,
  reportsOf,
  type WorkReportRow,
} from '#server/receive/reportStore.ts'
import { needOwn } from '#server/order/orderStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

async function shown(call: Read, order: KnownOrder): Promise<ResponseOf<typeof ReadReports>> {
  const rows = await reportsOf(call, order.id)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const names = await namesOfFiles(call, rows.flatMap(row => row.fileIds)) // prettier-ignore
  return {
    lines: order.lines
      .filter(line => isWork(line.kind))
      .map(line => ({
        lineId: line.id,
        position: line.position,
        kind: line.kind,
        description: line.kind === 'personalFee' ? '' : line.description,
        unit: line.unit,
        ceiling: line.quantity,
        accepted: proven(line),
        waiting: othersOf(rows, line.id, null),
        left: leftFor(line, othersOf(rows, line.id, null)),
        order: workOrder(line.proof),
      })),
    reports: rows.map(row => ({
      ...entryWithout(row),
      files: row.fileIds.map(id => ({ id, name: names.get(id) ?? '' })),
      id: row.id,
      ours: row.number,
      lineId: row.orderLineId,
      position: lines.get(row.orderLineId)!.position,
      unit: lines.get(row.orderLineId)!.unit,
      state: row.state,
      origin: row.origin,
      accepted: row.accepted,
      answerReason: row.answerReason,
      by: row.by,
      at: row.changedAt,
      version: row.version,
      mayAnswer: whyNotAnswer(order, factsOf(row, rows), call.actor).length === 0,
    })),
  }
}

/** Files are shown with their names instead. */
function entryWithout(row: WorkReportRow) {
  const { fileIds: _fileIds, ...entry } = entryOf(row)
  return entry
}

export async function ownReports(call: Read, orderId: string): Promise<ResponseOf<typeof ReadReports>> {
  await needOwn(call, orderId)
  return await shown(call, await knownOrder(call, orderId))
}
export async function readReports(call: Read, orderId: string): Promise<ResponseOf<typeof ReadReports>> {
  await needVisible(call, 'delivery', orderId)
  return await shown(call, await knownOrder(call, orderId))
}

export const saveOwnReport = async (
  call: Write,
  orderId: string,
  body: BodyOf<typeof SaveReport>,
): Promise<Done & { number: string }> => await save(call, await heldOwnOrder(call, orderId), body, 'supplier')

/** One of us writes it on the supplier's word: whoever asked for the work, or buys it. */
export async function saveReport(
  call: Write,
  orderId: string,
  body: BodyOf<typeof SaveReport>,
): Promise<Done & { number: string }> {
  await needVisible(call, 'delivery', orderId)
  const order = await heldOrder(call, orderId)
  const line = found(
    order.lines.find(one => one.id === body.lineId),
    'orderLine',
  )
  if (line.requesterId !== call.actor.id && !may(call, 'order.write')) throw new RuleBroken(NOT_YOURS)
  return await save(call, order, body, 'requester')
}

async function save(
  call: Write,
  order: KnownOrder,
  { reportId, version, lineId, send, entry }: BodyOf<typeof SaveReport>,
  origin: ReportFacts['origin'],
): Promise<Done & { number: string }> {
  const rows = await reportsOf(call, order.id)
  refuse(whyNotReport(order, { lineId, entry, others: othersOf(rows, lineId, reportId) }))
  const row =
    reportId === null
      ? await freshReport(call, order, lineId, entry, origin)
      : await hold(call, 'workReport', reportId, version)
  found(row.orderId === order.id && row.orderLineId === lineId ? row : undefined, 'workReport')
  await hangFiles(call, { kind: 'workReport', id: row.id }, entry.fileIds ?? [], reportId === null ? [] : row.fileIds)
  const columns = columnsOf(entry)
  if (!send) {
    if (row.state !== 'draft') throw new RuleBroken(stop('report.sent'))
    return {
      ...(await move(call, 'workReport', row, columns, { action: 'written', changes: {}, reason: null })),
      number: row.number,
    }
  }
  const decided = obey(sendReport(order, { ...factsOf(row, rows), entry }))
  const done = await move(
    call,
    'workReport',
    row,
    { ...columns, state: decided.next.state, byId: call.actor.id },
    decided.did,
  )
  await move(call, 'order', order.row, {}, decided.did)
  await refreshThread(call, { orderIds: [order.id] })
  return { ...done, number: row.number }
}

/** Accepts reports in full, one of them in part, or refuses. Each accepted one makes a receipt. */
export async function answerReports(
  call: Write,
  { answer, reason, reports }: BodyOf<typeof AnswerReports>,
): Promise<{ answered: number }> {
  for (const { id, quantity } of reports) await answerOne(call, id, answer, quantity, reason)
  return { answered: reports.length }
}

async function answerOne(
  call: Write,
  id: string,
  answer: 'accept' | 'refuse',
  quantity: string | undefined,
  reason: string,
): Promise<void> {
  const { orderId } = found(await call.trx('workReports').where({ id }).first('orderId'), 'workReport')
  await needVisible(call, 'delivery', orderId)
  const order = await heldOrder(call, orderId)
  const row = await hold(call, 'workReport', id)
  const facts = factsOf(row, await reportsOf(call, orderId))
  const decided = obey(
    answer === 'accept'
      ? acceptReport(order, facts, quantity ?? row.quantity, call.actor, reason)
      : refuseReport(order, facts, call.actor, reason),
  )
  const { state, accepted } = decided.next
  const receiptId = answer === 'accept' ? await acceptedReceipt(call, order, row, accepted) : null
  if (receiptId) await postLedgers(call, { kind: 'receipt', id: receiptId }, decided)
  await move(call, 'workReport', row, { state, accepted, answerReason: reason, receiptId }, decided.did)
  await move(call, 'order', order.row, {}, decided.did)
  await say(call, decided.says, { kind: 'order', id: orderId })
  await refreshThread(call, { orderIds: [orderId] })
}

async function acceptedReceipt(call: Write, order: KnownOrder, row: WorkReportRow, quantity: string): Promise<string> {
  const id = randomUUID()
  const number = await nextNumber(call, 'receipt')
  const line = order.rows.find(one => one.id === row.orderLineId)!
  const placeId =
    line.addressId ?? found(await call.trx('addresses').where({ open: true }).orderBy('name').first('id'), 'address').id
  await call.trx('receipts').insert({ id, number, orderId: order.id, state: 'posted', receivedOn: call.today, placeId, note: '', source: row.origin === 'invoice' ? 'invoice' : 'workReport', checkReason: '', byId: call.actor.id, at: call.now, changedAt: call.now }) // prettier-ignore
  await call.trx('receiptLines').insert({ id: randomUUID(), receiptId: id, orderLineId: row.orderLineId, position: 1, quantity, enteredQuantity: quantity, enteredUnit: line.unit, bin: '', batch: '', bestBefore: null, condition: 'good', serials: [], note: row.number, becomes: 'work', inspect: false, billsWait: false, reversed: '0', returned: '0' }) // prettier-ignore
  await record(call, { kind: 'receipt', id, action: 'received', changes: { receipt: number, report: row.number } })
  return id
}
