import { RuleBroken, stop } from '#core/reasons.ts'
import { Decimal, decimal } from '#core/money/decimal.ts'
import { table } from '#core/text/table.ts'

interface Unit {
  readonly label: string
  /** What it measures: units of one dimension convert. */
  readonly dimension: string
  /** How many of the dimension's own unit one is, exactly. */
  readonly factor: string
}

/**
 * Units of measure by UN/ECE Recommendation 20 code (packages by Recommendation 21 code after an X, as EN 16931 writes them), with the word
 * shown to people and the factor of Recommendation 20, annex I. A house offers some of them.
 */
export const UNITS: Readonly<Record<string, Unit>> = table({
  C62: { label: 'pcs', dimension: 'count', factor: '1' },
  DZN: { label: 'dozen', dimension: 'count', factor: '12' },
  CEN: { label: 'hundred', dimension: 'count', factor: '100' },
  MIL: { label: 'thousand', dimension: 'count', factor: '1000' },
  SET: { label: 'set', dimension: 'set', factor: '1' },
  PR: { label: 'pair', dimension: 'pair', factor: '1' },
  BG: { label: 'bag', dimension: 'bag', factor: '1' },
  BX: { label: 'box', dimension: 'box', factor: '1' },
  XBO: { label: 'bottle', dimension: 'bottle', factor: '1' },
  XCT: { label: 'carton', dimension: 'carton', factor: '1' },
  XDR: { label: 'drum', dimension: 'drum', factor: '1' },
  XPK: { label: 'package', dimension: 'package', factor: '1' },
  XPX: { label: 'pallet', dimension: 'pallet', factor: '1' },
  XPU: { label: 'tray', dimension: 'tray', factor: '1' },
  XRL: { label: 'reel', dimension: 'reel', factor: '1' },
  XRO: { label: 'roll', dimension: 'roll', factor: '1' },
  XTU: { label: 'tube', dimension: 'tube', factor: '1' },
  KGM: { label: 'kg', dimension: 'mass', factor: '1' },
  GRM: { label: 'g', dimension: 'mass', factor: '0.001' },
  MGM: { label: 'mg', dimension: 'mass', factor: '0.000001' },
  TNE: { label: 't', dimension: 'mass', factor: '1000' },
  LBR: { label: 'lb', dimension: 'mass', factor: '0.45359237' },
  ONZ: { label: 'oz', dimension: 'mass', factor: '0.028349523125' },
  LTR: { label: 'l', dimension: 'volume', factor: '1' },
  MLT: { label: 'ml', dimension: 'volume', factor: '0.001' },
  CLT: { label: 'cl', dimension: 'volume', factor: '0.01' },
  HLT: { label: 'hl', dimension: 'volume', factor: '100' },
  MTQ: { label: 'm³', dimension: 'volume', factor: '1000' },
  GLL: { label: 'gal (US)', dimension: 'volume', factor: '3.785411784' },
  MTR: { label: 'm', dimension: 'length', factor: '1' },
  MMT: { label: 'mm', dimension: 'length', factor: '0.001' },
  CMT: { label: 'cm', dimension: 'length', factor: '0.01' },
  KMT: { label: 'km', dimension: 'length', factor: '1000' },
  INH: { label: 'inch', dimension: 'length', factor: '0.0254' },
  FOT: { label: 'ft', dimension: 'length', factor: '0.3048' },
  YRD: { label: 'yd', dimension: 'length', factor: '0.9144' },
  MTK: { label: 'm²', dimension: 'area', factor: '1' },
  CMK: { label: 'cm²', dimension: 'area', factor: '0.0001' },
  FTK: { label: 'ft²', dimension: 'area', factor: '0.09290304' },
  HUR: { label: 'h', dimension: 'time', factor: '3600' },
  MIN: { label: 'min', dimension: 'time', factor: '60' },
  DAY: { label: 'day', dimension: 'day', factor: '1' },
  MON: { label: 'month', dimension: 'month', factor: '1' },
  ANN: { label: 'year', dimension: 'year', factor: '1' },
  KWH: { label: 'kWh', dimension: 'energy', factor: '1' },
  MWH: { label: 'MWh', dimension: 'energy', factor: '1000' },
  M4: { label: 'in money', dimension: 'money', factor: '1' },
  E48: { label: 'service', dimension: 'service', factor: '1' },
})
export const UNIT_CODES: readonly string[] = Object.keys(UNITS)

/** unitLabel('KGM') //=> 'kg'; a code outside the table is shown as it is. */
export const unitLabel = (code: string): string => UNITS[code]?.label ?? code

/** Dimensions that are measured, not counted: their quantities have parts of a unit. */
const MEASURED: ReadonlySet<string> = new Set(['mass', 'volume', 'length', 'area', 'time', 'energy'])
const MEASURED_DIGITS = 3
const MONEY_DIGITS = 2

/** Digits after the point to which a need in a unit is rounded: none for what is counted, three for what is measured. unitDigits('MTR') //=> 3 */
export const unitDigits = (code: string): number => {
  const dimension = UNITS[code]?.dimension ?? ''
  return dimension === 'money' ? MONEY_DIGITS : MEASURED.has(dimension) ? MEASURED_DIGITS : 0
}

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

/** How many base units one of `unit` is, exactly as far as a decimal goes; undefined where they do not convert. unitsIn('BX', 'C62', [{ unit: 'BX', holds: '12' }]) //=> '12' */
export const unitsIn = (unit: string, baseUnit: string, packs: readonly PackConversion[]): string | undefined =>
  inBase(unit, baseUnit, packs)?.toFixed()

/** Whether quantities of a unit can be said in another, with the packs of an item. converts('BX', 'C62', [{ unit: 'BX', holds: '12' }]) //=> true */
export const converts = (unit: string, baseUnit: string, packs: readonly PackConversion[]): boolean =>
  inBase(unit, baseUnit, packs) !== undefined
