import type { TaxRate } from '#core/bill/facts.ts'

/** A rate of VAT from one day to another, both included; without an end: until further notice. */
export interface DatedTaxRate extends TaxRate {
  readonly validFrom: string
  readonly validTo: string | null
}

/** Rates that are charged on a day. ratesOn([{ country: 'DE', rate: '16', validFrom: '2020-07-01', validTo: '2020-12-31' }], '2021-01-01') //=> [] */
export const ratesOn = (rates: readonly DatedTaxRate[], day: string): TaxRate[] =>
  rates.filter(one => one.validFrom <= day && (one.validTo === null || day <= one.validTo))
