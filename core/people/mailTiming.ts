/** When somebody of the team wants to be written to about the work. What concerns their account always comes at once. */
export interface MailWish {
  readonly when: 'atOnce' | 'daily' | 'never'
  /** No mail from then on, as HH:MM of their own clock; empty: at any time. */
  readonly quietFrom: string
  readonly quietTo: string
  /** What decisions say: everything that is needed to decide out of the mail, or only where it waits. */
  readonly decisions?: 'full' | 'short' | undefined
}
export const ANY_TIME: MailWish = { when: 'atOnce', quietFrom: '', quietTo: '' }
/** When what is collected of a day comes, where no quiet hours end later. */
const MORNING = '07:00'

/**
 * When a mail about the work may leave: at once, when the quiet hours end, or together with others in the morning; nothing: not at all.
 *
 * mailTiming({ when: 'daily', quietFrom: '', quietTo: '' }, '2026-11-30T10:00:00.000Z', 'Europe/Amsterdam')
 *   //=> { at: '2026-12-01T06:00:00.000Z', together: true }
 */
export function mailTiming(wish: MailWish, now: string, zone: string): { at: string; together: boolean } | undefined {
  if (wish.when === 'never') return undefined
  const clock = clockAt(now, zone)
  if (wish.when === 'daily') {
    const morning = wish.quietFrom !== '' && wish.quietTo > MORNING ? wish.quietTo : MORNING
    return { at: nextAt(now, zone, morning), together: true }
  }
  return { at: isQuiet(wish, clock) ? nextAt(now, zone, wish.quietTo) : now, together: false }
}

/** Quiet hours may go over midnight: from 20:00 to 07:00. */
const isQuiet = ({ quietFrom, quietTo }: MailWish, clock: string): boolean =>
  quietFrom !== '' &&
  quietTo !== '' &&
  (quietFrom <= quietTo ? clock >= quietFrom && clock < quietTo : clock >= quietFrom || clock < quietTo)

/** "10:07", as the clocks of a zone show a moment. */
const clockAt = (at: string, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(
    new Date(at),
  )

const HOUR = 3_600_000
/** When the clocks of a zone next show a quarter of an hour; over a night in which they change it may be the day after. */
function nextAt(now: string, zone: string, time: string): string {
  const quarter = HOUR / 4
  const first = Math.floor(Date.parse(now) / quarter) * quarter
  for (let at = first + quarter; at <= first + 49 * HOUR; at += quarter)
    if (clockAt(new Date(at).toISOString(), zone) === time) return new Date(at).toISOString()
  return now
}
