import { RuleBroken } from '#core/reasons.ts'
import { tidy } from '#core/money/decimal.ts'
import { convertQuantity, type PackConversion } from '#core/units/units.ts'

/** The units that an item is counted in. */
export interface ItemUnits {
  readonly unit: string
  readonly packs: readonly PackConversion[]
}

export interface BilledFigures {
  readonly quantity: string
  readonly unit: string
  readonly priceBase: string
}

/**
 * A billed quantity in the ordered unit, by Recommendation 20 factors or the item's packs, where it converts exactly; the price then holds
 * for as many ordered units. Where it does not, everything stays as it was billed and the unit is held.
 *
 * inOrderedUnit({ quantity: '2', unit: 'BX', priceBase: '1' }, 'C62', { unit: 'C62', packs: [{ unit: 'BX', holds: '100' }] })
 *   //=> { quantity: '200', unit: 'C62', priceBase: '100' }
 */
export function inOrderedUnit(billed: BilledFigures, ordered: string, item: ItemUnits | null): BilledFigures {
  if (billed.unit === ordered) return billed
  const packs = item?.packs ?? []
  const itemUnit = item?.unit ?? ordered
  try {
    return {
      quantity: convertQuantity(tidy(billed.quantity), billed.unit, ordered, packs, itemUnit),
      unit: ordered,
      priceBase: convertQuantity(tidy(billed.priceBase), billed.unit, ordered, packs, itemUnit),
    }
  } catch (error) {
    if (error instanceof RuleBroken) return billed
    throw error
  }
}
