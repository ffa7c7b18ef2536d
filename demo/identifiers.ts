import { isValidIBAN } from 'ibantools'
import { gs1CheckDigit } from '#core/text/gs1.ts'
import { mod97 } from '#core/source/identifiers.ts'
import { isVatNumber } from '#core/source/nationalNumbers.ts'

const BBAN: Readonly<Record<string, { letters: string; digits: number }>> = {
  AT: { letters: '', digits: 16 },
  BE: { letters: '', digits: 12 },
  CH: { letters: '', digits: 17 },
  DE: { letters: '', digits: 18 },
  DK: { letters: '', digits: 14 },
  ES: { letters: '', digits: 20 },
  FI: { letters: '', digits: 14 },
  GB: { letters: 'IVOR', digits: 14 },
  IE: { letters: 'IVOR', digits: 14 },
  NL: { letters: 'IVOR', digits: 10 },
  NO: { letters: '', digits: 11 },
  PT: { letters: '', digits: 21 },
  SE: { letters: '', digits: 20 },
}

/** An invented account that passes its check digits, at a bank that does not exist; `ending` fixes the last digits. */
export function inventedIban(country: string, seed: number, ending = ''): string {
  const form = BBAN[country] ?? BBAN.NL!
  const prefix = BBAN[country] ? country : 'NL'
  for (let number = seed; ; number++) {
    const digits = `99${String(number).padStart(form.digits - 2 - ending.length, '0')}${ending}`
    const bban = `${form.letters}${digits}`
    const iban = `${prefix}${String(98 - mod97(`${bban}${prefix}00`)).padStart(2, '0')}${bban}`
    if (isValidIBAN(iban)) return iban
  }
}

/** A GTIN-13 of the range 2…, which is kept for use inside a company. */
export const inventedGtin = (seed: number): string => {
  const digits = `29${String(seed).padStart(10, '0')}`
  return digits + gs1CheckDigit(digits)
}

/** How a country's VAT numbers look: # is a digit of the seed, ? a digit to be found, @ a letter to be found. */
const VAT_FORMS: Readonly<Record<string, string>> = {
  AT: 'ATU999####?', BE: 'BE0999####??', CH: 'CHE9999####?MWST', DE: 'DE9999####?', DK: 'DK999####?', ES: 'ESB999####?', FI: 'FI999####?', FR: 'FR??99990####', GB: 'GB999####??', GR: 'EL99999####',
  IE: 'IE999####@', IT: 'IT99999##100?', JP: 'JP?99999999####', NL: 'NL99990####B??', NO: 'NO9999####?MVA', PL: 'PL99999####?', PT: 'PT9999####?', SE: 'SE99999####?01',
} // prettier-ignore

/** An invented VAT number in a range that nobody has, with the check digits of its country; empty for countries without such numbers. */
export function inventedVat(country: string, seed: number): string {
  const form = VAT_FORMS[country]
  if (!form) return ''
  for (let number = seed; number < seed + 400; number++) {
    const width = form.split('#').length - 1
    const digits = [...String(number).padStart(width, '0').slice(-width)]
    const filled = form.replace(/#/g, () => digits.shift() ?? '0')
    for (let guess = 0; guess < 100; guess++) {
      const wanted = [
        ...String(guess)
          .padStart(2, '0')
          .slice(-(filled.split('?').length - 1) || 2),
      ]
      const text = filled
        .replace(/\?/g, () => wanted.shift() ?? '0')
        .replace('@', String.fromCharCode(65 + (guess % 26)))
      if (isVatNumber(text)) return text
    }
  }
  throw new Error(`No VAT number of ${country} passes near ${seed}.`)
}
