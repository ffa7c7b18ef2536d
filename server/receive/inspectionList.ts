import { tidy } from '#core/money/decimal.ts'
import { INSPECTION_GROUPS, INSPECTION_STATES, type InspectionState } from '#core/receive/inspection.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { INSPECTION_TONES } from '#server/receive/inspectionSheet.ts'

interface Listed {
  id: string
  number: string
  state: InspectionState
  title: string
  order: string
  supplier: string
  place: string
  quantity: string
  unit: string
  receivedOn: string
  rejected: string
}

/** Goods that wait for their inspection, and what was found. */
export const inspectionList: ListDefinition<Listed> = {
  id: 'inspections.id',
  base: call =>
    call
      .trx('inspections')
      .joinRaw('join orders on orders.id = inspections.order_id join suppliers on suppliers.id = orders.supplier_id')
      .joinRaw('join order_lines on order_lines.id = inspections.order_line_id')
      .joinRaw(
        'join receipts on receipts.id = inspections.receipt_id join addresses on addresses.id = receipts.place_id',
      )
      .joinRaw('join receipt_lines on receipt_lines.id = inspections.receipt_line_id')
      .whereRaw(visibleSql(call, 'inspection', 'inspections'), visibleBindings(call)),
  select: [
    'inspections.id',
    'inspections.number',
    'inspections.state',
    'inspections.title',
    'orders.number as order',
    'suppliers.name as supplier',
    'addresses.name as place',
    'receipt_lines.quantity',
    'order_lines.unit',
    'receipts.received_on',
    'inspections.rejected',
  ],
  views: {
    waiting: query => void query.whereIn('inspections.state', [...INSPECTION_GROUPS.waiting]),
    said: query => void query.whereIn('inspections.state', [...INSPECTION_GROUPS.said]),
    all: () => undefined,
  },
  sorts: {
    oldest: { sql: 'inspections.created_at', descending: false, type: 'timestamptz' },
    newest: { sql: 'inspections.created_at', descending: true, type: 'timestamptz' },
  },
  search: 'inspections.search',
  states: { column: 'inspections.state', values: Object.keys(INSPECTION_STATES) },
  columns: [
    { key: 'order', type: 'words', sql: 'orders.number' },
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'place', type: 'words', sql: 'addresses.name' },
    { key: 'receivedOn', type: 'date', sql: 'receipts.received_on' },
    { key: 'quantity', type: 'figure', sql: 'receipt_lines.quantity' },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('inspection', row.id),
    number: row.number,
    title: row.title,
    subtitle: [row.order, row.supplier, row.place].join(', '),
    state: row.state,
    amount: null,
    currency: null,
    note: {
      code: 'inspection.short',
      details: {
        quantity: tidy(row.quantity),
        unit: row.unit,
        rejected: tidy(row.rejected) === '0' ? '' : tidy(row.rejected),
      },
    },
    tone: INSPECTION_TONES[row.state],
    cells: {
      order: row.order,
      supplier: row.supplier,
      place: row.place,
      receivedOn: row.receivedOn,
      quantity: tidy(row.quantity),
    },
  }),
}
