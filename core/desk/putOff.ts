import { addDays, isDay } from '#core/calendar/days.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Days for which something can be put off: longer is not putting off. */
export const LONGEST = 60

/** What stands against putting something off until a day: on that day it waits again. */
export function whyNotPutOff(until: string, today: string): Reason[] {
  const there = isDay(until) && until > today && until <= addDays(today, LONGEST)
  return there ? [] : [stop('desk.putOffDay', { most: LONGEST }, { place: 'until' })]
}
