import { stringify } from 'csv-stringify/sync'
import type { QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadEventLog } from '#contract/source/events.ts'
import { formatAmount } from '#core/money/amount.ts'
import { answersOpen } from '#core/source/event.ts'
import type { Read } from '#server/call.ts'
import { needVisible } from '#server/documents/visible.ts'
import { harmless } from '#server/formats/cells.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { detailsOf, type EventLogRow, faultsOf } from '#server/source/eventLogStore.ts'
import { type KnownEvent, knownEvent } from '#server/source/eventStore.ts'
import { isSealed } from '#server/source/sealing.ts'
import { personNames } from '#server/people/peopleStore.ts'

type Entry = ResponseOf<typeof ReadEventLog>['entries'][number]
const PAGE = 200

/** Acts of an event, the newest first; whether every entry follows the one before it. */
export async function readEventLog(
  call: Read,
  id: string,
  asked: QueryOf<typeof ReadEventLog>,
): Promise<ResponseOf<typeof ReadEventLog>> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const rows = await call.trx('eventLog').where({ eventId: id }).orderBy('sequence')
  const wanted = rows
    .filter(
      row =>
        (asked.action ? row.action === asked.action : true) &&
        (asked.supplierId ? row.supplierId === asked.supplierId : true),
    ) // prettier-ignore
    .reverse()
    .filter(row => asked.after === undefined || row.sequence < asked.after)
  const page = wanted.slice(0, PAGE)
  return {
    entries: await entriesOf(call, event, page),
    actions: [...new Set(rows.map(row => row.action))].sort(),
    holds: faultsOf(rows).length === 0,
    next: wanted.length > PAGE ? (page.at(-1)?.sequence ?? null) : null,
  }
}

async function entriesOf(call: Read, event: KnownEvent, rows: readonly EventLogRow[]): Promise<Entry[]> {
  const names = await personNames(call, rows.map(row => row.actorId)) // prettier-ignore
  const suppliers = new Map(event.invited.map(one => [one.supplierId, one.name]))
  const lots = new Map(event.lots.map(lot => [lot.id, lot.title]))
  const open = answersOpen(event, call.now)
  return rows.map(row => ({
    sequence: row.sequence,
    at: row.at,
    actor: names.get(row.actorId) ?? '',
    forWhom: row.supplierId === null ? null : (suppliers.get(row.supplierId) ?? ''),
    channel: row.channel,
    network: row.network,
    action: row.action,
    lot: row.lotId === null ? null : (lots.get(row.lotId) ?? ''),
    // what is sealed stays so until the end, also here
    details: isSealed(row.details) && !open ? { sealed: true } : written(event, detailsOf(event, row.details)),
    reason: row.reason,
  }))
}

/** Amounts as they are read; what the auction computes with stays in the log. */
const written = (event: KnownEvent, details: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(details).map(([name, value]) =>
      (name === 'total' || name === 'cost') && typeof value === 'string'
        ? [name, formatAmount(BigInt(value), event.currency)]
        : [name, value],
    ),
  )

/** The whole log as a file, each entry with its hash. */
export async function eventLogFile(call: Read, id: string): Promise<FileAnswer> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const rows = await call.trx('eventLog').where({ eventId: id }).orderBy('sequence')
  const entries = await entriesOf(call, event, rows)
  const csv = stringify(
    entries.map((one, index) => [
      one.sequence,
      one.at,
      one.action,
      one.actor,
      one.forWhom ?? '',
      one.lot ?? '',
      one.channel,
      one.network,
      JSON.stringify(one.details),
      one.reason ?? '',
      rows[index]!.hash,
    ].map(cell => (typeof cell === 'string' ? harmless(cell) : cell))), // prettier-ignore
    { header: true, columns: ['sequence', 'at', 'act', 'who', 'supplier', 'lot', 'channel', 'from', 'details', 'reason', 'hash'] }, // prettier-ignore
  )
  return { name: `${event.number}-log.csv`, mediaType: 'text/csv; charset=utf-8', bytes: Buffer.from(csv) }
}
