import { randomUUID } from 'node:crypto'
import type { SupplierBody } from '#contract/source/record.ts'
import { effective, HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { domainOf } from '#core/source/match.ts'
import type { SupplierState } from '#core/source/states.ts'
import { type Call, type Done, found } from '#server/call.ts'

export interface SupplierRow {
  id: string
  number: string
  name: string
  kind: 'company' | 'person'
  state: SupplierState
  currency: string
  terms: { days: number; from: 'invoice' | 'receipt' | 'endOfMonth' }
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
export const searchName = (name: string): string => name.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

export async function lockSupplier(call: Call, id: string): Promise<SupplierRow> {
  return found((await call.trx('suppliers').where({ id }).forNoKeyUpdate().first()) as SupplierRow | undefined, 'supplier')
}

/** Gives the record its next version; the caller holds its row. */
export async function touch(call: Call, supplier: SupplierRow, columns: Record<string, unknown> = {}): Promise<Done> {
  const version = supplier.version + 1
  await call
    .trx('suppliers')
    .where({ id: supplier.id })
    .update({ ...columns, version, changedAt: call.now })
  return { id: supplier.id, version }
}

/** The columns of a record's own row. What other stages read of the defaults stands in columns of its own. */
export const ownColumns = (call: Call, body: SupplierBody): Record<string, unknown> => {
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
    defaults: JSON.stringify(body.defaults),
    tax: JSON.stringify(body.tax),
    person: body.person === null ? null : JSON.stringify(body.person),
    currency: effective(levels, 'currency'),
    terms: JSON.stringify({ days: Number(effective(levels, 'termsDays')), from: effective(levels, 'termsFrom') }),
    overReceiptPercent: Number(effective(levels, 'overReceiptPercent')),
  }
}

const domainsOf = (body: SupplierBody): string[] => [...new Set([domainOf(body.web), ...body.contacts.slice(0, 200).map(contact => domainOf(contact.email))].filter(Boolean))]

/** Writes names, identifiers, locations and contacts; rows that are still there keep their ids. `agreementId` lets strong identifiers be shared. */
export async function writeParts(call: Call, supplierId: string, body: SupplierBody, agreementId: string | null = null): Promise<void> {
  const of = { supplierId }
  const shared = new Map(
    ((await call.trx('supplierIdentifiers').where(of).select('scheme', 'value', 'agreementId')) as { scheme: string; value: string; agreementId: string | null }[]).map(row => [
      `${row.scheme} ${row.value}`,
      row.agreementId,
    ]),
  )
  const old = async (table: string): Promise<Set<string>> => new Set(((await call.trx(table).where(of).select('id')) as { id: string }[]).map(row => row.id))
  const [locations, contacts] = [await old('supplierLocations'), await old('supplierContacts')]
  for (const table of ['supplierIdentifiers', 'supplierNames', 'supplierLocations', 'supplierContacts']) await call.trx(table).where(of).delete()
  const kept = (known: Set<string>, id: string | undefined): string => (id !== undefined && known.has(id) ? id : randomUUID())
  const rows = {
    supplierIdentifiers: body.identifiers.map(one => {
      const value = normalIdentifier(one.value)
      return { supplierId, scheme: one.scheme, value, agreementId: agreementId ?? shared.get(`${one.scheme} ${value}`) ?? null }
    }),
    supplierNames: [...new Set(body.tradeNames.map(name => name.trim()))].filter(Boolean).map(name => ({ supplierId, name, matchKey: tellingKey(name) })),
    supplierLocations: body.locations.map(({ id, defaults, ...location }, position) => ({
      id: kept(locations, id),
      supplierId,
      position,
      ...location,
      defaults: JSON.stringify(defaults),
    })),
    supplierContacts: body.contacts.map(({ id, ...contact }, position) => ({ id: kept(contacts, id), supplierId, position, ...contact })),
  }
  for (const [table, parts] of Object.entries(rows)) if (parts.length > 0) await call.trx.batchInsert(table, parts as Record<string, unknown>[], 1000)
  await refreshSearch(call, [supplierId])
}

/** Puts everything that a supplier is searched by into one text: names, numbers, places, domains, accounts. */
export async function refreshSearch(call: Call, ids: readonly string[]): Promise<void> {
  await call.trx.raw(
    `update suppliers s set search = left(lower(concat_ws(' ', s.name, s.search_name, s.number, s.our_number,
       (select string_agg(name, ' ') from supplier_names where supplier_id = s.id), (select string_agg(value, ' ') from supplier_identifiers where supplier_id = s.id),
       (select string_agg(concat_ws(' ', city, postal_code), ' ') from (select city, postal_code from supplier_locations where supplier_id = s.id order by position limit 20) l),
       array_to_string(s.domains, ' '), (select string_agg(iban, ' ') from supplier_bank_accounts where supplier_id = s.id and state <> 'closed'))), 4000) where s.id = any(?)`,
    [[...ids]],
  )
}

/** The parts of a supplier as the form has them. */
export async function readParts(call: Call, supplier: SupplierRow, confidential = true): Promise<SupplierBody> {
  const of = { supplierId: supplier.id }
  const identifiers = (await call.trx('supplierIdentifiers').where(of).orderBy(['scheme', 'value']).select('scheme', 'value')) as SupplierBody['identifiers']
  const names = (await call.trx('supplierNames').where(of).orderBy('name').select('name')) as { name: string }[]
  const locations = (await call
    .trx('supplierLocations')
    .where(of)
    .orderBy('position')
    .select('id', 'name', 'street', 'postalCode', 'city', 'country', 'phone', 'roles', 'defaults')) as SupplierBody['locations']
  const contacts = (await call.trx('supplierContacts').where(of).orderBy('position').select('id', 'name', 'email', 'phone', 'language', 'roles')) as SupplierBody['contacts']
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

export async function nextNumber(call: Call, sequence: 'supplier_numbers' | 'onboarding_numbers', letter: string): Promise<string> {
  const { rows } = (await call.trx.raw(`select '${letter}-' || nextval('${sequence}') as number`)) as { rows: [{ number: string }] }
  return rows[0].number
}
