import { checkIban, checkIdentifier, normalIdentifier } from '#core/source/identifiers.ts'
import { currencies } from '#core/money/currency.ts'
import { type Reason, stop } from '#core/reasons.ts'

export interface ImportedSupplier {
  readonly name: string
  readonly vat: string
  readonly currency: string
  readonly termsDays: number
  readonly street: string
  readonly postalCode: string
  readonly city: string
  readonly country: string
  readonly contactName: string
  readonly email: string
  readonly iban: string
  readonly bic: string
  readonly categories: readonly string[]
  readonly registration: string
  readonly phone: string
  readonly web: string
  readonly tradeName: string
}

export const SUPPLIER_COLUMNS = [
  'name',
  'vat',
  'currency',
  'terms_days',
  'street',
  'postal_code',
  'city',
  'country',
  'contact_name',
  'email',
  'iban',
  'bic',
  'categories',
  'registration',
  'phone',
  'web',
  'trade_name',
] as const

/** One row of a supplier file: what it means, or everything that is wrong with it. Empty `currency` means EUR, empty terms 30 days. */
export function readSupplierRow(
  row: Readonly<Record<string, string>>,
  number: number,
): { supplier?: ImportedSupplier; reasons: Reason[] } {
  const at = (column: string): string => `rows.${number}.${column}`
  const text = (column: string): string => (row[column] ?? '').trim()
  const reasons: Reason[] = []
  const currency = text('currency').toUpperCase() || 'EUR'
  const days = text('terms_days') || '30'
  if (text('name') === '') reasons.push(stop('import.missing', { column: 'name' }, { place: at('name') }))
  if (text('name').length > 300)
    reasons.push(stop('import.tooLong', { column: 'name', limit: 300 }, { place: at('name') }))
  if (!/^[A-Z]{2}$/.test(text('country').toUpperCase()))
    reasons.push(stop('import.country', { value: text('country').slice(0, 20) }, { place: at('country') }))
  if (!currencies.includes(currency))
    reasons.push(stop('money.unknownCurrency', { currency }, { place: at('currency') }))
  if (!/^\d{1,3}$/.test(days))
    reasons.push(stop('import.number', { column: 'terms_days', value: days.slice(0, 20) }, { place: at('terms_days') }))
  if (text('email') !== '' && !/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text('email')))
    reasons.push(stop('import.email', { value: text('email').slice(0, 60) }, { place: at('email') }))
  if (text('vat') !== '') reasons.push(...checkIdentifier('vat', text('vat'), at('vat')))
  if (text('registration') !== '')
    reasons.push(
      ...checkIdentifier('registration', text('registration'), at('registration'), text('country').toUpperCase()),
    )
  if (text('iban') !== '') reasons.push(...checkIban(text('iban'), at('iban')))
  for (const [column, value] of Object.entries(row))
    if (column !== 'phone' && /^\s*[=@]|^\s*[+-](?![\d\s.,]*$)/.test(value))
      reasons.push(stop('import.formula', { column, value: value.trim().slice(0, 30) }, { place: at(column) }))
  if (reasons.length > 0) return { reasons }
  return {
    reasons,
    supplier: {
      name: text('name'),
      vat: text('vat') && normalIdentifier(text('vat')),
      currency,
      termsDays: Number(days),
      street: text('street'),
      postalCode: text('postal_code'),
      city: text('city'),
      country: text('country').toUpperCase(),
      contactName: text('contact_name'),
      email: text('email'),
      iban: text('iban') && normalIdentifier(text('iban')),
      bic: text('bic').toUpperCase(),
      categories: text('categories')
        .split('|')
        .map(category => category.trim())
        .filter(Boolean),
      registration: text('registration') && normalIdentifier(text('registration')),
      phone: text('phone').slice(0, 60),
      web: text('web').slice(0, 200),
      tradeName: text('trade_name').slice(0, 300),
    },
  }
}
