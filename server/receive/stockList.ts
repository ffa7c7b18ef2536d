import { formatAmount, minor } from '#core/money/amount.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  name: string
  unit: string
  place: string
  quantity: string
  value: bigint
  reserved: string
}
const RESERVED = `coalesce((select sum(quantity) from stock_reservations r where r.item_id = stock_holdings.item_id and r.place_id = stock_holdings.place_id and r.ended_at is null), 0)`

/** What is in stock of each item at each site. */
export const stockList: ListDefinition<Listed> = {
  id: 'stock_holdings.id',
  base: call =>
    call
      .trx('stockHoldings')
      .join('items', 'items.id', 'stockHoldings.itemId')
      .join('addresses', 'addresses.id', 'stockHoldings.placeId'),
  select: [
    'stock_holdings.id',
    'items.number',
    'items.name',
    'items.unit',
    'addresses.name as place',
    'stock_holdings.quantity',
    'stock_holdings.value',
    `${RESERVED} as reserved`,
  ],
  views: {
    here: query => void query.where('stockHoldings.quantity', '>', 0),
    all: () => undefined,
  },
  sorts: {
    name: { sql: 'items.name', descending: false, type: 'text' },
    newest: { sql: 'stock_holdings.changed_at', descending: true, type: 'timestamptz' },
  },
  search: "lower(items.number || ' ' || items.name || ' ' || addresses.name)",
  amount: 'stock_holdings.value',
  columns: [
    { key: 'item', type: 'words', sql: 'items.number' },
    { key: 'place', type: 'words', sql: 'addresses.name' },
    { key: 'quantity', type: 'figure', sql: 'stock_holdings.quantity' },
    { key: 'reserved', type: 'figure', sql: RESERVED },
  ],
  row: (row, call) => ({
    id: row.id,
    path: `/receive/stock/${row.id}`,
    number: row.number,
    title: row.name,
    subtitle: [row.number, row.place].join(', '),
    state: '',
    amount: formatAmount(minor(row.value), call.base),
    currency: call.base,
    note: { code: 'stock.short', details: { quantity: row.quantity, unit: row.unit } },
    tone: 'plain',
    cells: { item: row.number, place: row.place, quantity: row.quantity, reserved: row.reserved },
  }),
}
