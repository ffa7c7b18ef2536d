import { isDecimalText } from '#core/money/decimal.ts'
import { table } from '#core/text/table.ts'

/** Words for units as people write them, with their UN/ECE Recommendation 20 code. */
const UNIT_WORDS: Readonly<Record<string, string>> = table({
  kg: 'KGM', kgs: 'KGM', kilo: 'KGM', kilos: 'KGM', kilogram: 'KGM', kilograms: 'KGM', g: 'GRM', gram: 'GRM', grams: 'GRM', t: 'TNE', tonne: 'TNE', tonnes: 'TNE', ton: 'TNE', tons: 'TNE', l: 'LTR', litre: 'LTR', litres: 'LTR', liter: 'LTR', liters: 'LTR', ml: 'MLT', 'm³': 'MTQ', m3: 'MTQ',
  m: 'MTR', metre: 'MTR', metres: 'MTR', meter: 'MTR', meters: 'MTR', mm: 'MMT', 'm²': 'MTK', m2: 'MTK', pc: 'C62', pcs: 'C62', piece: 'C62', pieces: 'C62', bag: 'BG', bags: 'BG', box: 'BX', boxes: 'BX', set: 'SET', sets: 'SET', pair: 'PR', pairs: 'PR', h: 'HUR', hour: 'HUR', hours: 'HUR', day: 'DAY', days: 'DAY',
}) // prettier-ignore

const NUMBER_WORDS: Readonly<Record<string, string>> = table({ a: '1', an: '1', one: '1', two: '2', three: '3', four: '4', five: '5', six: '6', seven: '7', eight: '8', nine: '9', ten: '10', eleven: '11', twelve: '12', twenty: '20', fifty: '50', 'a dozen': '12', 'two dozen': '24', dozen: '12', half: '0.5', 'half a': '0.5' }) // prettier-ignore

export const unitOf = (word: string): string | undefined => UNIT_WORDS[word.toLowerCase()]
/** A pattern for any word of a unit that ends there: "kg", but not the "m³" of "m³/h". */
export const UNIT_PATTERN = `(?:${Object.keys(UNIT_WORDS)
  .sort((a, b) => b.length - a.length)
  .join('|')})(?![\\p{L}\\d/])`
/** A pattern for a number with marks in it, such as 1,200.50 or 2½. */
export const NUMBER_PATTERN = '\\d{1,3}(?:[ \\u00a0\\u202f]\\d{3})+(?:[.,]\\d+)?|\\d[\\d.,]*\\d|\\d'
export const NUMBER_WORD_PATTERN = Object.keys(NUMBER_WORDS)
  .sort((a, b) => b.length - a.length)
  .join('|')

/**
 * What a written number may mean: one reading when it is clear, two when a mark may be for thousands or for decimals, none when it is no
 * number that can be kept (more than six digits after the point, or too large).
 *
 * numberReadings('1,200') //=> ['1200', '1.2'] · numberReadings('2,5') //=> ['2.5'] · numberReadings('1 200') //=> ['1200']
 */
export function numberReadings(text: string): string[] {
  const word = NUMBER_WORDS[text.toLowerCase().trim()]
  if (word) return [word]
  const plain = text.replace(/[\s\u00a0\u202f]/g, '')
  const marks = plain.replace(/\d/g, '')
  const keep = (readings: readonly string[]): string[] => [...new Set(readings.map(tidy))].filter(isDecimalText)
  if (marks === '') return keep([plain])
  if (marks.length === 1) {
    const [whole, part] = plain.split(marks) as [string, string]
    const grouped = part.length === 3 && whole.length <= 3 && whole !== '0'
    if (!grouped) return keep([`${whole}.${part}`])
    const [asThousands, asDecimal] = [`${whole}${part}`, `${whole}.${part}`]
    return keep(marks === ',' ? [asThousands, asDecimal] : [asDecimal, asThousands])
  }
  const last = marks.at(-1)!
  if (marks.slice(0, -1).includes(last))
    return new Set(marks).size === 1 && /^\d{1,3}([.,]\d{3})+$/.test(plain) ? keep([plain.replace(/[.,]/g, '')]) : []
  const at = plain.lastIndexOf(last)
  return keep([`${plain.slice(0, at).replace(/[.,]/g, '')}.${plain.slice(at + 1)}`])
}

const tidy = (text: string): string =>
  text
    .replace(/^0+(?=\d)/, '')
    .replace(/(\.\d*?)0+$/, '$1')
    .replace(/\.$/, '')
