import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { ListEventKinds, RetireEventKind, SaveEventKind } from '#contract/source/eventKinds.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkKind } from '#core/source/eventKind.ts'
import { checkRange, nextShown } from '#core/source/eventNumber.ts'
import type { Done, Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { type EventKindRow, type EventRangeRow, rangeOf } from '#server/source/eventStore.ts'

type Body = BodyOf<typeof SaveEventKind>

export async function listEventKinds(call: Read): Promise<ResponseOf<typeof ListEventKinds>> {
  const rows = await call
    .trx('eventKinds')
    .join('people', 'people.id', 'eventKinds.changedBy')
    .orderBy(['eventKinds.name', 'code', { column: 'number', order: 'desc' }])
    .select<(EventKindRow & { changer: string })[]>('eventKinds.*', 'people.name as changer')
  const ranges = new Map((await call.trx('eventRanges')).map(one => [one.id, one]))
  const events = groupBy(await call.trx('events').orderBy('createdAt', 'desc').select('number', 'kindId'), one => one.kindId) // prettier-ignore
  return {
    kinds: rows.map(({ changer, rangeId, outsideRangeId, ...row }) => ({
      ...row,
      settings: row.settings as Body['settings'],
      range: rangeJson(ranges.get(rangeId)!),
      outside: outsideRangeId === null ? null : rangeJson(ranges.get(outsideRangeId)!),
      used: (events.get(row.id) ?? []).slice(0, 10).map(one => one.number),
      usedCount: (events.get(row.id) ?? []).length,
      changedBy: changer,
    })),
  }
}

const rangeJson = (row: EventRangeRow) => ({
  prefix: row.prefix,
  digits: row.digits,
  next: row.next.toString(),
  last: row.last.toString(),
  shown: nextShown(rangeOf(row)),
})

/** Keeps a draft, faults and all; the faults come back and stop its being put to use. */
export async function saveEventKind(call: Write, body: Body): Promise<Done & { reasons: ReasonJson[] }> {
  const reasons = reasonsJson(checkKind(body.settings))
  const all = await call.trx('eventKinds').where({ code: body.code }).orderBy('number', 'desc').forUpdate()
  const columns = {
    name: body.name,
    settings: json(body.settings),
    rangeId: await keepRange(call, body.range),
    outsideRangeId: body.outside === null ? null : await keepRange(call, body.outside),
    changedBy: call.actor.id,
    changedAt: call.now,
  }
  const draft = all.find(one => one.state === 'draft')
  if (draft) {
    await guardVersion(call, draft, body.version)
    const did = { action: 'changed', changes: {}, reason: null }
    return { ...(await move(call, 'eventKind', draft, columns, did)), reasons }
  }
  const id = randomUUID()
  const number = (all[0]?.number ?? 0) + 1
  await call.trx('eventKinds').insert({ id, code: body.code, number, state: 'draft', ...columns })
  await record(call, { kind: 'eventKind', id, action: 'drafted' })
  return { id, version: 1, reasons }
}

/** A range is known by its prefix; kinds may share one. It never goes back to a number that was given. */
async function keepRange(call: Write, range: NonNullable<Body['outside']>): Promise<string> {
  const wanted = { prefix: range.prefix, digits: range.digits, next: BigInt(range.next), last: BigInt(range.last) }
  refuse(checkRange(wanted))
  const known = await call.trx('eventRanges').where({ prefix: range.prefix }).forUpdate().first()
  if (!known) {
    const id = randomUUID()
    await call.trx('eventRanges').insert({ id, ...wanted })
    return id
  }
  if (wanted.next < BigInt(known.next)) throw new RuleBroken(stop('event.rangeBack', { next: known.next.toString() }, { place: 'next' })) // prettier-ignore
  await call.trx('eventRanges').where({ id: known.id }).update(wanted)
  return known.id
}

/** From now on new events begin with this version; those that are there keep theirs. */
export async function publishEventKind(call: Write, id: string, version: number): Promise<Done> {
  const row = await hold(call, 'eventKind', id, version)
  if (row.state !== 'draft') throw new RuleBroken(stop('kind.notDraft'))
  refuseStops(checkKind(row.settings))
  await call.trx('eventKinds').where({ code: row.code, state: 'live' }).update({ state: 'retired' })
  return await move(call, 'eventKind', row, { state: 'live', changedBy: call.actor.id }, { action: 'published', changes: { number: row.number }, reason: null }) // prettier-ignore
}

/** A version that no event began with goes; one that is in use is refused with what uses it. */
export async function dropEventKind(call: Write, id: string, version: number): Promise<Done> {
  const row = await hold(call, 'eventKind', id, version)
  const used = await call.trx('events').where({ kindId: id }).orderBy('number').limit(5).pluck<string[]>('number')
  if (used.length > 0) throw new RuleBroken(stop('kind.inUse', { events: used.join(', ') }))
  await record(call, { kind: 'eventKind', id, action: 'dropped', changes: { name: row.name, number: row.number } })
  await call.trx('eventKinds').where({ id }).delete()
  return { id, version: row.version }
}

/** No new event begins with it; those that are there go on. */
export async function retireEventKind(call: Write, id: string, body: BodyOf<typeof RetireEventKind>): Promise<Done> {
  const row = await hold(call, 'eventKind', id, body.version)
  if (row.state !== 'live') throw new RuleBroken(stop('kind.notLive'))
  return await move(
    call,
    'eventKind',
    row,
    { state: 'retired' },
    { action: 'retired', changes: {}, reason: body.reason },
  )
}
