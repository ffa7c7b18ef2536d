import { type Reason, stop } from '#core/reasons.ts'

/** A range of numbers for events of a kind: gap-free, because the next one is taken in the transaction that uses it. */
export interface EventRange {
  readonly prefix: string
  readonly digits: number
  readonly next: bigint
  /** The last number of the range. */
  readonly last: bigint
}

const written = ({ prefix, digits }: Pick<EventRange, 'prefix' | 'digits'>, number: bigint): string =>
  `${prefix}${number.toString().padStart(digits, '0')}`

/**
 * The next number of a range, or that it is used up.
 *
 * takeNumber({ prefix: 'E-', digits: 4, next: 7n, last: 9999n }) //=> { ok: true, number: 'E-0007', next: 8n }
 */
export function takeNumber(
  range: EventRange,
): { ok: true; number: string; next: bigint } | { ok: false; reasons: Reason[] } {
  if (range.next > range.last)
    return {
      ok: false,
      reasons: [stop('event.rangeUsedUp', { last: written(range, range.last) }, { clearedBy: ['steward'] })],
    }
  return { ok: true, number: written(range, range.next), next: range.next + 1n }
}

/** What the next number will be; empty where the range is used up. */
export const nextShown = (range: EventRange): string => (range.next > range.last ? '' : written(range, range.next))

/**
 * Takes a number from outside for an event. They follow each other without a gap, so only the next one can be taken, and one that was taken
 * stays. `next` is null where nothing changes.
 */
export function takeOutside(
  held: string | null,
  wanted: string,
  range: EventRange | null,
): { ok: true; number: string | null; next: bigint | null } | { ok: false; reasons: Reason[] } {
  const at = { place: 'outsideNumber' }
  if (wanted === (held ?? '')) return { ok: true, number: held, next: null }
  if (held !== null) return { ok: false, reasons: [stop('event.outsideStays', { number: held }, at)] }
  if (range === null) return { ok: false, reasons: [stop('event.noOutside', {}, at)] }
  const taken = takeNumber(range)
  if (!taken.ok) return { ok: false, reasons: taken.reasons.map(one => ({ ...one, ...at })) }
  return taken.number === wanted
    ? taken
    : { ok: false, reasons: [stop('event.outsideNext', { number: taken.number }, at)] }
}

/** What stands against a range as it is entered: it ends before it goes on. */
export const checkRange = (range: EventRange): Reason[] =>
  range.prefix.trim() === ''
    ? [stop('event.rangePrefix', {}, { place: 'prefix' })]
    : range.last < range.next || range.next < 1n
      ? [stop('event.rangeEnds', {}, { place: 'last' })]
      : []
