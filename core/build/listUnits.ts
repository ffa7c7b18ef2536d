import { unitOf } from '#core/request/quickNumbers.ts'
import { table } from '#core/text/table.ts'
import { UNIT_CODES, UNITS } from '#core/units/units.ts'

/** The code of a unit by its code, its name or how people write it. unitFrom('Stk.') //=> 'C62' */
export function unitFrom(text: string): string | undefined {
  const word = text.trim().replace(/\.$/, '')
  if (word === '') return undefined
  if (UNIT_CODES.includes(word.toUpperCase()) && word.length > 1) return word.toUpperCase()
  const label = UNIT_CODES.find(code => UNITS[code]!.label.toLowerCase() === word.toLowerCase())
  return label ?? OTHERS[word.toLowerCase()] ?? unitOf(word)
}

const OTHERS = table<Readonly<Partial<Record<string, string>>>>({
  ea: 'C62',
  each: 'C62',
  pc: 'C62',
  stk: 'C62',
  st: 'C62',
  stuk: 'C62',
  stuks: 'C62',
  stück: 'C62',
  off: 'C62',
  mtr: 'MTR',
  lfm: 'MTR',
})
