import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { KeepAsList, ListLine, RepeatLists, SaveRepeatList, UseRepeatList } from '#contract/request/catalogue.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { basketRows, goodsOf, saveBasket } from '#server/request/basket.ts'
import { usualChoices } from '#server/request/choices.ts'
import { createRequisition } from '#server/request/draftActs.ts'
import type { OfferRow } from '#server/request/offerStore.ts'
import { readVisibleRequisition, requisitionLines } from '#server/request/requisitionStore.ts'

interface ListRow {
  id: string
  name: string
  ownerId: string
  sharedWith: string[]
  sharedWithAll: boolean
  lines: ListLine[]
  version: number
  createdAt: string
  changedAt: string
  usedAt: string | null
}

declare module 'knex/types/tables.js' {
  interface Tables {
    repeatLists: ListRow
  }
}

const seenBy = (call: Read) =>
  call
    .trx('repeatLists')
    .where(
      seen =>
        void seen
          .where({ ownerId: call.actor.id })
          .orWhere({ sharedWithAll: true })
          .orWhereRaw('? = any(shared_with)', [call.actor.id]),
    )

/** One's own lists and those that colleagues share. */
export async function repeatLists(call: Read): Promise<ResponseOf<typeof RepeatLists>> {
  const rows = await seenBy(call)
    .join('people', 'people.id', 'repeatLists.ownerId')
    .orderByRaw('(owner_id = ?) desc, repeat_lists.name', [call.actor.id])
    .select<(ListRow & { owner: string })[]>('repeatLists.*', 'people.name as owner')
  const people = await call
    .trx('people')
    .where({ active: true, realm: 'team' })
    .whereNot({ id: call.actor.id })
    .orderBy('name')
    .select('id', 'name')
  return {
    lists: rows.map(row => ({
      id: row.id,
      name: row.name,
      owner: row.owner,
      mine: row.ownerId === call.actor.id,
      sharedWith: row.sharedWith,
      sharedWithAll: row.sharedWithAll,
      lines: row.lines,
      version: row.version,
      changedAt: row.changedAt,
      usedAt: row.usedAt,
    })),
    people,
  }
}

/** One's own list, held; those that others share can only be used. */
async function heldOwn(call: Write, id: string, version?: number): Promise<ListRow> {
  const row = await hold(call, 'repeatList', id)
  if (row.ownerId !== call.actor.id) throw new RuleBroken(stop('right.notYours'))
  if (version !== undefined) await guardVersion(call, row, version)
  return row
}

export async function saveRepeatList(call: Write, body: BodyOf<typeof SaveRepeatList>): Promise<Done> {
  const columns = {
    name: body.name,
    sharedWith: body.sharedWith,
    sharedWithAll: body.sharedWithAll,
    lines: json(body.lines),
  }
  if (body.id === null) {
    const id = randomUUID()
    const made = { id, ownerId: call.actor.id, createdAt: call.now, changedAt: call.now }
    await call.trx('repeatLists').insert({ ...made, ...columns })
    return { id, version: 1 }
  }
  const row = await heldOwn(call, body.id, body.version)
  const did = { action: 'changed', changes: { lines: body.lines.length }, reason: null }
  return await move(call, 'repeatList', row, columns, did)
}

export async function endRepeatList(call: Write, id: string, version: number): Promise<{ id: string }> {
  const row = await heldOwn(call, id, version)
  await record(call, { kind: 'repeatList', id, action: 'ended', changes: { name: row.name, lines: row.lines } })
  await call.trx('repeatLists').where({ id }).delete()
  return { id }
}

/** What is in the basket or in a request becomes a list, or more lines of one: the same item from the same offer adds its quantity. */
export async function keepAsList(call: Write, body: BodyOf<typeof KeepAsList>): Promise<Done> {
  const fresh = body.from === 'basket' ? await linesOfBasket(call) : await linesOfRequest(call, body.from)
  if (fresh.length === 0) throw new RuleBroken(stop('repeatList.empty'))
  if (body.listId === null)
    return await saveRepeatList(call, {
      id: null,
      version: 0,
      name: body.name,
      sharedWith: [],
      sharedWithAll: false,
      lines: fresh,
    })
  const row = await heldOwn(call, body.listId)
  const key = (line: ListLine): string => `${line.itemId} ${line.offerId} ${line.description}`
  const known = new Set(row.lines.map(key))
  const lines = [...row.lines, ...fresh.filter(line => !known.has(key(line)))]
  return await saveRepeatList(call, { ...row, lines })
}

const linesOfBasket = async (call: Read): Promise<ListLine[]> => (await basketRows(call)).map(goodsOf)

/** A personal fee is nobody else's business: it does not go into lists. */
async function linesOfRequest(call: Read, requisitionId: string): Promise<ListLine[]> {
  await readVisibleRequisition(call, requisitionId)
  return (await requisitionLines(call, requisitionId))
    .filter(line => line.kind !== 'personalFee')
    .map(
      ({ kind, itemId, offerId, description, quantity, unit, price, priceBase, currency, supplierId, category }) => ({
        kind,
        itemId,
        offerId,
        description,
        quantity,
        unit,
        price,
        priceBase,
        currency: currency as ListLine['currency'],
        supplierId,
        category,
      }),
    )
}

/** Uses a list again. Offers are taken as they are now; one that is gone gives way to the item's first offer, and what cannot be taken any more is named. */
export async function useRepeatList(
  call: Write,
  id: string,
  body: BodyOf<typeof UseRepeatList>,
): Promise<ResponseOf<typeof UseRepeatList>> {
  const row = found(await seenBy(call).where({ id }).first(), 'repeatList')
  await call.trx('repeatLists').where({ id }).update({ usedAt: call.now })
  const { lines, left } = await renewed(call, row.lines)
  if (body.to === 'basket') {
    const goods = lines.filter(line => line.offerId !== null)
    const inBasket = (await basketRows(call)).map(one => ({
      itemId: one.itemId,
      offerId: one.id,
      quantity: one.quantity,
      unit: one.wantedUnit ?? undefined,
    }))
    await saveBasket(call, [
      ...inBasket,
      ...goods.map(line => ({ itemId: line.itemId!, offerId: line.offerId!, quantity: line.quantity })),
    ])
    return {
      id: null,
      lines: goods.length,
      left: [...left, ...lines.filter(line => line.offerId === null).map(line => line.description)],
    }
  }
  if (lines.length === 0) throw new RuleBroken(stop('repeatList.nothingLeft', { name: row.name }))
  const usual = await usualChoices(call)
  const done = await createRequisition(call, {
    title: row.name,
    reason: '',
    lines: lines.map((line): LineBody => ({
      ...line,
      needBy: null,
      addressId: usual.addressId,
      splits: usual.accountId ? [{ accountId: usual.accountId, share: '1' }] : [],
    })),
  })
  return { id: done.id, lines: lines.length, left }
}

async function renewed(call: Read, lines: readonly ListLine[]): Promise<{ lines: ListLine[]; left: string[] }> {
  const itemIds = lines.map(line => line.itemId).filter(one => one !== null)
  const offers = await call
    .trx('offers')
    .join('suppliers', 'suppliers.id', 'offers.supplierId')
    .whereIn('itemId', itemIds)
    .where('suppliers.state', 'active')
    .whereRaw('(valid_to is null or valid_to >= ?)', [call.today])
    .orderByRaw("(agreement = ''), (tiers -> 0 ->> 'price')::numeric / price_base")
    .select<OfferRow[]>('offers.*')
  const left: string[] = []
  const kept = lines.flatMap((line): ListLine[] => {
    if (line.offerId === null) return [line]
    const offer =
      offers.find(one => one.id === line.offerId) ??
      offers.find(one => one.itemId === line.itemId && one.unit === line.unit)
    if (offer)
      return [
        {
          ...line,
          offerId: offer.id,
          supplierId: offer.supplierId,
          currency: offer.currency as ListLine['currency'],
          priceBase: offer.priceBase,
        },
      ]
    left.push(line.description)
    return []
  })
  return { lines: kept, left }
}
