import { AGREEMENT_GROUPS, AGREEMENT_STATES } from '#core/agreements/states.ts'
import { formatAmount } from '#core/money/amount.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  title: string
  state: string
  supplier: string
  owner: string
  currency: string
  consumed: bigint
  usedPercent: string
  startsOn: string
  endsOn: string
}

/** Framework agreements. */
export const agreementList: ListDefinition<Listed> = {
  id: 'agreements.id',
  base: call =>
    call
      .trx('agreements')
      .join('suppliers', 'suppliers.id', 'agreements.supplierId')
      .leftJoin('people', 'people.id', 'agreements.ownerId')
      .whereRaw(visibleSql(call, 'agreement', 'agreements'), visibleBindings(call)),
  select: [
    'agreements.id',
    'agreements.number',
    'agreements.title',
    'agreements.state',
    'suppliers.name as supplier',
    'people.name as owner',
    'agreements.currency',
    'agreements.consumed',
    'agreements.used_percent',
    'agreements.starts_on',
    'agreements.ends_on',
  ],
  views: {
    open: query => void query.whereIn('agreements.state', [...AGREEMENT_GROUPS.open]),
    spent: query => void query.whereIn('agreements.state', [...AGREEMENT_GROUPS.spent]),
    mine: (query, call) =>
      void query.where({ 'agreements.ownerId': call.actor.id }).whereIn('agreements.state', [...AGREEMENT_GROUPS.open]),
    all: () => undefined,
  },
  sorts: {
    ending: { sql: 'agreements.ends_on', descending: false, type: 'date' },
    newest: { sql: 'agreements.changed_at', descending: true, type: 'timestamptz' },
  },
  search: 'agreements.search',
  states: { column: 'agreements.state', values: Object.keys(AGREEMENT_STATES) },
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'owner', type: 'person', sql: 'people.name', personId: 'agreements.owner_id' },
    { key: 'usedPercent', type: 'figure', sql: 'agreements.used_percent' },
    { key: 'startsOn', type: 'date', sql: 'agreements.starts_on' },
    { key: 'endsOn', type: 'date', sql: 'agreements.ends_on' },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('agreement', row.id),
    number: row.number,
    title: row.title,
    subtitle: [row.number, row.supplier].join(', '),
    state: row.state,
    amount: formatAmount(row.consumed, row.currency),
    currency: row.currency,
    note: { code: 'agreement.short', details: { percent: row.usedPercent, endsOn: row.endsOn } },
    tone: row.state === 'usedUp' || row.state === 'ended' ? 'attention' : row.state === 'sealed' ? 'settled' : 'plain',
    cells: {
      supplier: row.supplier,
      owner: row.owner,
      usedPercent: row.usedPercent,
      startsOn: row.startsOn,
      endsOn: row.endsOn,
    },
  }),
}
