import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveReport } from '#contract/receive/reports.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { ReportFacts, ReportState } from '#core/receive/workReport.ts'
import type { Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'

export interface WorkReportRow {
  id: string
  number: string
  orderId: string
  orderLineId: string
  supplierId: string
  state: ReportState
  origin: ReportFacts['origin']
  invoiceId: string | null
  supplierNumber: string
  quantity: string
  fromDay: string
  toDay: string
  place: string
  people: readonly { readonly name: string; readonly quantity: string }[]
  note: string
  fileIds: readonly string[]
  accepted: string
  answerReason: string
  receiptId: string | null
  byId: string
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    workReports: WorkReportRow
  }
}
export type Entry = BodyOf<typeof SaveReport>['entry']

export const entryOf = (row: WorkReportRow): Entry => ({ number: row.supplierNumber, quantity: row.quantity, from: row.fromDay, to: row.toDay, place: row.place, people: row.people.map(one => ({ ...one })), note: row.note, fileIds: [...row.fileIds] }) // prettier-ignore

/** What other reports of a line that wait would take of it. */
export const othersOf = (rows: readonly WorkReportRow[], lineId: string, but: string | null): string =>
  tidy(rows.filter(row => row.orderLineId === lineId && row.state === 'sent' && row.id !== but).reduce((sum, row) => sum.plus(row.quantity), new Decimal(0))) // prettier-ignore

export const factsOf = (row: WorkReportRow, rows: readonly WorkReportRow[]): ReportFacts => ({
  number: row.number,
  state: row.state,
  lineId: row.orderLineId,
  entry: entryOf(row),
  origin: row.origin,
  byId: row.byId,
  others: othersOf(rows, row.orderLineId, row.id),
})

export const reportsOf = (call: Read, orderId: string): Promise<(WorkReportRow & { by: string })[]> =>
  call.trx('workReports').join('people', 'people.id', 'workReports.byId').where({ orderId }).orderBy('createdAt', 'desc').select<(WorkReportRow & { by: string })[]>('workReports.*', 'people.name as by') // prettier-ignore

export const columnsOf = (entry: Entry) => ({ supplierNumber: entry.number, quantity: entry.quantity, fromDay: entry.from, toDay: entry.to, place: entry.place, people: json(entry.people), note: entry.note, ...(entry.fileIds ? { fileIds: entry.fileIds } : {}) }) // prettier-ignore

export async function freshReport(
  call: Write,
  order: KnownOrder,
  lineId: string,
  entry: Entry,
  origin: ReportFacts['origin'],
  invoiceId: string | null = null,
): Promise<WorkReportRow> {
  const head = { id: randomUUID(), number: await nextNumber(call, 'workReport'), orderId: order.id, orderLineId: lineId, supplierId: order.supplierId, state: 'draft' as const, origin, invoiceId, accepted: '0', answerReason: '', receiptId: null, byId: call.actor.id, version: 1, createdAt: call.now, changedAt: call.now } // prettier-ignore
  await call.trx('workReports').insert({ ...head, ...columnsOf(entry) })
  await record(call, { kind: 'workReport', id: head.id, action: 'created' })
  return { ...head, supplierNumber: entry.number, quantity: entry.quantity, fromDay: entry.from, toDay: entry.to, place: entry.place, people: entry.people, note: entry.note, fileIds: entry.fileIds ?? [] } // prettier-ignore
}

/** A bill of work that is billed first makes the report, which waits for its acceptance. */
export async function reportFromInvoice(
  call: Write,
  order: KnownOrder,
  billed: { invoiceId: string; number: string; day: string; lineId: string; quantity: string },
): Promise<void> {
  const entry: Entry = { number: billed.number, quantity: billed.quantity, from: billed.day, to: billed.day, place: '', people: [], note: '' } // prettier-ignore
  const row = await freshReport(call, order, billed.lineId, entry, 'invoice', billed.invoiceId)
  await move(
    call,
    'workReport',
    row,
    { state: 'sent' },
    { action: 'reported', changes: { report: row.number, invoice: billed.number }, reason: null },
  )
}

/** A bill that is not taken is no report either: what waits because of it goes. */
export async function withdrawReportsOf(call: Write, invoiceId: string): Promise<void> {
  for (const id of await call
    .trx('workReports')
    .where({ invoiceId, state: 'sent' })
    .orderBy('id')
    .pluck<string[]>('id')) {
    const row = await hold(call, 'workReport', id)
    await move(
      call,
      'workReport',
      row,
      { state: 'withdrawn' },
      { action: 'reportWithdrawn', changes: {}, reason: null },
    )
  }
}
