import { documentKind, type DocumentKind } from '#core/documents/kinds.ts'
import { THREAD_STEPS, type ThreadStep, threadStrip } from '#core/ledger/thread.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import type { ThreadJson } from '#contract/fields.ts'
import { EVENT_GROUPS, type EventState } from '#core/source/eventStates.ts'
import { may, type Read } from '#server/call.ts'

/** Where a Sheet stands in its thread: the request or the orders that belong to it. */
export type Anchor = { readonly requisitionId: string } | { readonly orderIds: readonly string[] }

interface DocumentRow {
  step: ThreadStep
  kind: DocumentKind
  id: string
  /** What stands in the path of its page. */
  place: string
  number: string
  state: string
}
type Values = Record<Exclude<ThreadStep, 'requested' | 'decided'>, bigint>

/** Sums of what the core keeps on the lines. */
const VALUES = `
  select coalesce(sum(l.base_amount), 0)::bigint as ordered, coalesce(sum(l.confirmed_value), 0)::bigint as confirmed, coalesce(sum(l.received_value), 0)::bigint as received,
    coalesce(sum(l.billed_value), 0)::bigint as billed, coalesce(sum(l.paid_value), 0)::bigint as paid
  from order_lines l join orders o on o.id = l.order_id where o.id = any(:orders) and o.state = any(:counted)`

/** Events that are, or were, a step of the way: a cancelled one is none. */
const ASKED: EventState[] = [...EVENT_GROUPS.open, 'settled']

const DOCUMENTS = `
  select 'ordered' as step, 'order' as kind, id, id as place, number, state, created_at as at from orders where id = any(:orders)
  union all select 'received', 'receipt', id, order_id, number, state, at from receipts where order_id = any(:orders)
  union all select distinct 'billed', 'invoice', i.id, i.id, i.number, i.state, i.received_at from invoices i join invoice_lines il on il.invoice_id = i.id join order_lines ol on ol.id = il.order_line_id where ol.order_id = any(:orders)
  union all select distinct 'paid', 'paymentRun', r.id, r.id, r.number, r.state, r.created_at from payment_runs r join payments p on p.run_id = r.id join invoice_lines il on il.invoice_id = p.invoice_id join order_lines ol on ol.id = il.order_line_id where ol.order_id = any(:orders)
  union all select distinct 'decided', 'event', e.id, e.id, e.number, e.state, e.created_at from events e join event_lines l on l.event_id = e.id join requisition_lines q on q.id = l.requisition_line_id
    where q.requisition_id = any(:requests) and e.state = any(:asked)
  order by at limit 60`

/** The thread of a document: value per step in the base currency, and the documents at each step. */
export async function threadOf(call: Read, anchor: Anchor): Promise<ThreadJson> {
  const { requisitions, orders } = await ends(call, anchor)
  const values = await call.trx
    .raw<{ rows: [Values] }>(VALUES, { orders, counted: [...ORDER_GROUPS.counted] })
    .options({ name: 'thread-values' })
  const documents = await call.trx
    .raw<{ rows: DocumentRow[] }>(DOCUMENTS, { orders, requests: requisitions.map(row => row.id), asked: ASKED })
    .options({ name: 'thread-documents' })
  const requested = requisitions.reduce((sum, row) => sum + row.value, 0n)
  const decided = requisitions.reduce((sum, row) => sum + (row.decided ? row.value : 0n), 0n)
  const text = (amount: bigint): string => formatAmount(amount, call.base)
  const known = values.rows[0]
  const steps = threadStrip({
    requested: minor(requested),
    decided: minor(decided),
    ordered: minor(known.ordered),
    confirmed: minor(known.confirmed),
    received: minor(known.received),
    billed: minor(known.billed),
    paid: minor(known.paid),
  })
  const all: DocumentRow[] = [
    ...requisitions.map(({ id, number, state }): DocumentRow => ({
      step: 'requested',
      kind: 'requisition',
      id,
      place: id,
      number,
      state,
    })),
    ...documents.rows,
  ]
  return {
    currency: call.base,
    steps: steps.map(({ step, value, missing }) => ({
      step,
      value: text(value),
      missing: text(missing),
      note:
        missing > 0n && step !== THREAD_STEPS[0]
          ? { code: `thread.missing.${step}`, details: { amount: text(missing), currency: call.base } }
          : null,
      documents: all
        .filter(row => row.step === step)
        .map(({ kind, id, place, number, state }) => ({
          kind,
          id,
          number,
          state,
          // whoever asked for it sees that suppliers are asked, not what they answer
          path: kind === 'event' && !may(call, 'event.read') ? null : documentKind(kind).path(place),
        })),
    })),
  }
}

interface RequisitionEnd {
  id: string
  number: string
  state: string
  value: bigint
  decided: boolean
}

const ENDS = `
  select r.id, r.number, r.state, sum(l.base_amount)::bigint as value, r.state = any(:decided) as decided
  from requisitions r join requisition_lines l on l.requisition_id = r.id where l.state <> 'cancelled' and `

async function ends(call: Read, anchor: Anchor): Promise<{ requisitions: RequisitionEnd[]; orders: string[] }> {
  const decided = [...REQUISITION_GROUPS.decided]
  if ('orderIds' in anchor) {
    const { rows } = await call.trx
      .raw<{ rows: RequisitionEnd[] }>(
        `${ENDS} l.id in (select requisition_line_id from order_lines where order_id = any(:orders)) group by r.id`,
        { orders: [...anchor.orderIds], decided },
      )
      .options({ name: 'thread-of-orders' })
    return { requisitions: rows, orders: [...anchor.orderIds] }
  }
  const { rows } = await call.trx
    .raw<{ rows: RequisitionEnd[] }>(`${ENDS} r.id = :id group by r.id`, { id: anchor.requisitionId, decided })
    .options({ name: 'thread-of-request' })
  const orders = await call.trx
    .raw<{ rows: { id: string }[] }>(
      `select distinct o.id from orders o join order_lines l on l.order_id = o.id join requisition_lines q on q.id = l.requisition_line_id where q.requisition_id = ? and o.state <> 'cancelled'`,
      [anchor.requisitionId],
    )
    .options({ name: 'orders-of-request' })
  return { requisitions: rows, orders: orders.rows.map(row => row.id) }
}
