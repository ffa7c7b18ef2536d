/**
 * Whether a text can be kept and handed on for good: no NUL (PostgreSQL), no half of a surrogate pair (UTF-8, RFC 3629), none of the
 * sixty-six non-characters of Unicode (XML 1.0, 2.2 excludes the last two).
 *
 * isStorable('a\ud800') //=> false
 */
export const isStorable = (text: string): boolean => !/[\0\p{Surrogate}\p{Noncharacter_Code_Point}]/u.test(text)

/** One spelling of the same letters: Unicode normalisation form C. normalText('u\u0308') //=> 'ü' */
export const normalText = (text: string): string => text.normalize('NFC')

/** Letters, digits and marks that one word may have: an index of words takes 2046 bytes (PostgreSQL, `tsvector`). */
const MOST_LETTERS = 500
const OVERLONG = new RegExp(`[\\p{L}\\p{M}\\p{N}]{${MOST_LETTERS + 1}}`, 'u')

/** hasOverlongWord('a'.repeat(501)) //=> true */
export const hasOverlongWord = (text: string): boolean => text.length > MOST_LETTERS && OVERLONG.test(text)

/** Largest whole number that is taken, as the database keeps them (PostgreSQL `integer`). Amounts and quantities come as text. */
export const LARGEST_INTEGER = 2_147_483_647

/** Why something from outside cannot be taken, whatever it is for. */
export type InputFault = 'unkeepable' | 'overlongWord' | 'tooDeep' | 'numberOutOfRange' | 'fieldName'

const MOST_DEPTH = 40

/**
 * Walks a value that came from outside: every text, also in names of fields, is normalised; what cannot be taken is named by its place.
 *
 * normalInput({ reason: 'x\ud800' }) //=> { value: …, faults: [{ place: 'reason', fault: 'unkeepable' }] }
 */
export function normalInput(value: unknown): { value: unknown; faults: { place: string; fault: InputFault }[] } {
  const faults: { place: string; fault: InputFault }[] = []
  const text = (part: string, place: string): string => {
    if (!isStorable(part)) faults.push({ place, fault: 'unkeepable' })
    else if (hasOverlongWord(part)) faults.push({ place, fault: 'overlongWord' })
    return normalText(part)
  }
  const walk = (part: unknown, place: string, depth: number): unknown => {
    if (typeof part === 'string') return text(part, place)
    if (typeof part === 'number' && !(Math.abs(part) <= LARGEST_INTEGER))
      faults.push({ place, fault: 'numberOutOfRange' })
    if (part === null || typeof part !== 'object') return part
    if (depth >= MOST_DEPTH) {
      faults.push({ place, fault: 'tooDeep' })
      return null
    }
    const at = (name: string | number): string => (place === '' ? String(name) : `${place}.${name}`)
    if (Array.isArray(part)) return part.map((one, index) => walk(one, at(index), depth + 1))
    return Object.fromEntries(
      Object.entries(part).map(([name, one]) => {
        if (name === '__proto__') faults.push({ place: at(name), fault: 'fieldName' })
        return [text(name, at(name)), walk(one, at(name), depth + 1)]
      }),
    )
  }
  return { value: walk(value, '', 0), faults }
}
