import { randomUUID } from 'node:crypto'
import { type Hold, matchCharges, matchLine, type OrderFacts, STRICT, type ToleranceProfile } from '#core/bill/match.ts'
import { type InvoiceState, INVOICE_STATES } from '#core/bill/states.ts'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type LineKind, type Proof, provenBy, provenFirst } from '#core/request/kinds.ts'
import { transition } from '#core/states.ts'
import { type Call, found } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'

export interface InvoiceRow {
  id: string
  number: string
  supplierId: string
  supplierNumber: string
  normalNumber: string
  state: InvoiceState
  source: string
  currency: string
  rate: string
  issueDate: string
  printedDueDate: string | null
  dueOn: string | null
  net: bigint
  charges: bigint
  tax: bigint
  gross: bigint
  baseGross: bigint
  taxes: { category: string; rate: string; taxable: string; tax: string }[]
  orderReference: string
  fileId: string | null
  receivedAt: string
  byId: string
  postedAt: string | null
  version: number
  changedAt: string
}
export interface InvoiceLineRow {
  id: string
  invoiceId: string
  position: number
  orderLineId: string | null
  description: string
  quantity: string
  unit: string
  price: string
  priceBase: string
  net: bigint
  taxCategory: string
  taxRate: string
}
export interface HoldRow {
  id: string
  invoiceId: string
  position: number | null
  kind: string
  quantity: string
  amount: bigint
  clearedBy: string
  openedAt: string
  endedAt: string | null
  endedBy: string | null
  endReason: string | null
  cleared: boolean
}

export async function lockInvoice(call: Call, id: string): Promise<InvoiceRow> {
  return found((await call.trx('invoices').where({ id }).forNoKeyUpdate().first()) as InvoiceRow | undefined, 'invoice')
}

export const invoiceLines = async (call: Call, invoiceId: string): Promise<InvoiceLineRow[]> =>
  (await call.trx('invoiceLines').where({ invoiceId }).orderBy('position')) as InvoiceLineRow[]

interface OrderLineFacts {
  id: string
  orderId: string
  kind: LineKind
  proof: Proof
  quantity: string
  price: string
  priceBase: string
  unit: string
  currency: string
  charges: bigint
  orderState: string
}

async function profile(call: Call): Promise<ToleranceProfile> {
  const row = (await call.trx('settings').where({ key: 'tolerances' }).first('value')) as { value: ToleranceProfile } | undefined
  return row?.value ?? STRICT
}

/** Finds every difference of an invoice against its orders and receipts. */
async function findHolds(call: Call, invoice: InvoiceRow, lines: readonly InvoiceLineRow[]): Promise<Hold[]> {
  const ids = lines.map(line => line.orderLineId).filter(id => id !== null)
  const orders = (await call
    .trx('orderLines')
    .join('orders', 'orders.id', 'orderLines.orderId')
    .whereIn('orderLines.id', ids)
    .select('orderLines.id', 'orderId', 'kind', 'proof', 'quantity', 'price', 'priceBase', 'unit', 'currency', 'orders.charges', 'orders.state as orderState')) as OrderLineFacts[]
  const facts = new Map(orders.map(order => [order.id, order]))
  const sums = await quantitySums(call, ids)
  const tolerances = await profile(call)
  const sameLineBefore = (line: InvoiceLineRow): Decimal =>
    lines.filter(other => other.orderLineId === line.orderLineId && other.position < line.position).reduce<Decimal>((sum, other) => sum.plus(other.quantity), new Decimal(0))
  const holds = lines.flatMap(line => {
    const order = line.orderLineId ? facts.get(line.orderLineId) : undefined
    if (order && order.currency !== invoice.currency)
      return [{ position: line.position, kind: 'currency', quantity: '0', amount: minor(line.net), clearedBy: 'invoiceClerk' } satisfies Hold]
    const own = order ? sums(order.id) : undefined
    const known: OrderFacts | null =
      order && own
        ? {
            ordered: order.quantity,
            price: order.price,
            priceBase: order.priceBase,
            unit: order.unit,
            proven: own[provenBy(order.kind)],
            alreadyBilled: new Decimal(own.billed).minus(own.credited).plus(sameLineBefore(line)).toString(),
            proof: provenBy(order.kind),
            provenFirst: provenFirst(order.proof),
          }
        : null
    return matchLine({ position: line.position, quantity: line.quantity, unit: line.unit, net: minor(line.net), order: known }, tolerances, invoice.currency)
  })
  const agreed = [...new Map(orders.map(order => [order.orderId, order.charges])).values()].reduce((sum, charges) => sum + charges, 0n)
  const billedBefore = await chargesBilled(call, invoice, [...new Set(orders.map(order => order.orderId))])
  return [...holds, ...matchCharges(minor(invoice.charges), minor(agreed > billedBefore ? agreed - billedBefore : 0n), tolerances), ...(await nearDuplicate(call, invoice))]
}

async function chargesBilled(call: Call, invoice: InvoiceRow, orderIds: readonly string[]): Promise<bigint> {
  if (orderIds.length === 0 || invoice.charges === 0n) return 0n
  const { rows } = (await call.trx.raw(
    `select coalesce(sum(charges), 0)::bigint as billed from invoices where id <> ? and state in ('cleared', 'scheduled', 'paid') and id in (select il.invoice_id from invoice_lines il join order_lines ol on ol.id = il.order_line_id where ol.order_id = any(?))`,
    [invoice.id, [...orderIds]],
  )) as { rows: [{ billed: bigint }] }
  return rows[0].billed
}

async function nearDuplicate(call: Call, invoice: InvoiceRow): Promise<Hold[]> {
  const twin = (await call
    .trx('invoices')
    .where({ supplierId: invoice.supplierId, gross: invoice.gross, currency: invoice.currency })
    .whereNot({ id: invoice.id })
    .whereNotIn('state', ['rejected', 'voided'])
    .whereRaw('abs(issue_date - ?::date) <= 14 and received_at <= ?', [invoice.issueDate, invoice.receivedAt])
    .first('id')) as unknown
  return twin ? [{ position: null, kind: 'nearDuplicate', quantity: '0', amount: minor(invoice.gross), clearedBy: 'invoiceClerk' }] : []
}

/**
 * Matches an invoice anew: opens the holds that are there now, ends those whose cause is gone, keeps what a person has cleared. The caller
 * holds the invoice's row.
 */
export async function match(call: Call, invoice: InvoiceRow): Promise<InvoiceState> {
  const lines = await invoiceLines(call, invoice.id)
  const now = await findHolds(call, invoice, lines)
  const known = (await call.trx('invoiceHolds').where({ invoiceId: invoice.id })) as HoldRow[]
  const cleared = (hold: Hold): boolean =>
    known.some(row => row.cleared && row.kind === hold.kind && row.position === hold.position && new Decimal(row.quantity).gte(hold.quantity) && row.amount >= hold.amount)
  const same = (row: HoldRow, hold: Hold): boolean =>
    row.endedAt === null && row.kind === hold.kind && row.position === hold.position && new Decimal(row.quantity).equals(hold.quantity) && row.amount === hold.amount
  const wanted = now.filter(hold => !cleared(hold))
  const gone = known.filter(row => row.endedAt === null && !wanted.some(hold => same(row, hold)))
  const fresh = wanted.filter(hold => !known.some(row => same(row, hold)))
  if (gone.length > 0)
    await call
      .trx('invoiceHolds')
      .whereIn(
        'id',
        gone.map(row => row.id),
      )
      .update({ endedAt: call.now, endReason: 'causeGone' })
  if (fresh.length > 0)
    await call.trx('invoiceHolds').insert(
      fresh.map(hold => ({
        id: randomUUID(),
        invoiceId: invoice.id,
        position: hold.position,
        kind: hold.kind,
        quantity: hold.quantity,
        amount: hold.amount,
        clearedBy: hold.clearedBy,
        openedAt: call.now,
      })),
    )
  const next = transition(INVOICE_STATES, 'invoice', invoice.state, wanted.length > 0 ? 'hold' : 'clear')
  if (!next.ok || next.state === invoice.state) return invoice.state
  await call.trx('invoices').where({ id: invoice.id }).update({ state: next.state, changedAt: call.now })
  if (invoice.state !== 'read') await call.trx('invoices').where({ id: invoice.id }).increment('version', 1)
  await record(call, {
    kind: 'invoice',
    id: invoice.id,
    action: wanted.length > 0 ? 'heldUp' : 'matched',
    changes: { holds: wanted.map(hold => ({ kind: hold.kind, position: hold.position, quantity: hold.quantity })) },
  })
  return next.state
}

/** After a receipt, its reversal or a change of an order: the waiting invoices on these lines are matched again, in id order. */
export async function rematchForOrders(call: Call, orderLineIds: readonly string[]): Promise<void> {
  const waiting = (await call
    .trx('invoices')
    .whereIn('state', ['read', 'onHold', 'matched'])
    .whereIn(
      'id',
      call
        .trx('invoiceLines')
        .whereIn('orderLineId', [...orderLineIds])
        .select('invoiceId'),
    )
    .orderBy('id')
    .forNoKeyUpdate()) as InvoiceRow[]
  for (const invoice of waiting) await match(call, invoice)
}
