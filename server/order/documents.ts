import { sumDecimals } from '#core/money/decimal.ts'
import { minorDigits } from '#core/money/currency.ts'
import type { PaymentTerms } from '#core/pay/terms.ts'
import type { EffectiveValue } from '#core/source/defaults.ts'
import { orderConditions, termsOf } from '#server/order/conditions.ts'
import { type Call, found } from '#server/call.ts'
import type { OrderDocument, PartyDocument } from '#server/formats/ublOrder.ts'
import type { OrderRow, RevisionContent } from '#server/order/orderStore.ts'

const FROM_WORDS: Readonly<Record<PaymentTerms['from'], string>> = {
  invoice: 'from the invoice date',
  receipt: 'from the receipt of the goods',
  endOfMonth: 'from the end of the month of the invoice',
}

export const termsText = (terms: PaymentTerms): string => `Payment ${terms.days} days ${FROM_WORDS[terms.from]}.`

/** "DAP Saltmere (Incoterms 2020)." or nothing. */
export function deliveryText(conditions: readonly EffectiveValue[]): string {
  const value = (key: 'incoterm' | 'incotermPlace'): string => conditions.find(one => one.key === key)?.value ?? ''
  return value('incoterm') === '' ? '' : `${value('incoterm')} ${value('incotermPlace')} (Incoterms 2020).`
}

/** One issued revision of an order as a document, with the parties as they are now. */
export async function orderDocument(call: Call, orderId: string, revision: number): Promise<OrderDocument> {
  const order = found((await call.trx('orders').where({ id: orderId }).first()) as OrderRow | undefined, 'order')
  const issued = found((await call.trx('orderRevisions').where({ orderId, revision }).first()) as { content: RevisionContent; issuedAt: string } | undefined, 'revision')
  const conditions = await orderConditions(call, order)
  const supplier = (await call.trx('suppliers').where({ id: order.supplierId }).first('name')) as { name: string }
  const place = (await call.trx('supplierLocations').where({ supplierId: order.supplierId }).orderByRaw("('takesOrders' = any(roles)) desc, position").first()) as
    PartyDocument | undefined
  const vat = (await call.trx('supplierIdentifiers').where({ supplierId: order.supplierId, scheme: 'vat' }).first('value')) as { value: string } | undefined
  const buyer = (await call.trx('people').where({ id: order.buyerId }).first('name')) as { name: string }
  const company = (await call.trx('settings').where({ key: 'company' }).first('value')) as { value: PartyDocument } | undefined
  const extras = (await call
    .trx('orderLines as line')
    .leftJoin('items', 'items.id', 'line.itemId')
    .leftJoin('addresses', 'addresses.id', 'line.addressId')
    .joinRaw('left join lateral (select supplier_item from offers where offers.item_id = line.item_id and supplier_id = ? limit 1) as offer on true', [order.supplierId])
    .where('line.orderId', orderId)
    .select(
      'line.id',
      'items.number as buyerItem',
      'offer.supplier_item',
      call.trx.raw("concat_ws(', ', addresses.name, addresses.dock, addresses.street, addresses.city) as address"),
    )) as { id: string; buyerItem: string | null; supplierItem: string | null; address: string }[]
  const byLine = new Map(extras.map(row => [row.id, row]))
  return {
    number: order.number,
    revision,
    issuedOn: issued.issuedAt.slice(0, 10),
    currency: order.currency,
    note: issued.content.message,
    contact: buyer.name,
    agreement: order.agreement,
    charges: issued.content.charges,
    total: issued.content.total,
    linesTotal: sumDecimals(issued.content.lines.map(line => line.amount)).toFixed(minorDigits(order.currency)),
    paymentTerms: [termsText(termsOf(conditions)), deliveryText(conditions)].filter(Boolean).join(' '),
    buyer: company?.value ?? { name: 'Saltmere Aquarium Trust', street: '', postalCode: '', city: '', country: '', vat: '' },
    seller: {
      name: supplier.name,
      street: place?.street ?? '',
      postalCode: place?.postalCode ?? '',
      city: place?.city ?? '',
      country: place?.country ?? '',
      vat: vat?.value ?? '',
    },
    lines: issued.content.lines.map(line => ({
      ...line,
      address: byLine.get(line.lineId)?.address ?? '',
      buyerItem: byLine.get(line.lineId)?.buyerItem ?? '',
      sellerItem: byLine.get(line.lineId)?.supplierItem ?? '',
    })),
  }
}
