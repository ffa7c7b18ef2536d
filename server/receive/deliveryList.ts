import type { Knex } from 'knex'
import { formatAmount } from '#core/money/amount.ts'
import { INCOMPLETE, isLate } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { EXPECTED } from '#server/order/orderStore.ts'
import { isIn } from '#core/states.ts'
import type { Read } from '#server/call.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { concernsSql, visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { EXTENTS, type ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  title: string
  state: string
  supplier: string
  needBy: string | null
  promised: string | null
  total: bigint
  currency: string
  receiveExtent: string
  place: string | null
}

/** Deliveries that this person is concerned by, whatever their rights. */
const mine = (query: Knex.QueryBuilder, call: Read): Knex.QueryBuilder =>
  query.whereRaw(concernsSql('delivery', 'orders'), visibleBindings(call) as never)

const expected = (query: Knex.QueryBuilder): Knex.QueryBuilder =>
  query.whereIn('orders.state', [...ORDER_GROUPS.live]).whereIn('orders.receiveExtent', [...INCOMPLETE])

export const deliveryList: ListDefinition<Listed> = {
  id: 'orders.id',
  base: call =>
    call
      .trx('orders')
      .leftJoin('suppliers', 'suppliers.id', 'orders.supplierId')
      .leftJoin('addresses', 'addresses.id', 'orders.addressId')
      .whereIn('orders.state', [...ORDER_GROUPS.counted])
      .whereRaw(visibleSql(call, 'delivery', 'orders'), visibleBindings(call)),
  select: [
    'orders.id',
    'orders.number',
    'orders.title',
    'orders.state',
    'suppliers.name as supplier',
    'orders.need_by',
    '(select max(promised_date) from order_lines where order_id = orders.id) as promised',
    'orders.total',
    'orders.currency',
    'orders.receive_extent',
    'addresses.name as place',
  ],
  views: {
    expected: query => void expected(query),
    forMe: (query, call) => void mine(expected(query), call),
    received: query => void query.whereNotIn('orders.receiveExtent', [...INCOMPLETE]),
    all: () => undefined,
  },
  sorts: {
    needBy: { sql: "coalesce(orders.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    newest: { sql: 'orders.created_at', descending: true, type: 'timestamptz' },
  },
  search: 'orders.search',
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'needBy', type: 'date', sql: 'orders.need_by' },
    { key: 'promised', type: 'date', sql: '(select max(promised_date) from order_lines where order_id = orders.id)' },
    { key: 'place', type: 'words', sql: 'addresses.name' },
    { key: 'expected', type: 'date', sql: EXPECTED },
    { key: 'received', type: 'choice', sql: 'orders.receive_extent', options: EXTENTS },
  ],
  row: (row, call) => {
    const late = isLate(row, call.today)
    return {
      id: row.id,
      path: pathOf('delivery', row.id),
      number: row.number,
      title: row.supplier,
      what: row.title,
      subtitle: `${row.number}, ${row.title}`,
      state: row.state,
      amount: null,
      currency: null,
      note: {
        code: late ? 'delivery.short.late' : `delivery.short.${row.receiveExtent}`,
        details: { needBy: row.promised ?? row.needBy ?? '' },
      },
      tone: late ? 'stop' : !isIn(INCOMPLETE, row.receiveExtent) ? 'settled' : 'plain',
      cells: {
        supplier: row.supplier,
        needBy: row.needBy,
        promised: row.promised,
        place: row.place,
        expected: row.promised ?? row.needBy,
        received: row.receiveExtent,
        amount: formatAmount(row.total, row.currency),
      },
    }
  },
}
