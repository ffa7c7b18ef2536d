import { type Reason, stop } from '#core/reasons.ts'

/** A range of tags of ours: what they begin with, how many digits follow, and from where to where they go. */
export interface TagRange {
  readonly code: string
  readonly prefix: string
  readonly digits: number
  readonly from: number
  readonly to: number
}

export const tagText = (range: Pick<TagRange, 'prefix' | 'digits'>, number: number): string =>
  `${range.prefix}${String(number).padStart(range.digits, '0')}`

/** The number of a tag within a range; null where it is not of that range. numberIn({ prefix: 'SAT-', digits: 6, from: 1, to: 9999 }, 'sat-004418') //=> 4418 */
export function numberIn(range: TagRange, tag: string): number | null {
  const text = tag.trim().toUpperCase()
  const digits = text.slice(range.prefix.length)
  if (!text.startsWith(range.prefix.toUpperCase()) || !/^\d{1,12}$/.test(digits) || digits.length < range.digits)
    return null
  const number = Number(digits)
  return tagText(range, number).toUpperCase() === text && number >= range.from && number <= range.to ? number : null
}

export const rangeOfTag = (ranges: readonly TagRange[], tag: string): TagRange | null =>
  ranges.find(range => numberIn(range, tag) !== null) ?? null

/** The tag after the last that was given; null where the range is used up. */
export const nextTag = (range: TagRange, last: number | null): string | null => {
  const next = Math.max(range.from, (last ?? range.from - 1) + 1)
  return next > range.to ? null : tagText(range, next)
}

/** What stands against a tag on a piece: it is of no range, of another one than its kind takes, or on another piece already. */
export function whyNotTag(tag: string, wanted: string, ranges: readonly TagRange[], usedBy: string | null): Reason[] {
  const place = { place: 'tag' }
  const range = rangeOfTag(ranges, tag)
  if (range === null) return [stop('asset.tagOfNone', { tag: tag.slice(0, 40) }, place)]
  if (wanted !== '' && range.code !== wanted)
    return [stop('asset.tagOfOther', { tag, range: range.code, wanted }, place)]
  return usedBy === null ? [] : [stop('asset.tagUsed', { tag, number: usedBy }, place)]
}
