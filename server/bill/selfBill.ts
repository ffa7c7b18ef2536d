import { allTaxRates } from '#server/bill/invoiceStore.ts'
import { ratesOn } from '#core/bill/taxRates.ts'
import { selfBilled, selfBilledNumber, selfBilledTax, selfBillsNow } from '#core/bill/selfBilling.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { minor } from '#core/money/amount.ts'
import { effective, HOUSE_DEFAULTS, type SupplierDefaults } from '#core/source/defaults.ts'
import { takeMade } from '#server/bill/takeActs.ts'
import { dayOf, type Write } from '#server/call.ts'
import { waitingOf } from '#server/bill/waitingStore.ts'
import { sellerCountries } from '#server/bill/sellerStore.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { say } from '#server/mail/mail.ts'
import { heldOrder } from '#server/order/orderStore.ts'

/** Writes the bills of suppliers that agreed to it, for what came and nobody billed: order by order, each in its own transaction. */
export async function selfBill(parts: JobParts): Promise<number> {
  const { rows } = await parts.db.raw<{ rows: { id: string }[] }>(
    `select distinct o.id from orders o join suppliers s on s.id = o.supplier_id join order_lines l on l.order_id = o.id
     where s.defaults ->> 'selfBilling' in ('perReceipt', 'monthly') and l.billable order by 1`,
  )
  let made = 0
  for (const { id } of rows) if (await inTransaction(parts, call => billOne(call, id))) made++
  return made
}

async function billOne(call: Write, orderId: string): Promise<boolean> {
  const order = await heldOrder(call, orderId)
  const before = await call.trx('invoices').where({ source: 'selfBilled', supplierId: order.supplierId }).orderBy('receivedAt', 'desc').select('receivedAt', 'orderReference', 'state', 'charges') // prettier-ignore
  const { defaults } = (await call.trx('suppliers').where({ id: order.supplierId }).first<{ defaults: SupplierDefaults }>('defaults'))! // prettier-ignore
  const ofOrder = before.filter(one => one.orderReference === order.number)
  const lastOn = ofOrder[0] ? dayOf(ofOrder[0].receivedAt, call.house.zone) : null
  if (!selfBillsNow(defaults.selfBilling, lastOn, call.today)) return false
  const category = effective([['house', HOUSE_DEFAULTS], ['supplier', defaults]], 'taxCategory') // prettier-ignore
  const rates = ratesOn(await allTaxRates(call), call.today)
  const tax = selfBilledTax(category, [...(await sellerCountries(call, order.supplierId)), call.house.country], rates)
  const wanted = selfBilled(
    order,
    await chargesBilled(call, order.id),
    await waitingOf(call, order.id),
    tax,
    call.today,
  )
  if (!wanted) return false
  const number = selfBilledNumber(order.number, ofOrder.length)
  const { id } = await takeMade(call, order, wanted, number, 'selfBilled')
  await say(
    call,
    [{ template: 'invoice.selfBilled', to: { kind: 'supplier', id: order.supplierId, message: 'invoices' }, key: `self-billed:${number}`, details: { number, order: order.number, path: `/supplier/invoices/${id}` } }], // prettier-ignore
    { kind: 'invoice', id },
  )
  return true
}

/** Charges that standing invoices of an order billed already. */
async function chargesBilled(call: Write, orderId: string) {
  const { rows } = await call.trx.raw<{ rows: { charges: bigint }[] }>(
    `select coalesce(sum(charges), 0)::bigint as charges from invoices i where i.state = any(:standing) and exists (select 1 from invoice_lines il join order_lines ol on ol.id = il.order_line_id where il.invoice_id = i.id and ol.order_id = :orderId)`,
    { orderId, standing: [...INVOICE_GROUPS.standing] },
  )
  return minor(rows[0]!.charges)
}
