import type { Adjustment } from '#core/bill/invoiceText.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'

/** A number of an invoice; what is not written counts as nothing. */
export const number = (text: string): Decimal => new Decimal(text === '' ? 0 : text)

export const sumTexts = (texts: readonly string[]): Decimal => sumDecimals(texts.map(number))

/** Charges less allowances. */
export const signedSum = (parts: readonly Pick<Adjustment, 'charge' | 'amount'>[]): Decimal =>
  sumDecimals(parts.map(part => (part.charge ? number(part.amount) : number(part.amount).negated())))
