import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import type { PackConversion } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'

/** The supplier by VAT number, registration number, endpoint or account, in that order; never by name alone. */
export async function findSeller(call: Read, text: InvoiceText): Promise<string> {
  const values = [text.seller.vatId, text.seller.registrationId, text.seller.endpointId]
    .filter(Boolean)
    .map(normalIdentifier)
  const supplierId = await supplierByNumbers(call, values, normalIdentifier(text.iban || 'none'))
  if (supplierId) return supplierId
  throw new RuleBroken(
    stop('bill.unknownSupplier', { name: text.seller.name, vat: text.seller.vatId || '—' }, { clearedBy: ['buyer'] }),
  )
}

/** The supplier that has one of the numbers, the first of them that is known, else the account. */
export async function supplierByNumbers(call: Read, numbers: readonly string[], iban: string): Promise<string | null> {
  const known = await call
    .trx('supplierIdentifiers')
    .whereRaw('value = any(?)', [[...numbers]])
    .orderByRaw('array_position(?::text[], value)', [[...numbers]])
    .first('supplierId')
  const account = known ?? (await call.trx('supplierBankAccounts').where({ iban }).whereNot({ state: 'closed' }).first('supplierId')) // prettier-ignore
  return account?.supplierId ?? null
}

/** Countries where a supplier is. */
export async function sellerCountries(call: Read, supplierId: string): Promise<string[]> {
  const rows = await call.trx('supplierLocations').where({ supplierId }).distinct<{ country: string }[]>('country')
  return rows.map(row => row.country)
}

export interface LineCandidate {
  id: string
  position: number
  description: string
  unit: string
  price: string
  priceBase: string
  itemNumber: string | null
  itemUnit: string | null
  packs: PackConversion[] | null
  supplierItem: string | null
}

/** Lines of the order that an invoice names, of this supplier and open for billing; where it names none, those that are billed by a plan. */
export async function findLines(call: Read, orderReference: string, supplierId: string): Promise<LineCandidate[]> {
  const { rows } = await call.trx.raw<{ rows: LineCandidate[] }>(
    `select l.id, l.position, l.description, l.unit, l.price, l.price_base, i.number as item_number, i.unit as item_unit, i.packs, offer.supplier_item from order_lines l join orders o on o.id = l.order_id left join items i on i.id = l.item_id
     left join lateral (select supplier_item from offers where offers.item_id = l.item_id and offers.supplier_id = o.supplier_id limit 1) as offer on true
     where o.supplier_id = :supplier and o.state = any(:billable) and (upper(o.number) = :number or (:number = '' and l.proof = 'none' and jsonb_array_length(l.schedule) > 1)) order by o.number, l.position`,
    { supplier: supplierId, billable: [...ORDER_GROUPS.billable], number: orderReference.trim().toUpperCase() },
  )
  return rows
}
