import { addDays, daysBetween } from '#core/calendar/days.ts'
import type { JobParts } from '#server/jobs/parts.ts'
import { payWhatIsDue } from '#demo/payments.ts'
import { runThread, type Team } from '#demo/runThread.ts'
import type { DemoThread } from '#demo/threads.ts'

/** Months of finished purchases behind the present ones, as `./ivory start` loads them. */
export const HISTORY_MONTHS = 18
/** Days before today on which the last of them was asked for; the present threads begin about there. */
const LAST = 75

/** Something that is bought again and again. */
interface Habit extends Omit<DemoThread, 'title' | 'ago' | 'end'> {
  readonly title: (month: string) => string
  /** Days from one time to the next. */
  readonly every: number
  /** Days after the first day of the history on which it begins. */
  readonly first: number
  /** How much dearer a year makes it, per cent. */
  readonly dearer: number
  /** Every how manieth delivery comes late, and by how many days. */
  readonly lateEvery?: readonly [times: number, days: number]
  /** More of it is used in summer, by this share. */
  readonly season?: number
}

const HABITS: readonly Habit[] = [
  {
    title: month => `Salt for ${month}`,
    who: 'ines',
    place: 'quay',
    on: [['LS-210', '6020', null]],
    lines: [{ item: 'SW-1200', quantity: '60' }],
    callOff: true,
    every: 30,
    first: 3,
    dearer: 4.5,
    lateEvery: [6, 4],
    season: 0.25,
  },
  {
    title: month => `Krill for ${month}`,
    who: 'ines',
    place: 'quay',
    on: [['AC-110', '6010', null]],
    lines: [{ item: 'FK-1200', quantity: '100' }],
    callOff: true,
    every: 27,
    first: 6,
    dearer: 7,
    lateEvery: [4, 6],
    season: 0.3,
  },
  {
    title: month => `Herring and sprat, ${month}`,
    who: 'ines',
    place: 'quay',
    on: [['AC-110', '6010', null]],
    lines: [
      { item: 'FK-1220', quantity: '150' },
      { item: 'FK-1240', quantity: '50' },
    ],
    every: 44,
    first: 12,
    dearer: 5,
    lateEvery: [3, 5],
  },
  {
    title: month => `UV lamps, ${month}`,
    who: 'joren',
    place: 'quay',
    on: [['LS-210', '6210', null]],
    lines: [
      { item: 'UL-1200', quantity: '8' },
      { item: 'UL-1240', quantity: '4' },
    ],
    every: 62,
    first: 20,
    dearer: 2,
  },
  {
    title: month => `Water tests, ${month}`,
    who: 'ines',
    place: 'hatchery',
    on: [['RS-710', '6110', null]],
    lines: [
      { item: 'LB-1200', quantity: '12' },
      { item: 'LB-1220', quantity: '8' },
    ],
    every: 41,
    first: 9,
    dearer: 3,
    season: 0.5,
  },
  {
    title: month => `Gloves for the hatchery, ${month}`,
    who: 'ines',
    place: 'hatchery',
    on: [['RS-710', '6110', null]],
    lines: [{ item: 'LB-1240', quantity: '20' }],
    every: 50,
    first: 15,
    dearer: -2,
  },
  {
    title: month => `Seals and impellers, ${month}`,
    who: 'joren',
    place: 'ropeworks',
    on: [['LS-210', '6210', null]],
    lines: [
      { item: 'PS-1220', quantity: '4' },
      { item: 'PS-1240', quantity: '2' },
    ],
    every: 74,
    first: 30,
    dearer: 3,
    lateEvery: [2, 11],
  },
  {
    title: month => `Valves for stock, ${month}`,
    who: 'joren',
    place: 'ropeworks',
    on: [['LS-210', '6210', null]],
    lines: [
      { item: 'BV-1220', quantity: '40' },
      { item: 'BV-1240', quantity: '20' },
    ],
    every: 52,
    first: 25,
    dearer: 1.5,
    lateEvery: [5, 3],
  },
  {
    title: month => `Shop, ${month}`,
    who: 'ines',
    place: 'quay',
    on: [['VS-510', '6510', null]],
    lines: [
      { item: 'SH-1200', quantity: '144' },
      { item: 'SH-1240', quantity: '96' },
    ],
    every: 58,
    first: 18,
    dearer: 2.5,
    season: 0.6,
  },
]

const monthOf = (day: string): string =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(new Date(day))
/** A year in a wave: 1 in July, −1 in January. */
const summer = (day: string): number => -Math.cos((daysBetween(`${day.slice(0, 4)}-01-15`, day) / 365) * 2 * Math.PI)
/** Packs of twelve and tens stay whole. */
const stepped = (quantity: string, share: number): string => {
  const step = Number(quantity) % 12 === 0 ? 12 : Number(quantity) % 10 === 0 ? 10 : 1
  return String(Math.max(step, Math.round((Number(quantity) * share) / step) * step))
}

/** The purchases of one habit from a day on, oldest first. What was paid then is today's price without the rises since. */
function timesOf(habit: Habit, from: string, today: string): DemoThread[] {
  const { title, every, first, dearer, lateEvery, season = 0, ...rest } = habit
  const threads: DemoThread[] = []
  for (let day = addDays(from, first), nth = 1; daysBetween(day, today) >= LAST; day = addDays(day, every), nth++) {
    const ago = daysBetween(day, today)
    threads.push({
      ...rest,
      title: title(monthOf(day)),
      ago,
      end: 'posted',
      lines: rest.lines.map(line =>
        'item' in line ? { ...line, quantity: stepped(line.quantity, 1 + season * summer(day)) } : line,
      ),
      priceFactor: (1 / (1 + (dearer / 100) * (ago / 365))).toFixed(4),
      late: lateEvery && nth % lateEvery[0] === 0 ? lateEvery[1] : 0,
    })
  }
  return threads
}

/** The first day of a history of so many months. */
export const historyFrom = (today: string, months: number): string => addDays(today, -Math.round(months * 30.4))

/** Runs the purchases of the past through the services, month by month, and pays them as they fall due. */
export async function addHistory(team: Team, months: number): Promise<number> {
  const from = historyFrom(team.today, months)
  const threads = HABITS.flatMap(habit => timesOf(habit, from, team.today)).sort((a, b) => b.ago - a.ago)
  let paidUntil = addDays(from, 30)
  for (const thread of threads) {
    for (const asked = addDays(team.today, -thread.ago); paidUntil < asked; paidUntil = addDays(paidUntil, 30))
      await payWhatIsDue(team, paidUntil)
    await runThread(team, thread)
  }
  for (const last = addDays(team.today, -20); paidUntil < last; paidUntil = addDays(paidUntil, 30))
    await payWhatIsDue(team, paidUntil)
  await rest(team.parts)
  return threads.length
}

/** What was written to suppliers in the past has long arrived: none of it is sent when the program starts. */
async function rest({ db, clock }: JobParts): Promise<void> {
  await db('outbox').where({ kind: 'mail', state: 'waiting' }).update({ state: 'sent', sentAt: clock() })
}
