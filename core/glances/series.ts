import { addDays } from '#core/calendar/days.ts'
import { isoWeek, mondayOf } from '#core/calendar/weeks.ts'
import { type Minor, minor } from '#core/money/amount.ts'

/** A stretch of days, both ends included; open where there is none. */
export interface Span {
  readonly key: string
  readonly from: string | null
  readonly to: string | null
}

/** What falls into a stretch of days: how much, and how much of that is already so far. */
export interface Bar extends Span {
  readonly amount: Minor
  readonly part: Minor
}

/** What is before today, then week by week, then what comes after. The first week begins today. */
export function weeksAhead(today: string, weeks: number): Span[] {
  const first = mondayOf(today)
  const ahead = Array.from({ length: weeks }, (_, index): Span => {
    const from = addDays(first, index * 7)
    return { key: String(isoWeek(from)), from: index === 0 ? today : from, to: addDays(from, 6) }
  })
  return [past(today), ...ahead, { key: 'later', from: addDays(first, weeks * 7), to: null }]
}

/** The same day by day. */
export function daysAhead(today: string, days: number): Span[] {
  const ahead = Array.from({ length: days }, (_, index): Span => {
    const day = addDays(today, index)
    return { key: day, from: day, to: day }
  })
  return [past(today), ...ahead, { key: 'later', from: addDays(today, days), to: null }]
}

const past = (today: string): Span => ({ key: 'late', from: null, to: addDays(today, -1) })

/** How long something has waited, the newest first: today and yesterday, up to three days, up to a week, longer. */
export const ages = (today: string): Span[] => [
  { key: 'fresh', from: addDays(today, -1), to: null },
  { key: 'days', from: addDays(today, -3), to: addDays(today, -2) },
  { key: 'week', from: addDays(today, -7), to: addDays(today, -4) },
  { key: 'longer', from: null, to: addDays(today, -8) },
]

const isIn = (day: string, { from, to }: Span): boolean => (from === null || day >= from) && (to === null || day <= to)

/**
 * What falls into each stretch. What has no day falls into none. A part is never more than its amount, and neither is below nothing: what is
 * done beyond what was wanted is not waited for.
 *
 * series([{ day: '2026-11-30', amount: 100n, part: 40n }], weeksAhead('2026-11-27', 2))[2] //=> week 49: 100, 40
 */
export function series(
  rows: readonly { readonly day: string | null; readonly amount: bigint; readonly part: bigint }[],
  spans: readonly Span[],
): Bar[] {
  return spans.map(span => {
    const own = rows.filter(row => row.day !== null && isIn(row.day, span))
    const clipped = own.map(row => {
      const amount = row.amount > 0n ? row.amount : 0n
      return { amount, part: row.part > amount ? amount : row.part > 0n ? row.part : 0n }
    })
    const sum = (pick: (row: { amount: bigint; part: bigint }) => bigint): Minor =>
      minor(clipped.reduce((all, row) => all + pick(row), 0n))
    return { ...span, amount: sum(row => row.amount), part: sum(row => row.part) }
  })
}

/** The condition that a list is asked for the days of a stretch. asked('needBy', { from: '2026-11-30', to: null, … }) //=> 'needBy.between:2026-11-30,' */
export const asked = (column: string, { from, to }: Span): string => `${column}.between:${from ?? ''},${to ?? ''}`

export const sumBars = (bars: readonly Pick<Bar, 'amount'>[]): Minor =>
  minor(bars.reduce((sum, bar) => sum + bar.amount, 0n))

/** Whole per cent, rounded half up; nothing of nothing is 0. percentOf(2, 3) //=> 67 */
export const percentOf = (part: number, whole: number): number =>
  whole === 0 ? 0 : Math.floor((part * 200 + whole) / (whole * 2))
