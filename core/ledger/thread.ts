import { type Minor, minor } from '#core/money/amount.ts'

/** The steps of a thread, in working order, with how much value has come as far (base currency's smallest unit). */
export const THREAD_STEPS = ['requested', 'decided', 'ordered', 'confirmed', 'received', 'billed', 'paid'] as const
export type ThreadStep = (typeof THREAD_STEPS)[number]

export interface StripStep {
  readonly step: ThreadStep
  readonly value: Minor
  /** What has come to the step before but not to this one. */
  readonly missing: Minor
}

/** Value per step and what is not yet there, measured against the step before; an over-quantity leaves nothing missing. */
export function threadStrip(values: Readonly<Record<ThreadStep, Minor>>): StripStep[] {
  return THREAD_STEPS.map((step, index) => {
    const before = index === 0 ? values[step] : values[THREAD_STEPS[index - 1]!]
    return { step, value: values[step], missing: minor(before > values[step] ? before - values[step] : 0n) }
  })
}
