import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadNeeds } from '#contract/request/endpoints.ts'
import type { Sentence } from '#contract/fields.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isWork } from '#core/request/kinds.ts'
import { type Call, may } from '#server/call.ts'
import { gauge, sumsThroughOrders } from '#server/ledger/quantityStore.ts'
import type { RequisitionLineRow, RequisitionRow } from '#server/request/requisitionStore.ts'

type Need = ResponseOf<typeof ReadNeeds>['needs'][number]
const MOST = 60
const OPEN = ['draft', 'returned', 'waiting', 'approved', 'inPurchasing', 'ordered']

interface Around {
  /** Open orders that a line is on, with what is left to prove. */
  readonly orders: ReadonlyMap<string, { orderId: string; open: boolean }[]>
  readonly asked: ReadonlySet<string>
  readonly holders: ReadonlyMap<string, { who: string; since: string }>
}

/** Everything this person asked for, newest first, with how far each line has come and what is theirs to do now. */
export async function readNeeds(call: Call, view: 'open' | 'all'): Promise<ResponseOf<typeof ReadNeeds>> {
  const query = call.trx('requisitions').where({ requesterId: call.actor.id })
  if (view === 'open') query.whereIn('state', OPEN)
  const rows = (await query.clone().orderByRaw('need_by nulls last, created_at desc').limit(MOST)) as RequisitionRow[]
  const [{ count }] = (await query.clone().count('* as count')) as [{ count: string }]
  const ids = rows.map(row => row.id)
  const lines = (await call.trx('requisitionLines').whereIn('requisitionId', ids).orderBy('position')) as RequisitionLineRow[]
  const sums = await sumsThroughOrders(
    call,
    lines.map(line => line.id),
  )
  const around = await aroundOf(call, ids)
  const needs = rows.map((row): Need => {
    const own = lines.filter(line => line.requisitionId === row.id)
    return {
      id: row.id,
      number: row.number,
      title: row.title || row.number,
      state: row.state,
      sentence: sentenceOf(row, own, around),
      tone: around.asked.has(row.id) || ['returned', 'rejected'].includes(row.state) ? 'attention' : row.state === 'finished' ? 'settled' : 'plain',
      needBy: row.needBy,
      total: formatAmount(row.total, call.base),
      currency: call.base,
      lines: own.map(line => ({ id: line.id, description: line.description, state: line.state, gauge: { ...gauge(line.id, line.unit, line.quantity, sums(line.id)) } })),
      toDo: toDo(call, row, own, around),
    }
  })
  const urgent = (need: Need): string => `${need.toDo.length > 0 ? 0 : 1} ${need.needBy ?? '9999-12-31'}`
  return { needs: needs.sort((a, b) => (urgent(a) < urgent(b) ? -1 : 1)), hidden: Math.max(0, Number(count) - rows.length) }
}

async function aroundOf(call: Call, ids: readonly string[]): Promise<Around> {
  const { rows: orders } = (await call.trx.raw(
    `select ol.requisition_line_id as line_id, o.id as order_id, (ol.proof <> 'none' and greatest(coalesce((select quantity from quantity_balances where line_id = ol.id and kind = 'received'), 0), coalesce((select quantity from quantity_balances where line_id = ol.id and kind = 'accepted'), 0)) < ol.quantity) as open
     from order_lines ol join orders o on o.id = ol.order_id join requisition_lines l on l.id = ol.requisition_line_id where l.requisition_id = any(?) and o.state in ('issued', 'acknowledged')`,
    [[...ids]],
  )) as { rows: { lineId: string; orderId: string; open: boolean }[] }
  const { rows: asked } = (await call.trx.raw('select distinct requisition_id as id from request_questions where requisition_id = any(?) and answered_at is null', [[...ids]])) as {
    rows: { id: string }[]
  }
  const { rows: holders } = (await call.trx.raw(
    `select r.id, string_agg(p.name, ', ' order by p.name) as who, min(s.opened_at) as since from requisitions r join approval_steps s on s.requisition_id = r.id and s.round = r.round and s.state = 'open' join people p on p.id = s.approver_id where r.id = any(?) and r.state = 'waiting' group by r.id`,
    [[...ids]],
  )) as { rows: { id: string; who: string; since: string }[] }
  const byLine = new Map<string, { orderId: string; open: boolean }[]>()
  for (const one of orders) byLine.set(one.lineId, [...(byLine.get(one.lineId) ?? []), one])
  return { orders: byLine, asked: new Set(asked.map(row => row.id)), holders: new Map(holders.map(row => [row.id, row])) }
}

function sentenceOf(row: RequisitionRow, lines: readonly RequisitionLineRow[], around: Around): Sentence {
  if (around.asked.has(row.id)) return { code: 'need.is.asked', details: {} }
  const holder = around.holders.get(row.id)
  if (row.state === 'waiting' && holder) return { code: 'requisition.is.waiting', details: holder }
  return {
    code: `requisition.is.${row.state}`,
    details: { lines: lines.length, toBuy: lines.filter(line => line.state === 'toBuy').length, at: row.decidedAt ?? row.changedAt, who: '', reason: '', since: row.changedAt },
  }
}

function toDo(call: Call, row: RequisitionRow, lines: readonly RequisitionLineRow[], around: Around): Need['toDo'] {
  const todo: Need['toDo'] = []
  if (around.asked.has(row.id)) todo.push({ what: 'answer', path: `/request/${row.id}` })
  if (row.state === 'draft' || row.state === 'returned') todo.push({ what: 'submit', path: `/request/${row.id}` })
  const prove = (what: 'acceptWork' | 'receive', lineKind: (line: RequisitionLineRow) => boolean): void => {
    const orders = new Set(lines.filter(lineKind).flatMap(line => (around.orders.get(line.id) ?? []).filter(order => order.open).map(order => order.orderId)))
    for (const orderId of orders) todo.push({ what, path: `/receive/${orderId}` })
  }
  prove('acceptWork', line => isWork(line.kind))
  if (may(call, 'delivery.receive')) prove('receive', line => !isWork(line.kind))
  return todo
}
