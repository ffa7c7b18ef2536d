import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { SupplierInvoice, SupplierOrder, SupplierOrders } from '#contract/order/endpoints.ts'
import { lineAmount, formatAmount, minor, parseAmount, roundAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { compareRevisions } from '#core/order/revision.ts'
import { stop, RuleBroken } from '#core/reasons.ts'
import { provenBy } from '#core/request/kinds.ts'
import { createInvoice } from '#server/bill/invoiceService.ts'
import { type Call, found } from '#server/call.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { orderConditions, termsOf } from '#server/order/conditions.ts'
import { deliveryText, termsText } from '#server/order/documents.ts'
import { orderHead, shownLines, writable } from '#server/order/orderSheet.ts'
import { orderLines, type RevisionContent } from '#server/order/orderStore.ts'
import { lockOwnOrder, refuseSuperseded } from '#server/order/responseService.ts'

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

export async function ownOrders(call: Call): Promise<ResponseOf<typeof SupplierOrders>> {
  const { rows } = (await call.trx.raw(
    `select o.id, o.number, o.title, o.revision, o.state, o.total, o.currency, o.issued_at,
       exists (select 1 from order_responses r where r.order_id = o.id and r.revision = o.revision and r.state in ('confirmed', 'accepted', 'waiting')) as answered,
       exists (select 1 from order_responses r where r.order_id = o.id and r.state = 'waiting') as proposed,
       exists (select 1 from order_lines l where l.order_id = o.id and greatest(coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'received'), 0), coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'accepted'), 0)) > coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'billed'), 0)) as to_bill
     from orders o where o.supplier_id = ? and o.state <> 'draft' order by o.state in ('issued') desc, o.issued_at desc limit 200`,
    [call.actor.supplierId],
  )) as { rows: OwnRow[] }
  return {
    orders: rows.map(({ proposed, ...row }) => ({
      ...row,
      total: formatAmount(row.total, row.currency),
      waiting:
        row.state === 'cancelled' || row.state === 'closed' || row.state === 'sealed'
          ? row.state
          : proposed
            ? 'buyer'
            : !row.answered
              ? 'answer'
              : row.toBill
                ? 'invoice'
                : 'nothing',
    })),
  }
}

export async function ownOrder(call: Call, id: string, wanted: number | undefined): Promise<ResponseOf<typeof SupplierOrder>> {
  const head = await orderHead(call, id)
  if (head.supplierId !== call.actor.supplierId || head.state === 'draft') throw new RuleBroken(stop('document.notFound', { kind: 'order' }))
  const revision = wanted ?? head.revision
  const revisions = (await call.trx('orderRevisions').where({ orderId: id }).orderBy('revision')) as {
    revision: number
    content: RevisionContent
    issuedAt: string
    reason: string
  }[]
  const shown = found(
    revisions.find(one => one.revision === revision),
    'revision',
  )
  const before = revisions.find(one => one.revision === revision - 1)
  const lines = await shownLines(call, id)
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const response = (await call.trx('orderResponses').where({ orderId: id, revision }).orderBy('at', 'desc').first('state', 'at', 'answerReason')) as
    { state: string; at: string; answerReason: string } | undefined
  const invoices = (await call
    .trx('invoices')
    .whereIn(
      'id',
      call
        .trx('invoiceLines')
        .whereIn(
          'orderLineId',
          lines.map(line => line.id),
        )
        .select('invoiceId'),
    )
    .orderBy('receivedAt')
    .select('id', 'supplierNumber as number', 'state', 'gross', 'dueOn', 'currency')) as {
    id: string
    number: string
    state: string
    gross: bigint
    dueOn: string | null
    currency: string
  }[]
  const why =
    head.state === 'cancelled'
      ? [{ code: 'order.isCancelled', details: { number: head.number } }]
      : revision !== head.revision
        ? [{ code: 'order.superseded', details: { revision, current: head.revision } }]
        : head.state === 'issued' || head.state === 'acknowledged'
          ? []
          : [{ code: 'order.isClosed', details: { number: head.number } }]
  const open = why.length === 0
  const conditions = await orderConditions(call, head)
  const byId = new Map(lines.map(line => [line.id, line]))
  return {
    id,
    number: head.number,
    title: shown.content.title,
    revision,
    current: head.revision,
    state: head.state,
    currency: head.currency,
    total: shown.content.total,
    charges: shown.content.charges,
    buyer: head.buyer,
    message: shown.content.message,
    terms: [termsText(termsOf(conditions)), deliveryText(conditions)].filter(Boolean).join(' '),
    address: head.address,
    issuedAt: shown.issuedAt,
    reason: shown.reason,
    differences: before ? compareRevisions(before.content.lines, shown.content.lines).map(writable) : [],
    revisions: revisions.map(one => one.revision),
    answerable: open && !['confirmed', 'accepted', 'waiting'].includes(response?.state ?? ''),
    billable: open,
    why: response?.state === 'waiting' && open ? [{ code: 'order.responseWaiting', details: {} }] : why,
    lines: shown.content.lines.map(line => {
      const own = sums(line.lineId)
      const proven = own[provenBy(byId.get(line.lineId)?.kind ?? 'goods')]
      const openToBill = Decimal.max(0, new Decimal(line.quantity).minus(own.billed)).toString()
      return {
        ...line,
        kind: byId.get(line.lineId)?.kind ?? 'goods',
        confirmed: own.confirmed,
        promisedDate: byId.get(line.lineId)?.promisedDate ?? null,
        received: proven,
        billed: own.billed,
        openToBill,
      }
    }),
    response: response ?? null,
    invoices: invoices.map(({ currency, ...invoice }) => ({ ...invoice, gross: formatAmount(invoice.gross, currency) })),
  }
}

/** Makes an invoice from the order: lines at their price base, freight as a charge, one tax rate, rounded per category. */
export async function invoiceFromOrder(call: Call, id: string, body: BodyOf<typeof SupplierInvoice>): Promise<{ id: string; state: string; number: string }> {
  const order = await lockOwnOrder(call, id)
  refuseSuperseded(order, body.revision)
  if (body.issueDate > call.today) throw new RuleBroken(stop('bill.futureDate', { today: call.today }, { place: 'issueDate' }))
  if (new Decimal(body.taxRate).lt(0) || new Decimal(body.taxRate).gt(100)) throw new RuleBroken(stop('bill.taxRate', {}, { place: 'taxRate' }))
  const known = new Map((await orderLines(call, id)).map(line => [line.id, line]))
  const wanted = body.lines.filter(line => !new Decimal(line.quantity).isZero())
  if (wanted.length === 0) throw new RuleBroken(stop('bill.notAboveZero'))
  const lines = wanted.map((line, index) => {
    const ordered = found(known.get(line.lineId), 'orderLine')
    if (new Decimal(line.quantity).lt(0)) throw new RuleBroken(stop('line.quantity', { quantity: line.quantity }, { place: `lines.${index}.quantity` }))
    const net = lineAmount({ quantity: line.quantity, price: line.price, priceBase: ordered.priceBase, currency: order.currency })
    return {
      position: index + 1,
      orderLineId: ordered.id,
      description: ordered.description,
      quantity: line.quantity,
      unit: ordered.unit,
      price: line.price,
      priceBase: ordered.priceBase,
      net,
      taxCategory: body.taxCategory,
      taxRate: body.taxRate,
    }
  })
  const charges = parseAmount(body.freight, order.currency)
  if (charges < 0n) throw new RuleBroken(stop('order.charges', {}, { place: 'freight' }))
  const net = sumMinor([charges, ...lines.map(line => line.net)])
  const tax = roundAmount(new Decimal(formatAmount(net, order.currency)).times(body.taxRate).dividedBy(100), order.currency)
  const { version: _version, ...made } = await createInvoice(call, {
    supplierId: order.supplierId,
    supplierNumber: body.number,
    source: 'supplierPages',
    currency: order.currency,
    issueDate: body.issueDate,
    printedDueDate: null,
    orderReference: order.number,
    fileId: null,
    net,
    charges,
    tax,
    gross: minor(net + tax),
    taxes: [{ category: body.taxCategory, rate: body.taxRate, taxable: formatAmount(net, order.currency), tax: formatAmount(tax, order.currency) }],
    lines,
  })
  return made
}
