import { stdnum } from 'stdnum'

type Validator = { validate: (text: string) => { isValid: boolean } }
type Country = Readonly<Record<string, Validator | undefined>>

/** Which of the package's checks holds a country's VAT number (with or without the country's letters, as the check wants it). */
const VAT: Readonly<Record<string, { check: string; keep: boolean }>> = {
  AT: { check: 'uid', keep: true },
  BE: { check: 'vat', keep: false },
  CH: { check: 'vat', keep: true },
  DE: { check: 'vat', keep: true },
  DK: { check: 'cvr', keep: false },
  ES: { check: 'nif', keep: false },
  FI: { check: 'alv', keep: true },
  FR: { check: 'tva', keep: true },
  GB: { check: 'vat', keep: true },
  IE: { check: 'vat', keep: true },
  IT: { check: 'iva', keep: false },
  JP: { check: 'cn', keep: false },
  NL: { check: 'btw', keep: true },
  NO: { check: 'mva', keep: true },
  PL: { check: 'nip', keep: false },
  PT: { check: 'nif', keep: false },
}
const REGISTRATION: Readonly<Record<string, string>> = { CH: 'uid', DK: 'cvr', FI: 'ytunnus', FR: 'siren', JP: 'cn', NO: 'orgnr', PT: 'nipc', SE: 'orgnr' }

const validator = (country: string, name: string): Validator | undefined => (stdnum as unknown as Readonly<Record<string, Country>>)[country]?.[name]

/** Countries whose VAT numbers are held to their national check digits; others only to the form that all VAT numbers have. */
export const VAT_COUNTRIES: readonly string[] = Object.keys(VAT)

/**
 * Whether a VAT number passes its country's rules (form and check digits, national tax authorities' published algorithms as kept by the
 * package stdnum). The number begins with the country's letters; Greek ones with EL, Swiss ones with CHE.
 *
 * isVatNumber('NL999999999B99') //=> false
 */
export function isVatNumber(text: string): boolean {
  if (!/^[A-Z]{2}[A-Z0-9]{2,14}$/.test(text)) return false
  const country = text.slice(0, 2)
  const rule = VAT[country]
  if (country === 'SE') return /^SE\d{12}$/.test(text) && text.endsWith('01') && (validator('SE', 'orgnr')?.validate(text.slice(2, 12)).isValid ?? true)
  if (!rule) return true
  const checked = validator(country, rule.check)
  return checked?.validate(rule.keep ? text : text.slice(2)).isValid ?? true
}

/** Whether a number of a company register passes, where the country's register has check digits; anything of 2 to 40 signs passes elsewhere. */
export function isRegistrationNumber(text: string, country: string): boolean {
  if (!/^[A-Z0-9]{2,40}$/.test(text)) return false
  const name = REGISTRATION[country]
  return !name || (validator(country, name)?.validate(text).isValid ?? true)
}
