import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadDayLink, SayDays } from '#contract/order/following.ts'
import { askedLines, sayDays, whyNotDayLink } from '#core/order/dayLink.ts'
import { type Read, type Write, writing } from '#server/call.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { dayLinkOf } from '#server/order/dayLinkStore.ts'
import { addAsides } from '#server/order/asideStore.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder, knownOrder } from '#server/order/orderStore.ts'
import { getActor } from '#server/people/sessions.ts'

/** What the link shows: what has not come in yet. A dead one tells no more than why. */
export async function readDayLink(call: Read, token: string): Promise<ResponseOf<typeof ReadDayLink>> {
  const link = await dayLinkOf(call, token)
  const order = await knownOrder(call, link.orderId)
  const reasons = whyNotDayLink(link, order, call.now)
  return {
    number: order.number,
    title: reasons.length > 0 ? '' : order.title,
    house: call.house.name,
    reasons: reasonsJson(reasons.slice(0, 1)),
    lines:
      reasons.length > 0
        ? []
        : askedLines(order).map(line => ({
            id: line.id,
            position: line.position,
            what: line.kind === 'personalFee' ? '' : line.description,
            quantity: line.quantity,
            unit: line.unit,
            needBy: line.needBy,
            promised: line.promisedDate,
          })),
  }
}

/** Keeps the days that were said, once; the link is dead afterwards. */
export async function useDayLink(
  call: Write,
  token: string,
  body: BodyOf<typeof SayDays>,
): Promise<{ number: string }> {
  const link = await dayLinkOf(call, token)
  const as = writing(call.trx, { ...call, actor: await getActor(call.trx, SYSTEM_PERSON, call.now), channel: 'mail' })
  const order = await heldOrder(as, link.orderId)
  const fresh = await dayLinkOf(as, token)
  await carryOut(as, order, sayDays(order, fresh, body.days, body.note, { name: order.supplier }, as))
  await as.trx('dayLinks').where({ tokenHash: link.tokenHash }).update({ usedAt: as.now })
  const dates = new Map(body.days.map(one => [one.lineId, one.date]))
  await addAsides(
    as,
    order.id,
    [...dates].map(([lineId, date]) => ({
      lineId,
      source: 'supplier' as const,
      text: [date, body.note].filter(Boolean).join(': '),
    })),
  )
  return { number: order.number }
}
