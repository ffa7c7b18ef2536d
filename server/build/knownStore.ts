import { tidy } from '#core/money/decimal.ts'
import { unitsIn } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'
import { someIds } from '#server/database/rows.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { baseRates } from '#server/house/rates.ts'
import type { Known, KnownCosting } from '#server/build/costingStore.ts'
import { openOffers } from '#server/request/openOfferStore.ts'

/** What is known of some items today: themselves, what takes their place, their offers, who makes them, rates of the day. */
export async function knownToday(call: Read, itemIds: readonly string[], currency: string): Promise<Known> {
  const named = await call.trx('items').whereIn('id', [...new Set(itemIds)])
  const replacing = someIds(named.map(item => item.replacedBy)).filter(id => !named.some(item => item.id === id))
  const items = [...named, ...(await call.trx('items').whereIn('id', replacing))]
  const ids = items.map(item => item.id)
  const rows = await openOffers(call, ids)
  const rates = await baseRates(call, [currency, call.base, ...rows.map(row => row.currency)])
  const suppliers = new Map(
    rows.map(row => [
      row.supplierId,
      { id: row.supplierId, name: row.supplier, score: row.score === null ? '' : tidy(row.score) },
    ]),
  )
  return {
    items: items.map(({ id, number, name, unit, category, packs, discontinuedOn, replacedBy }) => ({
      id,
      number,
      name,
      unit,
      category,
      packs,
      discontinued: discontinuedOn !== null && discontinuedOn <= call.today,
      replacedBy,
    })),
    offers: rows.map(row => ({
      id: row.id,
      itemId: row.itemId,
      supplierId: row.supplierId,
      unit: row.unit,
      holds: unitsIn(row.unit, row.itemUnit, row.packs) ?? '0',
      currency: row.currency,
      priceBase: tidy(row.priceBase),
      minimum: tidy(row.minimum),
      multiple: tidy(row.multiple),
      leadTimeDays: row.leadTimeDays,
      validFrom: row.validFrom,
      validTo: row.validTo,
      tiers: row.tiers,
      fee: row.freight === null ? '' : tidy(row.freight),
      stock: row.inStock === null ? '' : tidy(row.inStock),
      country: row.country ?? '',
    })),
    suppliers: [...suppliers.values()].sort((a, b) => (a.name < b.name ? -1 : 1)),
    rates: Object.fromEntries([...rates].flatMap(([code, rate]) => (rate === null ? [] : [[code, rate]]))),
    calendar: calendarJson(await teamCalendar(call)),
  }
}
const calendarJson = ({ restDays, holidays }: { restDays: readonly number[]; holidays: readonly string[] }) => ({
  restDays: [...restDays],
  holidays: [...holidays],
})

/** Items that a costing may buy: those of its lines, those taken or approved in place of them. */
export const itemsOf = ({
  row,
  lines,
}: Pick<KnownCosting, 'lines'> & { row: Pick<KnownCosting['row'], 'parts'> }): string[] =>
  someIds([
    ...lines.map(line => line.itemId),
    ...Object.values(row.parts).flatMap(part => [part.itemId, ...(part.alternates ?? [])]),
  ])
