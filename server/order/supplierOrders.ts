import type { ResponseOf } from '#contract/endpoint.ts'
import type { SupplierOrder, SupplierOrders } from '#contract/order/supplierOrders.ts'
import { type INVOICE_STATES } from '#core/bill/states.ts'
import { languageOf } from '#contract/messages/languages.ts'
import { formatAmount } from '#core/money/amount.ts'
import { whyNotAnswer, whyNotCurrent } from '#core/order/answerOrder.ts'
import { billed, proven } from '#core/order/measures.ts'
import { followed } from '#core/order/schedule.ts'
import { chargesShown, compareHeads, compareRevisions, promisedOf } from '#core/order/revision.ts'
import { ANSWERED, ORDER_GROUPS } from '#core/order/states.ts'
import { isIn } from '#core/states.ts'
import { found, type Read } from '#server/call.ts'
import { aheadJson, orderConditions } from '#server/order/conditionStore.ts'
import { termsAndDelivery } from '#server/order/orderDocument.ts'
import { writable } from '#server/order/orderSheet.ts'
import { knownOrder, needOwn, SHOWN } from '#server/order/orderStore.ts'

interface OwnRow {
  id: string
  number: string
  title: string
  revision: number
  state: string
  total: bigint
  currency: string
  issuedAt: string
  answered: boolean
  toBill: boolean
  proposed: boolean
}

/** Orders that a supplier's pages list. */
const MOST_ORDERS = 200

/** The orders of the supplier whose person looks, what waits for them first. */
export async function ownOrders(call: Read): Promise<ResponseOf<typeof SupplierOrders>> {
  const { rows } = await call.trx
    .raw<{ rows: OwnRow[] }>(
      `select o.id, o.number, o.title, o.revision, o.state, o.total, o.currency, o.issued_at,
         exists (select 1 from order_responses r where r.order_id = o.id and r.revision = o.revision and r.state = any(:answered)) as answered,
         exists (select 1 from order_responses r where r.order_id = o.id and r.state = 'waiting') as proposed,
         exists (select 1 from order_lines l where l.order_id = o.id and l.billable) as to_bill
       from orders o where o.supplier_id = :supplier and o.state = any(:shown) order by o.state = 'issued' desc, o.issued_at desc limit ${MOST_ORDERS}`,
      { supplier: call.actor.supplierId, answered: [...ANSWERED], shown: SHOWN },
    )
    .options({ name: 'own-orders' })
  return {
    orders: rows.map(({ proposed, ...row }) => ({
      ...row,
      total: formatAmount(row.total, row.currency),
      waiting: waitingOf(row, proposed),
    })),
  }
}

function waitingOf(row: Omit<OwnRow, 'proposed'>, proposed: boolean): string {
  if (isIn(ORDER_GROUPS.ended, row.state)) return row.state
  if (proposed) return 'buyer'
  return row.answered ? (row.toBill ? 'invoice' : 'nothing') : 'answer'
}

export async function ownOrder(
  call: Read,
  id: string,
  wanted: number | undefined,
): Promise<ResponseOf<typeof SupplierOrder>> {
  await needOwn(call, id)
  const order = await knownOrder(call, id)
  const revision = wanted ?? order.revision
  const revisions = await call
    .trx('orderRevisions')
    .where({ orderId: id })
    .orderBy('revision')
    .select('revision', 'content', 'issuedAt', 'reason')
  const shown = found(
    revisions.find(one => one.revision === revision),
    'revision',
  )
  const before = revisions.find(one => one.revision === revision - 1)
  const response = await call
    .trx('orderResponses')
    .where({ orderId: id, revision })
    .orderBy('at', 'desc')
    .first('state', 'at', 'answerReason')
  const buyer = await call.trx('people').where({ id: order.buyerId }).first('name')
  const conditions = await orderConditions(call, order.row)
  const closed = whyNotCurrent(order, revision)
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return {
    id,
    number: order.number,
    title: shown.content.title,
    revision,
    current: order.revision,
    state: order.state,
    currency: order.currency,
    total: shown.content.total,
    charges: shown.content.charges,
    chargeItems: [...chargesShown(shown.content)],
    buyer: buyer?.name ?? '',
    message: shown.content.message,
    location: shown.content.location ?? order.location,
    ahead: aheadJson(order, conditions),
    clauses: (shown.content.clauses ?? []).map(one => ({ ...one, because: [] })),
    terms: termsAndDelivery(conditions, languageOf(call.actor.locale, call.house.languages)),
    address: order.place || null,
    issuedAt: shown.issuedAt,
    reason: shown.reason,
    differences: before
      ? [
          ...compareHeads(before.content, shown.content),
          ...compareRevisions(before.content.lines, shown.content.lines),
        ].map(writable)
      : [],
    revisions: revisions.map(one => one.revision),
    answerable: closed.length === 0 && !isIn(ANSWERED, response?.state ?? ''),
    billable: closed.length === 0,
    why: whyNotAnswer(order, revision).map(({ code, details }) => ({ code, details })),
    lines: shown.content.lines.map(line => {
      const known = lines.get(line.lineId)
      const { schedule = [], ...said } = line
      const deliveries = schedule.map(one => ({ ...one, addressId: null }))
      return {
        ...said,
        schedule: followed(deliveries, known ? promisedOf(known) : [], known ? proven(known) : '0'),
        kind: known?.kind ?? 'goods',
        confirmed: known?.sums.confirmed ?? '0',
        promisedDate: known?.promisedDate ?? null,
        received: known ? proven(known) : '0',
        billed: known ? billed(known) : '0',
      }
    }),
    response: response ?? null,
    invoices: await ownInvoices(call, id),
  }
}

interface OwnInvoice {
  id: string
  number: string
  state: keyof typeof INVOICE_STATES
  gross: bigint
  dueOn: string | null
  currency: string
}

async function ownInvoices(call: Read, orderId: string) {
  const { rows } = await call.trx.raw<{ rows: OwnInvoice[] }>(
    `select i.id, i.supplier_number as number, i.state, i.payable as gross, i.due_on, i.currency from invoices i where i.supplier_id = ? and i.id in
       (select il.invoice_id from invoice_lines il join order_lines ol on ol.id = il.order_line_id where ol.order_id = ?) order by i.received_at`,
    [call.actor.supplierId, orderId],
  )
  return rows.map(({ currency, ...invoice }) => ({ ...invoice, gross: formatAmount(invoice.gross, currency) }))
}
