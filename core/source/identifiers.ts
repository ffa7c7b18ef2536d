import { gs1CheckDigit } from '#core/text/gs1.ts'
import { isValidIBAN } from 'ibantools'
import { isRegistrationNumber, isVatNumber } from '#core/source/nationalNumbers.ts'
import type { IdentifierScheme } from '#core/source/schemes.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** normalIdentifier(' de 123-456.789 ') //=> 'DE123456789' */
export const normalIdentifier = (text: string): string =>
  text
    .normalize('NFKC')
    .toUpperCase()
    .replace(/[\s.\-/]/g, '')

/**
 * Checks form and check digits: LEI by ISO 7064 MOD 97-10 (ISO 17442), GLN by the GS1 mod-10 digit, VAT and registration numbers by the
 * rules of their country where those are known. `country` is where the supplier is; a registration number is held to that register.
 */
export function checkIdentifier(scheme: IdentifierScheme, value: string, place?: string, country = ''): Reason[] {
  const text = normalIdentifier(value)
  const extra = place ? { place } : {}
  const bad = (): Reason[] => [
    stop(
      `source.${scheme}Invalid`,
      { value: text.slice(0, 50), country: scheme === 'vat' ? text.slice(0, 2) : country },
      extra,
    ),
  ]
  if (scheme === 'vat') return isVatNumber(text) ? [] : bad()
  if (scheme === 'registration') return isRegistrationNumber(text, country) ? [] : bad()
  if (scheme === 'gln') return /^\d{13}$/.test(text) && gs1CheckDigit(text.slice(0, -1)) === text.at(-1) ? [] : bad()
  if (scheme === 'lei') return /^[A-Z0-9]{18}\d{2}$/.test(text) && mod97(text) === 1 ? [] : bad()
  return text.length >= 1 && text.length <= 40 ? [] : bad()
}

/** IBAN by ISO 13616: country, length, check digits. */
export const checkIban = (iban: string, place?: string): Reason[] =>
  isValidIBAN(normalIdentifier(iban))
    ? []
    : [stop('source.ibanInvalid', { iban: normalIdentifier(iban).slice(0, 40) }, place ? { place } : {})]

/** Remainder by 97 with letters as 10 … 35 (ISO 7064). */
export function mod97(text: string): number {
  let remainder = 0
  for (const character of text)
    for (const digit of String(parseInt(character, 36))) remainder = (remainder * 10 + Number(digit)) % 97
  return remainder
}
