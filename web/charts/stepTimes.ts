import { scaleTime } from 'd3-scale'

/** A decision as it stands on the axis of time. */
export interface TimedDecision {
  readonly openedAt: string | null
  readonly decidedAt: string | null
}
export interface StepBar {
  readonly from: number
  readonly width: number
  /** It goes on: nobody has decided it yet. */
  readonly open: boolean
}

const HOUR = 3_600_000

/** Bars of decisions over the time of all of them, from the first opening to the last end, or until now while something is open. */
export function stepBars(
  steps: readonly TimedDecision[],
  now: string,
  width: number,
): { bars: readonly (StepBar | null)[]; ticks: readonly { at: number; day: string }[] } {
  const begun = steps.flatMap(step => (step.openedAt === null ? [] : [Date.parse(step.openedAt)]))
  if (begun.length === 0) return { bars: steps.map(() => null), ticks: [] }
  const ends = steps.flatMap(step =>
    step.openedAt === null ? [] : [step.decidedAt === null ? Date.parse(now) : Date.parse(step.decidedAt)],
  )
  const first = Math.min(...begun)
  const last = Math.max(first + HOUR, ...ends)
  const scale = scaleTime().domain([first, last]).range([0, width])
  return {
    bars: steps.map(step => {
      if (step.openedAt === null) return null
      const from = scale(Date.parse(step.openedAt))
      const to = scale(step.decidedAt === null ? Date.parse(now) : Date.parse(step.decidedAt))
      return { from, width: Math.max(3, to - from), open: step.decidedAt === null }
    }),
    ticks: scale.ticks(4).map(tick => ({ at: scale(tick), day: tick.toISOString() })),
  }
}
