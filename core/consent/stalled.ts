import type { Asked, ConsentStep } from '#core/consent/consent.ts'

/** Why a decision cannot move by itself: it waits on nobody, on closed accounts, on people without the right, away without a stand-in, with too low a limit, or past its time. */
export const STALLS = ['nobody', 'closed', 'right', 'away', 'limit', 'late'] as const
export type Stall = (typeof STALLS)[number]

/** What is known of somebody whom a step asks. */
export interface AskedPerson {
  readonly id: string
  /** Their account is open. */
  readonly active: boolean
  readonly rights: readonly string[]
  /** They are not there today, and nobody decides this in their place. */
  readonly missing: boolean
}

/** What keeps one person from deciding what they are asked. */
function against(asked: Asked, people: ReadonlyMap<string, AskedPerson>): Stall | undefined {
  if (asked.kind === 'right') return undefined
  const person = people.get(asked.personId)
  if (!person?.active) return 'closed'
  if (asked.right !== undefined && !person.rights.includes(asked.right)) return 'right'
  return person.missing ? 'away' : undefined
}

/** The one nearest to a decision says why a group stands still. */
const NEAREST: readonly Stall[] = ['late', 'away', 'right', 'closed']

/**
 * Why an open step stands still; null while somebody of those whom it asks can decide it in its time. `dueAt` is the end of that time, null
 * while the clock stands; `beyond`: it is above what any of them may decide.
 */
export function stallOf(
  step: Pick<ConsentStep, 'state' | 'asked' | 'beyond'>,
  people: ReadonlyMap<string, AskedPerson>,
  dueAt: string | null,
  now: string,
): Stall | null {
  if (step.state !== 'open') return null
  if (step.asked.length === 0) return 'nobody'
  const stalls = step.asked.map(asked => against(asked, people))
  // whoever is away could still decide, but not this
  if (step.beyond && stalls.some(one => one === undefined || one === 'away')) return 'limit'
  if (stalls.includes(undefined)) return dueAt !== null && dueAt <= now ? 'late' : null
  return NEAREST.find(one => stalls.includes(one)) ?? 'nobody'
}

/** Those whom steps ask by name who can decide them now or when they are back. */
export const ableOf = (step: Pick<ConsentStep, 'asked'>, people: ReadonlyMap<string, AskedPerson>): string[] =>
  step.asked.flatMap(asked => {
    const why = against(asked, people)
    return asked.kind === 'person' && (why === undefined || why === 'away') ? [asked.personId] : []
  })

/** Whether those who are asked could still decide it themselves: it stands with them and with the stewards. */
export const stillTheirs = (stall: Stall): boolean => stall === 'away' || stall === 'late'
