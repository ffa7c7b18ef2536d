import { RuleBroken, stop } from '#core/reasons.ts'
import { Decimal, decimal } from '#core/money/decimal.ts'
import { table } from '#core/text/table.ts'

/** Units of measure by UN/ECE Recommendation 20 code, with the word shown to people. */
export const UNITS: Readonly<
  Record<string, { readonly label: string; readonly dimension: string; readonly factor: string }>
> = table({
  C62: { label: 'pcs', dimension: 'count', factor: '1' },
  SET: { label: 'set', dimension: 'set', factor: '1' },
  PR: { label: 'pair', dimension: 'pair', factor: '1' },
  BG: { label: 'bag', dimension: 'bag', factor: '1' },
  BX: { label: 'box', dimension: 'box', factor: '1' },
  KGM: { label: 'kg', dimension: 'mass', factor: '1' },
  GRM: { label: 'g', dimension: 'mass', factor: '0.001' },
  TNE: { label: 't', dimension: 'mass', factor: '1000' },
  LTR: { label: 'l', dimension: 'volume', factor: '1' },
  MLT: { label: 'ml', dimension: 'volume', factor: '0.001' },
  MTQ: { label: 'm³', dimension: 'volume', factor: '1000' },
  MTR: { label: 'm', dimension: 'length', factor: '1' },
  MMT: { label: 'mm', dimension: 'length', factor: '0.001' },
  MTK: { label: 'm²', dimension: 'area', factor: '1' },
  HUR: { label: 'h', dimension: 'time', factor: '1' },
  DAY: { label: 'day', dimension: 'day', factor: '1' },
  M4: { label: 'in money', dimension: 'money', factor: '1' },
  E48: { label: 'service', dimension: 'service', factor: '1' },
})

/** unitLabel('KGM') //=> 'kg'; a code outside the table is shown as it is. */
export const unitLabel = (code: string): string => UNITS[code]?.label ?? code

export interface PackConversion {
  readonly unit: string
  /** How many base units one of `unit` holds. */
  readonly holds: string
}

/**
 * Converts a quantity exactly, or refuses. Units of one dimension convert by Recommendation 20 factors, packs by the
 * item's own conversions (box of 12).
 *
 * convertQuantity('2.5', 'TNE', 'KGM') //=> '2500'
 * @throws RuleBroken units.noConversion | units.notExact where more than six digits would be needed
 */
export function convertQuantity(
  quantity: string,
  from: string,
  to: string,
  packs: readonly PackConversion[] = [],
  baseUnit = to,
): string {
  if (from === to) return decimal(quantity).toString()
  const ratio = inBase(from, baseUnit, packs)?.dividedBy(inBase(to, baseUnit, packs) ?? NaN)
  if (!ratio || ratio.isNaN())
    throw new RuleBroken(stop('units.noConversion', { from: unitLabel(from), to: unitLabel(to) }))
  const exact = decimal(quantity).times(ratio)
  if (!exact.toDecimalPlaces(6).equals(exact))
    throw new RuleBroken(stop('units.notExact', { quantity, from: unitLabel(from), to: unitLabel(to) }))
  return exact.toString()
}

function inBase(unit: string, baseUnit: string, packs: readonly PackConversion[]): Decimal | undefined {
  if (unit === baseUnit) return new Decimal(1)
  const pack = packs.find(conversion => conversion.unit === unit)
  if (pack) return new Decimal(pack.holds)
  const own = UNITS[unit]
  const base = UNITS[baseUnit]
  return own && base && own.dimension === base.dimension ? new Decimal(own.factor).dividedBy(base.factor) : undefined
}

/** Whether quantities of a unit can be said in another, with the packs of an item. converts('BX', 'C62', [{ unit: 'BX', holds: '12' }]) //=> true */
export const converts = (unit: string, baseUnit: string, packs: readonly PackConversion[]): boolean =>
  inBase(unit, baseUnit, packs) !== undefined
