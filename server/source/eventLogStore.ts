import { type ChainFault, checkChain, historyText, type HistoryRecord, storedFacts } from '#core/ledger/canonical.ts'
import { minor } from '#core/money/amount.ts'
import type { AuctionEntry } from '#core/source/auctionRules.ts'
import { dueOpenings } from '#core/source/dayActs.ts'
import { lotRules } from '#core/source/event.ts'
import { afterEntry, type LotStanding, replayLot } from '#core/source/replayLot.ts'
import type { Read, Write } from '#server/call.ts'
import { sha256 } from '#server/documents/history.ts'
import type { KnownEvent } from '#server/source/eventStore.ts'
import { isSealed, seal, unseal } from '#server/source/sealing.ts'

/** Acts whose entries make the clock, the bids and the standing of lots. */
export const AUCTION_ACTS = [
  'opened', 'paused', 'resumed', 'extended', 'endedEarly', 'bid', 'removed', 'suspended', 'lifted', 'withdrawn',
] as const // prettier-ignore
type AuctionAct = (typeof AUCTION_ACTS)[number]

export interface EventLogRow {
  eventId: string
  sequence: number
  at: string
  actorId: string
  channel: string
  network: string
  action: string
  lotId: string | null
  supplierId: string | null
  details: Record<string, unknown>
  reason: string | null
  previousHash: string
  hash: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    eventLog: EventLogRow
  }
}

export interface NewLogEntry {
  readonly action: string
  readonly lotId?: string | null
  readonly supplierId?: string | null
  readonly details?: Readonly<Record<string, unknown>>
  readonly reason?: string | null
  /** What it says is sealed until the end. */
  readonly sealed?: boolean
}

/** An entry as its hash is made of it. */
export const chained = (row: Omit<EventLogRow, 'hash'>): HistoryRecord => ({
  documentId: row.eventId,
  sequence: row.sequence,
  at: row.at,
  actorId: row.actorId,
  onBehalfOfId: null,
  channel: row.channel,
  action: row.action,
  changes: { lotId: row.lotId, supplierId: row.supplierId, network: row.network, details: row.details },
  reason: row.reason,
  previousHash: row.previousHash,
})

/** Where a log is not as it was written: gaps, links and hashes that do not follow. */
export const faultsOf = (rows: readonly EventLogRow[]): ChainFault[] =>
  checkChain(
    rows.map(({ hash, ...row }) => ({ ...chained(row), hash })),
    sha256,
  )

/** Writes one act into an event's log, chained by hash to the one before; no entry is earlier than the one before it. The caller holds the event. */
export async function log(call: Write, event: KnownEvent, entry: NewLogEntry, network = ''): Promise<EventLogRow> {
  const last = await call
    .trx('eventLog')
    .where({ eventId: event.id })
    .orderBy('sequence', 'desc')
    .first('sequence', 'hash', 'at')
  const details = entry.details ?? {}
  const row: Omit<EventLogRow, 'hash'> = {
    eventId: event.id,
    sequence: (last?.sequence ?? 0) + 1,
    at: last && last.at > call.now ? last.at : call.now,
    actorId: call.actor.id,
    channel: call.channel,
    network,
    action: entry.action,
    lotId: entry.lotId ?? null,
    supplierId: entry.supplierId ?? null,
    details: entry.sealed && event.row.seal ? { ...seal(event.row.seal, details) } : { ...details },
    reason: entry.reason || null,
    previousHash: last?.hash ?? '',
  }
  const stored = { ...row, hash: sha256(historyText(storedFacts(chained(row)))) }
  await call.trx('eventLog').insert({ ...stored, details: JSON.stringify(row.details) as never })
  return stored
}

/** What an entry says, unsealed where it is sealed; whoever shows it asks the core first whether it may be shown. */
export const detailsOf = (event: Pick<KnownEvent, 'row'>, details: Record<string, unknown>): Record<string, unknown> =>
  isSealed(details) ? (event.row.seal ? unseal(event.row.seal, details) : {}) : details

/** An entry as the auction computes with it. */
export function toAuction(event: Pick<KnownEvent, 'row'>, row: EventLogRow): AuctionEntry {
  const details = detailsOf(event, row.details)
  const common = { at: Date.parse(row.at), lotId: row.lotId }
  switch (row.action as AuctionAct) {
    case 'opened':
      // it opened when its time had come, which may have been noticed later
      return {
        ...common,
        at: Date.parse(String(details.at)),
        kind: 'opened',
        endsAt: Date.parse(String(details.endsAt)),
      }
    case 'extended':
      return { ...common, kind: 'extended', bySeconds: Number(details.bySeconds) }
    case 'removed':
      return { ...common, kind: 'removed', bidId: String(details.bidId) }
    case 'suspended':
    case 'lifted':
    case 'withdrawn':
      return { ...common, kind: row.action as 'suspended', supplierId: row.supplierId! }
    case 'bid': {
      const { bidId, total, lines } = details as { bidId: string; total: string; lines: Record<string, string> }
      const parts = new Map(Object.entries(lines).map(([id, amount]) => [id, minor(BigInt(amount))]))
      const bid = { id: bidId, supplierId: row.supplierId!, total: minor(BigInt(total)), lines: parts }
      return { ...common, kind: 'bid', bid }
    }
    default:
      return { ...common, kind: row.action as 'paused' }
  }
}

/** Lots as they stood after an entry of the log. What was read once of a log never changes, so that only what came since is read again. */
interface Replayed {
  readonly sequence: number
  readonly lots: ReadonlyMap<string, LotStanding>
}
const replayed = new Map<string, Replayed>()
const MOST_KEPT = 50

/** Every lot of an event after everything in its log, and opened where its time has come. */
export async function lotStandings(call: Read, event: KnownEvent): Promise<ReadonlyMap<string, LotStanding>> {
  const lots = await written(call, event)
  const due = dueOpenings(event, lots, Date.parse(call.now))
  if (due.length === 0) return lots
  return new Map(
    event.lots.map(lot => {
      const rules = lotRules(lot, event.currency, event.kind.sealed)
      return [lot.id, due.reduce((standing, entry) => afterEntry(rules, standing, entry), lots.get(lot.id)!)] as const
    }),
  )
}

/** Every lot after what stands in the log. */
export async function written(call: Read, event: KnownEvent): Promise<ReadonlyMap<string, LotStanding>> {
  const key = `${event.id} ${event.row.version}`
  const known = replayed.get(key)
  const rows = await call
    .trx('eventLog')
    .where({ eventId: event.id })
    .whereIn('action', [...AUCTION_ACTS])
    .where('sequence', '>', known?.sequence ?? 0)
    .orderBy('sequence')
  const entries = rows.map(row => toAuction(event, row))
  const lots = new Map(
    event.lots.map(lot => {
      const rules = lotRules(lot, event.currency, event.kind.sealed)
      const before = known?.lots.get(lot.id) ?? replayLot(rules, [])
      return [lot.id, entries.reduce((standing, entry) => afterEntry(rules, standing, entry), before)] as const
    }),
  )
  remember(key, { sequence: rows.at(-1)?.sequence ?? known?.sequence ?? 0, lots })
  return lots
}

function remember(key: string, standing: Replayed): void {
  replayed.delete(key)
  replayed.set(key, standing)
  const [oldest] = replayed.keys()
  if (replayed.size > MOST_KEPT && oldest !== undefined) replayed.delete(oldest)
}
