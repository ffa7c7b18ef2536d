/**
 * Reads a number as a person types it. Both a decimal comma and a decimal point are taken; where a text could mean
 * two numbers ("1,234" or "1.234") nothing is guessed and `ambiguous` names both.
 *
 * readTypedNumber('1 234,5') //=> { ok: true, value: '1234.5' }
 * readTypedNumber('1,234')   //=> { ok: false, ambiguous: ['1234', '1.234'] }
 */
export function readTypedNumber(
  text: string,
): { ok: true; value: string } | { ok: false; ambiguous?: [string, string] } {
  const packed = text.trim().replace(/[\s\u00a0\u202f']/g, '')
  if (/^-?\d+$/.test(packed)) return { ok: true, value: tidyWhole(packed) }
  const groupedThenDecimal = /^(-?\d{1,3}(?:([.,])\d{3})+)([.,])(\d+)$/.exec(packed)
  if (groupedThenDecimal && groupedThenDecimal[2] !== groupedThenDecimal[3])
    return { ok: true, value: `${groupedThenDecimal[1]!.replace(/[.,]/g, '')}.${groupedThenDecimal[4]}` }
  if (/^-?\d{1,3}([.,])\d{3}(\1\d{3})+$/.test(packed)) return { ok: true, value: packed.replace(/[.,]/g, '') }
  const single = /^(-?\d+)[.,](\d+)$/.exec(packed)
  if (!single) return { ok: false }
  if (single[2]!.length === 3 && /^-?[1-9]\d{0,2}$/.test(single[1]!))
    return { ok: false, ambiguous: [`${single[1]}${single[2]}`, `${single[1]}.${single[2]}`] }
  return { ok: true, value: `${tidyWhole(single[1]!)}.${single[2]}` }
}

const tidyWhole = (digits: string): string => digits.replace(/^(-?)0+(?=\d)/, '$1')
