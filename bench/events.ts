import { randomUUID } from 'node:crypto'
import { CompareEvent } from '#contract/source/comparing.ts'
import { SendEvent } from '#contract/source/events.ts'
import { ActOnDay, PlaceBid, ReadDay } from '#contract/source/day.ts'
import { lotRules } from '#core/source/event.ts'
import { replayLot } from '#core/source/replayLot.ts'
import { NEW_KIND } from '#core/source/eventKind.ts'
import { type Figure, figure, median } from '#bench/figures.ts'
import { openSession } from '#server/people/sessions.ts'
import { reading } from '#server/call.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { toAuction } from '#server/source/eventLogStore.ts'
import { knownEvent } from '#server/source/eventStore.ts'
import { eventDraft, inDays, kindWith, lineBody } from '#test-helpers/events.ts'
import { Client, type World } from '#test-helpers/world.ts'

const PARTS = [
  { key: 'freight', name: 'Freight', basis: 'perLot' as const, kind: 'freight' as const },
  { key: 'tooling', name: 'Tooling', basis: 'perLine' as const, kind: 'other' as const },
]
const LINES = 200
const SUPPLIERS = 12
/** How many times the plain reading of the same rows the comparison may take. */
const COMPARED_LIMIT = 4

const someSuppliers = async (world: World, count: number): Promise<string[]> =>
  await world.db('suppliers').where({ state: 'active' }).whereNull('mergedInto').distinct('name').orderBy('name').limit(count).pluck<string[]>('name') // prettier-ignore

/** Sends an event to so many suppliers; who has no address is given one, as the data of other measures has none. */
async function sentTo(
  world: World,
  kindId: string,
  count: number,
  body: Parameters<typeof eventDraft>[3],
): Promise<string> {
  const { id, version } = await eventDraft(world, kindId, await someSuppliers(world, count), body)
  await world.db('eventSuppliers').where({ eventId: id, email: '' }).update({ email: world.db.raw(`'sales-' || id || '@bidder.example'`) }) // prettier-ignore
  await (await world.as('Rasmus')).do(SendEvent, { params: { id }, body: { version, reason: 'It is what we need.' } })
  return id
}

/** Lines × suppliers with components, exactly reckoned, against SQL that reads the same prices. */
export async function compareMany(world: World, runs: number): Promise<Figure> {
  const kindId = await kindWith(world, { pricing: 'components', components: PARTS })
  const id = await sentTo(world, kindId, SUPPLIERS, body => ({ lines: Array.from({ length: LINES }, (_one, index) => lineBody(body.lots[0]!.id, { description: `Part ${index}`, quantity: String(1 + (index % 40)), reference: '12' })) })) // prettier-ignore
  const lines = await world.db('eventLines').where({ eventId: id }).orderBy('position')
  const invited = await world.db('eventSuppliers').where({ eventId: id })
  const rasmus = await world.db('people').where({ name: 'Rasmus Tielemann' }).first('id')
  const now = new Date().toISOString()
  for (const [at, one] of invited.entries()) {
    const content = {
      currency: one.currency,
      lines: lines.map((line, index) => ({ lineId: line.id, declined: false, quantity: '', price: (9 + ((index * 7 + at * 13) % 50) / 10).toFixed(2), priceBase: '1', components: { tooling: '4.5' }, leadDays: 14, minimum: '', note: '', texts: {} })), // prettier-ignore
      alternatives: [],
      ownLines: [],
      lump: { [lines[0]!.lotId]: { freight: '180' } },
      paymentDays: 30,
      validUntil: '',
      questions: {},
      texts: {},
      note: '',
      fileIds: [],
    }
    await world.db('eventAnswers').insert({ id: randomUUID(), invitedId: one.id, revision: 1, state: 'submitted', content: JSON.stringify(content) as never, channel: 'web', byId: rasmus!.id, onBehalf: false, at: now }) // prettier-ignore
    await world.db('eventSuppliers').where({ id: one.id }).update({ answeredAt: now })
  }
  const lead = await world.as('Rasmus')
  const begun = performance.now()
  await lead.do(CompareEvent, { params: { id } })
  const first = performance.now() - begun
  const ours = await median(runs, () => lead.do(CompareEvent, { params: { id } }), 3)
  const plain = await median(runs, async () => JSON.stringify((await world.db.raw<{ rows: unknown[] }>(`select l.id, l.description, l.quantity, s.supplier_id, line ->> 'price' as price, line -> 'components' as components from event_answers a join event_suppliers s on s.id = a.invited_id cross join jsonb_array_elements(a.content -> 'lines') line join event_lines l on l.id = (line ->> 'lineId')::uuid where s.event_id = ? order by l.position`, [id])).rows), 3) // prettier-ignore
  return { ...figure('source.compare-200x12', ours, plain, COMPARED_LIMIT), note: `the first time, when everything is reckoned, ${first.toFixed(0)} ms` } // prettier-ignore
}

/** Suppliers, bids a second, seconds, pages that listen; milliseconds in which a bid is answered and news are there. */
const FULL = { suppliers: 200, perSecond: 20, seconds: 30, pages: 50 } as const
const FEW = { suppliers: 30, perSecond: 20, seconds: 5, pages: 10 } as const
const ANSWERED = 150
const HEARD = 500
const BURST_LIMIT = 6

const p95 = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)] ?? 0

/** Many bids a second on one lot while pages listen: how long each takes, how soon it is heard, and that the standing is that of the log. */
export async function auctionBurst(world: World, _runs: number, small: boolean): Promise<Figure> {
  const { suppliers, perSecond, seconds, pages } = small ? FEW : FULL
  const kindId = await kindWith(world, { format: 'auction', lot: { ...NEW_KIND.lot, extension: null } })
  const id = await sentTo(world, kindId, suppliers, body => ({ opensAt: inDays(1), endsAt: null, lines: [lineBody(body.lots[0]!.id)] })) // prettier-ignore
  const lead = await world.as('Rasmus')
  await lead.do(ActOnDay, { params: { id }, body: { act: 'start', lotId: null, bySeconds: 0, reason: '' } })
  const [line] = await world.db('eventLines').where({ eventId: id })
  const clients = await guests(world, id)
  const heard: number[] = []
  let bidAt = 0
  const listeners = await Promise.all(Array.from({ length: pages }, (_one, index) => listen(world, clients[index % clients.length]!, id, () => heard.push(performance.now() - bidAt)))) // prettier-ignore
  const times: number[] = []
  const total = perSecond * seconds
  const waiting: Promise<unknown>[] = []
  for (let turn = 0; turn < total; turn++) {
    const price = (10_000 - turn).toFixed(2)
    const begun = performance.now()
    bidAt = begun
    waiting.push(
      clients[turn % clients.length]!.do(PlaceBid, { params: { id }, body: { bidId: randomUUID(), lotId: line!.lotId, prices: { [line!.id]: price } } }).then(() => times.push(performance.now() - begun)), // prettier-ignore
    )
    await new Promise(resolve => setTimeout(resolve, 1000 / perSecond))
  }
  await Promise.all(waiting)
  for (const end of listeners) end()
  const same = await sameAsLog(world, id)
  const plain = await plainInserts(world, id, total)
  const bids = p95(times)
  const one = figure('source.auction-burst', times.reduce((sum, time) => sum + time, 0) / times.length, plain, BURST_LIMIT) // prettier-ignore
  return {
    ...one,
    ok: one.ok && bids <= ANSWERED && p95(heard) <= HEARD && same && times.length === total,
    note: `p95 of bids ${bids.toFixed(0)} ms (${ANSWERED}), of news ${p95(heard).toFixed(0)} ms (${HEARD}), ${same ? 'standing as the log says' : 'standing NOT as the log says'}`, // prettier-ignore
  }
}

/** Sessions of those who were asked, as their links open them. */
async function guests(world: World, id: string): Promise<Client[]> {
  const rows = await world.db('eventSuppliers').where({ eventId: id }).select('personId')
  const sessions = []
  for (const { personId } of rows) {
    const token = await openSession(world.db, personId!, new Date().toISOString(), {
      agent: 'bench',
      network: '127.0.0.1',
    })
    sessions.push(new Client(world.address, `ivory_session=${token}`))
  }
  return sessions
}

/** A page that listens for news of the event. */
async function listen(world: World, client: Client, id: string, heard: () => void): Promise<() => void> {
  const end = new AbortController()
  const response = await fetch(`${world.address}/api/events?topics=document%3A${id}`, {
    headers: { cookie: client.cookie },
    signal: end.signal,
  })
  void (async () => {
    const decoder = new TextDecoder()
    const reader = response.body!.getReader()
    for (let part = await reader.read(); !part.done; part = await reader.read())
      if (decoder.decode(part.value).includes(id)) heard()
  })().catch(() => undefined)
  return () => end.abort()
}

/** Whether what is shown is what the log re-computes to. */
async function sameAsLog(world: World, id: string): Promise<boolean> {
  const call = reading(world.db, await settingOf(world.jobs))
  const event = await knownEvent(call, id)
  const rows = await world
    .db('eventLog')
    .where({ eventId: id })
    .whereIn('action', ['opened', 'bid'])
    .orderBy('sequence')
  const rules = lotRules(event.lots[0]!, event.currency, false)
  const again = replayLot(rules, rows.map(row => toAuction(event, row))) // prettier-ignore
  const { lots } = await (await world.as('Rasmus')).do(ReadDay, { params: { id } })
  return JSON.stringify(lots[0]!.standing.map(one => one.supplierId)) === JSON.stringify(again.standing.map(one => one.supplierId)) // prettier-ignore
}

/** The same rows, inserted singly as bids are: each committed by itself, into a table with the log's keys. */
async function plainInserts(world: World, id: string, count: number): Promise<number> {
  const rows = await world.db('eventLog').where({ eventId: id, action: 'bid' }).limit(count)
  await world.db.raw('create table plain_log_here (like event_log including all)')
  const start = performance.now()
  for (const row of rows)
    await world.db.transaction(async trx => {
      await trx('plain_log_here').insert({ ...row, details: JSON.stringify(row.details) } as never)
    })
  const each = (performance.now() - start) / Math.max(1, rows.length)
  await world.db.raw('drop table plain_log_here')
  return each
}
