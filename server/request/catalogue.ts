import type { ItemJson } from '#contract/request/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadBasket, ReadChoices, SearchCatalogue } from '#contract/request/endpoints.ts'
import { earliestDelivery, priceQuantity, tierAt } from '#core/request/offer.ts'
import { formatAmount } from '#core/money/amount.ts'
import { currencies } from '#core/money/currency.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { UNITS } from '#core/units/units.ts'
import { type Call, found } from '#server/call.ts'
import { accountLabel, type AccountRow } from '#server/ledger/budgetStore.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { createRequisition, type OfferRow } from '#server/request/draft.ts'
import { teamCalendar } from '#server/setup/calendar.ts'

type Shown = ResponseOf<typeof SearchCatalogue>

const SEARCH = `
  with hit as (
    select items.*, case when :q = '' then 0 when lower(number) = :q or gtin = :q then 9 else ts_rank(words, websearch_to_tsquery('english', :q)) * 4 + word_similarity(:q, name) end as rank
    from items where (:category = '' or category = :category) and (:q = '' or lower(number) = :q or gtin = :q or words @@ websearch_to_tsquery('english', :q) or name ilike :part or :q <% name)
    order by rank desc, name limit 60)
  select hit.id, hit.number, hit.name, hit.category, hit.unit, hit.picture, best.price as best_price, best.price_base, best.currency, best.supplier, coalesce(best.offers, 0)::int as offers
  from hit left join lateral (
    select o.tiers -> 0 ->> 'price' as price, o.price_base, o.currency, s.name as supplier, count(*) over () as offers
    from offers o join suppliers s on s.id = o.supplier_id where o.item_id = hit.id and s.state = 'active' and (o.valid_to is null or o.valid_to >= :today)
    order by ((o.tiers -> 0 ->> 'price')::numeric / o.price_base * coalesce((select rate from exchange_rates r where r.currency = o.currency and r.valid_from <= :today order by r.valid_from desc limit 1), 1)) limit 1) best on true
  order by hit.rank desc, hit.name`

/** Full-text search with word parts and typing errors (trigram word similarity). */
export async function searchCatalogue(call: Call, query: { q?: string; category?: string }): Promise<Shown> {
  const q = (query.q ?? '').trim().toLowerCase()
  const parameters = { q, category: query.category ?? '', part: `%${q.replace(/[\\%_]/g, '\\$&')}%`, today: call.today }
  const items = (await call.trx.raw(SEARCH, parameters)) as { rows: Shown['items'] }
  const categories = (await call.trx('items').groupBy('category').orderBy('category').select('category as name', call.trx.raw('count(*)::int as count'))) as Shown['categories']
  return { items: items.rows, categories }
}

export async function readItem(call: Call, id: string): Promise<ItemJson> {
  const item = found(
    (await call.trx('items').where({ id }).first('id', 'number', 'name', 'description', 'category', 'unit', 'gtin', 'picture')) as Omit<ItemJson, 'offers'> | undefined,
    'item',
  )
  const offers = (await call
    .trx('offers')
    .join('suppliers', 'suppliers.id', 'offers.supplierId')
    .where({ itemId: id })
    .orderByRaw("suppliers.state, (tiers -> 0 ->> 'price')::numeric")
    .select('offers.*', 'suppliers.name as supplier', 'suppliers.state as supplierState')) as (OfferRow & { supplier: string; supplierState: string })[]
  const calendar = await teamCalendar(call)
  return {
    ...item,
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
    })),
  }
}

interface BasketRow extends OfferRow {
  quantity: string
  name: string
  supplier: string
}

const basketRows = (call: Call): Promise<BasketRow[]> =>
  call
    .trx('basketLines as basket')
    .join('offers', 'offers.id', 'basket.offerId')
    .join('items', 'items.id', 'basket.itemId')
    .join('suppliers', 'suppliers.id', 'offers.supplierId')
    .where('basket.personId', call.actor.id)
    .orderBy('basket.position')
    .select('offers.*', 'basket.quantity', 'items.name', 'suppliers.name as supplier') as unknown as Promise<BasketRow[]>

export async function readBasket(call: Call): Promise<ResponseOf<typeof ReadBasket>> {
  const rows = await basketRows(call)
  return {
    lines: rows.map(row => ({
      itemId: row.itemId,
      offerId: row.id,
      quantity: row.quantity,
      name: row.name,
      supplier: row.supplier,
      unit: row.unit,
      price: tierAt(row.tiers, row.quantity).price,
      priceBase: row.priceBase,
      currency: row.currency,
      amount: formatAmount(priceQuantity(row, row.quantity, call.today).amount, row.currency),
    })),
  }
}

export async function saveBasket(call: Call, lines: readonly { itemId: string; offerId: string; quantity: string }[]): Promise<{ lines: number }> {
  await call.trx('people').where({ id: call.actor.id }).forNoKeyUpdate().first('id')
  await call.trx('basketLines').where({ personId: call.actor.id }).delete()
  const once = [...new Map(lines.map(line => [line.offerId, line])).values()]
  if (once.length > 0) await call.trx('basketLines').insert(once.map((line, position) => ({ personId: call.actor.id, ...line, position })))
  return { lines: once.length }
}

/** Makes a draft request of the basket and empties it. */
export async function requestBasket(call: Call): Promise<{ id: string; version: number }> {
  const rows = await basketRows(call)
  if (rows.length === 0) throw new RuleBroken(stop('basket.empty'))
  const usual = await usualChoices(call)
  const done = await createRequisition(call, {
    title: rows.length === 1 ? rows[0]!.name : `${rows[0]!.name} and ${rows.length - 1} more`,
    reason: '',
    lines: rows.map(row => ({
      kind: 'goods',
      itemId: row.itemId,
      offerId: row.id,
      description: row.name,
      quantity: row.quantity,
      unit: row.unit,
      price: '0',
      priceBase: row.priceBase,
      currency: row.currency as 'EUR',
      supplierId: row.supplierId,
      needBy: null,
      addressId: usual.addressId,
      splits: usual.accountId ? [{ accountId: usual.accountId, share: '1' }] : [],
    })),
  })
  await saveBasket(call, [])
  return done
}

/** The account and address this person used last. */
export async function usualChoices(call: Call): Promise<{ accountId: string | null; addressId: string | null }> {
  const last = (await call
    .trx('requisitionLines')
    .join('requisitions', 'requisitions.id', 'requisitionLines.requisitionId')
    .where({ requesterId: call.actor.id })
    .whereRaw('jsonb_array_length(splits) > 0')
    .orderBy('requisitions.changedAt', 'desc')
    .first('splits', 'addressId')) as { splits: { accountId: string }[]; addressId: string | null } | undefined
  const open = last?.splits[0] ? await call.trx('budgetAccounts').where({ id: last.splits[0].accountId, open: true }).first('id') : undefined
  return { accountId: open ? last!.splits[0]!.accountId : null, addressId: last?.addressId ?? null }
}

export async function readChoices(call: Call): Promise<ResponseOf<typeof ReadChoices>> {
  const accounts = (await call
    .trx('budgetAccounts')
    .where({ open: true })
    .andWhere('fiscalYear', '>=', Number(call.today.slice(0, 4)))
    .orderBy(['costCentre', 'naturalAccount', 'fiscalYear'])) as AccountRow[]
  const names = new Map(((await call.trx('naturalAccounts')) as { code: string; name: string }[]).map(row => [row.code, row.name]))
  const addresses = (await call.trx('addresses').where({ open: true }).orderBy('name').select('id', 'name', 'dock', 'city')) as {
    id: string
    name: string
    dock: string
    city: string
  }[]
  const suppliers = (await call
    .trx('suppliers')
    .whereIn('state', ['active', 'proposed', 'onboarding'])
    .whereNull('mergedInto')
    .orderBy('name')
    .limit(500)
    .select('id', 'name as label', 'currency')) as {
    id: string
    label: string
    currency: string
  }[]
  const people = (await call.trx('people').where({ active: true, realm: 'team' }).orderBy('name').select('id', 'name as label')) as { id: string; label: string }[]
  const costCentres = (await call.trx('costCentres').orderBy('code').select('code', 'name')) as { code: string; name: string }[]
  const categories = (await call.trx('items').distinct('category').orderBy('category').pluck('category')) as string[]
  return {
    accounts: accounts.map(account => ({
      id: account.id,
      label: `${accountLabel(account)}, ${names.get(account.naturalAccount) ?? ''}`,
      costCentre: account.costCentre,
      naturalAccount: account.naturalAccount,
      year: account.fiscalYear,
      project: account.project,
      open: account.open,
    })),
    addresses: addresses.map(row => ({ id: row.id, label: `${row.name}, ${row.dock}` })),
    suppliers,
    people,
    units: Object.entries(UNITS).map(([code, unit]) => ({ code, label: unit.label })),
    currencies: [...currencies],
    costCentres,
    categories,
    usual: await usualChoices(call),
  }
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
  select: ['items.id', 'items.number', 'items.name', 'items.category', 'items.unit', '(select count(*)::int from offers where item_id = items.id) as offers'],
  views: { all: () => undefined, withoutOffer: query => void query.whereNotExists(inner => inner.from('offers').whereRaw('item_id = items.id')) },
  sorts: { name: { sql: 'items.name', descending: false, type: 'text' } },
  search: "lower(items.name || ' ' || items.number || ' ' || items.category)",
  columns: [
    { key: 'category', numeric: false },
    { key: 'unit', numeric: false },
    { key: 'offers', numeric: true },
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
