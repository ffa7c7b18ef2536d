import type { OrderLine } from '#core/order/facts.ts'
import type { Becomes } from '#core/receive/terms.ts'

export const CONDITIONS = ['good', 'damaged'] as const
export type Condition = (typeof CONDITIONS)[number]

/** What was counted of a line, one kind of it: a batch, a bin, what is damaged. */
export interface Count {
  readonly lineId: string
  readonly quantity: string
  /** The unit in which it was counted, where that is not the line's. */
  readonly unit?: string | undefined
  readonly bin?: string | undefined
  readonly batch?: string | undefined
  readonly bestBefore?: string | null | undefined
  readonly condition?: Condition | undefined
  readonly serials?: readonly string[] | undefined
  readonly note?: string | undefined
  /** The same counted once more, where what is expected was hidden and the first count was another. */
  readonly again?: string | undefined
}
/** Counts of one kind are the same goods: a receipt names each kind once. */
export const kindOf = ({
  lineId,
  batch,
  bin,
  bestBefore,
  condition,
}: Pick<Count, 'lineId' | 'batch' | 'bin' | 'bestBefore' | 'condition'>): string =>
  JSON.stringify([lineId, batch ?? '', bin ?? '', bestBefore ?? '', condition ?? 'good'])

export interface Counted {
  readonly receivedOn: string
  readonly lines: readonly Count[]
  /** Why more is kept than was ordered. */
  readonly checkReason: string
}

/** What becomes of something that was counted. */
export interface Becoming {
  readonly becomes: Becomes | 'work'
  /** It waits for its inspection. */
  readonly inspect: boolean
  /** Its bill waits until it has passed. */
  readonly billsWait: boolean
}

/** A count as it is kept: in the unit of its line, with what becomes of it. */
export interface CountedPart extends Becoming {
  readonly lineId: string
  readonly quantity: string
  readonly enteredQuantity: string
  readonly enteredUnit: string
  readonly bin: string
  readonly batch: string
  readonly bestBefore: string | null
  readonly condition: Condition
  readonly serials: readonly string[]
  readonly note: string
}

/** A count that goes above the tolerance of its line. */
export interface AboveTolerance {
  readonly line: OrderLine
  readonly over: string
}
