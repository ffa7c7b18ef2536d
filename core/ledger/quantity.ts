import { Decimal } from '#core/money/decimal.ts'

/** Kinds of entries of the quantity ledger (domain page, section 2). */
export const QUANTITY_KINDS = [
  'requested',
  'ordered',
  'confirmed',
  'despatched',
  'received',
  'accepted',
  'rejected',
  'returned',
  'billed',
  'credited',
  'paid',
] as const
export type QuantityKind = (typeof QUANTITY_KINDS)[number]

/** One signed, append-only entry. A mistake is answered by an entry of the opposite sign that names what it reverses. */
export interface QuantityEntry {
  readonly lineId: string
  readonly kind: QuantityKind
  readonly quantity: string
  readonly reversesId?: string
}

export type QuantitySums = Readonly<Record<QuantityKind, string>>

/** Sums per kind; the order of the entries does not matter. */
export function sumQuantities(entries: Iterable<Pick<QuantityEntry, 'kind' | 'quantity'>>): QuantitySums {
  const sums = Object.fromEntries(QUANTITY_KINDS.map(kind => [kind, new Decimal(0)])) as Record<QuantityKind, Decimal>
  for (const entry of entries) sums[entry.kind] = sums[entry.kind].plus(entry.quantity)
  return Object.fromEntries(QUANTITY_KINDS.map(kind => [kind, sums[kind].toString()])) as QuantitySums
}

const less = (a: string, b: string): string => new Decimal(a).minus(b).toString()

/** What was asked for and is not ordered yet; below zero where more was ordered. */
export const toOrder = (sums: Pick<QuantitySums, 'requested' | 'ordered'>): string => less(sums.requested, sums.ordered)

/** What counts as billed: net of what was credited. The one meaning of the word, everywhere. */
export const billedQuantity = (sums: Pick<QuantitySums, 'billed' | 'credited'>): string =>
  less(sums.billed, sums.credited)

/**
 * What counts as proven: what was received or accepted, by how the line is proven, less what went back.
 * The one meaning of the word, everywhere.
 *
 * provenQuantity('received', sumQuantities([{ kind: 'received', quantity: '6' }, { kind: 'returned', quantity: '1' }])) //=> '5'
 */
export const provenQuantity = (
  by: 'received' | 'accepted',
  sums: Pick<QuantitySums, 'received' | 'accepted' | 'returned'>,
): string => less(sums[by], sums.returned)

/** Sums after further entries of the same line. */
export function addQuantities(
  sums: QuantitySums,
  entries: Iterable<Pick<QuantityEntry, 'kind' | 'quantity'>>,
): QuantitySums {
  const after = { ...sums }
  for (const entry of entries) after[entry.kind] = new Decimal(after[entry.kind]).plus(entry.quantity).toString()
  return after
}

export const NO_QUANTITIES: QuantitySums = sumQuantities([])

/** Entries that say something: those of nought are left out. */
export const realQuantities = (entries: readonly QuantityEntry[]): QuantityEntry[] =>
  entries.filter(entry => !new Decimal(entry.quantity).isZero())

/** The entry that brings a line's sum of one kind to a wanted figure; nothing where it stands there already. */
export const leadTo = (
  line: { readonly id: string; readonly sums: QuantitySums },
  kind: QuantityKind,
  wanted: string,
): QuantityEntry[] => realQuantities([{ lineId: line.id, kind, quantity: less(wanted, line.sums[kind]) }])

/** How far a set of lines has come: nothing, a part, all, or more than was ordered. */
export type Extent = 'none' | 'part' | 'full' | 'over'

/** extentOf([{ of: '8', done: '8' }, { of: '2', done: '0' }]) //=> 'part' */
export function extentOf(lines: readonly { of: string; done: string }[]): Extent {
  if (lines.every(line => new Decimal(line.done).isZero())) return 'none'
  if (lines.some(line => new Decimal(line.done).gt(line.of))) return 'over'
  return lines.every(line => new Decimal(line.done).gte(line.of)) ? 'full' : 'part'
}
