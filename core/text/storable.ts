/**
 * Whether a text can be kept and handed on for good: no NUL (PostgreSQL), no half of a surrogate pair (UTF-8, RFC 3629), none of the
 * sixty-six non-characters of Unicode (XML 1.0, 2.2 excludes the last two).
 *
 * isStorable('a\ud800') //=> false
 */
export const isStorable = (text: string): boolean => !/[\0\p{Surrogate}\p{Noncharacter_Code_Point}]/u.test(text)

/** One spelling of the same letters: Unicode normalisation form C. normalText('u\u0308') //=> 'ü' */
export const normalText = (text: string): string => text.normalize('NFC')

export interface TextFault {
  readonly place: string
}

const MOST_DEPTH = 40

/**
 * Walks a value that came from outside: every text, also in names of fields, is normalised; what cannot be kept is named by its place.
 *
 * normalInput({ reason: 'x\ud800' }) //=> { value: …, faults: [{ place: 'reason' }] }
 */
export function normalInput(value: unknown): { value: unknown; faults: TextFault[] } {
  const faults: TextFault[] = []
  const text = (part: string, place: string): string => {
    if (!isStorable(part)) faults.push({ place })
    return normalText(part)
  }
  const walk = (part: unknown, place: string, depth: number): unknown => {
    if (typeof part === 'string') return text(part, place)
    if (part === null || typeof part !== 'object') return part
    if (depth >= MOST_DEPTH) {
      faults.push({ place })
      return null
    }
    const at = (name: string | number): string => (place === '' ? String(name) : `${place}.${name}`)
    if (Array.isArray(part)) return part.map((one, index) => walk(one, at(index), depth + 1))
    return Object.fromEntries(
      Object.entries(part).map(([name, one]) => [text(name, at(name)), walk(one, at(name), depth + 1)]),
    )
  }
  return { value: walk(value, '', 0), faults }
}
