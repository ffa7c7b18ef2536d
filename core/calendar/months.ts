import { addDays } from '#core/calendar/days.ts'

/** A month of the books. `2026-11` */
export type Month = string
export const isMonth = (text: string): boolean => /^\d{4}-(0[1-9]|1[0-2])$/.test(text)
/** monthOf('2026-11-04') //=> '2026-11' */
export const monthOf = (day: string): Month => day.slice(0, 7)
/** firstDay('2026-02') //=> '2026-02-01' */
export const firstDay = (month: Month): string => `${month}-01`
/** The first day of the month after. dayAfter('2026-12') //=> '2027-01-01' */
export function dayAfter(month: Month): string {
  const [year, at] = [Number(month.slice(0, 4)), Number(month.slice(5))]
  return at === 12 ? `${year + 1}-01-01` : `${year}-${String(at + 1).padStart(2, '0')}-01`
}
/** lastDay('2028-02') //=> '2028-02-29' */
export const lastDay = (month: Month): string => addDays(dayAfter(month), -1)
/** nextMonth('2026-12') //=> '2027-01' */
export const nextMonth = (month: Month): Month => monthOf(dayAfter(month))
