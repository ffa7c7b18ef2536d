import { randomUUID } from 'node:crypto'
import { formatAmount, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import {
  INSPECTION_GROUPS,
  type InspectionFacts,
  inspectionDesk,
  type InspectionState,
  notAccepted,
  planFor,
  type Reading,
} from '#core/receive/inspection.ts'
import type { SamplingPlan } from '#core/receive/sampling.ts'
import type { Characteristic } from '#core/receive/terms.ts'
import { isIn } from '#core/states.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { recordFirst } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'
import type { Becomes, Taken } from '#server/receive/becoming.ts'
import type { ReceiptLineRow } from '#server/receive/receiptStore.ts'
import { countedLines } from '#server/receive/receivingStore.ts'

export interface InspectionRow {
  id: string
  number: string
  state: InspectionState
  title: string
  orderId: string
  orderLineId: string
  receiptId: string
  receiptLineId: string
  plan: SamplingPlan
  characteristics: readonly Characteristic[]
  looked: number
  readings: readonly Reading[]
  accepted: string
  deducted: string
  deductPercent: string
  rejected: string
  reason: string
  debitNumber: string | null
  /** In the smallest unit of the order's currency. */
  debitNet: bigint
  byId: string | null
  decidedAt: string | null
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    inspections: InspectionRow
  }
}

/** What is known of goods that wait for their inspection, or have had it. */
export const inspectionFacts = (row: InspectionRow, part: ReceiptLineRow): InspectionFacts => ({
  number: row.number,
  state: row.state,
  lineId: row.orderLineId,
  left: tidy(new Decimal(part.quantity).minus(part.reversed).minus(part.returned)),
  plan: row.plan,
  characteristics: row.characteristics,
})

/** Counts that have to be inspected wait for it, one by one; what is taken out again needs none. */
export const inspectionsOfCounts: Becomes = {
  taken: async (call, order, receipt, parts) => {
    const own = parts.filter(part => part.inspect)
    if (own.length === 0) return
    const terms = await countedLines(call, [...new Set(own.map(part => part.orderLineId))])
    const rows: InspectionRow[] = []
    for (const part of own) rows.push(await fresh(call, order, receipt, part, terms.get(part.orderLineId)!.terms.terms))
    await insertMany(
      call.trx,
      'inspections',
      rows.map(row => ({
        ...row,
        plan: json(row.plan),
        characteristics: json(row.characteristics),
        readings: json([]),
      })),
    )
    await recordFirst(call, 'inspection', rows.map(row => row.id), 'came') // prettier-ignore
    for (const row of rows) await keepInspectionDesk(call, order, receipt, row)
  },
  back: async (call, _order, _receipt, parts) => {
    const gone = parts.filter(part => part.inspect && isAllGone(part))
    await endInspections(call, gone.map(part => part.id), 'takenOut') // prettier-ignore
  },
}

const isAllGone = (part: Pick<ReceiptLineRow, 'quantity' | 'reversed' | 'returned'>): boolean =>
  new Decimal(part.reversed).plus(part.returned).gte(part.quantity)

async function fresh(
  call: Write,
  order: KnownOrder,
  receipt: Taken,
  part: ReceiptLineRow,
  terms: Parameters<typeof planFor>[0] & { characteristics: readonly Characteristic[] },
): Promise<InspectionRow> {
  const line = order.lines.find(one => one.id === part.orderLineId)!
  return {
    id: randomUUID(),
    number: await nextNumber(call, 'inspection'),
    state: 'waiting',
    title: line.description,
    orderId: order.id,
    orderLineId: line.id,
    receiptId: receipt.id,
    receiptLineId: part.id,
    plan: planFor(terms, part.quantity),
    characteristics: terms.characteristics,
    looked: 0,
    readings: [],
    accepted: '0',
    deducted: '0',
    deductPercent: '0',
    rejected: '0',
    reason: '',
    debitNumber: null,
    debitNet: 0n,
    byId: null,
    decidedAt: null,
    version: 1,
    createdAt: call.now,
    changedAt: call.now,
  }
}

async function keepInspectionDesk(call: Write, order: KnownOrder, receipt: Taken, row: InspectionRow): Promise<void> {
  const place = await call.trx('addresses').where({ id: receipt.placeId }).first('dock')
  const line = order.lines.find(one => one.id === row.orderLineId)!
  const about = { id: row.id, title: row.title, who: order.supplier, place: place?.dock ?? '', since: call.now, needBy: line.needBy } // prettier-ignore
  await keepDesk(call, { kind: 'inspection', id: row.id }, inspectionDesk(row, about))
}

/** Nothing waits at an inspection any more. */
export const clearInspectionDesk = (call: Write, id: string): Promise<void> =>
  keepDesk(call, { kind: 'inspection', id }, [])

/** Counts that are no longer here need no inspection. */
export async function endInspections(
  call: Write,
  partIds: readonly string[],
  action: 'takenOut' | 'returned',
): Promise<void> {
  const rows = await call.trx('inspections').whereIn('receiptLineId', [...partIds]).whereNot({ state: 'ended' }).orderBy('id').select('id', 'state') // prettier-ignore
  for (const { id, state } of rows) {
    if (action === 'returned' && !isIn(INSPECTION_GROUPS.waiting, state)) continue
    const row = await hold(call, 'inspection', id)
    await move(call, 'inspection', row, { state: 'ended' }, { action, changes: {}, reason: null })
    await clearInspectionDesk(call, id)
  }
}

/** Of counts that were inspected or wait for it: whether something was said, and how much nobody has found good. */
export async function inspectedParts(call: Read, parts: readonly ReceiptLineRow[]) {
  const own = new Map(parts.filter(part => part.inspect).map(part => [part.id, part]))
  const rows = own.size === 0 ? [] : await call.trx('inspections').whereIn('receiptLineId', [...own.keys()])
  return new Map(
    rows.map(row => {
      const { quantity, reversed, returned } = own.get(row.receiptLineId)!
      const facts = {
        inspected: isIn(INSPECTION_GROUPS.said, row.state),
        notAccepted: notAccepted({
          ...row,
          quantity: new Decimal(quantity).minus(reversed).toString(),
          gone: returned,
        }),
      }
      return [row.receiptLineId, facts]
    }),
  )
}

/** The inspections of counts, as their receipt shows them. */
export async function inspectionsOfParts(call: Read, parts: readonly ReceiptLineRow[]) {
  const ids = parts.filter(part => part.inspect).map(part => part.id)
  const rows = ids.length === 0 ? [] : await call.trx('inspections').whereIn('receiptLineId', ids)
  return new Map(rows.map(({ id, number, state, receiptLineId }) => [receiptLineId, { id, number, state }]))
}

export const debitText = (row: Pick<InspectionRow, 'debitNumber' | 'debitNet'>, currency: string): string =>
  row.debitNumber === null ? '' : `${row.debitNumber}: ${currency} ${formatAmount(minor(row.debitNet), currency)}`
