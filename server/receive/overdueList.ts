import { formatAmount, minor } from '#core/money/amount.ts'
import { INCOMPLETE } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { concernsSql, visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { EXTENTS, type ListDefinition } from '#server/lists/list.ts'
import { EXPECTED } from '#server/order/orderStore.ts'

interface Listed {
  id: string
  number: string
  title: string
  state: string
  supplier: string
  buyer: string
  place: string | null
  due: string
  promised: string | null
  open: bigint
  blocks: string | null
  onTime: string | null
  chasedAt: string | null
  receiveExtent: string
}

/** What has not come of an order's lines, in the base currency: the figures that the core keeps beside them. */
const OPEN =
  '(select coalesce(sum(greatest(l.base_amount - l.received_value, 0)), 0)::bigint from order_lines l where l.order_id = orders.id)'
const LAST_PROMISE = '(select max(promised_date) from order_lines where order_id = orders.id)'
/** Those who asked for something that has not come. */
const BLOCKS = `(select string_agg(distinct p.name, ', ' order by p.name) from order_lines l join requisition_lines q on q.id = l.requisition_line_id join requisitions r on r.id = q.requisition_id join people p on p.id = r.requester_id
  where l.order_id = orders.id and l.proven < l.quantity)`
const ON_TIME = `(select figure from supplier_signals where supplier_id = orders.supplier_id and key = 'onTimeInFull')`

/** What should be in and is not: since when, what it is worth and whose work it holds up. */
export const overdueList: ListDefinition<Listed> = {
  id: 'orders.id',
  base: call =>
    call
      .trx('orders')
      .leftJoin('suppliers', 'suppliers.id', 'orders.supplierId')
      .leftJoin('addresses', 'addresses.id', 'orders.addressId')
      .leftJoin('people', 'people.id', 'orders.buyerId')
      .whereIn('orders.state', [...ORDER_GROUPS.live])
      .whereIn('orders.receiveExtent', [...INCOMPLETE])
      .whereRaw(`${EXPECTED} < ?`, [call.today])
      .whereRaw(visibleSql(call, 'delivery', 'orders'), visibleBindings(call)),
  select: [
    'orders.id',
    'orders.number',
    'orders.title',
    'orders.state',
    'suppliers.name as supplier',
    'people.name as buyer',
    'addresses.name as place',
    `${EXPECTED} as due`,
    `${LAST_PROMISE} as promised`,
    `${OPEN} as open`,
    `${BLOCKS} as blocks`,
    `${ON_TIME}::text as on_time`,
    'orders.chased_at',
    'orders.receive_extent',
  ],
  views: {
    all: () => undefined,
    mine: (query, call) => void query.where('orders.buyerId', call.actor.id),
    forMe: (query, call) => void query.whereRaw(concernsSql('delivery', 'orders'), visibleBindings(call)),
    notChased: query => void query.whereNull('orders.chasedAt'),
    nothingCame: query => void query.where('orders.receiveExtent', 'none'),
  },
  sorts: {
    longest: { sql: EXPECTED, descending: false, type: 'date' },
    value: { sql: OPEN, descending: true, type: 'bigint' },
  },
  search: 'orders.search',
  amount: OPEN,
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'buyer', type: 'person', sql: 'people.name', personId: 'orders.buyer_id' },
    { key: 'place', type: 'words', sql: 'addresses.name' },
    { key: 'due', type: 'date', sql: EXPECTED },
    { key: 'promised', type: 'date', sql: LAST_PROMISE },
    { key: 'blocks', type: 'words', sql: BLOCKS },
    { key: 'onTime', type: 'figure', sql: ON_TIME },
    { key: 'chasedAt', type: 'date', sql: 'orders.chased_at::date' },
    { key: 'received', type: 'choice', sql: 'orders.receive_extent', options: EXTENTS },
  ],
  row: (row, call) => ({
    id: row.id,
    path: pathOf('delivery', row.id),
    number: row.number,
    title: row.supplier,
    what: row.title,
    subtitle: `${row.number}, ${row.title}`,
    state: row.state,
    amount: formatAmount(minor(row.open), call.base),
    currency: call.base,
    note: {
      code: 'overdue.short',
      details: { needBy: row.due, blocks: row.blocks ?? '' },
    },
    tone: 'stop',
    cells: {
      supplier: row.supplier,
      buyer: row.buyer,
      place: row.place,
      due: row.due,
      promised: row.promised,
      blocks: row.blocks,
      onTime: row.onTime,
      chasedAt: row.chasedAt?.slice(0, 10) ?? null,
      received: row.receiveExtent,
    },
  }),
}
