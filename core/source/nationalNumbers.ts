import { stdnum } from 'stdnum'

type Validator = { validate: (text: string) => { isValid: boolean } }
type Country = Readonly<Record<string, Validator | undefined>>

interface VatRule {
  /** The package's country, where its letters are others than those of the VAT number. */
  readonly country?: string
  readonly check: string
  /** Whether the check wants the country's letters too. */
  readonly keep: boolean
}

const own = (check: string): VatRule => ({ check, keep: false })
const whole = (check: string): VatRule => ({ check, keep: true })

/** Letters that a VAT number can begin with, and which of the package's checks holds it. Greek ones begin with EL, Swiss ones with CHE. */
const VAT: ReadonlyMap<string, VatRule> = new Map([
  ['AD', own('nrt')],
  ['AL', own('nipt')],
  ['AT', whole('uid')],
  ['AU', own('abn')],
  ['BE', own('vat')],
  ['BG', own('vat')],
  ['BR', own('cnpj')],
  ['BY', own('unp')],
  ['CH', whole('vat')],
  ['CY', own('vat')],
  ['CZ', own('dic')],
  ['DE', whole('vat')],
  ['DK', own('cvr')],
  ['EE', own('kmkr')],
  ['EL', { country: 'GR', check: 'vat', keep: false }],
  ['ES', own('nif')],
  ['FI', whole('alv')],
  ['FO', own('vn')],
  ['FR', whole('tva')],
  ['GB', whole('vat')],
  ['HR', own('oib')],
  ['HU', own('anum')],
  ['IE', whole('vat')],
  ['IN', own('gstin')],
  ['IS', own('vsk')],
  ['IT', own('iva')],
  ['JP', own('cn')],
  ['KR', own('brn')],
  ['LT', own('pvm')],
  ['LU', own('tva')],
  ['LV', own('pvn')],
  ['MC', own('tva')],
  ['MD', own('idno')],
  ['ME', own('pib')],
  ['MK', own('edb')],
  ['MT', own('vat')],
  ['MX', own('rfc')],
  ['NL', whole('btw')],
  ['NO', whole('mva')],
  ['NZ', own('ird')],
  ['PL', own('nip')],
  ['PT', own('nif')],
  ['RO', own('cif')],
  ['RS', own('pib')],
  ['SE', own('vat')],
  ['SI', own('ddv')],
  ['SK', own('dph')],
  ['SM', own('coe')],
  ['TR', own('vkn')],
  ['UA', own('edrpou')],
  ['XI', { country: 'GB', check: 'vat', keep: false }],
  ['ZA', own('vat')],
])
const REGISTRATION: ReadonlyMap<string, string> = new Map([
  ['AT', 'businessid'],
  ['BE', 'vat'],
  ['CH', 'uid'],
  ['CZ', 'ico'],
  ['DK', 'cvr'],
  ['EE', 'registrikood'],
  ['FI', 'ytunnus'],
  ['FR', 'siren'],
  ['JP', 'cn'],
  ['NO', 'orgnr'],
  ['PT', 'nipc'],
  ['SE', 'orgnr'],
])

const validator = (country: string, name: string): Validator | undefined =>
  new Map<string, Country>(Object.entries(stdnum)).get(country)?.[name]

/** Letters that VAT numbers begin with here: of countries that charge VAT or a tax like it. */
export const VAT_PREFIXES: readonly string[] = [...VAT.keys()]

/**
 * Whether a VAT number passes its country's rules (form and check digits, national tax authorities' published algorithms as kept by the
 * package stdnum). It begins with the letters of a country that has such numbers; Greek ones with EL, Swiss ones with CHE.
 *
 * isVatNumber('NL999999999B99') //=> false
 * isVatNumber('US123456789') //=> false
 */
export function isVatNumber(text: string): boolean {
  if (!/^[A-Z]{2}[A-Z0-9]{2,14}$/.test(text)) return false
  const rule = VAT.get(text.slice(0, 2))
  if (!rule) return false
  const checked = validator(rule.country ?? text.slice(0, 2), rule.check)
  return checked?.validate(rule.keep ? text : text.slice(2)).isValid ?? false
}

/** Whether a number of a company register passes, where the country's register has check digits; anything of 2 to 40 signs passes elsewhere. */
export function isRegistrationNumber(text: string, country: string): boolean {
  if (!/^[A-Z0-9]{2,40}$/.test(text)) return false
  const name = REGISTRATION.get(country)
  return name === undefined || (validator(country, name)?.validate(text).isValid ?? true)
}
