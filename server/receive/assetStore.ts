import { randomUUID } from 'node:crypto'
import { type AssetEntry, type AssetFacts, type AssetState, ASSET_GROUPS, firstEntry } from '#core/receive/asset.ts'
import { serialKey } from '#core/receive/facts.ts'
import { nextTag, numberIn, rangeOfTag, type TagRange } from '#core/receive/tags.ts'
import { allocate } from '#core/money/allocate.ts'
import { Decimal } from '#core/money/decimal.ts'
import { portion } from '#core/money/amount.ts'
import { isIn } from '#core/states.ts'
import { lineValues } from '#core/order/standing.ts'
import type { Read, Write } from '#server/call.ts'
import { byId } from '#server/database/rows.ts'
import { insertMany } from '#server/database/insert.ts'
import { record, recordFirst } from '#server/documents/history.ts'
import { nextNumber } from '#server/documents/number.ts'
import { entriesOf } from '#server/house/registerStore.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'
import type { ReceiptLineRow } from '#server/receive/receiptStore.ts'
import { countedLines } from '#server/receive/receivingStore.ts'
import type { Becomes, Taken } from '#server/receive/becoming.ts'

export interface AssetRow {
  id: string
  number: string
  state: AssetState
  tag: string | null
  serial: string
  itemId: string | null
  description: string
  orderLineId: string
  receiptLineId: string
  placeId: string | null
  bin: string
  personId: string | null
  receivedOn: string
  /** In the smallest unit of the base currency. */
  cost: bigint
  accountId: string | null
  needsSerial: boolean
  tagRange: string
  warrantyTo: string | null
  serviceMonths: number
  parentId: string | null
  note: string
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    assets: AssetRow
    tagCounters: { rangeCode: string; last: bigint }
  }
}

export const entryOf = (row: AssetRow): AssetEntry => ({
  tag: row.tag ?? '',
  serial: row.serial,
  description: row.description,
  placeId: row.placeId,
  bin: row.bin,
  personId: row.personId,
  warrantyTo: row.warrantyTo,
  serviceMonths: row.serviceMonths,
  parentId: row.parentId,
  note: row.note,
})
export const assetFacts = (row: AssetRow): AssetFacts => ({ ...row, entry: entryOf(row) })

/** The ranges of tags that are in use. */
export async function tagRanges(call: Read): Promise<TagRange[]> {
  const entries = await entriesOf(call, 'tagRanges')
  return entries
    .filter(entry => entry.open)
    .map(({ values }) => ({
      code: values.code!,
      prefix: values.prefix!,
      digits: Number(values.digits),
      from: Number(values.first),
      to: Number(values.last),
    }))
}

/** The next tag of a range that nobody has; of any range where none is wanted. Null where there is none. */
export async function proposedTag(call: Read, wanted: string): Promise<string | null> {
  const range = (await tagRanges(call)).find(one => wanted === '' || one.code === wanted)
  if (!range) return null
  const counter = await call.trx('tagCounters').where({ rangeCode: range.code }).first('last')
  return nextTag(range, counter ? Number(counter.last) : null)
}

/** A tag is given: the next that is proposed is the one after it. */
export async function tagGiven(call: Write, ranges: readonly TagRange[], tag: string): Promise<void> {
  const range = rangeOfTag(ranges, tag)
  if (!range) return
  await call.trx.raw(
    `insert into tag_counters (range_code, last) values (?, ?) on conflict (range_code) do update set last = greatest(tag_counters.last, excluded.last)`,
    [range.code, numberIn(range, tag)],
  )
}

/** One piece for each that was counted, to be told tag and serial number of; cost and account are the line's. */
export const piecesOfCounts: Becomes = {
  taken: async (call, order, receipt, parts) => {
    const own = parts.filter(part => part.becomes === 'asset')
    if (own.length === 0) return
    const terms = await countedLines(call, [...new Set(own.map(part => part.orderLineId))])
    const rows: AssetRow[] = []
    for (const part of own) rows.push(...(await freshPieces(call, order, receipt, part, terms)))
    await insertMany(call.trx, 'assets', rows)
    await recordFirst(call, 'asset', rows.map(row => row.id), 'came') // prettier-ignore
  },
  back: async (call, _order, _receipt, parts) => {
    const out = parts.filter(part => part.becomes === 'asset').flatMap(part => part.out.pieces)
    if (out.length === 0) return
    const tags = await call.trx('assets').whereIn('id', out).select('id', 'tag')
    // the tag can be put on another piece; what it was stays in the history
    await call.trx('assets').whereIn('id', out).update({ state: 'voided', tag: null, changedAt: call.now })
    await call.trx('assets').whereIn('id', out).increment('version', 1)
    for (const { id, tag } of tags)
      await record(call, { kind: 'asset', id, action: 'takenOut', changes: { tag: tag ?? '' } })
  },
}

async function freshPieces(
  call: Write,
  order: KnownOrder,
  receipt: Taken,
  part: ReceiptLineRow,
  terms: Awaited<ReturnType<typeof countedLines>>,
): Promise<AssetRow[]> {
  const line = order.lines.find(one => one.id === part.orderLineId)!
  const known = terms.get(line.id)!
  const count = Number(part.quantity)
  const value = portion(lineValues(order).get(line.id)!, part.quantity, line.quantity)
  const costs = allocate(
    value,
    Array.from({ length: count }, () => '1'),
  )
  const rows: AssetRow[] = []
  for (let index = 0; index < count; index++) {
    const entry = firstEntry(
      {
        description: line.description,
        placeId: receipt.placeId,
        bin: part.bin,
        serial: part.serials[index] ?? '',
        receivedOn: receipt.receivedOn,
      },
      known.terms.terms,
    )
    rows.push({
      ...entry,
      tag: null,
      id: randomUUID(),
      number: await nextNumber(call, 'asset'),
      state: 'unfinished',
      itemId: known.itemId,
      orderLineId: line.id,
      receiptLineId: part.id,
      receivedOn: receipt.receivedOn,
      cost: costs[index]!,
      accountId: line.splits[0]?.accountId ?? null,
      needsSerial: known.terms.terms.serial === 'must',
      tagRange: known.terms.terms.tagRange,
      version: 1,
      createdAt: call.now,
      changedAt: call.now,
    })
  }
  return rows
}

/** The pieces of counts that still stand, those first that nobody has tagged. */
export async function standingPieces(call: Read, parts: readonly ReceiptLineRow[]) {
  const ids = parts.filter(part => part.becomes === 'asset').map(part => part.id)
  const rows = ids.length === 0 ? [] : await call.trx('assets').whereIn('receiptLineId', ids).orderByRaw('tag is not null, number').select('id', 'receiptLineId', 'state') // prettier-ignore
  return new Map(
    ids.map(id => {
      const pieces = rows
        .filter(row => row.receiptLineId === id && isIn(ASSET_GROUPS.here, row.state))
        .map(row => row.id)
      return [id, { pieces, there: new Decimal(pieces.length).toString() }]
    }),
  )
}

/** The pieces of counts that still stand, as people tell them apart, by count. */
export async function namedPieces(
  call: Read,
  parts: readonly ReceiptLineRow[],
): Promise<Map<string, { id: string; label: string }[]>> {
  const known = await standingPieces(call, parts)
  const ids = [...known.values()].flatMap(one => one.pieces)
  const rows = byId(await call.trx('assets').whereIn('id', ids).select('id', 'number', 'tag', 'serial'))
  const label = (id: string): string => [rows.get(id)?.tag ?? rows.get(id)?.number, rows.get(id)?.serial].filter(Boolean).join(', ') // prettier-ignore
  return new Map([...known].map(([partId, { pieces }]) => [partId, pieces.map(id => ({ id, label: label(id) }))]))
}

/** Another piece with the tag, or with the serial number of the same item. */
export async function aroundAsset(call: Read, row: AssetRow, entry: Pick<AssetEntry, 'tag' | 'serial' | 'parentId'>) {
  const ranges = await tagRanges(call)
  const tag = entry.tag.trim() === '' ? undefined : await call.trx('assets').whereRaw('tag = ?', [entry.tag.trim().toUpperCase()]).whereNot({ id: row.id }).first('number') // prettier-ignore
  const serial = await sameSerial(call, row, entry.serial)
  return { ranges, tagOf: tag?.number ?? null, serialOf: serial, above: await aboveAsset(call, entry.parentId) }
}

async function sameSerial(call: Read, row: AssetRow, serial: string): Promise<string | null> {
  if (serial.trim() === '' || row.itemId === null) return null
  const other = await call
    .trx('assets')
    .where({ itemId: row.itemId })
    .whereRaw(`upper(serial) = ? and serial <> ''`, [serial.trim().toUpperCase()])
    .whereIn('state', [...ASSET_GROUPS.here])
    .whereNot({ id: row.id })
    .first('number')
  if (other) return other.number
  const here = await call.trx('serialsHere').where({ key: serialKey(row.itemId, serial) }).whereNot({ receiptLineId: row.receiptLineId }).first('serial') // prettier-ignore
  return here?.serial ?? null
}

async function aboveAsset(call: Read, parentId: string | null): Promise<string[]> {
  const above: string[] = []
  for (let one = parentId; one !== null && !above.includes(one);) {
    above.push(one)
    one = (await call.trx('assets').where({ id: one }).first('parentId'))?.parentId ?? null
  }
  return above
}
