import { isValidIBAN } from 'ibantools'
import { gs1CheckDigit, mod97 } from '#core/source/identifiers.ts'

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
