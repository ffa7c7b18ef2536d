import { randomUUID } from 'node:crypto'
import type { Permission } from '#contract/permissions.ts'
import type { SupplierBody } from '#contract/source/record.ts'
import type { SupplierMessage } from '#core/acts/decision.ts'
import type { AccountState } from '#core/pay/facts.ts'
import type { PaymentTerms } from '#core/pay/terms.ts'
import { effective, HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { domainOf } from '#core/source/match.ts'
import type { Answer, RecordField } from '#core/source/questionnaire.ts'
import type { SupplierState } from '#core/source/states.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'

export interface SupplierRow {
  id: string
  number: string
  name: string
  searchName: string
  matchKey: string
  search: string
  domains: string[]
  kind: 'company' | 'person'
  state: SupplierState
  currency: string
  terms: PaymentTerms
  overReceiptPercent: number
  categories: string[]
  size: SupplierBody['size']
  founded: number | null
  web: string
  ourNumber: string
  ownerId: string | null
  defaults: SupplierBody['defaults']
  tax: SupplierBody['tax']
  person: SupplierBody['person']
  pausedUntil: string | null
  stateReason: string | null
  mergedInto: string | null
  lastOrderOn: string | null
  version: number
  createdAt: string
  changedAt: string
}
interface IdentifierRow {
  id: string
  supplierId: string
  scheme: SupplierBody['identifiers'][number]['scheme']
  value: string
  /** The second yes that lets two records have it. */
  consentId: string | null
}
interface LocationRow extends Omit<SupplierBody['locations'][number], 'id'> {
  id: string
  supplierId: string
  position: number
}
interface ContactRow extends Omit<SupplierBody['contacts'][number], 'id'> {
  id: string
  supplierId: string
  position: number
}
export interface BankAccountRow {
  id: string
  supplierId: string
  iban: string
  bic: string
  holder: string
  state: AccountState
  changedBy: string
  changedAt: string
  provenBy: string | null
  provenAt: string | null
  proof: string | null
  consentId: string | null
}
export interface SupplierAddressRow {
  supplierId: string
  message: SupplierMessage
  email: string
  bouncedAt: string | null
  bounce: string | null
}
export interface RevisionRow {
  id: string
  supplierId: string
  key: string
  label: string
  field: RecordField | null
  before: string
  after: string
  answer: Answer | null
  state: 'waiting' | 'accepted' | 'refused' | 'atOnce' | 'replaced'
  byId: string
  at: string
  answeredBy: string | null
  answeredAt: string | null
  reason: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    suppliers: SupplierRow
    supplierIdentifiers: IdentifierRow
    supplierNames: { id: string; supplierId: string; name: string; matchKey: string }
    supplierLocations: LocationRow
    supplierContacts: ContactRow
    supplierBankAccounts: BankAccountRow
    supplierAddresses: SupplierAddressRow
    supplierRevisions: RevisionRow
    supplierRoles: { id: string; supplierId: string; name: string; permissions: Permission[] }
    personInvitations: { tokenHash: string; personId: string; expires: string; usedAt: string | null }
  }
}

export const searchName = (name: string): string => name.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

/** The columns of a record's own row. What other stages read of the defaults stands in columns of its own. */
export const ownColumns = (call: Read, body: SupplierBody): Partial<SupplierRow> => {
  const levels = [
    ['house', { ...HOUSE_DEFAULTS, currency: call.base }],
    ['supplier', body.defaults],
  ] as const
  return {
    name: body.name.trim(),
    searchName: searchName(body.name.trim()),
    matchKey: tellingKey(body.name),
    domains: domainsOf(body),
    kind: body.kind,
    size: body.size,
    founded: body.founded,
    web: body.web.trim(),
    ourNumber: body.ourNumber.trim(),
    ownerId: body.ownerId,
    categories: body.categories,
    defaults: json(body.defaults),
    tax: json(body.tax),
    person: body.person === null ? null : json(body.person),
    currency: effective(levels, 'currency'),
    terms: json({
      days: Number(effective(levels, 'termsDays')),
      from: effective(levels, 'termsFrom') as PaymentTerms['from'],
    }),
    overReceiptPercent: Number(effective(levels, 'overReceiptPercent')),
  }
}

const domainsOf = (body: SupplierBody): string[] => [
  ...new Set(
    [domainOf(body.web), ...body.contacts.slice(0, 200).map(contact => domainOf(contact.email))].filter(Boolean),
  ),
]

/** Writes names, identifiers, locations and contacts; rows that are still there keep their ids. `consentId` lets strong identifiers be shared. */
export async function writeParts(
  call: Write,
  supplierId: string,
  body: SupplierBody,
  consentId: string | null = null,
): Promise<void> {
  const { trx } = call
  const of = { supplierId }
  const known = {
    identifiers: await trx('supplierIdentifiers').where(of).select('scheme', 'value', 'consentId'),
    locations: new Set(await trx('supplierLocations').where(of).pluck<string[]>('id')),
    contacts: new Set(await trx('supplierContacts').where(of).pluck<string[]>('id')),
  }
  for (const table of ['supplierIdentifiers', 'supplierNames', 'supplierLocations', 'supplierContacts'] as const)
    await trx(table).where(of).delete()
  const shared = new Map(known.identifiers.map(row => [`${row.scheme} ${row.value}`, row.consentId]))
  const kept = (ids: ReadonlySet<string>, id: string | undefined): string =>
    id !== undefined && ids.has(id) ? id : randomUUID()
  const identifiers = body.identifiers.map(({ scheme, value }) => {
    const normal = normalIdentifier(value)
    return { supplierId, scheme, value: normal, consentId: consentId ?? shared.get(`${scheme} ${normal}`) ?? null }
  })
  const names = [...new Set(body.tradeNames.map(name => name.trim()))]
    .filter(Boolean)
    .map(name => ({ supplierId, name, matchKey: tellingKey(name) }))
  const locations = body.locations.map(({ id, defaults, ...location }, position) => ({
    id: kept(known.locations, id),
    supplierId,
    position,
    ...location,
    defaults: json(defaults),
  }))
  const contacts = body.contacts.map(({ id, ...contact }, position) => ({
    id: kept(known.contacts, id),
    supplierId,
    position,
    ...contact,
  }))
  await insertMany(trx, 'supplierIdentifiers', identifiers)
  await insertMany(trx, 'supplierNames', names)
  await insertMany(trx, 'supplierLocations', locations)
  await insertMany(trx, 'supplierContacts', contacts)
  await refreshSearch(call, [supplierId])
}

/** Puts everything that a supplier is searched by into one text: names, numbers, places, domains, accounts. */
export async function refreshSearch(call: Write, ids: readonly string[]): Promise<void> {
  await call.trx.raw(
    `update suppliers s set search = left(lower(concat_ws(' ', s.name, s.search_name, s.number, s.our_number,
       (select string_agg(name, ' ') from supplier_names where supplier_id = s.id), (select string_agg(value, ' ') from supplier_identifiers where supplier_id = s.id),
       (select string_agg(concat_ws(' ', city, postal_code), ' ') from (select city, postal_code from supplier_locations where supplier_id = s.id order by position limit 20) l),
       array_to_string(s.domains, ' '), (select string_agg(iban, ' ') from supplier_bank_accounts where supplier_id = s.id and state <> 'closed'))), 4000) where s.id = any(?)`,
    [[...ids]],
  )
}

/** The parts of a supplier as the form has them. */
export async function readParts(call: Read, supplier: SupplierRow, confidential = true): Promise<SupplierBody> {
  const of = { supplierId: supplier.id }
  const identifiers = await call
    .trx('supplierIdentifiers')
    .where(of)
    .orderBy(['scheme', 'value'])
    .select('scheme', 'value')
  const names = await call.trx('supplierNames').where(of).orderBy('name').select('name')
  const locations = await call
    .trx('supplierLocations')
    .where(of)
    .orderBy('position')
    .select('id', 'name', 'street', 'postalCode', 'city', 'country', 'phone', 'roles', 'defaults')
  const contacts = await call
    .trx('supplierContacts')
    .where(of)
    .orderBy('position')
    .select('id', 'name', 'email', 'phone', 'language', 'roles')
  return {
    name: supplier.name,
    tradeNames: names.map(one => one.name),
    kind: supplier.kind,
    size: supplier.size,
    founded: supplier.founded,
    web: supplier.web,
    ourNumber: supplier.ourNumber,
    ownerId: supplier.ownerId,
    categories: supplier.categories,
    identifiers,
    locations,
    contacts,
    defaults: supplier.defaults,
    tax: confidential || supplier.kind === 'company' ? supplier.tax : { ...supplier.tax, number: '' },
    person: confidential ? supplier.person : null,
  }
}

/** Suppliers by name or number as files write them; the keys are `searchName` of either. */
export async function suppliersCalled(
  call: Read,
  names: readonly string[],
): Promise<Map<string, Pick<SupplierRow, 'id' | 'name' | 'overReceiptPercent'>>> {
  const wanted = [...new Set(names.map(searchName))]
  const rows = await call
    .trx('suppliers')
    .whereNull('mergedInto')
    .whereRaw('(search_name = any(:wanted) or lower(number) = any(:wanted))', { wanted })
    .select('id', 'name', 'searchName', 'number', 'overReceiptPercent')
  return new Map(rows.flatMap(row => [row.searchName, row.number.toLowerCase()].map(key => [key, row] as const)))
}
