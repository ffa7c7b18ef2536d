import { COSTING_STATES } from '#core/build/costingActs.ts'
import { formatAmount, type Minor } from '#core/money/amount.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  title: string
  state: string
  owner: string
  partCount: number
  unpriced: number
  total: bigint
  builds: string
  currency: string
  pricedOn: string
  changedAt: string
}
const BUILDS = "(build_costings.settings ->> 'builds')::bigint"

/** Build costings that somebody sees: their own, those they were given a link to, and with the right to it all of them. */
export const costingList: ListDefinition<Listed> = {
  id: 'build_costings.id',
  base: call =>
    call
      .trx('buildCostings')
      .leftJoin('people', 'people.id', 'buildCostings.ownerId')
      .whereRaw(visibleSql(call, 'costing', 'build_costings'), visibleBindings(call)),
  select: [
    'build_costings.id',
    'build_costings.number',
    'build_costings.title',
    'build_costings.state',
    'people.name as owner',
    'build_costings.part_count',
    'build_costings.unpriced',
    'build_costings.total',
    `${BUILDS}::text as builds`,
    "build_costings.settings ->> 'currency' as currency",
    'build_costings.priced_on',
    'build_costings.changed_at',
  ],
  views: {
    open: query => void query.where('buildCostings.state', 'open'),
    mine: (query, call) => void query.where({ ownerId: call.actor.id, 'buildCostings.state': 'open' }),
    all: () => undefined,
  },
  sorts: { newest: { sql: 'build_costings.changed_at', descending: true, type: 'timestamptz' } },
  search: 'build_costings.search',
  states: { column: 'build_costings.state', values: Object.keys(COSTING_STATES) },
  columns: [
    { key: 'owner', type: 'person', sql: 'people.name', personId: 'build_costings.owner_id' },
    { key: 'builds', type: 'figure', sql: BUILDS },
    { key: 'partCount', type: 'figure', sql: 'build_costings.part_count' },
    { key: 'unpriced', type: 'figure', sql: 'build_costings.unpriced' },
    { key: 'pricedOn', type: 'date', sql: 'build_costings.priced_on' },
    { key: 'changedAt', type: 'date', sql: 'build_costings.changed_at' },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('costing', row.id),
    number: row.number,
    title: row.title,
    subtitle: [row.number, row.owner].filter(Boolean).join(', '),
    state: row.state,
    amount: formatAmount(row.total as Minor, row.currency),
    currency: row.currency,
    note: { code: 'costing.short', details: { builds: row.builds, unpriced: row.unpriced } },
    tone: row.state === 'open' && row.unpriced > 0 ? 'attention' : 'plain',
    cells: {
      owner: row.owner,
      builds: row.builds,
      partCount: String(row.partCount),
      unpriced: String(row.unpriced),
      pricedOn: row.pricedOn,
      changedAt: row.changedAt.slice(0, 10),
    },
  }),
}
