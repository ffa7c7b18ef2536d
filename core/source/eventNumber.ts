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

/** What stands against a number that was given from outside: it does not belong to the range of the kind. */
export function whyNotOutside(number: string, range: EventRange): Reason[] {
  const at = { place: 'outsideNumber' }
  const digits = number.slice(range.prefix.length)
  if (!number.startsWith(range.prefix) || !/^\d{1,18}$/.test(digits) || digits.length < range.digits)
    return [stop('event.outsideForm', { example: written(range, range.next) }, at)]
  return BigInt(digits) > range.last ? [stop('event.outsideRange', { last: written(range, range.last) }, at)] : []
}

/** What stands against a range as it is entered: it ends before it goes on. */
export const checkRange = (range: EventRange): Reason[] =>
  range.prefix.trim() === ''
    ? [stop('event.rangePrefix', {}, { place: 'prefix' })]
    : range.last < range.next || range.next < 1n
      ? [stop('event.rangeEnds', {}, { place: 'last' })]
      : []
