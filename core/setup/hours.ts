/** From when to when something is open on a weekday, as `HH:MM`. */
export interface OpenSpan {
  readonly from: string
  readonly to: string
}

const DAYS = ['mo', 'tu', 'we', 'th', 'fr', 'sa', 'su'] as const
const TIME = /^([01]\d|2[0-3]):[0-5]\d$|^24:00$/

/**
 * Opening hours as they are written: days or ranges of days, then spans, parts divided by semicolons. The answer has seven lists, Monday first;
 * nothing where it cannot be read, a span ends before it begins, or two overlap.
 *
 * readHours('Mo-Fr 07:00-12:00,13:00-16:00; Sa 08:00-12:00')?.[5] //=> [{ from: '08:00', to: '12:00' }]
 */
export function readHours(text: string): OpenSpan[][] | undefined {
  const week: OpenSpan[][] = DAYS.map(() => [])
  const parts = text.split(';').map(part => part.trim())
  if (parts.length > 14) return undefined
  for (const part of parts) {
    const [days = '', spans = '', ...rest] = part.split(/\s+/)
    const at = readDays(days)
    const open = readSpans(spans)
    if (rest.length > 0 || !at || !open) return undefined
    for (const day of at) {
      if (week[day]!.length > 0) return undefined
      week[day]!.push(...open)
    }
  }
  return week
}

function readDays(text: string): number[] | undefined {
  const days: number[] = []
  for (const part of text.toLowerCase().split(',')) {
    const [first, last = first] = part.split('-').map(day => DAYS.indexOf(day as 'mo')) as [number, number?]
    if (first < 0 || last === undefined || last < first || part.split('-').length > 2) return undefined
    for (let day = first; day <= last; day++) days.push(day)
  }
  return days
}

function readSpans(text: string): OpenSpan[] | undefined {
  const spans = text.split(',').map((part): OpenSpan => {
    const [from = '', to = ''] = part.split('-')
    return { from, to }
  })
  const fits = spans.every(
    ({ from, to }, index) =>
      TIME.test(from) && TIME.test(to) && from < to && (index === 0 || spans[index - 1]!.to <= from),
  )
  return fits ? spans : undefined
}
