import { isDay } from '#core/calendar/days.ts'
import { check, type Reason, stop } from '#core/reasons.ts'
import { allocate } from '#core/money/allocate.ts'
import { formatAmount, lineAmount, type Minor, sumMinor } from '#core/money/amount.ts'
import { Decimal, isDecimalText, sumDecimals } from '#core/money/decimal.ts'
import { checkDetails, countsMoney, type LineDetails, type LineKind } from '#core/request/kinds.ts'
import { checkSplits, type Split, type SplitBy } from '#core/request/splits.ts'
import { UNITS } from '#core/units/units.ts'

export interface RequestedLine {
  readonly position: number
  readonly kind: LineKind
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly currency: string
  readonly supplierId: string | null
  readonly needBy: string | null
  readonly addressId: string | null
  readonly splits: readonly Split[]
  readonly splitBy: SplitBy
  readonly details: LineDetails
  /** Whether quotes are asked for before anything is ordered: then the supplier is still open. */
  readonly onlyQuotes?: boolean
}

/** Largest quantity a line may carry. */
export const QUANTITY_LIMIT = new Decimal('1000000000')
/** Quantities and unit prices carry up to six digits after the point. */
const DIGITS = 6

/** Distributes a line's base amount over its accounts, re-adding exactly. */
export function splitAmounts(amount: Minor, splits: readonly Split[]): { accountId: string; amount: Minor }[] {
  const parts = allocate(
    amount,
    splits.map(split => split.share),
  )
  return splits.map((split, index) => ({ accountId: split.accountId, amount: parts[index]! }))
}

/**
 * What lines take from each account, re-adding exactly line by line. A line without usable shares takes nothing yet.
 *
 * amountsByAccount([{ amount: minor(100), splits: [{ accountId: 'a', share: '1' }] }]) //=> Map { 'a' => 100n }
 */
export function amountsByAccount(
  lines: readonly { readonly amount: Minor; readonly splits: readonly Split[] }[],
): Map<string, Minor> {
  const amounts = new Map<string, Minor>()
  const usable = lines.filter(
    line =>
      line.splits.length > 0 &&
      line.splits.every(split => isDecimalText(split.share) && new Decimal(split.share).gt(0)),
  )
  for (const { amount, splits } of usable)
    for (const part of splitAmounts(amount, splits))
      amounts.set(part.accountId, sumMinor([amounts.get(part.accountId) ?? 0n, part.amount]))
  return amounts
}

/**
 * What is wrong or worth a look on one line before it is submitted. `earliest` is the first realistic delivery day, if known.
 * Places are `lines.<position>.<field>`.
 */
export function checkLine(line: RequestedLine, today: string, earliest?: string): Reason[] {
  const at = (field: string): { place: string } => ({ place: `lines.${line.position}.${field}` })
  const quantities = checkQuantity(line)
  const reasons = [...quantities, ...checkNeedBy(line, today, earliest)]
  if (line.description.trim() === '') reasons.push(stop('line.noDescription', {}, at('description')))
  const priced = isDecimalText(line.price) && new Decimal(line.price).gt(0)
  if (!priced) reasons.push(stop('line.price', {}, at('price')))
  else if (new Decimal(line.price).decimalPlaces() > DIGITS)
    reasons.push(stop('line.tooFine', { digits: DIGITS }, at('price')))
  if (!(line.unit in UNITS)) reasons.push(stop('line.unit', { unit: line.unit }, at('unit')))
  if (line.addressId === null) reasons.push(stop('line.noAddress', {}, at('addressId')))
  if (line.supplierId === null && !line.onlyQuotes) reasons.push(stop('line.noSupplier', {}, at('supplierId')))
  const figures =
    priced && quantities.length === 0
      ? { amount: formatAmount(lineAmount(line), line.currency), quantity: line.quantity }
      : null
  if (figures) {
    reasons.push(...checkSplits(line.splitBy, line.splits, figures, line.position))
    reasons.push(...checkDetails(line, figures.amount, (parts, total) => sumDecimals(parts).equals(total)))
  } else reasons.push(...checkSplits('share', line.splits, { amount: '0', quantity: '0' }, line.position))
  return reasons
}

function checkQuantity(line: RequestedLine): Reason[] {
  const extra = { place: `lines.${line.position}.${countsMoney(line) ? 'price' : 'quantity'}` }
  if (!isDecimalText(line.quantity) || new Decimal(line.quantity).lte(0))
    return [stop(countsMoney(line) ? 'line.price' : 'line.quantity', { quantity: line.quantity }, extra)]
  if (new Decimal(line.quantity).gt(QUANTITY_LIMIT))
    return [stop('line.quantityTooLarge', { limit: QUANTITY_LIMIT.toString() }, extra)]
  if (new Decimal(line.quantity).decimalPlaces() > DIGITS) return [stop('line.tooFine', { digits: DIGITS }, extra)]
  if ((line.kind === 'personalFee' || line.kind === 'fixedPriceWork') && !countsMoney(line) && line.quantity !== '1')
    return [stop('line.workQuantity', {}, extra)]
  if (countsMoney(line) && line.price !== '1') return [stop('line.moneyPrice', {}, extra)]
  return line.kind === 'workByRate' ? checkExpected(line) : []
}

/** Work by rate: what is expected stays within the ceiling. */
function checkExpected(line: RequestedLine): Reason[] {
  const { expected } = line.details
  if (expected === undefined || expected === '') return []
  const extra = { place: `lines.${line.position}.expected` }
  if (!isDecimalText(expected) || new Decimal(expected).lte(0))
    return [stop('line.quantity', { quantity: expected }, extra)]
  return new Decimal(expected).gt(line.quantity)
    ? [stop('line.overCeiling', { expected, ceiling: line.quantity }, extra)]
    : []
}

function checkNeedBy(line: RequestedLine, today: string, earliest?: string): Reason[] {
  const extra = { place: `lines.${line.position}.needBy` }
  if (line.needBy === null || !isDay(line.needBy)) return [stop('line.noNeedBy', {}, extra)]
  if (line.needBy < today) return [stop('line.needByPast', { needBy: line.needBy }, extra)]
  if (earliest && line.needBy < earliest) return [check('line.needBySoon', { needBy: line.needBy, earliest }, extra)]
  return []
}
