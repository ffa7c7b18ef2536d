import { asked, series, weeksAhead } from '#core/glances/series.ts'
import { INCOMPLETE } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { may, type Read } from '#server/call.ts'
import { barsPart, type Glance, inBase, listAt, row, rowsPart, says, valued } from '#server/glances/glance.ts'
import { EXPECTED } from '#server/order/orderStore.ts'

const WEEKS = 8
const FIRST = 6
const live = (): { live: string[]; incomplete: string[] } => ({
  live: [...ORDER_GROUPS.live],
  incomplete: [...INCOMPLETE],
})
/** Orders that the supplier still owes something on. */
const OWED = 'orders.state = any(:live) and orders.receive_extent = any(:incomplete)'
const STILL = `state.is:${ORDER_GROUPS.live.join(',')};received.is:${INCOMPLETE.join(',')}`

interface Open {
  day: string | null
  amount: bigint
  part: bigint
  late: boolean
}
interface Slow {
  supplier: string
  amount: bigint
  late: number
  unanswered: number
  needBy: string | null
  ids: string[]
}

/** When what is ordered should come in, and who to call first. */
export const orderGlance: Glance = async call => {
  if (!may(call, 'order.read')) return { says: [], parts: [] }
  const open = await openOrders(call)
  const bars = series(open, weeksAhead(call.today, WEEKS))
  const sum = (some: readonly Open[]): string =>
    inBase(
      call,
      some.reduce((all, one) => all + one.amount, 0n),
    )
  const late = open.filter(one => one.late)
  const slow = await slowSuppliers(call)
  const chaseable = slow.slice(0, FIRST).flatMap(one => one.ids)
  return {
    says: [
      says(
        'glance.order.open',
        { count: open.length, amount: sum(open), currency: call.base },
        listAt('/order', { view: 'all', where: STILL }),
      ),
      ...(late.length > 0
        ? [
            says(
              'glance.order.late',
              { count: late.length, amount: sum(late), currency: call.base },
              lateAt(call),
              'stop',
            ),
          ]
        : []),
    ],
    parts: [
      barsPart(call, 'order.expected', bars, bar =>
        listAt('/order', { view: 'all', where: `${STILL};${asked('expected', bar)}`, sort: 'expected' }),
      ),
      rowsPart(
        'order.slow',
        slow.slice(0, FIRST).map(one =>
          row(
            one.supplier,
            listAt('/order', { view: 'wantsAWord', where: `${STILL};supplier.is:${valued(one.supplier)}` }),
            {
              count: one.late + one.unanswered,
              amount: inBase(call, one.amount),
              tone: one.late > 0 ? 'stop' : 'attention',
              says: {
                code: `glance.order.slow.${one.late > 0 ? 'late' : 'unanswered'}`,
                details: { late: one.late, unanswered: one.unanswered, needBy: one.needBy ?? '' },
              },
            },
          ),
        ),
        slow.length > FIRST ? '/order?view=wantsAWord' : null,
        may(call, 'order.write') && chaseable.length > 0 ? { act: 'chase', ids: chaseable.slice(0, 100) } : null,
      ),
    ],
  }
}

const lateAt = (call: Read): string =>
  listAt('/order', { view: 'all', where: `${STILL};${asked('needBy', { key: '', from: null, to: dayBefore(call) })}` })
const dayBefore = (call: Read): string => weeksAhead(call.today, 1)[0]!.to!

/** What is still to come of each order, and how much of that is confirmed; both in the base currency. */
async function openOrders(call: Read): Promise<Open[]> {
  const { rows } = await call.trx.raw<{
    rows: { day: string | null; ordered: bigint; confirmed: bigint; received: bigint; late: boolean }[]
  }>(
    `select ${EXPECTED} as day, orders.base_total as ordered, coalesce(sum(line.confirmed_value), 0)::bigint as confirmed,
       coalesce(sum(line.received_value), 0)::bigint as received, coalesce(orders.need_by < :today, false) as late
     from orders left join order_lines line on line.order_id = orders.id where ${OWED} group by orders.id`,
    { ...live(), today: call.today },
  )
  return rows.map(one => ({
    day: one.day,
    amount: one.ordered - one.received,
    part: one.confirmed - one.received,
    late: one.late,
  }))
}

/** Suppliers that are late or have not answered, the worst first. */
async function slowSuppliers(call: Read): Promise<Slow[]> {
  const { rows } = await call.trx.raw<{ rows: Slow[] }>(
    `select suppliers.name as supplier, sum(orders.base_total)::bigint as amount, array_agg(orders.id) as ids,
       count(*) filter (where orders.need_by < :today)::int as late,
       count(*) filter (where orders.state = 'issued' and not orders.need_by < :today)::int as unanswered,
       min(orders.need_by) filter (where orders.need_by < :today) as need_by
     from orders join suppliers on suppliers.id = orders.supplier_id
     where ${OWED} and (orders.need_by < :today or orders.state = 'issued')
     group by suppliers.id order by late desc, amount desc limit ${FIRST + 1}`,
    { ...live(), today: call.today },
  )
  return rows
}
