import { addBusinessDays, addDays, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { asked } from '#core/glances/series.ts'
import { INCOMPLETE } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import type { Read } from '#server/call.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { EXPECTED } from '#server/order/orderStore.ts'
import { type Glance, listAt, says, valued } from '#server/glances/glance.ts'

const DAYS = 6

interface Coming {
  place: string | null
  day: string
  count: number
}

/** What comes where on which day; the first column holds what should have come. */
export const receiveGlance: Glance = async call => {
  const coming = await comingOrders(call)
  const ahead = Array.from({ length: DAYS }, (_, index) =>
    index === 0 ? call.today : addBusinessDays(call.today, index, PLAIN_CALENDAR),
  )
  const places = [...new Set(coming.map(one => one.place))].sort((a, b) => ((a ?? '~') < (b ?? '~') ? -1 : 1))
  const before = { key: 'late', from: null, to: addDays(call.today, -1) }
  const spans = [
    before,
    ...ahead.map((day, index) => ({ key: day, from: index === 0 ? day : addDays(ahead[index - 1]!, 1), to: day })),
  ]
  const today = coming.filter(one => one.day === call.today).reduce((sum, one) => sum + one.count, 0)
  const late = coming.filter(one => one.day < call.today).reduce((sum, one) => sum + one.count, 0)
  return {
    says: [
      says('glance.receive.today', { count: today }, at(null, { key: '', from: call.today, to: call.today })),
      ...(late > 0 ? [says('glance.receive.late', { count: late }, at(null, before), 'stop')] : []),
    ],
    parts: [
      {
        kind: 'grid',
        key: 'receive.arrivals',
        days: spans.map(span => span.key),
        rows: places.map(place => ({
          title: place ?? '',
          cells: spans.map(span => ({
            count: coming
              .filter(one => one.place === place && (span.from === null || one.day >= span.from) && one.day <= span.to)
              .reduce((sum, one) => sum + one.count, 0),
            tone: span.key === 'late' ? ('stop' as const) : ('plain' as const),
            to: at(place, span),
          })),
        })),
      },
    ],
  }
}

const at = (place: string | null, span: { key: string; from: string | null; to: string | null }): string =>
  listAt('/receive', {
    view: 'expected',
    where: [asked('expected', span), place === null ? '' : `place.is:${valued(place)}`].filter(Boolean).join(';'),
  })

async function comingOrders(call: Read): Promise<Coming[]> {
  const { rows } = await call.trx.raw<{ rows: Coming[] }>(
    `select place, day, count(*)::int as count from (
       select addresses.name as place, ${EXPECTED} as day from orders left join addresses on addresses.id = orders.address_id
       where orders.state = any(:live) and orders.receive_extent = any(:incomplete) and ${visibleSql(call, 'delivery', 'orders')}) open
     where day is not null and day <= :until group by place, day`,
    {
      live: [...ORDER_GROUPS.live],
      incomplete: [...INCOMPLETE],
      until: addBusinessDays(call.today, DAYS, PLAIN_CALENDAR),
      ...visibleBindings(call),
    },
  )
  return rows
}
