import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListLine, ReadBasket } from '#contract/request/catalogue.ts'
import { formatAmount, lineAmount } from '#core/money/amount.ts'
import { tierAt } from '#core/request/offer.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { offeredUnits } from '#server/house/registerStore.ts'
import { convertQuantity, type PackConversion, UNITS } from '#core/units/units.ts'
import type { Write, Read } from '#server/call.ts'
import { usualChoices } from '#server/request/choices.ts'
import { createRequisition } from '#server/request/draftActs.ts'
import type { OfferRow } from '#server/request/offerStore.ts'

export interface BasketRow extends OfferRow {
  quantity: string
  name: string
  supplier: string
  category: string
  itemUnit: string
  packs: PackConversion[]
  wantedUnit: string | null
}

export const basketRows = (call: Read): Promise<BasketRow[]> =>
  call
    .trx('basketLines as basket')
    .join('offers', 'offers.id', 'basket.offerId')
    .join('items', 'items.id', 'basket.itemId')
    .join('suppliers', 'suppliers.id', 'offers.supplierId')
    .where('basket.personId', call.actor.id)
    .orderBy('basket.position')
    .select<BasketRow[]>(
      'offers.*',
      'basket.quantity',
      'basket.unit as wantedUnit',
      'items.name',
      'items.category',
      'items.unit as itemUnit',
      'items.packs',
      'suppliers.name as supplier',
    )

/** The quantity in the offer's unit. @throws RuleBroken units.noConversion | units.notExact */
export const inOfferUnit = (row: BasketRow): string =>
  convertQuantity(row.quantity, row.wantedUnit ?? row.unit, row.unit, row.packs, row.itemUnit)

const converts = (row: BasketRow, unit: string): boolean => {
  try {
    convertQuantity('1', unit, row.unit, row.packs, row.itemUnit)
    return true
  } catch {
    return false
  }
}
const unitsOf = (row: BasketRow, offered: readonly string[]): string[] =>
  [
    ...new Set([
      row.unit,
      row.itemUnit,
      ...row.packs.map(pack => pack.unit),
      ...offered.filter(unit => UNITS[unit]?.dimension === UNITS[row.unit]?.dimension),
    ]),
  ].filter(unit => converts(row, unit))

/** The basket is kept on the server: it is there after signing out, and on another machine. */
export async function readBasket(call: Read): Promise<ResponseOf<typeof ReadBasket>> {
  const rows = await basketRows(call)
  const offered = await offeredUnits(call)
  return {
    lines: rows.map(row => {
      const quantity = inOfferUnit(row)
      const { price } = tierAt(row.tiers, quantity)
      return {
        itemId: row.itemId,
        offerId: row.id,
        quantity: row.quantity,
        unit: row.wantedUnit ?? row.unit,
        units: unitsOf(row, offered),
        offerUnit: row.unit,
        name: row.name,
        supplier: row.supplier,
        price,
        priceBase: row.priceBase,
        currency: row.currency,
        amount: formatAmount(
          lineAmount({ quantity, price, priceBase: row.priceBase, currency: row.currency }),
          row.currency,
        ),
      }
    }),
  }
}

interface Wanted {
  itemId: string
  offerId: string
  quantity: string
  unit?: string | undefined
}

/** Keeps the basket as it is now; a unit that does not convert to the offer's is refused, and what was there stays. */
export async function saveBasket(call: Write, lines: readonly Wanted[]): Promise<{ lines: number }> {
  await call.trx('people').where({ id: call.actor.id }).forNoKeyUpdate().first('id')
  await call.trx('basketLines').where({ personId: call.actor.id }).delete()
  const once = [...new Map(lines.map(line => [line.offerId, line])).values()]
  const faulty = once.find(line => Number(line.quantity) <= 0)
  if (faulty) throw new RuleBroken(stop('line.quantity', { quantity: faulty.quantity }))
  if (once.length > 0)
    await call.trx('basketLines').insert(
      once.map((line, position) => ({
        personId: call.actor.id,
        itemId: line.itemId,
        offerId: line.offerId,
        quantity: line.quantity,
        unit: line.unit ?? null,
        position,
      })),
    )
  for (const row of await basketRows(call)) inOfferUnit(row)
  return { lines: once.length }
}

/** What is in the basket as a line that is counted in the offer's unit; its price comes from the offer. */
export const goodsOf = (row: BasketRow): ListLine => ({
  kind: 'goods',
  itemId: row.itemId,
  offerId: row.id,
  description: row.name,
  quantity: inOfferUnit(row),
  unit: row.unit,
  price: '0',
  priceBase: row.priceBase,
  currency: row.currency as ListLine['currency'],
  supplierId: row.supplierId,
  category: row.category,
})

/** Makes a draft request of the basket and empties it. */
export async function requestBasket(call: Write): Promise<{ id: string; version: number }> {
  const rows = await basketRows(call)
  if (rows.length === 0) throw new RuleBroken(stop('basket.empty'))
  const usual = await usualChoices(call)
  const done = await createRequisition(call, {
    title: rows.length === 1 ? rows[0]!.name : `${rows[0]!.name} and ${rows.length - 1} more`,
    reason: '',
    lines: rows.map(row => ({
      ...goodsOf(row),
      needBy: null,
      addressId: usual.addressId,
      routes: row.agreement === '' ? ['orderNow'] : ['orderNow', 'callOff'],
      splits: usual.accountId ? [{ accountId: usual.accountId, share: '1' }] : [],
    })),
  })
  await saveBasket(call, [])
  return done
}
