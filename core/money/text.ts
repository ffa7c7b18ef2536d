import { Decimal } from '#core/money/decimal.ts'

/**
 * The sum of amounts as JSON carries them, with as many digits as the most exact of them.
 *
 * sumTexts(['1304.97', '0.03']) //=> '1305.00'
 */
export function sumTexts(texts: readonly string[]): string {
  const digits = Math.max(0, ...texts.map(text => text.split('.')[1]?.length ?? 0))
  return texts.reduce((sum, text) => sum.plus(text), new Decimal(0)).toFixed(digits)
}

/** An amount to the nearest whole unit, half away from zero. wholeText('1304.97') //=> '1305' */
export const wholeText = (text: string): string => roundedText(text, 0)

/** A decimal with at most so many digits after the point, half away from zero. roundedText('9.33335', 4) //=> '9.3334' */
export const roundedText = (text: string, digits: number): string =>
  new Decimal(text).toDecimalPlaces(digits, Decimal.ROUND_HALF_UP).toFixed()

/** One amount less another, exactly. differenceText('3.10', '4') //=> '-0.9' */
export const differenceText = (text: string, less: string): string => new Decimal(text).minus(less).toFixed()

/** Whether a text is nothing at all. isZeroText('0.00') //=> true */
export const isZeroText = (text: string): boolean => new Decimal(text).isZero()
