import { type Proposal, proposeSuppliers } from '#core/source/proposeSuppliers.ts'
import { isIn } from '#core/states.ts'
import { SUPPLIER_GROUPS, type SupplierState } from '#core/source/states.ts'
import type { Read } from '#server/call.ts'
import type { KnownEvent } from '#server/source/eventStore.ts'

interface KnownRow {
  supplierId: string
  name: string
  state: SupplierState
  categories: string[]
  offers: number
  orders: number
  lastOrder: string | null
  good: number
  bad: number
}

/** Days of orders that are looked at: a year and a half. */
const DAYS_BACK = 548
const MOST = 60

const KNOWN = `
  with asked as (select distinct item_id, category from event_lines where event_id = :event and gone_at is null union select null::uuid, nullif(:category, '')),
  bought as (select o.supplier_id, count(distinct o.id)::int as orders, max(o.issued_at)::date::text as last_order from order_lines l join orders o on o.id = l.order_id
    left join items i on i.id = l.item_id where o.issued_at > now() - (:days || ' days')::interval and (l.item_id in (select item_id from asked) or i.category in (select category from asked)) group by 1),
  offered as (select supplier_id, count(distinct item_id)::int as offers from offers where item_id in (select item_id from asked) group by 1)
  select s.id as supplier_id, s.name, s.state, array(select distinct c from unnest(s.categories) c where c in (select category from asked)) as categories,
    coalesce(offered.offers, 0) as offers, coalesce(bought.orders, 0) as orders, bought.last_order,
    (select count(*)::int from supplier_signals g where g.supplier_id = s.id and g.tone = 'good') as good, (select count(*)::int from supplier_signals g where g.supplier_id = s.id and g.tone = 'bad') as bad
  from suppliers s left join bought on bought.supplier_id = s.id left join offered on offered.supplier_id = s.id
  where s.merged_into is null and (bought.orders > 0 or offered.offers > 0 or s.categories && array(select category from asked where category is not null)) order by bought.orders desc nulls last, s.name limit ${MOST}`

/** Suppliers who could be asked, with the reasons for each. */
export async function proposals(call: Read, event: KnownEvent): Promise<Proposal[]> {
  const { rows } = await call.trx.raw<{ rows: KnownRow[] }>(KNOWN, {
    event: event.id,
    category: event.row.category,
    days: DAYS_BACK,
  })
  return proposeSuppliers(
    rows.map(({ state, ...row }) => ({ ...row, orderable: isIn(SUPPLIER_GROUPS.orderable, state) })),
  )
}
