/** An open step with a time, as the clock sees it. */
export interface TimedStep {
  readonly dueAt: string
  /** When whoever decides is reminded; null: not. */
  readonly remindAt: string | null
  readonly paused: boolean
  readonly remindedAt: string | null
  readonly lateToldAt: string | null
}

/** What the clock wants of a step now: somebody is reminded, its end is told, or nothing. What was said once is not said again. */
export function clockSays(step: TimedStep, now: string): 'remind' | 'late' | null {
  if (step.paused) return null
  if (step.dueAt <= now) return step.lateToldAt === null ? 'late' : null
  return step.remindAt !== null && step.remindAt <= now && step.remindedAt === null ? 'remind' : null
}
