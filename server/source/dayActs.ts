import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ActOnDay, PlaceBid, RemoveBid } from '#contract/source/day.ts'
import { needsRight } from '#core/acts/actor.ts'
import { formatAmount } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { auctionEnd, bidAmounts, dayEntry, dayReason, dueOpenings, whyNotDayAct } from '#core/source/dayActs.ts'
import { lotForSupplier } from '#core/source/daySeen.ts'
import { lotRules } from '#core/source/event.ts'
import { hasTerms, whyNotAs } from '#core/source/invitedActs.ts'
import { placeBid } from '#core/source/placeBid.ts'
import type { LotStanding } from '#core/source/replayLot.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { refuse } from '#server/documents/obey.ts'
import { record } from '#server/documents/history.ts'
import { companyTopic, documentTopic, tell } from '#server/news/tell.ts'
import type { Answering } from '#server/source/askedActs.ts'
import { endNow } from '#server/source/eventActs.ts'
import { log, lotStandings, type NewLogEntry, written } from '#server/source/eventLogStore.ts'
import { writeTo } from '#server/source/eventMailStore.ts'
import { heldEvent, keepEventDesk, type KnownEvent } from '#server/source/eventStore.ts'
import { sayInTime } from '#server/source/timedMessages.ts'

const iso = (at: number): string => new Date(at).toISOString()

/** Writes down the opening of lots whose time has come, with the instant at which it had; whoever writes first does it. */
export async function openDue(call: Write, event: KnownEvent): Promise<ReadonlyMap<string, LotStanding>> {
  const lots = await written(call, event)
  const due = dueOpenings(event, lots, Date.parse(call.now))
  for (const entry of due)
    if (entry.kind === 'opened')
      await log(call, event, { action: 'opened', lotId: entry.lotId, details: { at: iso(entry.at), endsAt: iso(entry.endsAt) } }) // prettier-ignore
  return due.length > 0 ? await written(call, event) : lots
}

/** Whoever shows the auction hears that something happened. Contents are never told: each page asks with its own rights. */
const tellDay = (call: Write, event: KnownEvent): Promise<void> =>
  tell(call, [
    documentTopic(event.id),
    ...event.invited.map(one => companyTopic(one.supplierId, documentTopic(event.id))),
  ])

/** Keeps when it ends beside the event, which the list and the clock read. */
async function keepEnd(call: Write, event: KnownEvent): Promise<string | null> {
  const end = auctionEnd(event, await lotStandings(call, event))
  const endsAt = end === null ? null : iso(end)
  if (endsAt !== event.endsAt) await call.trx('events').where({ id: event.id }).update({ endsAt })
  return endsAt
}

/** Starts, pauses, resumes, extends or ends a lot, or all with which it can be done. */
export async function actOnDay(
  call: Write,
  id: string,
  { act, lotId, bySeconds, reason }: BodyOf<typeof ActOnDay>,
): Promise<Done & { lots: number }> {
  const event = await heldEvent(call, id)
  refuse([...needsRight(call.actor, 'event.write'), ...needAuction(event), ...dayReason(act, reason, bySeconds)])
  const lots = await openDue(call, event)
  const at = Date.parse(call.now)
  const wanted = event.lots.filter(lot => lotId === null || lot.id === lotId)
  const against = wanted.map(lot => whyNotDayAct(event, lots.get(lot.id)!, act, at))
  const possible = wanted.filter((_lot, index) => against[index]!.length === 0)
  if (possible.length === 0) throw new RuleBroken(against[0] ?? [stop('document.notFound', { kind: 'lot' })])
  for (const lot of possible) {
    const entry = dayEntry(lot, act, bySeconds, at)
    await log(call, event, { ...logged(entry), lotId: lot.id, reason })
  }
  if (act === 'start' && event.opensAt !== null && call.now < event.opensAt)
    await call.trx('events').where({ id }).update({ opensAt: call.now })
  await record(call, { kind: 'event', id, action: `day.${act}`, changes: { lots: possible.map(lot => lot.title) }, reason: reason || null }) // prettier-ignore
  if (act !== 'start') await writeToBidders(call, event, `event.day.${act}`, reason, possible.map(lot => lot.title).join(', '), bySeconds) // prettier-ignore
  await afterClock(call, id)
  await tellDay(call, event)
  return { id, version: event.row.version, lots: possible.length }
}

const needAuction = (event: KnownEvent) => (event.kind.format === 'auction' ? [] : [stop('day.noAuction')])

/** What an entry of the clock says in the log. */
function logged(entry: ReturnType<typeof dayEntry>): Pick<NewLogEntry, 'action' | 'details'> {
  if (entry.kind === 'opened') return { action: 'opened', details: { at: iso(entry.at), endsAt: iso(entry.endsAt) } }
  return { action: entry.kind, details: entry.kind === 'extended' ? { bySeconds: entry.bySeconds } : {} }
}

const writeToBidders = (call: Write, event: KnownEvent, template: string, reason: string, lots: string, bySeconds: number): Promise<void> => // prettier-ignore
  writeTo(call, event, event.rows.filter(one => one.sentAt !== null), template, `${template}:${event.id}:${call.now}`, () => ({ reason, lots, minutes: Math.round(bySeconds / 60), path: `/supplier/asked/${event.id}` })) // prettier-ignore

/** The end moves with the clocks; when the last lot is over, so is the event. */
async function afterClock(call: Write, id: string): Promise<void> {
  const event = await heldEvent(call, id)
  const endsAt = await keepEnd(call, event)
  if (endsAt !== null && endsAt <= call.now) await endNow(call, { ...event, endsAt })
  else await keepEventDesk(call, id)
}

/** Takes a bid, or says why not; a bid that comes twice is one. */
export async function bid(
  call: Write,
  who: Answering,
  body: BodyOf<typeof PlaceBid>,
  network: string,
): Promise<ResponseOf<typeof PlaceBid>> {
  const { event, facts, row } = who
  refuse([...needAuction(event), ...whyNotAs(event, facts, 'bid', call.now)])
  const lot = found(event.lots.find(one => one.id === body.lotId), 'lot') // prettier-ignore
  const rules = lotRules(lot, event.currency, event.kind.sealed)
  const standing = (await openDue(call, event)).get(lot.id)!
  const amounts = bidAmounts(event, lot.id, body.prices)
  if (!amounts.ok) throw new RuleBroken(amounts.reasons)
  const bidder = {
    supplierId: row.supplierId,
    accepted: !hasTerms(event) || row.acceptedAt !== null,
    reasons: facts.reasons,
  }
  const wanted = { id: body.bidId, supplierId: row.supplierId, total: amounts.total, lines: amounts.lines }
  const placed = placeBid(rules, standing, bidder, wanted, Date.parse(call.now))
  if (!placed.ok) throw new RuleBroken(placed.reasons)
  if (!standing.bids.some(one => one.id === body.bidId)) {
    await log(
      call,
      event,
      {
        action: 'bid',
        lotId: lot.id,
        supplierId: row.supplierId,
        details: {
          bidId: body.bidId,
          total: amounts.total.toString(),
          lines: Object.fromEntries([...amounts.lines].map(([id, amount]) => [id, amount.toString()])),
          prices: body.prices,
          ...(who.behalf ? { onBehalf: true } : {}),
        },
        sealed: event.kind.sealed,
      },
      network,
    )
    if (row.answeredAt === null) await call.trx('eventSuppliers').where({ id: row.id }).update({ answeredAt: call.now, means: true, onBehalf: who.behalf }) // prettier-ignore
    if (placed.lot.endsAt !== standing.endsAt) {
      await log(call, event, { action: 'moved', lotId: lot.id, details: { endsAt: iso(placed.lot.endsAt!) } })
      await keepEnd(call, event)
    }
    // figures of the Desk change with the first bid of a supplier and with the end
    if (row.answeredAt === null || placed.lot.endsAt !== standing.endsAt) await keepEventDesk(call, event.id)
    await tellDay(call, event)
  }
  const seen = lotForSupplier(rules, placed.lot, row.supplierId, Date.parse(call.now))
  return { total: formatAmount(amounts.total, event.currency), place: seen.place, endsAt: seen.endsAt === null ? null : iso(seen.endsAt) } // prettier-ignore
}

/** Takes a bid out with a reason. Its bidder is told; the bid before it stands again; the clock stays. */
export async function removeBid(
  call: Write,
  id: string,
  bidId: string,
  { reason }: BodyOf<typeof RemoveBid>,
): Promise<Done> {
  const event = await heldEvent(call, id)
  refuse([...needsRight(call.actor, 'event.write'), ...needAuction(event)])
  if (event.state !== 'asking' && event.state !== 'over') throw new RuleBroken(stop('event.notOpen'))
  if (event.kind.sealed && event.state === 'asking') throw new RuleBroken(stop('day.sealed'))
  const lots = await openDue(call, event)
  const [lotId, standing] = found([...lots].find(([, lot]) => lot.bids.some(one => one.id === bidId)), 'bid') // prettier-ignore
  const taken = standing.bids.find(one => one.id === bidId)!
  if (taken.out) throw new RuleBroken(stop('day.bidOut'))
  await log(call, event, {
    action: 'removed',
    lotId,
    supplierId: taken.supplierId,
    details: { bidId, before: taken.total.toString() },
    reason,
    sealed: event.kind.sealed,
  })
  await record(call, { kind: 'event', id, action: 'bidRemoved', changes: {}, reason })
  const to = event.rows.filter(one => one.supplierId === taken.supplierId)
  await writeTo(call, event, to, 'event.bidRemoved', `event-bid-removed:${bidId}`, () => ({ reason, total: formatAmount(taken.total, event.currency), currency: event.currency })) // prettier-ignore
  await tellDay(call, event)
  return { id, version: event.row.version }
}

/** What the clock does with auctions that nobody looks at: openings are written down, and ends. */
export async function watchDay(call: Write, id: string): Promise<void> {
  const event = await heldEvent(call, id)
  if (event.state !== 'asking') return
  await openDue(call, event)
  await sayInTime(call, event)
  await afterClock(call, id)
}
