import { isDay } from '#core/calendar/days.ts'
import { check, type Reason, stop } from '#core/reasons.ts'
import { allocate } from '#core/money/allocate.ts'
import { type Minor, sumMinor } from '#core/money/amount.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { UNITS } from '#core/units/units.ts'

/** Kinds of request line that this slice carries; the kind decides how a line is proven. */
export const LINE_KINDS = ['goods', 'fixedPriceWork'] as const
export type LineKind = (typeof LINE_KINDS)[number]

/** How a kind is proven: goods are counted at a dock, work is accepted by the requester. */
export const provenBy = (kind: LineKind): 'received' | 'accepted' => (kind === 'goods' ? 'received' : 'accepted')

export interface Split {
  readonly accountId: string
  /** Any non-negative weight: a percentage, an amount or a quantity. Parts re-add by largest remainder. */
  readonly share: string
}

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
}

/** Largest quantity a line may carry. */
export const QUANTITY_LIMIT = new Decimal('1000000000')

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
export function amountsByAccount(lines: readonly { readonly amount: Minor; readonly splits: readonly Split[] }[]): Map<string, Minor> {
  const amounts = new Map<string, Minor>()
  const usable = lines.filter(line => line.splits.length > 0 && line.splits.every(split => isDecimalText(split.share) && new Decimal(split.share).gt(0)))
  for (const { amount, splits } of usable) for (const part of splitAmounts(amount, splits)) amounts.set(part.accountId, sumMinor([amounts.get(part.accountId) ?? 0n, part.amount]))
  return amounts
}

/**
 * What is wrong or worth a look on one line before it is submitted. `earliest` is the first realistic delivery day, if known.
 * Places are `lines.<position>.<field>`.
 */
export function checkLine(line: RequestedLine, today: string, earliest?: string): Reason[] {
  const at = (field: string): { place: string } => ({ place: `lines.${line.position}.${field}` })
  const reasons = [...checkQuantity(line), ...checkNeedBy(line, today, earliest)]
  if (line.description.trim() === '') reasons.push(stop('line.noDescription', {}, at('description')))
  if (!isDecimalText(line.price) || new Decimal(line.price).lte(0)) reasons.push(stop('line.price', {}, at('price')))
  if (!(line.unit in UNITS)) reasons.push(stop('line.unit', { unit: line.unit }, at('unit')))
  if (line.addressId === null) reasons.push(stop('line.noAddress', {}, at('addressId')))
  if (line.supplierId === null) reasons.push(stop('line.noSupplier', {}, at('supplierId')))
  if (line.splits.length === 0) reasons.push(stop('line.noAccount', {}, at('splits')))
  else if (sharesAreWrong(line.splits)) reasons.push(stop('line.shares', {}, at('splits')))
  return reasons
}

function checkQuantity(line: RequestedLine): Reason[] {
  const extra = { place: `lines.${line.position}.quantity` }
  if (!isDecimalText(line.quantity) || new Decimal(line.quantity).lte(0)) return [stop('line.quantity', { quantity: line.quantity }, extra)]
  if (new Decimal(line.quantity).gt(QUANTITY_LIMIT)) return [stop('line.quantityTooLarge', { limit: QUANTITY_LIMIT.toString() }, extra)]
  if (line.kind === 'fixedPriceWork' && line.quantity !== '1') return [stop('line.workQuantity', {}, extra)]
  return []
}

function checkNeedBy(line: RequestedLine, today: string, earliest?: string): Reason[] {
  const extra = { place: `lines.${line.position}.needBy` }
  if (line.needBy === null || !isDay(line.needBy)) return [stop('line.noNeedBy', {}, extra)]
  if (line.needBy < today) return [stop('line.needByPast', { needBy: line.needBy }, extra)]
  if (earliest && line.needBy < earliest) return [check('line.needBySoon', { needBy: line.needBy, earliest }, extra)]
  return []
}

function sharesAreWrong(splits: readonly Split[]): boolean {
  const accounts = new Set(splits.map(split => split.accountId))
  return accounts.size !== splits.length || splits.some(split => !isDecimalText(split.share) || new Decimal(split.share).lte(0))
}
