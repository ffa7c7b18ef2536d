import type { StoodFor } from '#core/acts/actor.ts'
import type { ConsentPurpose } from '#core/consent/consent.ts'
import type { Minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Decisions that people are asked for by name, which somebody else can therefore take in their place. */
export const STOOD_IN_KINDS = [
  'approval',
  'transfer',
  'onboarding',
  'run',
  'excess',
  'difference',
  'award',
  'agreement',
] as const satisfies readonly ConsentPurpose[]
export type StoodInKind = (typeof STOOD_IN_KINDS)[number]

/** Days on which somebody is away or has a stand-in, both edge days included (domain page, section 6). */
export interface AwayTime {
  readonly id: string
  readonly personId: string
  /** Who decides in their place; null: nobody. */
  readonly standInId: string | null
  readonly fromDay: string
  readonly toDay: string
  /** Which decisions; none named: all. */
  readonly kinds: readonly StoodInKind[]
  /** Up to which amount, in the base currency's smallest unit; null: as far as the person themselves. */
  readonly amountLimit: Minor | null
  /** They do not decide themselves meanwhile. */
  readonly away: boolean
}

/** The most people from whom a decision goes on to the next: a stand-in's own stand-in, and no further. */
export const LONGEST_CHAIN = 2

const coversDay = (one: Pick<AwayTime, 'fromDay' | 'toDay'>, day: string): boolean =>
  one.fromDay <= day && day <= one.toDay

interface Days {
  readonly fromDay: string
  readonly toDay: string
}
/** The days that two times share; nothing where they share none. */
function shared(one: Days, other: Days): Days | undefined {
  const fromDay = one.fromDay > other.fromDay ? one.fromDay : other.fromDay
  const toDay = one.toDay < other.toDay ? one.toDay : other.toDay
  return fromDay <= toDay ? { fromDay, toDay } : undefined
}

/**
 * What stands in the way of an away time: its days, somebody standing in for themselves, one who cannot, a circle, or a chain of more than
 * two on one day. `others` are the times that there are; one of the same id is the one that is changed.
 */
export function whyNotAway(
  time: AwayTime,
  others: readonly AwayTime[],
  able: (personId: string) => boolean,
  today: string,
): Reason[] {
  const reasons: Reason[] = []
  if (time.toDay < time.fromDay) reasons.push(stop('away.days', {}, { place: 'toDay' }))
  else if (time.toDay < today) reasons.push(stop('away.past', {}, { place: 'toDay' }))
  if (time.amountLimit !== null && time.amountLimit < 0n) reasons.push(stop('away.limit', {}, { place: 'limit' }))
  const { standInId } = time
  if (standInId === null) return time.away ? reasons : [...reasons, stop('away.nothing', {}, { place: 'standInId' })]
  const at = { place: 'standInId' }
  if (standInId === time.personId) return [...reasons, stop('away.self', {}, at)]
  if (!able(standInId)) reasons.push(stop('away.cannot', {}, at))
  const known = others.filter(one => one.id !== time.id)
  if (leadsBack(time, known, time.personId)) return [...reasons, stop('away.circle', {}, at)]
  const links = longest(time, known, 'onwards') + longest(time, known, 'back') + 1
  if (links > LONGEST_CHAIN) reasons.push(stop('away.chain', { most: LONGEST_CHAIN }, at))
  return reasons
}

/** Times that go on from whom a time names, on days that both cover. */
const onwards = (time: AwayTime, others: readonly AwayTime[]): AwayTime[] =>
  others
    .filter(one => one.personId === time.standInId && one.standInId !== null)
    .flatMap(one => {
      const days = shared(time, one)
      return days ? [{ ...one, ...days }] : []
    })
const back = (time: AwayTime, others: readonly AwayTime[]): AwayTime[] =>
  others
    .filter(one => one.standInId === time.personId)
    .flatMap(one => {
      const days = shared(time, one)
      return days ? [{ ...one, ...days }] : []
    })

/** Whether the stand-ins of stand-ins come to a person again. */
const leadsBack = (time: AwayTime, others: readonly AwayTime[], personId: string): boolean =>
  onwards(time, others).some(
    next =>
      next.standInId === personId ||
      leadsBack(
        next,
        others.filter(one => one.id !== next.id),
        personId,
      ),
  )

/** Links that follow, or come before, at most so many as matter. */
function longest(time: AwayTime, others: readonly AwayTime[], way: 'onwards' | 'back', left = LONGEST_CHAIN): number {
  if (left === 0) return 0
  const next = (way === 'onwards' ? onwards : back)(time, others)
  return next.reduce((most, one) => Math.max(most, 1 + longest(one, others, way, left - 1)), 0)
}

/** A way from somebody to who decides in their place. */
export type InPlaceOf = Omit<StoodFor, 'rights'>

/**
 * In whose place a person decides on a day, by how much and for what: those who named them, and those who named one of these, with what both
 * links allow.
 */
export function inPlaceOf(times: readonly AwayTime[], personId: string, day: string, currency: string): InPlaceOf[] {
  const now = times.filter(one => coversDay(one, day))
  const direct = now.filter(one => one.standInId === personId)
  const second = direct.flatMap(link =>
    now
      .filter(one => one.standInId === link.personId && one.personId !== personId)
      .flatMap(one => {
        const kinds = sharedKinds(one.kinds, link.kinds)
        return kinds === undefined ? [] : [{ ...one, kinds, amountLimit: lower(one.amountLimit, link.amountLimit) }]
      }),
  )
  return [...direct, ...second].map(one => ({
    id: one.personId,
    kinds: one.kinds.length === 0 ? null : one.kinds,
    limit: one.amountLimit === null ? null : { amount: one.amountLimit, currency },
  }))
}

function sharedKinds(one: readonly StoodInKind[], other: readonly StoodInKind[]): readonly StoodInKind[] | undefined {
  if (one.length === 0) return other
  if (other.length === 0) return one
  const both = one.filter(kind => other.includes(kind))
  return both.length === 0 ? undefined : both
}
const lower = (one: Minor | null, other: Minor | null): Minor | null =>
  one === null ? other : other === null || one < other ? one : other

/**
 * Whether somebody is not there on a day and nobody decides such a thing in their place: what waits for them stands still.
 */
export const isMissing = (
  times: readonly AwayTime[],
  personId: string,
  day: string,
  about: { readonly kind: string; readonly amount: Minor | null },
): boolean => {
  const own = times.filter(one => one.personId === personId && coversDay(one, day))
  return (
    own.some(one => one.away) &&
    !own.some(
      one =>
        one.standInId !== null &&
        (one.kinds.length === 0 || (one.kinds as readonly string[]).includes(about.kind)) &&
        (one.amountLimit === null || about.amount === null || about.amount <= one.amountLimit),
    )
  )
}
