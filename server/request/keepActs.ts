import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveItem, SaveOffer } from '#contract/request/keeping.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { ITEM_PICTURE } from '#core/files/picture.ts'
import { type ItemEntry, whyNotItem, whyNotOffer, whyNotPricesFrom } from '#core/request/itemEntry.ts'
import { whyNotTerms } from '#core/receive/terms.ts'
import { samePrices } from '#core/request/prices.ts'
import { converts } from '#core/units/units.ts'
import type { Done, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { pictureOf } from '#server/files/pictures.ts'
import type { ItemRow, OfferRow } from '#server/request/offerStore.ts'
import { keepPrices } from '#server/request/priceStore.ts'

/** Adds an item, or changes the one that there is. */
export async function saveItem(call: Write, { id, version, ...body }: BodyOf<typeof SaveItem>): Promise<Done> {
  // one after the other, so that two who give the same number are told so
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('item numbers'))`)
  const before = id === null ? null : await hold(call, 'item', id, version)
  refuse([...whyNotItem(body, await factsOf(call, body, before)), ...whyNotTerms(body.receiving ?? {})])
  if (!before) {
    const row = { ...body, id: randomUUID(), packs: json(body.packs), ...told(body.receiving), changedAt: call.now }
    await call.trx('items').insert(row as never)
    await record(call, { kind: 'item', id: row.id, action: 'created', changes: { after: body } })
    return { id: row.id, version: 1 }
  }
  return await move(call, 'item', before, { ...body, packs: json(body.packs), ...told(body.receiving) } as never, {
    action: body.discontinuedOn !== null && before.discontinuedOn === null ? 'discontinued' : 'changed',
    changes: { before: pick(before, body), after: body },
    reason: null,
  })
}

const told = (receiving: BodyOf<typeof SaveItem>['receiving']) => (receiving ? { receiving: json(receiving) } : {})

async function factsOf(call: Write, body: ItemEntry, before: ItemRow | null) {
  const same = await call.trx('items').where({ number: body.number }).first('id')
  const categories = await call.trx('supplyCategories').select('name')
  const counted =
    before !== null && before.unit !== body.unit
      ? (
          await call.trx.raw<{ rows: unknown[] }>(
            `select 1 from offers where item_id = :id union all select 1 from requisition_lines where item_id = :id
             union all select 1 from order_lines where item_id = :id limit 1`,
            { id: before.id },
          )
        ).rows.length > 0
      : false
  return {
    categories: new Set(categories.map(row => row.name)),
    numberTaken: same !== undefined && same.id !== before?.id,
    counted,
    before,
    after: body.replacedBy === null ? [] : await successors(call, body.replacedBy),
  }
}

/** Items that take the place of an item, one after the other. */
async function successors(call: Write, id: string): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `with recursive after (id, depth) as (select replaced_by, 1 from items where id = ?
       union select i.replaced_by, depth + 1 from items i join after on i.id = after.id where depth < 20)
     select id from after where id is not null`,
    [id],
  )
  return rows.map(row => row.id)
}

/** Gives an item a picture that this person uploaded, or takes its picture away. */
export async function setPicture(call: Write, id: string, fileId: string | null, version: number): Promise<Done> {
  const before = await hold(call, 'item', id, version)
  const picture = fileId === null ? null : await pictureOf(call, fileId, ITEM_PICTURE)
  return await move(
    call,
    'item',
    before,
    { picture },
    { action: picture === null ? 'pictureTaken' : 'pictureGiven', changes: {}, reason: null },
  )
}

/** Adds an offer of an item, or changes the one that there is. Prices that change hold from a day on; what was paid before stays known. */
export async function saveOffer(
  call: Write,
  itemId: string,
  { offerId, version, pricesFrom, ...body }: BodyOf<typeof SaveOffer>,
): Promise<Done> {
  const item = await hold(call, 'item', itemId)
  const before = offerId === null ? null : await hold(call, 'offer', offerId, version)
  if (before && before.itemId !== itemId) throw new RuleBroken(stop('document.notFound', { kind: 'offer' }))
  if (!before) await hold(call, 'supplier', body.supplierId)
  const same = await call
    .trx('offers')
    .where({
      itemId,
      supplierId: before?.supplierId ?? body.supplierId,
      supplierItem: body.supplierItem,
      agreementLineId: null,
    })
    .first('id')
  refuse(
    whyNotOffer(body, {
      taken: same !== undefined && same.id !== before?.id,
      converts: converts(body.unit, item.unit, item.packs),
      before,
    }),
  )
  if (!before) return await addOffer(call, itemId, body)
  const { tiers, priceBase, supplierId: _, ...rest } = body
  const newPrices = !samePrices(before, { priceBase, tiers })
  if (newPrices) refuse(whyNotPricesFrom(pricesFrom, call.today))
  const done = await move(call, 'offer', before, rest as Partial<OfferRow>, {
    action: 'changed',
    changes: { before: pick(before, rest), after: rest },
    reason: null,
  })
  if (!newPrices) return done
  await keepPrices(call, [{ offerId: before.id, fromDay: pricesFrom, priceBase, tiers }], {
    origin: 'entered',
    reason: '',
  })
  const now = await call.trx('offers').where({ id: before.id }).first('version')
  return { id: done.id, version: now!.version }
}

const pick = (row: object, like: object): Record<string, unknown> =>
  Object.fromEntries(Object.keys(like).map(key => [key, (row as Record<string, unknown>)[key]]))

async function addOffer(
  call: Write,
  itemId: string,
  body: Omit<BodyOf<typeof SaveOffer>, 'offerId' | 'version' | 'pricesFrom'>,
): Promise<Done> {
  const id = randomUUID()
  await call.trx('offers').insert({ ...body, id, itemId, tiers: json(body.tiers), changedAt: call.now } as never)
  await record(call, { kind: 'offer', id, action: 'created', changes: { after: body } })
  const { validFrom: fromDay, priceBase, tiers } = body
  await keepPrices(call, [{ offerId: id, fromDay, priceBase, tiers }], { origin: 'entered', reason: '' })
  const now = await call.trx('offers').where({ id }).first('version')
  return { id, version: now!.version }
}
