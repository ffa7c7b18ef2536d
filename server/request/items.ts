import type { ResponseOf } from '#contract/endpoint.ts'
import type { CatalogueFacts, CataloguePictures, ItemJson } from '#contract/request/catalogue.ts'
import { minor, unitPriceOf } from '#core/money/amount.ts'
import { earliestDelivery, isAgreed } from '#core/request/offer.ts'
import { wantsFreight } from '#core/request/terms.ts'
import { UNITS } from '#core/units/units.ts'
import { found, may, type Read } from '#server/call.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import type { OfferRow } from '#server/request/offerStore.ts'
import { pricesToCome } from '#server/request/priceStore.ts'
import { baseRates } from '#server/house/rates.ts'
import { teamCalendar } from '#server/house/calendar.ts'

type ItemRow = Omit<ItemJson, 'offers' | 'paid' | 'askedBy' | 'replacedBy' | 'baseCurrency'> & {
  replacedById: string | null
  replacedByNumber: string | null
  replacedByName: string | null
}
type ShownOffer = OfferRow & {
  supplier: string
  supplierState: string
  termIncoterm: string | null
  termPlace: string | null
  agreementId: string | null
}

/** One item with everything that decides: offers as they stand, what was paid, who asked for it last. */
export async function readItem(call: Read, id: string): Promise<ItemJson> {
  const { replacedById, replacedByNumber, replacedByName, ...item } = found(
    await call
      .trx('items')
      .leftJoin('items as after', 'after.id', 'items.replacedBy')
      .where('items.id', id)
      .first<ItemRow | undefined>(
        'items.id', 'items.number', 'items.name', 'items.description', 'items.category', 'items.unit', 'items.gtin', 'items.picture', 'items.maker', 'items.makerNumber', 'items.alsoCalled', 'items.packs', 'items.stocked', 'items.certified', 'items.receiving', 'items.discontinuedOn', 'items.version',
        'after.id as replacedById', 'after.number as replacedByNumber', 'after.name as replacedByName',
      ), // prettier-ignore
    'item',
  )
  const offers = await call
    .trx('offers')
    .join('suppliers', 'suppliers.id', 'offers.supplierId')
    .leftJoin('agreementLines', 'agreementLines.id', 'offers.agreementLineId')
    .where('offers.itemId', id)
    .orderByRaw("suppliers.state, (agreement = ''), (tiers -> 0 ->> 'price')::numeric")
    .select<ShownOffer[]>(
      'offers.*',
      'suppliers.name as supplier',
      'agreementLines.agreementId',
      'suppliers.state as supplierState',
      call.trx.raw("coalesce(offers.incoterm, suppliers.defaults ->> 'incoterm') as term_incoterm"),
      call.trx.raw(
        "case when offers.incoterm is null then suppliers.defaults ->> 'incotermPlace' else offers.incoterm_place end as term_place",
      ),
    )
  const calendar = await teamCalendar(call)
  const coming = await pricesToCome(
    call,
    offers.map(offer => offer.id),
  )
  const rates = await baseRates(
    call,
    offers.map(offer => offer.currency),
  )
  return {
    ...item,
    replacedBy: replacedById ? { id: replacedById, number: replacedByNumber ?? '', name: replacedByName ?? '' } : null,
    baseCurrency: call.base,
    offers: offers.map(offer => ({
      id: offer.id,
      supplierId: offer.supplierId,
      supplier: offer.supplier,
      supplierState: offer.supplierState,
      supplierItem: offer.supplierItem,
      currency: offer.currency as 'EUR',
      unit: offer.unit,
      priceBase: offer.priceBase,
      minimum: offer.minimum,
      multiple: offer.multiple,
      leadTimeDays: offer.leadTimeDays,
      validFrom: offer.validFrom,
      validTo: offer.validTo,
      tiers: [...offer.tiers],
      earliest: earliestDelivery(call.today, offer.leadTimeDays, calendar),
      agreement: offer.agreement,
      agreed: isAgreed(offer),
      agreementPath: offer.agreementId && may(call, 'agreement.read') ? pathOf('agreement', offer.agreementId) : null,
      incoterm: offer.termIncoterm ?? '',
      incotermPlace: offer.termPlace ?? '',
      buyerPaysCarriage: wantsFreight({ incoterm: offer.termIncoterm ?? '', place: '' }, { moves: true, freight: '' }),
      freight: offer.freight,
      inStock: offer.inStock,
      countries: offer.countries,
      ownIncoterm: offer.incoterm,
      ownPlace: offer.incotermPlace,
      version: offer.version,
      next: coming.get(offer.id) ?? null,
      rate: rates.get(offer.currency) ?? null,
    })),
    paid: await paidFor(call, id),
    askedBy: await askedFor(call, id),
  }
}

/** What orders of the last three years paid for the item, newest first. */
async function paidFor(call: Read, itemId: string): Promise<ItemJson['paid']> {
  const { rows } = await call.trx.raw<{ rows: (ItemJson['paid'][number] & { baseAmount: bigint; whole: string })[] }>(
    `select o.issued_at::date as day, s.name as supplier, trim_scale(l.quantity)::text as quantity, l.unit, trim_scale(l.price)::text as price, trim_scale(l.price_base)::text as price_base, o.currency, l.base_amount as base_amount, l.quantity as whole
     from order_lines l join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id where l.item_id = ? and o.state in ('issued', 'acknowledged', 'closed', 'sealed') and o.issued_at > ?::timestamptz - interval '3 years' order by o.issued_at desc limit 60`,
    [itemId, call.now],
  )
  return rows.map(({ baseAmount, whole, ...row }) => ({
    ...row,
    currency: row.currency.trim(),
    baseUnitPrice: unitPriceOf(minor(baseAmount), call.base, whole),
  }))
}

/** Who asked for it last. Other people's requests are named only as far as this person may see them. */
async function askedFor(call: Read, itemId: string): Promise<ItemJson['askedBy']> {
  const { rows } = await call.trx.raw<{ rows: ItemJson['askedBy'] }>(
    `select p.name as person, r.submitted_at::date as day, trim_scale(l.quantity)::text as quantity, l.unit, case when r.requester_id = :me or :all then r.number else '' end as number
     from requisition_lines l join requisitions r on r.id = l.requisition_id join people p on p.id = r.requester_id where l.item_id = :item and r.submitted_at is not null order by r.submitted_at desc limit 8`,
    { me: call.actor.id, all: may(call, 'requisition.readAll'), item: itemId },
  )
  return rows
}

/** Categories with how many items they hold, suppliers with offers, and countries delivered to. */
export async function catalogueFacts(call: Read): Promise<ResponseOf<typeof CatalogueFacts>> {
  const { rows: categories } = await call.trx.raw<{ rows: ResponseOf<typeof CatalogueFacts>['categories'] }>(
    `select c.name, c.parent, coalesce(n.count, 0)::int as count from supply_categories c left join (select category, count(*) as count from items group by category) n on n.category = c.name
     where n.count > 0 or exists (select 1 from supply_categories under where under.parent = c.name) order by c.name`,
  )
  const suppliers = await call
    .trx('suppliers')
    .where({ state: 'active' })
    .whereExists(inner => inner.from('offers').whereRaw('supplier_id = suppliers.id'))
    .orderBy('name')
    .limit(500)
    .select<{ id: string; name: string }[]>('id', 'name')
  const { rows: countries } = await call.trx.raw<{ rows: { country: string }[] }>(
    'select distinct unnest(countries) as country from offers order by 1',
  )
  return { categories, suppliers, countries: countries.map(row => row.country) }
}

const PICTURES = 2000

export async function cataloguePictures(call: Read): Promise<ResponseOf<typeof CataloguePictures>> {
  const pictures = await call
    .trx('items')
    .whereNotNull('picture')
    .orderBy('name')
    .limit(PICTURES)
    .select<ResponseOf<typeof CataloguePictures>['pictures']>('id', 'number', 'name', 'category', 'picture')
  const [all] = await call.trx('items').whereNotNull('picture').count<{ count: bigint }[]>('* as count')
  return { pictures, left: Math.max(0, Number(all?.count ?? 0) - pictures.length) }
}

interface ListedItem {
  id: string
  number: string
  name: string
  category: string
  unit: string
  offers: number
}

export const itemList: ListDefinition<ListedItem> = {
  id: 'items.id',
  base: call => call.trx('items'),
  select: [
    'items.id',
    'items.number',
    'items.name',
    'items.category',
    'items.unit',
    '(select count(*)::int from offers where item_id = items.id) as offers',
  ],
  views: {
    all: () => undefined,
    withoutOffer: query => void query.whereNotExists(inner => inner.from('offers').whereRaw('item_id = items.id')),
  },
  sorts: { name: { sql: 'items.name', descending: false, type: 'text' } },
  search: "lower(items.name || ' ' || items.number || ' ' || items.category)",
  columns: [
    { key: 'category', type: 'words', sql: 'items.category' },
    { key: 'unit', type: 'words' },
    { key: 'offers', type: 'figure', sql: '(select count(*)::int from offers where item_id = items.id)' },
  ],
  row: row => ({
    id: row.id,
    path: `/request/catalogue/${row.id}`,
    number: row.number,
    title: row.name,
    subtitle: `${row.number}, ${row.category}`,
    state: '',
    amount: null,
    currency: null,
    note: null,
    tone: 'plain',
    cells: { category: row.category, unit: UNITS[row.unit]?.label ?? row.unit, offers: String(row.offers) },
  }),
}
