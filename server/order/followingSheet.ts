import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AddAside, Following } from '#contract/order/following.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { needsRight } from '#core/acts/actor.ts'
import { byWaiting, type FollowedFacts, wantsAWord } from '#core/order/following.ts'
import { lastPromise } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { tierAt } from '#core/request/offer.ts'
import { whyNotOrderFrom } from '#core/source/orderable.ts'
import type { SupplierState } from '#core/source/states.ts'
import type { Read, Write } from '#server/call.ts'
import { groupBy, someIds } from '#server/database/rows.ts'
import { refuse } from '#server/documents/obey.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { agreedLines } from '#server/ledger/agreedTermsStore.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { addAsides, asidesOf } from '#server/order/asideStore.ts'
import { heldOrder, type KnownOrder, knownOrders } from '#server/order/orderStore.ts'

/** Live orders that are looked through at once: those that are needed soonest. */
const MOST = 1500
const AT_ONCE = 200
const SHOWN = 400
const ASIDES = 3

/** Orders that want a word, what waiting costs first. */
export async function following(call: Read, whose: 'mine' | 'all'): Promise<ResponseOf<typeof Following>> {
  const query = call
    .trx('orders')
    .whereIn('state', [...ORDER_GROUPS.live])
    .orderByRaw('need_by nulls last, id')
    .limit(MOST + 1)
  if (whose === 'mine') void query.where({ buyerId: call.actor.id })
  const ids = await query.pluck<string[]>('id')
  const found: (FollowedFacts & { order: KnownOrder })[] = []
  for (let at = 0; at < Math.min(ids.length, MOST); at += AT_ONCE)
    found.push(...(await factsOf(call, [...(await knownOrders(call, ids.slice(at, at + AT_ONCE))).values()])))
  const wanting = found
    .map(facts => ({ facts, reasons: wantsAWord(facts, call.today) }))
    .filter(one => one.reasons.length > 0)
    .sort((a, b) => byWaiting(a.facts, b.facts))
  const shown = wanting.slice(0, SHOWN)
  const asides = groupBy(
    await asidesOf(
      call,
      shown.map(one => one.facts.order.id),
      ASIDES,
    ),
    one => one.orderId,
  )
  const requesters = await requestersOf(
    call,
    shown.map(one => one.facts.order.id),
  )
  return {
    more: wanting.length - shown.length,
    beyond: ids.length > MOST,
    rows: shown.map(({ facts: { order, value }, reasons }) => ({
      id: order.id,
      path: pathOf('order', order.id),
      number: order.number,
      revision: order.revision,
      title: order.title,
      supplier: order.supplier,
      supplierPath: pathOf('supplier', order.supplierId),
      needBy: order.needBy,
      promised: order.lines.some(line => line.promisedDate !== null) ? lastPromise(order, order.lines) || null : null,
      value: formatAmount(value, call.base),
      currency: call.base,
      waitsFor: requesters.get(order.id) ?? [],
      wants: reasonsJson(reasons),
      chasedAt: order.chasedAt,
      asides: (asides.get(order.id) ?? []).map(({ orderId: _order, ...one }) => one),
    })),
  }
}

async function factsOf(call: Read, orders: readonly KnownOrder[]): Promise<(FollowedFacts & { order: KnownOrder })[]> {
  const rows = orders.flatMap(order => order.rows)
  const agreed = await agreedLines(call, someIds(rows.map(row => row.agreementLineId)))
  const suppliers = await call
    .trx('suppliers')
    .whereIn('id', [...new Set(orders.map(order => order.supplierId))])
    .select<{ id: string; name: string; state: SupplierState }[]>('id', 'name', 'state')
  const states = new Map(suppliers.map(one => [one.id, one]))
  return orders.map(order => ({
    order,
    value: minor(order.row.baseTotal),
    agreed: new Map(
      order.rows.flatMap(row => {
        const line = agreed.get(row.agreementLineId ?? '')
        return line && line.currency === order.currency && line.priceBase === row.priceBase
          ? [[row.id, tierAt(line.tiers, row.quantity).price] as const]
          : []
      }),
    ),
    supplierReasons: whyNotOrderFrom({ ...states.get(order.supplierId)!, ordersStopped: false }),
  }))
}

/** Who waits for what an order brings. */
async function requestersOf(call: Read, orderIds: readonly string[]): Promise<Map<string, string[]>> {
  const { rows } = await call.trx.raw<{ rows: { orderId: string; name: string }[] }>(
    `select distinct l.order_id, p.name from order_lines l join requisition_lines q on q.id = l.requisition_line_id join requisitions r on r.id = q.requisition_id
     join people p on p.id = r.requester_id where l.order_id = any(?) order by 2`,
    [[...orderIds]],
  )
  return new Map([...groupBy(rows, row => row.orderId)].map(([id, own]) => [id, own.map(row => row.name)]))
}

/** Keeps what somebody said about an order or one of its lines: a call, a promise that is not yet a day. */
export async function addAside(
  call: Write,
  id: string,
  { lineId, text }: BodyOf<typeof AddAside>,
): Promise<{ id: string }> {
  refuse(needsRight(call.actor, 'order.write'))
  const order = await heldOrder(call, id)
  const own = lineId !== null && order.lines.some(line => line.id === lineId)
  await addAsides(call, id, [{ lineId: own ? lineId : null, source: 'buyer', text }])
  await tell(call, [documentTopic(id)])
  return { id }
}
