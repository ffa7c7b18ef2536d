import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAskedDay, ReadDay } from '#contract/source/day.ts'
import { formatAmount } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { DAY_ACT_KEYS, referenceOf, whyNotDayAct } from '#core/source/dayActs.ts'
import { lotForSupplier, lotForTeam } from '#core/source/daySeen.ts'
import { answersOpen, askedLines, type EventLot, lotRules } from '#core/source/event.ts'
import { needsRight } from '#core/acts/actor.ts'
import { found, type Read } from '#server/call.ts'
import { needVisible } from '#server/documents/visible.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { detailsOf, lotStandings } from '#server/source/eventLogStore.ts'
import { readEventLog } from '#server/source/eventLogPages.ts'
import { type KnownEvent, knownEvent } from '#server/source/eventStore.ts'

/** Seconds after which somebody who was heard of last is not there any more. */
const PRESENT_SECONDS = 75
/** Entries of the log that stand beside the Day. */
const BESIDE = 30

const iso = (at: number | null): string | null => (at === null ? null : new Date(at).toISOString())

const linesOf = (event: KnownEvent, lot: EventLot) =>
  askedLines(event)
    .filter(line => line.lotId === lot.id)
    .map(({ id, description, quantity, unit }) => ({
      id,
      description,
      quantity: tidy(quantity),
      unit,
      ceiling: lot.lineCeilings[id] ?? '',
    }))

/** The Day as our side sees it: of what is sealed nothing but the clock. */
export async function readDay(call: Read, id: string): Promise<ResponseOf<typeof ReadDay>> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const lots = await lotStandings(call, event)
  const at = Date.parse(call.now)
  const hidden = !answersOpen(event, call.now)
  const behalf = await behalfBids(call, event, hidden)
  const { entries } = await readEventLog(call, id, {})
  return {
    serverTime: call.now,
    currency: event.currency,
    hidden,
    lots: event.lots.map(lot => {
      const standing = lots.get(lot.id)!
      const seen = lotForTeam(lotRules(lot, event.currency, event.kind.sealed), standing, at)
      const reference = referenceOf(event, lot.id)
      return {
        id: lot.id,
        position: lot.position,
        title: lot.title,
        phase: seen.phase,
        opensAt: lot.byHand ? null : event.opensAt,
        openedAt: iso(standing.openedAt),
        endsAt: iso(seen.endsAt),
        left: seen.left,
        byHand: lot.byHand,
        extensions: seen.extensions,
        ceiling: lot.ceiling,
        step: { ...lot.step },
        extension: lot.extension && { ...lot.extension },
        shows: { ...lot.shows },
        lines: linesOf(event, lot),
        reference: reference === null ? '' : formatAmount(reference, event.currency),
        first: seen.bids.find(one => !one.out)?.total ?? '',
        standing: seen.standing.map(one => ({ ...one })),
        bids: seen.bids.map(one => ({ ...one, at: iso(one.at)!, onBehalf: behalf.has(one.id) })),
        may: Object.fromEntries(DAY_ACT_KEYS.map(act => [act, reasonsJson([...needsRight(call.actor, 'event.write'), ...whyNotDayAct(event, standing, act, at)])])), // prettier-ignore
      }
    }),
    suppliers: event.rows
      .filter(one => one.sentAt !== null)
      .map(one => ({
        supplierId: one.supplierId,
        invitedId: one.id,
        name: one.name,
        present: one.seenAt !== null && at - Date.parse(one.seenAt) < PRESENT_SECONDS * 1000,
        accepted: one.acceptedAt !== null,
        suspended: one.suspendedAt !== null,
        suspendReason: one.suspendReason,
        consent: one.consent !== null,
      })),
    log: entries.slice(0, BESIDE),
  }
}

/** Bids that one of us typed in. */
async function behalfBids(call: Read, event: KnownEvent, hidden: boolean): Promise<ReadonlySet<string>> {
  if (hidden) return new Set()
  const rows = await call.trx('eventLog').where({ eventId: event.id, action: 'bid' }).select('details')
  return new Set(
    rows.flatMap(row => {
      const details = detailsOf(event, row.details)
      return details.onBehalf === true ? [String(details.bidId)] : []
    }),
  )
}

/** The Day as the supplier of whoever looks sees it. */
export async function readAskedDay(call: Read, id: string): Promise<ResponseOf<typeof ReadAskedDay>> {
  const event = await knownEvent(call, id)
  const row = found(event.rows.find(one => one.sentAt !== null && one.supplierId === call.actor.supplierId), 'event') // prettier-ignore
  const lots = await lotStandings(call, event)
  const prices = await ownPrices(call, event, row.supplierId)
  return {
    serverTime: call.now,
    currency: event.currency,
    suspended: row.suspendedAt !== null,
    lots: event.lots.map(lot => {
      const rules = lotRules(lot, event.currency, event.kind.sealed)
      const seen = lotForSupplier(rules, lots.get(lot.id)!, row.supplierId, Date.parse(call.now))
      return {
        id: lot.id,
        title: lot.title,
        phase: seen.phase,
        opensAt: lot.byHand ? null : event.opensAt,
        endsAt: iso(seen.endsAt),
        left: seen.left,
        lines: linesOf(event, lot),
        own: seen.own.map(one => ({ ...one, at: iso(one.at)!, prices: prices.get(one.id) ?? {} })),
        place: seen.place,
        best: seen.best,
        bidders: seen.bidders,
        shows: event.kind.sealed ? { place: false, best: false, bidders: false } : { ...lot.shows },
        nextAtMost: seen.nextAtMost,
        step: { ...lot.step },
      }
    }),
  }
}

/** The prices that a supplier's own bids were made of. */
async function ownPrices(
  call: Read,
  event: KnownEvent,
  supplierId: string,
): Promise<Map<string, Record<string, string>>> {
  const rows = await call.trx('eventLog').where({ eventId: event.id, action: 'bid', supplierId }).select('details')
  return new Map(
    rows.map(row => {
      const details = detailsOf(event, row.details)
      return [String(details.bidId), (details.prices ?? {}) as Record<string, string>] as const
    }),
  )
}
