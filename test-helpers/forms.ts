import type { z } from 'zod'
import type { AnswersJson } from '#contract/source/onboarding.ts'
import { addDays } from '#core/calendar/days.ts'
import { today } from '#test-helpers/steps.ts'

export type AnswersOf = z.output<typeof AnswersJson>

/** Answers to the demo's forms, complete. */
export const filledForms = {
  dive: {
    tank: 'Ray tank',
    why: 'The liner has a blister.',
    hours: '12,5',
    until: addDays(today(), 30),
    animals: 'no',
  } satisfies AnswersOf,
}
