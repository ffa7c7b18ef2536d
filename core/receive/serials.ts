import { type Reason, stop } from '#core/reasons.ts'

/** As many as can be told at once. */
export const MOST_SERIALS = 10_000
export const LONGEST_SERIAL = 40

export interface ReadSerials {
  readonly serials: readonly string[]
  readonly reasons: readonly Reason[]
}

const RANGE = /^(.*?)(\d+)\s*(?:\.\.\.?|…|–)\s*(.*?)(\d+)$/

/**
 * Reads serial numbers as they are typed, pasted or scanned one after the other: by line, tab, comma or semicolon; `A-0098..A-0102` is a range.
 * Reasons: serial.tooLong | serial.range (ends before it begins, or has another beginning) | serial.tooMany | serial.twice.
 *
 * readSerials('A-0098..A-0100, B7').serials //=> ['A-0098', 'A-0099', 'A-0100', 'B7']
 */
export function readSerials(text: string): ReadSerials {
  const reasons: Reason[] = []
  const serials: string[] = []
  for (const part of text.split(/[\n\r\t,;]+/).map(one => one.trim())) {
    if (part === '') continue
    const range = RANGE.exec(part)
    if (!range) {
      if (part.length > LONGEST_SERIAL) reasons.push(stop('serial.tooLong', { serial: part.slice(0, LONGEST_SERIAL) }))
      else serials.push(part)
      continue
    }
    const [head = '', from = '', again = '', to = ''] = range.slice(1)
    const count = Number(BigInt(to) - BigInt(from)) + 1
    // `A-0098..0102` leaves the beginning out
    if (count < 1 || (again !== '' && again !== head) || head.length + to.length > LONGEST_SERIAL)
      reasons.push(stop('serial.range', { range: part.slice(0, 80) }))
    else if (serials.length + count > MOST_SERIALS) reasons.push(stop('serial.tooMany', { most: MOST_SERIALS }))
    else
      for (let one = 0; one < count; one++)
        serials.push(head + String(BigInt(from) + BigInt(one)).padStart(from.length, '0'))
  }
  if (serials.length > MOST_SERIALS)
    return { serials: serials.slice(0, MOST_SERIALS), reasons: [stop('serial.tooMany', { most: MOST_SERIALS })] }
  return { serials, reasons: [...reasons, ...twice(serials)] }
}

/** The serials that stand in a list twice, the first of them named. */
export function twice(serials: readonly string[]): Reason[] {
  const seen = new Set<string>()
  const doubled = new Set<string>()
  for (const serial of serials) {
    if (seen.has(serial)) doubled.add(serial)
    seen.add(serial)
  }
  if (doubled.size === 0) return []
  return [stop('serial.twice', { serial: [...doubled][0]!, count: doubled.size })]
}
