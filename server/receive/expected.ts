import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadExpected } from '#contract/receive/despatch.ts'
import { addDays, isBusinessDay, PLAIN_CALENDAR, weekday } from '#core/calendar/days.ts'
import { INCOMPLETE } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { may, type Read } from '#server/call.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { EXPECTED } from '#server/order/orderStore.ts'

interface Coming {
  dockId: string | null
  day: string
  orderId: string
  despatchId: string | null
  number: string
  supplier: string
  what: string
  packages: number
  unloader: string | null
  unloaderId: string | null
}
const WEEK = 7
const WEEKS = 3
const MONDAY = 1

/**
 * What comes where and when: what is announced on the day of its arrival, of the rest of each order what was promised or is needed. What should have
 * come stands on today.
 */
export async function readExpected(call: Read, from?: string, weeks = WEEKS): Promise<ResponseOf<typeof ReadExpected>> {
  const first = mondayOf(from ?? call.today)
  const days = Array.from({ length: weeks * WEEK }, (_, index) => addDays(first, index))
  const last = days.at(-1)!
  const { rows } = await call.trx.raw<{ rows: Coming[] }>(
    `select o.address_id as dock_id, d.arrives_on::text as day, o.id as order_id, d.id as despatch_id, o.number, s.name as supplier, o.title as what, jsonb_array_length(d.packages) as packages, p.name as unloader, d.unloader_id
       from despatches d join orders o on o.id = d.order_id join suppliers s on s.id = o.supplier_id left join people p on p.id = d.unloader_id
       where d.state = 'sent' and d.arrives_on <= :last and ${visibleSql(call, 'delivery', 'o')}
     union all select orders.address_id, (${EXPECTED})::text, orders.id, null, orders.number, s.name, orders.title, 0, null, null
       from orders join suppliers s on s.id = orders.supplier_id
       where orders.state = any(:live) and orders.receive_extent = any(:incomplete) and ${EXPECTED} <= :last and ${visibleSql(call, 'delivery', 'orders')}
         and not exists (select 1 from despatches d where d.order_id = orders.id and d.state = 'sent')
     order by 2, 5 limit 2000`,
    { last, live: [...ORDER_GROUPS.live], incomplete: [...INCOMPLETE], ...visibleBindings(call) },
  )
  const late = (day: string): boolean => day < call.today
  const shown = rows
    .map(row => ({ ...row, late: late(row.day), day: late(row.day) ? call.today : row.day }))
    .filter(row => row.day >= first)
  const places = await call.trx('addresses').orderBy('name').select('id', 'name', 'dock')
  const used = new Set(shown.map(row => row.dockId))
  const people = may(call, 'delivery.receive')
    ? await call.trx('people').where({ realm: 'team', active: true }).orderBy('name').select('id', 'name')
    : []
  return {
    from: first,
    today: call.today,
    days: days.map(day => ({ day, rests: !isBusinessDay(day, PLAIN_CALENDAR) })),
    docks: [
      ...places
        .filter(place => used.has(place.id))
        .map(place => ({ id: place.id, label: `${place.name}, ${place.dock}` })),
      ...(used.has(null) ? [{ id: null, label: '' }] : []),
    ],
    coming: shown,
    people: people.map(person => ({ id: person.id, label: person.name })),
    mayPlan: may(call, 'delivery.receive'),
  }
}

const mondayOf = (day: string): string => addDays(day, -((weekday(day) + WEEK - MONDAY) % WEEK))
