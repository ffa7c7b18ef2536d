/** GS1 General Specifications 7.9: weights 3 and 1 from the right. gs1CheckDigit('400638133393') //=> '1' */
export function gs1CheckDigit(digits: string): string {
  const sum = [...digits]
    .reverse()
    .reduce((total, digit, index) => total + Number(digit) * (index % 2 === 0 ? 3 : 1), 0)
  return String((10 - (sum % 10)) % 10)
}

/**
 * Whether a text is a GTIN of 8, 12, 13 or 14 digits with its right check digit (GS1 General Specifications 7.9).
 *
 * isGtin('4006381333931') //=> true
 */
export const isGtin = (text: string): boolean => /^(\d{8}|\d{12,14})$/.test(text) && endsRight(text)

/** Whether a text is a serial shipping container code: 18 digits with the right check digit. isSscc('340123450000000000') //=> true */
export const isSscc = (text: string): boolean => /^\d{18}$/.test(text) && endsRight(text)

const endsRight = (text: string): boolean => gs1CheckDigit(text.slice(0, -1)) === text.at(-1)
