import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type {
  AddAlternate,
  ChangeCosting,
  ChangeLines,
  CreateCosting,
  ReadPartsList,
} from '#contract/build/costings.ts'
import { moveCosting as decideMove, whyNotCosting, type CostingAction } from '#core/build/costingActs.ts'
import { partKey } from '#core/build/partsList.ts'
import { firstSettings, whyNotSettings } from '#core/build/settings.ts'
import { RuleBroken, stop, stops } from '#core/reasons.ts'
import { unitFrom } from '#core/build/listUnits.ts'
import { type Done, type Read, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { insertMany } from '#server/database/insert.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { costed } from '#server/build/costed.ts'
import {
  type BuildCostingRow,
  type BuildLineRow,
  formOf,
  type KnownCosting,
  knownCosting,
  type Parts,
  senderKey,
} from '#server/build/costingStore.ts'
import { itemsOf, knownToday } from '#server/build/knownStore.ts'
import { matchLines } from '#server/build/matchStore.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'

/** What is told of a list at once. */
const MOST_REASONS = 60

const bytesOf = async (call: Read, source: { fileId: string | null; pasted: string }): Promise<Uint8Array> =>
  new Uint8Array(source.fileId === null ? Buffer.from(source.pasted, 'utf8') : await ownContent(call, source.fileId))

/** What a parts list says, its columns as this sender's were confirmed before, as somebody says them now, or as they are found. */
export async function readPartsList(
  call: Read,
  body: BodyOf<typeof ReadPartsList>,
): Promise<ResponseOf<typeof ReadPartsList>> {
  const bytes = await bytesOf(call, body)
  let { list, examples } = await compute('partsOf', { bytes, how: body.how as never })
  const known = body.how === null ? await formOf(call, body.sender, list.headings) : undefined
  if (known) ({ list, examples } = await compute('partsOf', { bytes, how: known }))
  return {
    columns: list.columns,
    firstRow: list.firstRow,
    headings: [...list.headings],
    remembered: known !== undefined,
    examples,
    lines: list.lines.length,
    deepest: deepestOf(list.lines),
    skipped: list.skipped.slice(0, MOST_REASONS).map(one => ({ ...one })),
    reasons: reasonsJson(list.reasons.slice(0, MOST_REASONS)),
    more: Math.max(0, list.reasons.length - MOST_REASONS),
  }
}

function deepestOf(lines: readonly { readonly parent: number | null }[]): number {
  const depths: number[] = []
  for (const [at, { parent }] of lines.entries()) depths[at] = parent === null || parent >= at ? 1 : depths[parent]! + 1
  return Math.max(0, ...depths)
}

/** Senders whose lists were confirmed before. */
export const knownSenders = async (call: Read): Promise<{ senders: string[] }> => ({
  senders: await call
    .trx('buildCostings')
    .whereNot({ sender: '' })
    .distinct('sender')
    .orderBy('sender')
    .limit(200)
    .pluck<string[]>('sender'),
})

/** Makes a costing of a list: its lines are matched, offers and rates of today are kept with it, and its columns are remembered for its sender. */
export async function createCosting(call: Write, body: BodyOf<typeof CreateCosting>): Promise<Done> {
  const { list } = await compute('partsOf', { bytes: await bytesOf(call, body), how: body.how })
  refuse(stops(list.reasons))
  const matched = await matchLines(call, body.sender, list.lines)
  const id = randomUUID()
  const lines = list.lines.map(({ onHand: _onHand, ...line }, position): BuildLineRow => ({
    ...line,
    ...matched[position]!,
    offered: [...matched[position]!.offered],
    costingId: id,
    position,
  }))
  const parts: Parts = {}
  for (const [at, line] of lines.entries())
    if (list.lines[at]!.onHand !== '') parts[partKey(line)] = { onHand: list.lines[at]!.onHand }
  const settings = { ...firstSettings(call.base), builds: body.builds } as BuildCostingRow['settings']
  const number = await nextNumber(call, 'costing')
  const known = await knownToday(call, itemsOf({ row: { parts }, lines }), settings.currency)
  await call.trx('buildCostings').insert({
    id,
    number,
    title: body.title,
    state: 'open',
    sender: body.sender.trim(),
    ownerId: call.actor.id,
    settings: json(settings),
    parts: json(parts),
    beside: json([]),
    pricedOn: call.today,
    known: json(known),
    createdAt: call.now,
    changedAt: call.now,
    search: `${number} ${body.title} ${call.actor.name} ${body.sender}`.toLowerCase(),
  })
  await insertMany(
    call.trx,
    'buildLines',
    lines.map(line => ({ ...line, offered: json(line.offered) })),
  )
  await remember(call, body, list.headings)
  await record(call, { kind: 'costing', id, action: 'created', changes: { lines: lines.length, sender: body.sender } })
  await keepFigures(call, id)
  return { id, version: 1 }
}

/** Keeps how lists with these headings of this sender are read. */
async function remember(
  call: Write,
  { sender, how }: BodyOf<typeof CreateCosting>,
  headings: readonly string[],
): Promise<void> {
  if (senderKey(sender) === '') return
  const kept = { columns: json(how.columns as never), firstRow: how.firstRow, byId: call.actor.id, at: call.now }
  await call
    .trx('listForms')
    .insert({ sender: senderKey(sender), headings: headings.join('|').toLowerCase().slice(0, 2000), ...kept })
    .onConflict(['sender', 'headings'])
    .merge(kept)
}

/** Figures by which costings are listed. */
async function keepFigures(call: Write, id: string): Promise<void> {
  const { figures } = await costed(await knownCosting(call, id))
  await call
    .trx('buildCostings')
    .where({ id })
    .update({ partCount: figures.parts, unpriced: figures.unpriced, total: figures.total })
  await tell(call, [documentTopic(id)])
}

/** A costing held for an act of this person. */
export async function heldCosting(
  call: Write,
  id: string,
  version: number,
  wanted: CostingAction,
): Promise<KnownCosting> {
  await needVisible(call, 'costing', id)
  const row = await hold(call, 'costing', id, version)
  refuse(whyNotCosting(row, call.actor, wanted))
  return { ...(await knownCosting(call, id)), row }
}

export async function changeCosting(call: Write, id: string, body: BodyOf<typeof ChangeCosting>): Promise<Done> {
  const { row } = await heldCosting(call, id, body.version, 'change')
  refuse([...whyNotSettings(body.settings), ...body.beside.flatMap(one => whyNotSettings(one.settings))])
  const { version: _version, title, settings, parts, beside } = body
  const currencyKnown = settings.currency in row.known.rates
  const change = {
    title,
    settings: json(settings),
    parts: json(parts),
    beside: json(beside),
    search: `${row.number} ${title} ${call.actor.name} ${row.sender}`.toLowerCase(),
  }
  const did = { action: 'changed', changes: { builds: settings.builds, policy: settings.policy }, reason: null }
  const done = await move(call, 'costing', row, change, did)
  // a rate for another currency is one of today
  if (!currencyKnown) await priceToday(call, await knownCosting(call, id))
  await keepFigures(call, id)
  return done
}

/** Offers and rates as they are today. */
async function priceToday(call: Write, costing: KnownCosting): Promise<void> {
  const known = await knownToday(call, itemsOf(costing), costing.row.settings.currency)
  await call
    .trx('buildCostings')
    .where({ id: costing.row.id })
    .update({ known: json(known), pricedOn: call.today })
}

export async function priceAgain(call: Write, id: string, version: number): Promise<Done> {
  const costing = await heldCosting(call, id, version, 'change')
  await priceToday(call, costing)
  const done = await move(
    call,
    'costing',
    costing.row,
    {},
    { action: 'pricedAgain', changes: { from: costing.row.pricedOn, to: call.today }, reason: null },
  )
  await keepFigures(call, id)
  return done
}

/** Says what lines are and how many of them; what a sender's part is, is remembered. Settings of a part go along with it. */
export async function changeLines(call: Write, id: string, body: BodyOf<typeof ChangeLines>): Promise<Done> {
  const costing = await heldCosting(call, id, body.version, 'change')
  const parts = { ...costing.row.parts }
  for (const { position, itemId, quantity, unit } of body.lines) {
    const line = costing.lines[position]
    if (!line) throw new RuleBroken(stop('document.notFound', { kind: 'costing' }))
    if (unitFrom(unit) === undefined) throw new RuleBroken(stop('line.unit', { unit }, { place: 'unit' }))
    const [before, after] = [partKey(line), partKey({ ...line, itemId })]
    const own = parts[before]
    if (own && before !== after) parts[after] = { ...own, ...parts[after] }
    const matched = itemId === null ? 'none' : itemId === line.itemId ? line.matched : 'said'
    await call.trx('buildLines').where({ costingId: id, position }).update({ itemId, quantity, unit, matched })
    if (itemId !== null && matched === 'said')
      await rememberMatch(call, costing.row.sender, partKey({ ...line, itemId: null }), itemId)
  }
  await call
    .trx('buildCostings')
    .where({ id })
    .update({ parts: json(parts) })
  const fresh = await knownCosting(call, id)
  const known = new Set(fresh.row.known.items.map(item => item.id))
  if (itemsOf(fresh).some(one => !known.has(one))) await priceToday(call, fresh)
  const done = await move(
    call,
    'costing',
    costing.row,
    {},
    { action: 'linesMatched', changes: { lines: body.lines.length }, reason: null },
  )
  await keepFigures(call, id)
  return done
}

async function rememberMatch(call: Write, sender: string, part: string, itemId: string): Promise<void> {
  if (senderKey(sender) === '') return
  const kept = { itemId, byId: call.actor.id, at: call.now }
  await call
    .trx('listMatches')
    .insert({ sender: senderKey(sender), part, ...kept })
    .onConflict(['sender', 'part'])
    .merge(kept)
}

export async function addAlternate(call: Write, id: string, body: BodyOf<typeof AddAlternate>): Promise<Done> {
  const costing = await heldCosting(call, id, body.version, 'change')
  const own = costing.row.parts[body.key] ?? {}
  const alternates = [...new Set([...(own.alternates ?? []), body.itemId])]
  const parts = {
    ...costing.row.parts,
    [body.key]: { ...own, alternates, ...(body.take ? { itemId: body.itemId } : {}) },
  }
  await call
    .trx('buildCostings')
    .where({ id })
    .update({ parts: json(parts) })
  const known = new Set(costing.row.known.items.map(item => item.id))
  if (!known.has(body.itemId)) await priceToday(call, await knownCosting(call, id))
  const did = { action: body.take ? 'alternateTaken' : 'alternateNamed', changes: { item: body.itemId }, reason: null }
  const done = await move(call, 'costing', costing.row, {}, did)
  await keepFigures(call, id)
  return done
}

export async function moveCosting(call: Write, id: string, version: number, to: 'putAway' | 'takeUp'): Promise<Done> {
  await needVisible(call, 'costing', id)
  const row = await hold(call, 'costing', id, version)
  const decided = obey(decideMove(row, call.actor, to))
  const done = await move(call, 'costing', row, { state: decided.next }, decided.did)
  await tell(call, [documentTopic(id)])
  return done
}
