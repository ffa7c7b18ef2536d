import { Decimal } from '#core/money/decimal.ts'

/** Kinds of entries of the quantity ledger (domain page, section 2). */
export const QUANTITY_KINDS = ['requested', 'ordered', 'confirmed', 'despatched', 'received', 'accepted', 'rejected', 'returned', 'billed', 'credited', 'paid'] as const
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

export interface OpenFigures {
  readonly toOrder: string
  readonly toConfirm: string
  readonly toReceive: string
  readonly toBill: string
  readonly toPay: string
}

/**
 * What is still open on a line (domain page, section 2). *To bill* counts from what was received or accepted, the larger of the two,
 * because a line is proven by one of them.
 *
 * openFigures(sumQuantities([{ kind: 'ordered', quantity: '8' }, { kind: 'received', quantity: '6' }])).toReceive //=> '2'
 */
export function openFigures(sums: QuantitySums): OpenFigures {
  const proven = Decimal.max(new Decimal(sums.received).minus(sums.returned), sums.accepted)
  const billed = new Decimal(sums.billed).minus(sums.credited)
  return {
    toOrder: new Decimal(sums.requested).minus(sums.ordered).toString(),
    toConfirm: new Decimal(sums.ordered).minus(sums.confirmed).toString(),
    toReceive: new Decimal(sums.ordered).minus(proven).toString(),
    toBill: proven.minus(billed).toString(),
    toPay: billed.minus(sums.paid).toString(),
  }
}

/** How far a set of lines has come: nothing, a part, all, or more than was ordered. */
export type Extent = 'none' | 'part' | 'full' | 'over'

/** extentOf([{ of: '8', done: '8' }, { of: '2', done: '0' }]) //=> 'part' */
export function extentOf(lines: readonly { of: string; done: string }[]): Extent {
  if (lines.every(line => new Decimal(line.done).isZero())) return 'none'
  if (lines.some(line => new Decimal(line.done).gt(line.of))) return 'over'
  return lines.every(line => new Decimal(line.done).gte(line.of)) ? 'full' : 'part'
}
