import { reaches } from '#core/acts/actor.ts'
import { APPROVAL_RIGHT } from '#core/request/submitRequisition.ts'
import { REQUISITION_GROUPS, REQUISITION_STATES, type RequisitionState } from '#core/request/states.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { isIn } from '#core/states.ts'
import type { Read } from '#server/call.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import type { ListDefinition } from '#server/lists/list.ts'

export interface ListedRequest {
  id: string
  number: string
  title: string
  state: RequisitionState
  total: bigint
  needBy: string | null
  requester: string
  createdAt: string
  submittedAt: string | null
  holders: { names: string | null; ids: string[] | null }
  lines: number
}

/** Who holds a request now, by name: those asked by the open steps of its open question. */
const HOLDERS = `from consents c join consent_steps s on s.consent_id = c.id and s.state = 'open' join people p on p.id = any(s.approver_ids) where c.document_id = requisitions.id and c.purpose = 'approval' and c.state = 'open'`

const isHolder = (row: ListedRequest, call: Read): boolean =>
  row.holders.ids?.includes(call.actor.id) ||
  call.actor.standsInFor.some(
    one =>
      one.rights.has(APPROVAL_RIGHT) &&
      reaches(one, { kind: 'approval', amount: minor(row.total), currency: call.base }) &&
      row.holders.ids?.includes(one.id),
  )

type Base = Pick<
  ListDefinition<ListedRequest>,
  'id' | 'base' | 'sorts' | 'search' | 'amount' | 'states' | 'columns' | 'row' | 'select'
>

/** Requests as lists show them, only those that this person may see. `path` is where one leads to. */
export const requestListing = (path: (id: string) => string, forDeciders: boolean): Base => ({
  id: 'requisitions.id',
  base: call =>
    call
      .trx('requisitions')
      .leftJoin('people', 'people.id', 'requisitions.requesterId')
      .whereRaw(visibleSql(call, 'requisition', 'requisitions'), visibleBindings(call)),
  select: [
    'requisitions.id',
    'requisitions.number',
    'requisitions.title',
    'requisitions.state',
    'requisitions.total',
    'requisitions.need_by',
    'requisitions.created_at',
    'requisitions.submitted_at',
    'requisitions.lines',
    'people.name as requester',
    `(select json_build_object('names', string_agg(distinct p.name, ', '), 'ids', json_agg(p.id)) ${HOLDERS}) as holders`,
  ],
  sorts: {
    newest: { sql: 'requisitions.created_at', descending: true, type: 'timestamptz' },
    needBy: { sql: "coalesce(requisitions.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    amount: { sql: 'requisitions.total', descending: true, type: 'bigint' },
  },
  search: 'requisitions.search',
  amount: 'requisitions.total',
  states: { column: 'requisitions.state', values: Object.keys(REQUISITION_STATES) },
  columns: [
    { key: 'requester', type: 'person', sql: 'people.name', personId: 'requisitions.requester_id' },
    { key: 'needBy', type: 'date', sql: 'requisitions.need_by' },
    { key: 'lines', type: 'figure', sql: 'requisitions.lines' },
    { key: 'waitsFor', type: 'words', sql: `(select string_agg(distinct p.name, ', ') ${HOLDERS})` },
    { key: 'createdAt', type: 'date', sql: 'requisitions.created_at' },
    { key: 'submittedAt', type: 'date', sql: 'requisitions.submitted_at' },
  ],
  row: (row, call) => ({
    id: row.id,
    path: path(row.id),
    number: row.number,
    title: row.title || row.number,
    subtitle: `${row.number}, ${row.requester}`,
    state: row.state,
    amount: formatAmount(row.total, call.base),
    currency: call.base,
    note: {
      code: `requisition.short.${forDeciders && isHolder(row, call) ? 'forYou' : row.state}`,
      details: { who: row.holders.names ?? '', needBy: row.needBy ?? '' },
    },
    tone: isIn(REQUISITION_GROUPS.cameBack, row.state) ? 'attention' : row.state === 'finished' ? 'settled' : 'plain',
    cells: {
      requester: row.requester,
      needBy: row.needBy,
      lines: String(row.lines),
      waitsFor: row.holders.names,
      createdAt: row.createdAt.slice(0, 10),
      submittedAt: row.submittedAt?.slice(0, 10) ?? null,
    },
  }),
})

/** Requests with a question to deciders, of which a step `s` of the question `c` fulfils a condition. */
export const askedWhere = (call: Read, condition: string, bindings: Record<string, unknown> = {}) =>
  call.trx.raw(
    `exists (select 1 from consents c join consent_steps s on s.consent_id = c.id where c.document_id = requisitions.id and c.purpose = 'approval' and ${condition})`,
    bindings as Record<string, string[]>,
  )
