/**
 * How many typing errors lie between two words: letters left out, added, exchanged, or two neighbours swapped (optimal string alignment;
 * Damerau, A technique for computer detection and correction of spelling errors, 1964). Stops counting above `most`.
 *
 * typingErrors('slat', 'salt', 2) //=> 1
 */
export function typingErrors(typed: string, word: string, most: number): number {
  if (Math.abs(typed.length - word.length) > most) return most + 1
  let [before, last]: [number[], number[]] = [[], Array.from({ length: word.length + 1 }, (_, index) => index)]
  for (let i = 1; i <= typed.length; i++) {
    const row = [i]
    for (let j = 1; j <= word.length; j++) {
      const exchange = last[j - 1]! + (typed[i - 1] === word[j - 1] ? 0 : 1)
      const swapped =
        i > 1 && j > 1 && typed[i - 1] === word[j - 2] && typed[i - 2] === word[j - 1] ? before[j - 2]! + 1 : Infinity
      row.push(Math.min(exchange, last[j]! + 1, row[j - 1]! + 1, swapped))
    }
    if (Math.min(...row) > most) return most + 1
    ;[before, last] = [last, row]
  }
  return last[word.length]!
}

/** One error in words of up to five letters, two in longer ones; numbers and words of three letters or less are taken as they are. */
export const allowedErrors = (typed: string): number =>
  /\d/.test(typed) || typed.length < 4 ? 0 : typed.length < 6 ? 1 : 2

/** The words that were probably meant: those with the fewest errors, at most six. */
export function meantWords(typed: string, words: readonly string[]): string[] {
  const most = allowedErrors(typed)
  if (most === 0) return []
  const near = words.map(word => ({ word, errors: typingErrors(typed, word, most) })).filter(one => one.errors <= most)
  const fewest = Math.min(...near.map(one => one.errors))
  return near
    .filter(one => one.errors === fewest)
    .map(one => one.word)
    .sort()
    .slice(0, 6)
}

export interface TextHit {
  readonly number: string
  readonly name: string
  readonly hasAgreement: boolean
  readonly stocked: boolean
  readonly discontinued: boolean
}

/**
 * How well a hit fits what was typed: whole words of the name count most, then beginnings, then parts; a number that begins so counts more than
 * all of them. Agreement offers and stocked items come first among equals, discontinued ones last.
 */
export function hitScore(
  tokens: readonly string[],
  meant: ReadonlyMap<string, readonly string[]>,
  hit: TextHit,
): number {
  const words = hit.name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .split(/[^\p{L}\p{N}]+/u)
  const number = hit.number.toLowerCase()
  const one = (token: string): number => {
    const readings = [token, ...(meant.get(token) ?? [])]
    const best = (word: string): number =>
      Math.max(
        ...readings.map((reading, index) =>
          word === reading ? (index === 0 ? 6 : 4) : word.startsWith(reading) ? 3 : word.includes(reading) ? 2 : 0,
        ),
      )
    return Math.max(number === token ? 9 : number.startsWith(token) ? 5 : 1, ...words.map(best))
  }
  const text = tokens.reduce((sum, token) => sum + one(token), 0) / Math.max(1, tokens.length)
  return (
    text * 10 +
    (words[0] !== undefined && tokens.includes(words[0]) ? 4 : 0) -
    Math.min(6, words.length) * 0.3 +
    (hit.hasAgreement ? 3 : 0) +
    (hit.stocked ? 1 : 0) -
    (hit.discontinued ? 20 : 0)
  )
}
