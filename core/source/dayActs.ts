import { saysWhy } from '#core/acts/decision.ts'
import { type Minor, roundAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { AuctionEntry } from '#core/source/auctionRules.ts'
import { askedLines, type EventFacts, type EventLot } from '#core/source/event.ts'
import { type LotPhase, type LotStanding, phaseAt } from '#core/source/replayLot.ts'

/** What we do with the clock of a lot. */
export type DayAct = 'start' | 'pause' | 'resume' | 'extend' | 'end'
export const DAY_ACT_KEYS: readonly DayAct[] = ['start', 'pause', 'resume', 'extend', 'end']

const POSSIBLE: Readonly<Record<DayAct, readonly LotPhase[]>> = {
  start: ['planned'],
  pause: ['open'],
  resume: ['paused'],
  extend: ['open', 'paused'],
  end: ['planned', 'open', 'paused'],
}

/** What stands against doing something with the clock of a lot now. What changes what bidders count on wants a reason. */
export function whyNotDayAct(event: Pick<EventFacts, 'state'>, lot: LotStanding, act: DayAct, at: number): Reason[] {
  if (event.state !== 'asking') return [stop('event.notOpen')]
  const phase = phaseAt(lot, at)
  return POSSIBLE[act].includes(phase) ? [] : [stop(`day.${phase}`)]
}

export const dayReason = (act: DayAct, reason: string, bySeconds: number): Reason[] => [
  ...(act === 'start' || act === 'resume' || saysWhy(reason) ? [] : [stop('event.reason', {}, { place: 'reason' })]),
  ...(act === 'extend' && bySeconds <= 0 ? [stop('day.seconds', {}, { place: 'bySeconds' })] : []),
]

/** The entry that an act makes in a lot's log. */
export function dayEntry(lot: EventLot, act: DayAct, bySeconds: number, at: number): AuctionEntry {
  const common = { at, lotId: lot.id }
  switch (act) {
    case 'start':
      return { ...common, kind: 'opened', endsAt: at + lot.minutes * 60_000 }
    case 'pause':
      return { ...common, kind: 'paused' }
    case 'resume':
      return { ...common, kind: 'resumed' }
    case 'extend':
      return { ...common, kind: 'extended', bySeconds }
    case 'end':
      return { ...common, kind: 'endedEarly' }
  }
}

/**
 * Entries for lots whose opening has come although nobody has said so: they opened at that instant, whenever it is noticed. Lots that are opened by hand
 * wait for somebody.
 */
export function dueOpenings(
  event: Pick<EventFacts, 'state' | 'opensAt' | 'lots'>,
  lots: ReadonlyMap<string, LotStanding>,
  at: number,
): AuctionEntry[] {
  const opens = event.opensAt === null ? null : Date.parse(event.opensAt)
  if (event.state !== 'asking' || opens === null || at < opens) return []
  return event.lots.flatMap((lot): AuctionEntry[] =>
    lot.byHand || lots.get(lot.id)?.phase !== 'planned' ? [] : [dayEntry(lot, 'start', 0, opens)],
  )
}

/** When an auction ends, by the clocks of its lots: null while one is paused or still to be opened by hand. In milliseconds. */
export function auctionEnd(
  event: Pick<EventFacts, 'opensAt' | 'lots'>,
  lots: ReadonlyMap<string, LotStanding>,
): number | null {
  const opens = event.opensAt === null ? null : Date.parse(event.opensAt)
  const ends = event.lots.map(lot => {
    const standing = lots.get(lot.id)
    if (!standing || standing.phase === 'planned')
      return lot.byHand || opens === null ? null : opens + lot.minutes * 60_000
    return standing.phase === 'paused' ? null : standing.endsAt
  })
  return ends.some(end => end === null) ? null : Math.max(...(ends as number[]))
}

/** What a lot costs by the prices for one unit of each line, rounded once at each line; and what stands against them. */
export function bidAmounts(
  event: Pick<EventFacts, 'lines' | 'currency'>,
  lotId: string,
  prices: Readonly<Record<string, string>>,
): { ok: true; total: Minor; lines: ReadonlyMap<string, Minor> } | { ok: false; reasons: Reason[] } {
  const asked = askedLines(event).filter(line => line.lotId === lotId)
  const missing = asked.filter(line => (prices[line.id] ?? '') === '')
  if (asked.length === 0) return { ok: false, reasons: [stop('bid.noLot')] }
  if (missing.length > 0 || Object.keys(prices).length !== asked.length)
    return {
      ok: false,
      reasons: missing.map(line => stop('answer.priceMissing', { line: line.description }, { place: `lines.${line.id}` })).concat(missing.length === 0 ? [stop('bid.noLot')] : []), // prettier-ignore
    }
  const lines = new Map(
    asked.map(line => [line.id, roundAmount(new Decimal(line.quantity).times(prices[line.id]!), event.currency)]),
  )
  return { ok: true, total: sumMinor(lines.values()), lines }
}

/** What a lot would cost by its reference prices; null where a line has none. */
export function referenceOf(event: Pick<EventFacts, 'lines' | 'currency'>, lotId: string): Minor | null {
  const asked = askedLines(event).filter(line => line.lotId === lotId)
  if (asked.length === 0 || asked.some(line => line.reference === '')) return null
  return sumMinor(asked.map(line => roundAmount(new Decimal(line.quantity).times(line.reference), event.currency)))
}
