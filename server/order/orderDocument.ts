import type { Language } from '#contract/messages/languages.ts'
import { write } from '#contract/messages/translate.ts'
import { sumDecimals } from '#core/money/decimal.ts'
import { minorDigits } from '#core/money/currency.ts'
import type { PaymentTerms } from '#core/pay/terms.ts'
import { PERSONAL_FEE, seesFee } from '#core/request/personalFee.ts'
import { chargesShown, compareRevisions, type LineDifference, type RevisionLine } from '#core/order/revision.ts'
import { placeText, sentTo } from '#core/order/supplierPlace.ts'
import type { Address } from '#core/text/address.ts'
import type { EffectiveValue } from '#core/source/defaults.ts'
import { found, type Read } from '#server/call.ts'
import { byId } from '#server/database/rows.ts'
import type { DocumentLine, OrderDocument } from '#server/formats/ublOrder.ts'
import { readSettings } from '#server/house/house.ts'
import { documentLanguage } from '#server/mail/recipients.ts'
import { supplierPlaces } from '#server/order/placeStore.ts'
import { orderConditions, termsOf } from '#server/order/conditionStore.ts'

const FROM_WORDS: Readonly<Record<PaymentTerms['from'], string>> = {
  invoice: 'Payment {days} days from the invoice date.',
  receipt: 'Payment {days} days from the receipt of the goods.',
  endOfMonth: 'Payment {days} days from the end of the month of the invoice.',
}

export const termsText = (terms: PaymentTerms, language: Language = 'en'): string =>
  write(language)(FROM_WORDS[terms.from], { days: terms.days })

/** "DAP Rotterdam (Incoterms 2020)." or nothing. */
function deliveryText(conditions: readonly EffectiveValue[]): string {
  const value = (key: 'incoterm' | 'incotermPlace'): string => conditions.find(one => one.key === key)?.value ?? ''
  return value('incoterm') === '' ? '' : `${value('incoterm')} ${value('incotermPlace')} (Incoterms 2020).`
}

const saidBy = (conditions: readonly EffectiveValue[], key: EffectiveValue['key']): string => {
  const value = conditions.find(one => one.key === key)?.value ?? ''
  return value === '0' ? '' : value
}

/** What is paid ahead and what is held back, or nothing. */
function advanceText(conditions: readonly EffectiveValue[], language: Language): string {
  const say = write(language)
  const [prepaid, retained, days] = (['prepaidPercent', 'retainedPercent', 'retainedDays'] as const).map(key => saidBy(conditions, key)) // prettier-ignore
  return [
    prepaid ? say('{percent} % are prepaid against an invoice.', { percent: prepaid }) : '',
    retained ? say('{percent} % of work are held back for {days} days after acceptance.', { percent: retained, days: days || '0' }) : '', // prettier-ignore
  ]
    .filter(Boolean)
    .join(' ')
}

/** When we pay and who carries what to where, in the words of a document. */
export const termsAndDelivery = (conditions: readonly EffectiveValue[], language: Language): string =>
  [termsText(termsOf(conditions), language), advanceText(conditions, language), deliveryText(conditions)]
    .filter(Boolean)
    .join(' ')

/** One issued revision of an order as a document, with the parties as they are now. */
export async function orderDocument(call: Read, orderId: string, revision: number): Promise<OrderDocument> {
  const order = found(await call.trx('orders').where({ id: orderId }).first(), 'order')
  const issued = found(await call.trx('orderRevisions').where({ orderId, revision }).first(), 'revision')
  const before = await call
    .trx('orderRevisions')
    .where({ orderId, revision: revision - 1 })
    .first('content')
  const conditions = await orderConditions(call, order)
  const supplier = found(await call.trx('suppliers').where({ id: order.supplierId }).first('name'), 'supplier')
  const place = await placeSaid(call, order, issued.content.location)
  const vat = await call
    .trx('supplierIdentifiers')
    .where({ supplierId: order.supplierId, scheme: 'vat' })
    .first('value')
  const buyer = found(await call.trx('people').where({ id: order.buyerId }).first('name'), 'person')
  const { company, logo = null } = await readSettings(call, ['company', 'logo'])
  const extras = await call
    .trx('orderLines as line')
    .leftJoin('items', 'items.id', 'line.itemId')
    .leftJoin('addresses', 'addresses.id', 'line.addressId')
    .joinRaw(
      'left join lateral (select supplier_item from offers where offers.item_id = line.item_id and supplier_id = ? limit 1) as offer on true',
      [order.supplierId],
    )
    .where('line.orderId', orderId)
    .select<{ id: string; buyerItem: string | null; supplierItem: string | null; address: string; place: string }[]>(
      'line.id',
      'items.number as buyerItem',
      'offer.supplier_item',
      call.trx.raw("concat_ws(', ', addresses.name, addresses.dock, addresses.street, addresses.city) as address"),
      call.trx.raw("concat_ws(', ', addresses.name, nullif(addresses.dock, '')) as place"),
    )
  const byLine = byId(extras)
  const language = await documentLanguage(call, order.supplierId)
  const changes = new Map(
    compareRevisions(before?.content.lines ?? [], issued.content.lines).map(one => [one.lineId, one.kind]),
  )
  const printed = (line: RevisionLine) => ({
    ...line,
    address: addressOf(line, byLine.get(line.lineId)),
    buyerItem: byLine.get(line.lineId)?.buyerItem ?? '',
    sellerItem: byLine.get(line.lineId)?.supplierItem ?? '',
  })
  return {
    number: order.number,
    revision,
    issuedOn: issued.issuedAt.slice(0, 10),
    currency: order.currency,
    note: issued.content.message,
    contact: buyer.name,
    agreement: order.agreement,
    charges: chargesShown(issued.content),
    total: issued.content.total,
    linesTotal: sumDecimals(issued.content.lines.map(line => line.amount)).toFixed(minorDigits(order.currency)),
    language,
    paymentTerms: termsAndDelivery(conditions, language),
    buyer: company ?? { name: call.house.name, street: '', postalCode: '', city: '', country: '', vat: '' },
    logo,
    seller: {
      name: supplier.name,
      ...place,
      vat: vat?.value ?? '',
    },
    reason: issued.reason,
    clauses: issued.content.clauses ?? [],
    lines: issued.content.lines.map(line => ({
      ...printed(line),
      change: before ? changeOf(changes.get(line.lineId)) : ('none' as const),
    })),
    gone: (before?.content.lines ?? []).flatMap(line =>
      changes.get(line.lineId) === 'removed' ? [{ ...printed(line), change: 'none' as const }] : [],
    ),
  }
}

/** The place of the supplier that a revision went to, as its record has it now; in one line as it was said where it is there no more. */
async function placeSaid(
  call: Read,
  order: { readonly supplierId: string; readonly locationId: string | null },
  said: string | undefined,
): Promise<Address> {
  const places = await supplierPlaces(call, order.supplierId)
  const now = sentTo(places, order.locationId)
  const same = said === undefined || said === placeText(now) ? now : places.find(one => placeText(one) === said)
  if (!same && said) return { street: said, postalCode: '', city: '', country: '' }
  const { street = '', postalCode = '', city = '', country = '' } = same ?? {}
  return { street, postalCode, city, country }
}

/** Where a line of a revision goes: in full as long as it still goes there. */
const addressOf = (line: RevisionLine, now: { address: string; place: string } | undefined): string =>
  line.place === undefined || line.place === now?.place ? (now?.address ?? '') : line.place

const changeOf = (kind: LineDifference['kind'] | undefined): 'none' | 'added' | 'changed' =>
  kind === 'added' || kind === 'changed' ? kind : 'none'

/** The document as somebody of the team reads it: whom a personal fee is for stays with those whom it concerns. */
export async function documentFor(call: Read, orderId: string, revision: number): Promise<OrderDocument> {
  const document = await orderDocument(call, orderId, revision)
  const rows = await call
    .trx('orderLines')
    .leftJoin('requisitionLines', 'requisitionLines.id', 'orderLines.requisitionLineId')
    .leftJoin('requisitions', 'requisitions.id', 'requisitionLines.requisitionId')
    .where('orderLines.orderId', orderId)
    .where('orderLines.kind', 'personalFee')
    .select<{ position: number; requesterId: string | null }[]>('orderLines.position', 'requisitions.requesterId')
  const hidden = new Set(rows.filter(row => !seesFee(call.actor, row.requesterId)).map(row => row.position))
  const shown = (lines: readonly DocumentLine[]) =>
    lines.map(line => (hidden.has(line.position) ? { ...line, description: PERSONAL_FEE } : line))
  return { ...document, lines: shown(document.lines), gone: shown(document.gone) }
}
