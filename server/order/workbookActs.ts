import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import {
  type ApplyReturn,
  type ChangeReturn,
  type MakeWorkbook,
  MOST_WORKBOOK_LINES,
  type ReadReturn,
  type TakeWorkbook,
} from '#contract/order/workbook.ts'
import { accountsOf } from '#core/order/after.ts'
import { billed, proven } from '#core/order/measures.ts'
import {
  editableFields,
  placeLabel,
  type FieldChange,
  type RowDifference,
  rowDifference,
  type RowState,
  workbookValues,
} from '#core/order/workbook.ts'
import { againstPlan, type KnownPlace, planOrder, type WantedRow } from '#core/order/workbookOrder.ts'
import {
  KEY_HEADING,
  readReturned,
  type ReadingLists,
  WORKBOOK_HEADINGS,
  workbookOf,
} from '#core/order/workbookReading.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { byId, groupBy } from '#server/database/rows.ts'
import { json } from '#server/database/json.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { ownContent, ownFile } from '#server/files/fileActs.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { startJob } from '#server/jobs/longJobs.ts'
import { accountFacts } from '#server/ledger/budgetStore.ts'
import { type KnownOrder, knownOrders } from '#server/order/orderStore.ts'
import {
  buyerNames,
  type KeptReturn,
  type KeptRow,
  type ReturnRow,
  valuesNow,
  workbookLists,
  workbookPlaces,
  type WorkbookRow,
} from '#server/order/workbookStore.ts'

/** Orders that are looked at together. */
const AT_ONCE = 200
/** What stands on a revision before anybody has said why. */
const UNSAID = 'Through a workbook.'

async function* ordersOf(call: Read, ids: readonly string[]): AsyncGenerator<KnownOrder[]> {
  const sorted = [...new Set(ids)].sort()
  for (let at = 0; at < sorted.length; at += AT_ONCE)
    yield [...(await knownOrders(call, sorted.slice(at, at + AT_ONCE))).values()]
}

/** Lays out lines of orders for a workbook, with what this person may change of each. */
export async function makeWorkbook(
  call: Write,
  { orderIds }: BodyOf<typeof MakeWorkbook>,
): Promise<ResponseOf<typeof MakeWorkbook>> {
  const names = new Map([...(await buyerNames(call))].map(([name, id]) => [id, name]))
  const places = new Map(
    [...(await workbookPlaces(call)).values()].map(one => [one.id, placeLabel(one.code, one.name)]),
  )
  const rows: KeptRow[] = []
  for await (const orders of ordersOf(call, orderIds))
    for (const order of orders)
      for (const line of order.lines)
        rows.push({
          lineId: line.id,
          orderId: order.id,
          order: order.number,
          position: line.position,
          supplier: order.supplier,
          what: line.kind === 'personalFee' ? '' : line.description,
          values: workbookValues(line, names.get(order.buyerId) ?? '', places.get(line.addressId ?? '') ?? ''),
          may: editableFields(order, line, call.actor),
        })
  const byOrder = new Intl.Collator('en', { numeric: true }).compare
  rows.sort((a, b) => byOrder(a.order, b.order) || a.position - b.position)
  if (rows.length > MOST_WORKBOOK_LINES) throw new RuleBroken(stop('workbook.tooMany', { most: MOST_WORKBOOK_LINES }))
  const id = randomUUID()
  await call.trx('workbooks').insert({
    id,
    byId: call.actor.id,
    at: call.now,
    kind: 'change',
    lines: rows.length,
    content: json(rows),
  })
  return { id, lines: rows.length, orders: new Set(rows.map(row => row.orderId)).size }
}

/** The workbook itself. */
export async function workbookFile(call: Read, id: string): Promise<FileAnswer> {
  const row = await ownWorkbook(call, id)
  const facts = new Map<string, { unit: string; currency: string; received: string; billed: string; state: string }>()
  for await (const orders of ordersOf(
    call,
    row.content.map(one => one.orderId),
  ))
    for (const order of orders)
      for (const line of order.lines)
        facts.set(line.id, {
          unit: line.unit,
          currency: order.currency,
          received: proven(line),
          billed: billed(line),
          state: order.state,
        })
  const content = await compute('orderWorkbookOf', {
    id,
    ...(await workbookLists(call)),
    madeBy: call.actor.name,
    madeOn: row.at.slice(0, 10),
    lines: row.content.flatMap(one => (facts.has(one.lineId) ? [{ ...one, ...facts.get(one.lineId)! }] : [])),
  })
  return {
    name: `orders-${row.at.slice(0, 10)}.xlsx`,
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    bytes: Buffer.from(content),
  }
}

/** A workbook that this person made, to be fetched. */
async function ownWorkbook(call: Read, id: string): Promise<WorkbookRow> {
  return found(await call.trx('workbooks').where({ id, byId: call.actor.id }).first(), 'longJob')
}

/** Takes a workbook back. Whoever gives it back changes what they may change themselves, whoever made it. */
export async function takeWorkbook(call: Write, { fileId }: BodyOf<typeof TakeWorkbook>): Promise<{ id: string }> {
  const bytes = await ownContent(call, fileId)
  const { headings, rows } = await compute('cellsOf', { bytes, days: true })
  const grid = [headings, ...rows]
  const workbookId = workbookOf(grid)
  const workbook =
    workbookId === null || !/^[0-9a-f-]{36}$/.test(workbookId)
      ? undefined
      : await call.trx('workbooks').where({ id: workbookId }).first()
  if (!workbook) throw new RuleBroken(stop('workbook.unknown'))
  const returned = readReturned(grid, workbook.id, {
    lineIds: new Set(workbook.content.map(row => row.lineId)),
    ...(await workbookLists(call)),
  })
  const kept = returned.map((row): KeptReturn => ({
    row: row.row,
    lineId: row.lineId,
    values: row.values,
    read: row.reasons,
    against: [],
    choice: null,
    settled: false,
  }))
  const id = randomUUID()
  await call.trx('workbookReturns').insert({
    id,
    workbookId: workbook.id,
    kind: 'change',
    fileName: (await ownFile(call, fileId)).name,
    state: 'open',
    byId: call.actor.id,
    at: call.now,
    returned: json(await judged(call, workbook, kept)),
    changedAt: call.now,
  })
  return { id }
}

type Diffed = RowDifference & { readonly kept: KeptReturn; readonly sent: KeptRow | undefined }

/** What each row would change, as everything stands now. */
async function differences(call: Read, workbook: WorkbookRow, rows: readonly KeptReturn[]): Promise<Diffed[]> {
  const sent = new Map(workbook.content.map(row => [row.lineId, row]))
  const now = await valuesNow(
    call,
    rows.flatMap(row => row.lineId ?? []),
  )
  return rows.map((kept): Diffed => {
    const own = kept.lineId === null ? undefined : sent.get(kept.lineId)
    if (!own)
      return { row: kept.row, lineId: kept.lineId, changes: [], state: 'refused', reasons: kept.read, kept, sent: own }
    const returned = { ...kept, reasons: kept.read }
    const difference = rowDifference(own, returned, now.get(own.lineId) ?? null)
    return { ...difference, ...settledState(difference, kept), kept, sent: own }
  })
}

/** A conflict that was chosen about is ready, or is as it stands now; what is refused by the order is refused. */
function settledState(difference: RowDifference, kept: KeptReturn): { state: RowState; reasons: readonly Reason[] } {
  const { state, reasons } = difference
  if (kept.settled) return { state: 'settled', reasons }
  const chosen = state === 'conflict' && kept.choice !== null ? (kept.choice === 'file' ? 'ready' : 'same') : state
  if (chosen === 'ready' && kept.against.length > 0) return { state: 'refused', reasons: kept.against }
  return { state: chosen, reasons }
}

/** What a row wants of its line. */
const wantedRow = (row: Diffed): WantedRow => ({
  lineId: row.lineId!,
  values: Object.fromEntries(row.changes.map((one: FieldChange) => [one.field, one.after])),
})

/** Rows with what stands against doing them: rights of whoever gives them back, and the rules of orders. */
async function judged(call: Read, workbook: WorkbookRow, rows: readonly KeptReturn[]): Promise<KeptReturn[]> {
  const diffed = await differences(
    call,
    workbook,
    rows.map(row => ({ ...row, against: [] })),
  )
  const ready = diffed.filter(row => row.state === 'ready')
  const against = new Map<string, Reason[]>()
  const places = await workbookPlaces(call)
  const ofOrder = groupBy(ready, row => row.sent!.orderId)
  for await (const orders of ordersOf(call, [...ofOrder.keys()])) {
    const accounts = await accountFacts(call, [...new Set(orders.flatMap(accountsOf))])
    for (const order of orders)
      for (const [lineId, reasons] of againstOrder(call, order, ofOrder.get(order.id) ?? [], accounts, places))
        against.set(lineId, [...(against.get(lineId) ?? []), ...reasons])
  }
  return rows.map(row => ({ ...row, against: row.lineId === null ? [] : (against.get(row.lineId) ?? []) }))
}

function againstOrder(
  call: Read,
  order: KnownOrder,
  rows: readonly Diffed[],
  accounts: Awaited<ReturnType<typeof accountFacts>>,
  places: ReadonlyMap<string, KnownPlace>,
): [string, Reason[]][] {
  const lines = byId([...order.lines])
  const mine = rows.map(row => {
    const may = editableFields(order, lines.get(row.lineId!)!, call.actor)
    const not = row.changes.filter(one => !may.includes(one.field))
    return {
      row,
      reasons: not.length > 0 ? [stop('workbook.notYours', { fields: not.map(one => one.field).join(', ') })] : [],
    }
  })
  const fine = mine.filter(one => one.reasons.length === 0).map(one => one.row)
  const own = new Set(accountsOf(order))
  const faults = againstPlan(order, planOrder(order, fine.map(wantedRow), places), accounts.filter(one => own.has(one.id)), call.actor, UNSAID) // prettier-ignore
  const positions = new Map(order.lines.map(line => [`lines.${line.position}`, line.id]))
  const lineOf = (reason: Reason): string | undefined =>
    positions.get((reason.place ?? '').split('.').slice(0, 2).join('.'))
  return [
    ...mine.map(({ row, reasons }): [string, Reason[]] => [row.lineId!, reasons]),
    // what names a line is said at it, the rest at every line of the order that would change
    ...fine.map((row): [string, Reason[]] => [
      row.lineId!,
      faults.filter(reason => {
        const line = lineOf(reason)
        return line === row.lineId || line === undefined || !fine.some(one => one.lineId === line)
      }),
    ]),
  ]
}

async function ownReturn(call: Read, id: string): Promise<{ row: ReturnRow; workbook: WorkbookRow }> {
  const row = found(await call.trx('workbookReturns').where({ id, byId: call.actor.id }).first(), 'longJob')
  return { row, workbook: found(await call.trx('workbooks').where({ id: row.workbookId! }).first(), 'longJob') }
}

export async function readReturn(call: Read, id: string): Promise<ResponseOf<typeof ReadReturn>> {
  const { row, workbook } = await ownReturn(call, id)
  const maker = found(await call.trx('people').where({ id: workbook.byId }).first('name'), 'person')
  const diffed = await differences(call, workbook, row.returned)
  return {
    id,
    version: row.version,
    state: row.state,
    fileName: row.fileName,
    at: row.at,
    madeBy: maker.name,
    madeAt: workbook.at,
    missing: workbook.lines - new Set(row.returned.map(one => one.lineId).filter(Boolean)).size,
    jobId: row.outcome?.jobId ?? null,
    outcome: row.state === 'settled' && row.outcome ? outcomeOf(row.outcome) : null,
    rows: diffed.map(({ sent, changes, reasons, ...one }) => ({
      row: one.row,
      lineId: one.lineId,
      order: sent?.order ?? '',
      orderPath: sent ? pathOf('order', sent.orderId) : '',
      position: sent?.position ?? 0,
      supplier: sent?.supplier ?? '',
      what: sent?.what ?? '',
      state: one.state,
      changes: changes.map(change => ({ ...change })),
      reasons: reasonsJson(reasons),
    })),
  }
}
const outcomeOf = ({ orders, lines, failed, mails }: NonNullable<ReturnRow['outcome']>) => ({
  orders,
  lines,
  failed,
  mails,
})

/** A return held for an act; one that is done or under way takes no more. */
async function heldReturn(
  call: Write,
  id: string,
  version: number,
): Promise<{ row: ReturnRow; workbook: WorkbookRow }> {
  const held = await call.trx('workbookReturns').where({ id, byId: call.actor.id }).forNoKeyUpdate().first()
  const row = found(held, 'longJob')
  if (row.version !== version) throw new RuleBroken(stop('workbook.changed'))
  if (row.state !== 'open') throw new RuleBroken(stop('workbook.notOpen'))
  return { row, workbook: found(await call.trx('workbooks').where({ id: row.workbookId! }).first(), 'longJob') }
}

export async function changeReturn(
  call: Write,
  id: string,
  body: BodyOf<typeof ChangeReturn>,
): Promise<ResponseOf<typeof ChangeReturn>> {
  const { row, workbook } = await heldReturn(call, id, body.version)
  const said = new Map(body.rows.map(one => [one.row, one]))
  const lists = await workbookLists(call)
  const rows = row.returned.map((kept): KeptReturn => {
    const change = said.get(kept.row)
    if (!change) return kept
    const values = { ...kept.values, ...change.values }
    const corrected = change.values ? corrections(values, kept.row, lists) : { values, read: kept.read }
    return { ...kept, ...corrected, choice: change.choice ?? (change.values ? null : kept.choice) }
  })
  await call
    .trx('workbookReturns')
    .where({ id })
    .update({ returned: json(await judged(call, workbook, rows)), version: row.version + 1, changedAt: call.now })
  return { id, version: row.version + 1 }
}

/** What is typed in place is read as if it stood in the file. */
function corrections(values: KeptReturn['values'], row: number, lists: ReadingLists) {
  const grid = [
    [KEY_HEADING, ...Object.values(WORKBOOK_HEADINGS)],
    ['x y', ...Object.keys(WORKBOOK_HEADINGS).map(field => values[field as keyof typeof values])],
  ]
  const [read] = readReturned(grid, 'x', { lineIds: new Set(['y']), ...lists })
  const reasons = read!.reasons.map(reason => ({
    ...reason,
    place: reason.place?.replace('rows.2', `rows.${row}`) ?? '',
  }))
  return { values: read!.values, read: reasons }
}

export async function applyReturn(
  call: Write,
  id: string,
  { version, reason }: BodyOf<typeof ApplyReturn>,
): Promise<{ jobId: string }> {
  const { row, workbook } = await heldReturn(call, id, version)
  const ready = (await differences(call, workbook, row.returned)).filter(one => one.state === 'ready')
  if (ready.length === 0) throw new RuleBroken(stop('workbook.nothingReady'))
  const job = await startJob(call, 'workbook', { id, reason })
  await call
    .trx('workbookReturns')
    .where({ id })
    .update({
      state: 'applying',
      version: version + 1,
      changedAt: call.now,
      outcome: json({ orders: 0, lines: 0, failed: 0, mails: 0, jobId: job.id }),
    })
  return { jobId: job.id }
}

/** Rows that are ready, order by order. */
export async function readyRows(call: Read, id: string): Promise<{ row: ReturnRow; orders: Map<string, WantedRow[]> }> {
  const { row, workbook } = await ownReturn(call, id)
  const ready = (await differences(call, workbook, row.returned)).filter(one => one.state === 'ready')
  const orders = new Map(
    [...groupBy(ready, one => one.sent!.orderId)].map(([orderId, own]) => [orderId, own.map(wantedRow)]),
  )
  return { row, orders }
}
