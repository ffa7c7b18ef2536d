import { normalIdentifier } from '#core/source/identifiers.ts'
import type { RecordField } from '#core/source/questionnaire.ts'
import type { IdentifierScheme } from '#core/source/schemes.ts'

/** The parts of a record that answers and revisions read and fill. */
export interface FieldsOf {
  name: string
  tradeNames: string[]
  size: string
  founded: number | null
  web: string
  defaults: { currency?: string | undefined }
  tax: { residence: string; number: string }
  person: { birthDate: string } | null
  identifiers: { scheme: IdentifierScheme; value: string }[]
  locations: { name: string; street: string; postalCode: string; city: string; country: string }[]
  contacts: { name: string; email: string; phone: string }[]
}

const IDENTIFIERS: Readonly<Partial<Record<RecordField, IdentifierScheme>>> = {
  vat: 'vat',
  registration: 'registration',
  lei: 'lei',
  gln: 'gln',
}
const PLACE: Readonly<Partial<Record<RecordField, 'street' | 'postalCode' | 'city' | 'country'>>> = {
  street: 'street',
  postalCode: 'postalCode',
  city: 'city',
  country: 'country',
}
const CONTACT: Readonly<Partial<Record<RecordField, 'name' | 'email' | 'phone'>>> = {
  contactName: 'name',
  contactMail: 'email',
  contactPhone: 'phone',
}

/** Fields of the bank account: they never go into the record directly, because a changed account must be proved. */
export const ACCOUNT_FIELDS: ReadonlySet<RecordField> = new Set<RecordField>(['iban', 'bic', 'holder'])

/** What the record says in a field: the first location and the first contact speak for the supplier. */
export function readField(record: FieldsOf, field: RecordField): string {
  const scheme = IDENTIFIERS[field]
  if (scheme) return record.identifiers.find(one => one.scheme === scheme)?.value ?? ''
  const place = PLACE[field]
  if (place) return record.locations[0]?.[place] ?? ''
  const contact = CONTACT[field]
  if (contact) return record.contacts[0]?.[contact] ?? ''
  if (field === 'tradeName') return record.tradeNames[0] ?? ''
  if (field === 'founded') return record.founded === null ? '' : String(record.founded)
  if (field === 'taxResidence') return record.tax.residence
  if (field === 'taxNumber') return record.tax.number
  if (field === 'birthDate') return record.person?.birthDate ?? ''
  if (field === 'currency') return record.defaults.currency ?? ''
  if (field === 'name' || field === 'size' || field === 'web') return record[field]
  return ''
}

/** The record with one field filled; account fields leave it as it is. The given record is not changed. */
export function fillField<R extends FieldsOf>(record: R, field: RecordField, value: string): R {
  const text = value.trim()
  const scheme = IDENTIFIERS[field]
  if (scheme) {
    const others = record.identifiers.filter(one => one.scheme !== scheme)
    return { ...record, identifiers: text === '' ? others : [...others, { scheme, value: normalIdentifier(text) }] }
  }
  const place = PLACE[field]
  if (place) {
    const first = record.locations[0] ?? {
      name: 'Head office',
      street: '',
      postalCode: '',
      city: '',
      country: '',
      roles: ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'],
      defaults: {},
    }
    return { ...record, locations: [{ ...first, [place]: text }, ...record.locations.slice(1)] }
  }
  const contact = CONTACT[field]
  if (contact) {
    const first = record.contacts[0] ?? {
      name: '',
      email: '',
      phone: '',
      language: 'en',
      roles: ['orders', 'invoices', 'payments'],
    }
    return { ...record, contacts: [{ ...first, [contact]: text }, ...record.contacts.slice(1)] }
  }
  if (field === 'tradeName')
    return { ...record, tradeNames: text === '' ? record.tradeNames.slice(1) : [text, ...record.tradeNames.slice(1)] }
  if (field === 'founded') return { ...record, founded: text === '' ? null : Number(text) }
  if (field === 'taxResidence') return { ...record, tax: { ...record.tax, residence: text } }
  if (field === 'taxNumber') return { ...record, tax: { ...record.tax, number: text } }
  if (field === 'birthDate')
    return record.person ? { ...record, person: { ...record.person, birthDate: text } } : record
  if (field === 'currency') return { ...record, defaults: { ...record.defaults, currency: text || undefined } }
  if (field === 'name' || field === 'size' || field === 'web') return { ...record, [field]: text }
  return record
}
