import { formatAmount, minor } from '#core/money/amount.ts'
import { ASSET_GROUPS, ASSET_STATES, type AssetState } from '#core/receive/asset.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  state: AssetState
  tag: string | null
  serial: string
  description: string
  place: string | null
  bin: string
  person: string | null
  receivedOn: string
  warrantyTo: string | null
  cost: bigint
  order: string
}

/** Everything that is kept under a tag of ours. */
export const assetList: ListDefinition<Listed> = {
  id: 'assets.id',
  base: call =>
    call
      .trx('assets')
      .joinRaw(
        'join order_lines on order_lines.id = assets.order_line_id join orders on orders.id = order_lines.order_id',
      )
      .joinRaw('left join addresses on addresses.id = assets.place_id left join people on people.id = assets.person_id')
      .whereRaw(visibleSql(call, 'asset', 'assets'), visibleBindings(call)),
  select: [
    'assets.id',
    'assets.number',
    'assets.state',
    'assets.tag',
    'assets.serial',
    'assets.description',
    'addresses.name as place',
    'assets.bin',
    'people.name as person',
    'assets.received_on',
    'assets.warranty_to',
    'assets.cost',
    'orders.number as order',
  ],
  views: {
    here: query => void query.whereIn('assets.state', [...ASSET_GROUPS.here]),
    unfinished: query => void query.whereIn('assets.state', [...ASSET_GROUPS.unfinished]),
    all: () => undefined,
  },
  sorts: {
    newest: { sql: 'assets.created_at', descending: true, type: 'timestamptz' },
    tag: { sql: "coalesce(assets.tag, '')", descending: false, type: 'text' },
  },
  search: 'assets.search',
  states: { column: 'assets.state', values: Object.keys(ASSET_STATES) },
  amount: 'assets.cost',
  columns: [
    { key: 'tag', type: 'words', sql: 'assets.tag' },
    { key: 'serial', type: 'words', sql: 'assets.serial' },
    { key: 'place', type: 'words', sql: 'addresses.name' },
    { key: 'person', type: 'person', sql: 'people.name', personId: 'assets.person_id' },
    { key: 'receivedOn', type: 'date', sql: 'assets.received_on' },
    { key: 'warrantyTo', type: 'date', sql: 'assets.warranty_to' },
    { key: 'order', type: 'words', sql: 'orders.number' },
  ],
  row: (row, call) => ({
    id: row.id,
    path: pathOf('asset', row.id),
    number: row.number,
    title: row.description,
    subtitle: [row.tag ?? row.number, row.serial].filter(Boolean).join(', '),
    state: row.state,
    amount: formatAmount(minor(row.cost), call.base),
    currency: call.base,
    note: { code: `asset.short.${row.state}`, details: { place: [row.place, row.bin].filter(Boolean).join(', ') } },
    tone: row.state === 'unfinished' ? 'attention' : row.state === 'inUse' ? 'settled' : 'plain',
    cells: {
      tag: row.tag,
      serial: row.serial || null,
      place: row.place,
      person: row.person,
      receivedOn: row.receivedOn,
      warrantyTo: row.warrantyTo,
      order: row.order,
    },
  }),
}
