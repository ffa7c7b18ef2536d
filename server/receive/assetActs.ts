import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadPieces, TellAsset } from '#contract/receive/assets.ts'
import { ASSET_GROUPS, disposeAsset, tellAsset } from '#core/receive/asset.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { aroundAsset, assetFacts, entryOf, proposedTag, tagGiven } from '#server/receive/assetStore.ts'

/** Tells of a piece what is known; two who give the same tag at once: the second is told so. */
export async function tell(
  call: Write,
  id: string,
  { version, ...told }: BodyOf<typeof TellAsset>,
): Promise<ResponseOf<typeof TellAsset>> {
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('asset tags'))`)
  const row = await hold(call, 'asset', id, version)
  const entry = { ...entryOf(row), ...withoutGaps(told) }
  await checkPointers(call, entry)
  const around = await aroundAsset(call, row, entry)
  const decided = obey(tellAsset(assetFacts(row), entry, around, call.actor))
  const { state, entry: next, missing } = decided.next
  const done = await move(call, 'asset', row, { ...next, tag: next.tag === '' ? null : next.tag, state }, decided.did)
  if (next.tag !== '' && next.tag !== row.tag) await tagGiven(call, around.ranges, next.tag)
  return { ...done, state, missing: reasonsJson(missing), nextTag: await proposedTag(call, row.tagRange) }
}

/** What was left out stays as it is. */
const withoutGaps = <T extends object>(told: T): { [K in keyof T]: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(told).filter(([, value]) => value !== undefined)) as {
    [K in keyof T]: Exclude<T[K], undefined>
  }

async function checkPointers(
  call: Read,
  { placeId, personId, parentId }: { placeId: string | null; personId: string | null; parentId: string | null },
): Promise<void> {
  if (placeId !== null) found(await call.trx('addresses').where({ id: placeId }).first('id'), 'address')
  if (personId !== null) found(await call.trx('people').where({ id: personId, realm: 'team' }).first('id'), 'person')
  if (parentId !== null) found(await call.trx('assets').where({ id: parentId }).first('id'), 'asset')
}

export async function dispose(call: Write, id: string, version: number, reason: string): Promise<Done> {
  const row = await hold(call, 'asset', id, version)
  const decided = obey(disposeAsset(assetFacts(row), call.actor, reason))
  return await move(call, 'asset', row, { state: decided.next.state }, decided.did)
}

/** At most so many are asked for at once. */
const MOST = 200

type Piece = ResponseOf<typeof ReadPieces>['pieces'][number]

/** Pieces that nobody has finished: of one order, or of all. */
export async function readPieces(call: Read, orderId: string | undefined): Promise<ResponseOf<typeof ReadPieces>> {
  const { rows } = await call.trx.raw<{ rows: Piece[] }>(
    `select a.id, a.version, a.number, a.description, o.number as order, coalesce(a.tag, '') as tag, a.serial, a.needs_serial, a.tag_range
     from assets a join order_lines l on l.id = a.order_line_id join orders o on o.id = l.order_id
     where a.state = any(:states) and (:order::uuid is null or o.id = :order::uuid) order by a.created_at, a.number limit :most`,
    { states: [...ASSET_GROUPS.unfinished], order: orderId ?? null, most: MOST + 1 },
  )
  const pieces = rows.slice(0, MOST)
  const nextTags: Record<string, string | null> = {}
  for (const range of new Set(['', ...pieces.map(piece => piece.tagRange)]))
    nextTags[range] = await proposedTag(call, range)
  return { pieces, nextTags, more: rows.length > MOST }
}
