/** What somebody can do about one purchase; nobody should do two of them. */
export const DUTIES = ['requested', 'decided', 'received', 'paid'] as const
export type Duty = (typeof DUTIES)[number]

/** One purchase, with who did what about it. */
export interface DutiesDone {
  readonly id: string
  readonly by: Readonly<Record<Duty, readonly string[]>>
}

/** Somebody who did more than one of the duties of one purchase. */
export interface DutyException {
  readonly id: string
  readonly personId: string
  readonly duties: readonly Duty[]
}

/**
 * Separation of duties: purchases of which one person did two or more of requesting, deciding, receiving and paying, each person once for a
 * purchase, in the order of the work.
 *
 * separation([{ id: 'r', by: { requested: ['a'], decided: ['b'], received: ['a'], paid: [] } }])
 *   //=> [{ id: 'r', personId: 'a', duties: ['requested', 'received'] }]
 */
export const separation = (purchases: readonly DutiesDone[]): DutyException[] =>
  purchases.flatMap(({ id, by }) => {
    const people = [...new Set(DUTIES.flatMap(duty => by[duty]))].sort()
    return people
      .map(personId => ({ id, personId, duties: DUTIES.filter(duty => by[duty].includes(personId)) }))
      .filter(one => one.duties.length > 1)
  })

/** How long decisions took somebody. */
export interface DeciderTime {
  readonly decider: string
  readonly count: number
  /** Hours between a decision's opening and the decision, the middle one of all, rounded to a tenth. */
  readonly median: number
  /** Hours of all of them together, rounded. */
  readonly total: number
}

/** Where time goes: who took how many decisions and how long, whoever took most time in all first. */
export function timeByDecider(
  decisions: readonly { readonly decider: string; readonly hours: number }[],
): DeciderTime[] {
  const hours = new Map<string, number[]>()
  for (const one of decisions) hours.set(one.decider, [...(hours.get(one.decider) ?? []), one.hours])
  return [...hours]
    .map(([decider, own]) => ({
      decider,
      count: own.length,
      median: Math.round(middle(own) * 10) / 10,
      total: Math.round(own.reduce((sum, one) => sum + one, 0)),
    }))
    .sort((a, b) => b.total - a.total || (a.decider < b.decider ? -1 : 1))
}

function middle(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}
