import type { EnterInvoice, ReadEntry } from '#contract/bill/entry.ts'
import type { BodyOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import { enterInvoice } from '#core/bill/enterInvoice.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { toBill } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { lineWords, seesFee } from '#core/request/personalFee.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { sellerCountries, supplierByNumbers } from '#server/bill/sellerStore.ts'
import { take } from '#server/bill/takeActs.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { obey } from '#server/documents/obey.ts'
import { ownFile, sentFile } from '#server/files/fileActs.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { heldOrders, knownOrders } from '#server/order/orderStore.ts'

/** The paper that this person uploaded. */
export const readPaper = async (call: Read, fileId: string): Promise<FileAnswer> => sentFile(call, await ownFile(call, fileId)) // prettier-ignore

/** Orders that are offered at once, the newest first. */
const MOST_ORDERS = 30

/** Whom a paper is of, by what stands on it, and what can still be billed of its orders. */
export async function readEntry(
  call: Read,
  { supplierId, named }: QueryOf<typeof ReadEntry>,
): Promise<ResponseOf<typeof ReadEntry>> {
  const order = named ? await call.trx('orders').whereRaw('upper(number) = ?', [named.trim().toUpperCase()]).whereIn('state', [...ORDER_GROUPS.billable]).first('id', 'supplierId') : undefined // prettier-ignore
  const id = supplierId ?? order?.supplierId ?? (named ? await supplierByNumbers(call, [normalIdentifier(named)], normalIdentifier(named)) : null) // prettier-ignore
  const supplier = id ? await call.trx('suppliers').where({ id }).first('id', 'name', 'currency') : undefined
  if (!supplier) return { supplier: null, orderId: null, orders: [] }
  const ids = await call.trx('orders').where({ supplierId: supplier.id }).whereIn('state', [...ORDER_GROUPS.billable]).orderBy('createdAt', 'desc').limit(MOST_ORDERS).pluck<string[]>('id') // prettier-ignore
  const wanted = order && order.supplierId === supplier.id ? [...new Set([order.id, ...ids])] : ids
  const known = await knownOrders(call, wanted)
  return {
    supplier: { ...supplier, country: (await sellerCountries(call, supplier.id))[0] ?? '' },
    orderId: order && wanted.includes(order.id) ? order.id : null,
    orders: wanted.map(one => {
      const { id, number, row, currency, charges, lines } = known.get(one)!
      return {
        id,
        number,
        title: row.title,
        currency,
        charges: formatAmount(charges, currency),
        lines: lines.map(line => ({ id: line.id, position: line.position, description: lineWords(line, seesFee(call.actor, line.requesterId)), unit: line.unit, price: line.price, priceBase: line.priceBase, open: toBill(line) })), // prettier-ignore
      }
    }),
  }
}

/** Takes in an invoice that somebody typed beside a paper. */
export async function enter(
  call: Write,
  body: BodyOf<typeof EnterInvoice>,
): Promise<Done & { number: string; state: string }> {
  const { supplierId, orderId, fileId, currency, lines } = body
  found(await call.trx('suppliers').where({ id: supplierId }).first('id'), 'supplier')
  if (fileId) await ownFile(call, fileId)
  const orders = orderId ? await heldOrders(call, [orderId]) : []
  if (orders.some(one => one.supplierId !== supplierId)) throw new RuleBroken(stop('enter.otherOrder', {}, { place: 'orderId' })) // prettier-ignore
  const wanted = {
    ...body,
    charges: parseAmount(body.charges, currency),
    gross: parseAmount(body.gross, currency),
    lines,
  }
  const made = obey(enterInvoice(orders[0] ?? null, wanted, call.today)).next
  const invoice = {
    ...made,
    supplierId,
    supplierNumber: body.number.trim(),
    source: 'entered' as const,
    currency,
    issueDate: body.issueDate,
    printedDueDate: body.dueOn,
    orderReference: orders[0]?.number ?? '',
    fileId,
    prepaid: 0n,
    rounding: 0n,
    payable: made.gross,
    buyer: null,
    sellerCountries: await sellerCountries(call, supplierId),
    iban: normalIdentifier(body.iban),
    lines: made.lines.map(line => ({ ...line, told: { sellerItem: '', buyerItem: '', order: orders[0]?.number ?? '', orderLine: '' } })), // prettier-ignore
  }
  return await take(call, invoice, orders)
}
