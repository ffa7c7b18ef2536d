import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AskUnpriced, RequestParts } from '#contract/build/costings.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { addDays } from '#core/calendar/days.ts'
import { instantAt } from '#core/calendar/hours.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { RequestedPart } from '#core/build/turnInto.ts'
import type { Done, Write } from '#server/call.ts'
import { byId } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { move } from '#server/documents/move.ts'
import { costed } from '#server/build/costed.ts'
import { heldCosting } from '#server/build/costingActs.ts'
import { insertDraft } from '#server/request/draftStore.ts'
import { offersById, type OfferRow } from '#server/request/offerStore.ts'
import { insertEvent, keepEventDesk, liveKind } from '#server/source/eventStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Lines that one event, and one request, can have. */
const MOST_ASKED = 1000
const MOST_REQUESTED = 500

/** Makes a draft of an event about every part that has no price. */
export async function askUnpriced(
  call: Write,
  id: string,
  body: BodyOf<typeof AskUnpriced>,
): Promise<Done & { lines: number }> {
  const costing = await heldCosting(call, id, body.version, 'ask')
  const kind = await liveKind(call, body.kindId)
  const { asked } = await costed(costing)
  if (asked.length === 0) throw new RuleBroken(stop('build.allPriced'))
  if (asked.length > MOST_ASKED) throw new RuleBroken(stop('lines.tooMany', { most: MOST_ASKED }))
  const event = await insertEvent(call, {
    kind,
    title: body.title,
    currency: costing.row.settings.currency,
    category: asked.find(one => one.category !== '')?.category ?? '',
    lines: asked.map(one => ({
      ...one,
      needBy: costing.row.settings.inBy || null,
      addressId: null,
      incoterm: null,
      incotermPlace: '',
      reference: '',
      referenceFrom: null,
      requisitionLineId: null,
      accountId: null,
      texts: {},
    })),
    copiedFrom: null,
    endsAt: new Date(
      instantAt(addDays(call.today, kind.settings.daysOpen), '17:00', call.actor.timeZone),
    ).toISOString(),
  })
  await record(call, { kind: 'event', id: event.id, action: 'drafted', changes: { from: costing.row.number } })
  await keepEventDesk(call, event.id)
  await move(
    call,
    'costing',
    costing.row,
    {},
    { action: 'quotesAsked', changes: { number: event.number, lines: asked.length }, reason: null },
  )
  return { id: event.id, version: 1, lines: asked.length }
}

/** Makes draft requests of what is bought, one by supplier or one of all, each line from the offer that was chosen. */
export async function requestParts(
  call: Write,
  id: string,
  body: BodyOf<typeof RequestParts>,
): Promise<ResponseOf<typeof RequestParts>> {
  const costing = await heldCosting(call, id, body.version, 'request')
  const { requested } = await costed(costing)
  const groups = body.bySupplier ? requested : [requested.flat()]
  if (groups.flat().length === 0) throw new RuleBroken(stop('build.nothingToBuy'))
  if (groups.some(group => group.length > MOST_REQUESTED))
    throw new RuleBroken(stop('lines.tooMany', { most: MOST_REQUESTED }))
  const offers = await offersById(
    call,
    groups.flat().map(one => one.offerId),
  )
  const items = byId(await call.trx('items').whereIn('id', [...new Set(groups.flat().map(one => one.itemId))]))
  const requests: ResponseOf<typeof RequestParts>['requests'] = []
  for (const group of groups) {
    const lines = group.map(one => lineOf(one, offers, items.get(one.itemId)!, costing.row.settings.inBy || null))
    const made = await insertDraft(call, {
      id: randomUUID(),
      title: `${costing.row.title}, ${costing.row.number}`,
      reason: body.reason,
      lines,
    })
    await record(call, { kind: 'requisition', id: made.id, action: 'created', changes: { from: costing.row.number } })
    await refreshThread(call, { requisitionIds: [made.id] })
    requests.push({ ...made, lines: lines.length })
  }
  await move(
    call,
    'costing',
    costing.row,
    {},
    { action: 'requested', changes: { requests: requests.map(one => one.number) }, reason: null },
  )
  return { requests }
}

/** @throws RuleBroken line.offerGone where an offer that the costing knew is no more */
function lineOf(
  { offerId, itemId, quantity }: RequestedPart,
  offers: ReadonlyMap<string, OfferRow>,
  item: { readonly name: string; readonly category: string },
  needBy: string | null,
): LineBody {
  const offer = offers.get(offerId)
  if (!offer) throw new RuleBroken(stop('line.offerGone', {}, { place: 'offerId' }))
  return {
    kind: 'goods',
    itemId,
    offerId,
    description: item.name,
    quantity,
    unit: offer.unit,
    price: '0',
    priceBase: offer.priceBase,
    currency: offer.currency as LineBody['currency'],
    supplierId: offer.supplierId,
    category: item.category,
    needBy,
    addressId: null,
    splits: [],
    routes: offer.agreement === '' ? ['orderNow'] : ['orderNow', 'callOff'],
  }
}
