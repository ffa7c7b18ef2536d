import { RUN_GROUPS, RUN_STATES, PAYMENT_GROUPS, type RunState } from '#core/pay/states.ts'
import { formatAmount } from '#core/money/amount.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface ListedRun {
  id: string
  number: string
  state: RunState
  executeOn: string
  baseTotal: bigint
  payments: number
  proposer: string
  refused: number
}

const FAILED = PAYMENT_GROUPS.failed.map(state => `'${state}'`).join(', ')

const toneOf = (row: ListedRun): 'stop' | 'attention' | 'settled' | 'plain' =>
  row.refused > 0 ? 'stop' : row.state === 'proposed' ? 'attention' : row.state === 'answered' ? 'settled' : 'plain'

export const runList: ListDefinition<ListedRun> = {
  id: 'run.id',
  base: call => call.trx('paymentRuns as run').leftJoin('people', 'people.id', 'run.proposedBy'),
  select: [
    'run.id',
    'run.number',
    'run.state',
    'run.execute_on',
    'run.base_total',
    'run.payments',
    'people.name as proposer',
    `(select count(*)::int from payments where run_id = run.id and state in (${FAILED})) as refused`,
  ],
  views: { all: () => undefined, open: query => void query.whereIn('run.state', [...RUN_GROUPS.open]) },
  sorts: { newest: { sql: 'run.created_at', descending: true, type: 'timestamptz' } },
  search: "lower(run.number || ' ' || people.name)",
  amount: 'run.base_total',
  states: { column: 'run.state', values: Object.keys(RUN_STATES) },
  columns: [
    { key: 'executeOn', type: 'date', sql: 'run.execute_on' },
    { key: 'payments', type: 'figure', sql: 'run.payments' },
    { key: 'proposer', type: 'person', sql: 'people.name', personId: 'run.proposed_by' },
    {
      key: 'refused',
      type: 'figure',
      sql: `(select count(*)::int from payments where run_id = run.id and state in (${FAILED}))`,
    },
  ],
  row: (row, call) => ({
    id: row.id,
    path: pathOf('paymentRun', row.id),
    number: row.number,
    title: `${row.payments} payments`,
    subtitle: `${row.number}, ${row.proposer}`,
    state: row.state,
    amount: formatAmount(row.baseTotal, call.base),
    currency: call.base,
    note: {
      code: `run.short.${row.refused > 0 ? 'refused' : row.state}`,
      details: { who: row.proposer, refused: row.refused },
    },
    tone: toneOf(row),
    cells: {
      executeOn: row.executeOn,
      payments: String(row.payments),
      proposer: row.proposer,
      refused: String(row.refused),
    },
  }),
}
