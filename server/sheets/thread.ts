import { formatAmount, minor } from '#core/money/amount.ts'
import { THREAD_STEPS, type ThreadStep, threadStrip } from '#core/ledger/thread.ts'
import type { ThreadJson } from '#contract/fields.ts'
import type { Call } from '#server/call.ts'
import { PATHS } from '#server/sheets/parts.ts'

/** Where a Sheet stands in its thread: requisition lines and order lines that belong to it. */
export type Anchor = { readonly requisitionId: string } | { readonly orderIds: readonly string[] }

interface DocumentRow {
  step: ThreadStep
  kind: 'requisition' | 'order' | 'receipt' | 'invoice' | 'paymentRun'
  id: string
  number: string
  state: string
  orderId: string | null
}

const VALUES = `
  with line as (
    select ol.id, ol.base_amount, ol.quantity, o.state from order_lines ol join orders o on o.id = ol.order_id where o.id = any(:orders) and o.state not in ('draft', 'cancelled')),
  done as (
    select line.id, line.base_amount, line.quantity,
      coalesce((select quantity from quantity_balances where line_id = line.id and kind = 'confirmed'), 0) as confirmed,
      greatest(coalesce((select quantity from quantity_balances where line_id = line.id and kind = 'received'), 0), coalesce((select quantity from quantity_balances where line_id = line.id and kind = 'accepted'), 0)) as proven,
      coalesce((select quantity from quantity_balances where line_id = line.id and kind = 'billed'), 0) as billed,
      coalesce((select quantity from quantity_balances where line_id = line.id and kind = 'paid'), 0) as paid
    from line)
  select coalesce(sum(base_amount), 0)::bigint as ordered, coalesce(sum(round(base_amount * confirmed / quantity)), 0)::bigint as confirmed, coalesce(sum(round(base_amount * proven / quantity)), 0)::bigint as received,
    coalesce(sum(round(base_amount * billed / quantity)), 0)::bigint as billed, coalesce(sum(round(base_amount * paid / quantity)), 0)::bigint as paid from done`

const DOCUMENTS = `
  select 'ordered' as step, 'order' as kind, id, number, state, id as order_id, created_at as at from orders where id = any(:orders)
  union all select 'received', 'receipt', id, number, state, order_id, at from receipts where order_id = any(:orders)
  union all select distinct 'billed', 'invoice', i.id, i.number, i.state, null::uuid, i.received_at from invoices i join invoice_lines il on il.invoice_id = i.id join order_lines ol on ol.id = il.order_line_id where ol.order_id = any(:orders)
  union all select distinct 'paid', 'paymentRun', r.id, r.number, r.state, null::uuid, r.created_at from payment_runs r join payments p on p.run_id = r.id join invoice_lines il on il.invoice_id = p.invoice_id join order_lines ol on ol.id = il.order_line_id where ol.order_id = any(:orders)
  order by at limit 60`

/** The thread of a document: value per step in the base currency, and the documents at each step. */
export async function threadOf(call: Call, anchor: Anchor): Promise<ThreadJson> {
  const { requisitions, orders } = await ends(call, anchor)
  const [values, documents] = await Promise.all([
    call.trx.raw(VALUES, { orders }).options({ name: 'thread-values' }) as unknown as Promise<{ rows: [Record<'ordered' | 'confirmed' | 'received' | 'billed' | 'paid', bigint>] }>,
    call.trx.raw(DOCUMENTS, { orders }).options({ name: 'thread-documents' }) as unknown as Promise<{ rows: DocumentRow[] }>,
  ])
  const requested = requisitions.reduce((sum, row) => sum + row.value, 0n)
  const decided = requisitions.reduce((sum, row) => sum + (row.decided ? row.value : 0n), 0n)
  const text = (amount: bigint): string => formatAmount(amount, call.base)
  const steps = threadStrip({ requested: minor(requested), decided: minor(decided), ...mapMinor(values.rows[0]) })
  const all: DocumentRow[] = [
    ...requisitions.map((row): DocumentRow => ({ step: 'requested', kind: 'requisition', id: row.id, number: row.number, state: row.state, orderId: null })),
    ...documents.rows,
  ]
  return {
    currency: call.base,
    steps: steps.map(({ step, value, missing }) => ({
      step,
      value: text(value),
      missing: text(missing),
      note: missing > 0n && step !== 'requested' ? { code: `thread.missing.${step}`, details: { amount: text(missing), currency: call.base } } : null,
      documents: all
        .filter(row => row.step === step)
        .map(row => ({ kind: row.kind, id: row.id, number: row.number, state: row.state, path: row.kind === 'receipt' ? PATHS.receipt(row.orderId!) : PATHS[row.kind](row.id) })),
    })),
  }
}

const mapMinor = (values: Record<string, bigint>): Record<Exclude<ThreadStep, 'requested' | 'decided'>, ReturnType<typeof minor>> =>
  Object.fromEntries(THREAD_STEPS.filter(step => step in values).map(step => [step, minor(values[step]!)])) as Record<
    Exclude<ThreadStep, 'requested' | 'decided'>,
    ReturnType<typeof minor>
  >

interface RequisitionEnd {
  id: string
  number: string
  state: string
  value: bigint
  decided: boolean
}

const ENDS = `
  select r.id, r.number, r.state, sum(l.base_amount)::bigint as value, r.decided_at is not null and r.state not in ('returned', 'rejected', 'withdrawn', 'draft', 'waiting') as decided
  from requisitions r join requisition_lines l on l.requisition_id = r.id where l.state <> 'cancelled' and `

async function ends(call: Call, anchor: Anchor): Promise<{ requisitions: RequisitionEnd[]; orders: string[] }> {
  if ('orderIds' in anchor) {
    const { rows } = (await call.trx
      .raw(`${ENDS} l.id in (select requisition_line_id from order_lines where order_id = any(?)) group by r.id`, [[...anchor.orderIds]])
      .options({ name: 'thread-of-orders' })) as { rows: RequisitionEnd[] }
    return { requisitions: rows, orders: [...anchor.orderIds] }
  }
  const { rows } = (await call.trx.raw(`${ENDS} r.id = ? group by r.id`, [anchor.requisitionId]).options({ name: 'thread-of-request' })) as { rows: RequisitionEnd[] }
  const orders = (await call
    .trx('orderLines')
    .join('requisitionLines', 'requisitionLines.id', 'orderLines.requisitionLineId')
    .join('orders', 'orders.id', 'orderLines.orderId')
    .where('requisitionLines.requisitionId', anchor.requisitionId)
    .whereNot('orders.state', 'cancelled')
    .distinct('orderLines.orderId')) as { orderId: string }[]
  return { requisitions: rows, orders: orders.map(row => row.orderId) }
}
