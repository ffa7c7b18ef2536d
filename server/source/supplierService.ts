import { randomUUID } from 'node:crypto'
import type { SupplierBody } from '#contract/source/endpoints.ts'
import { checkIban, checkIdentifier, normalIdentifier } from '#core/source/identifiers.ts'
import { type SupplierAction, type SupplierState, SUPPLIER_STATES } from '#core/source/states.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'

export interface SupplierRow {
  id: string
  number: string
  name: string
  kind: 'company' | 'person'
  state: SupplierState
  currency: string
  terms: SupplierBody['terms']
  overReceiptPercent: number
  categories: string[]
  version: number
  createdAt: string
  changedAt: string
}
type Done = { id: string; version: number }

export const searchName = (name: string): string => name.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

export async function lockSupplier(call: Call, id: string): Promise<SupplierRow> {
  return found((await call.trx('suppliers').where({ id }).forNoKeyUpdate().first()) as SupplierRow | undefined, 'supplier')
}

export async function createSupplier(call: Call, body: SupplierBody): Promise<Done> {
  refuseStops(checkBody(body))
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'S-' || nextval('supplier_numbers') as number`)) as { rows: [{ number: string }] }
  await call.trx('suppliers').insert({ id, number: rows[0].number, ...ownColumns(body), state: 'active', createdAt: call.now, changedAt: call.now })
  await writeParts(call, id, body)
  await record(call, { kind: 'supplier', id, action: 'created', changes: { after: body } })
  return { id, version: 1 }
}

export async function changeSupplier(call: Call, id: string, body: SupplierBody, version: number): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, version)
  refuseStops(checkBody(body))
  const before = await readParts(call, supplier)
  await call
    .trx('suppliers')
    .where({ id })
    .update({ ...ownColumns(body), version: version + 1, changedAt: call.now })
  for (const table of ['supplierIdentifiers', 'supplierLocations', 'supplierContacts']) await call.trx(table).where({ supplierId: id }).delete()
  await writeParts(call, id, body)
  await record(call, { kind: 'supplier', id, action: 'changed', changes: { before, after: body } })
  return { id, version: version + 1 }
}

export async function actOnSupplier(call: Call, id: string, action: SupplierAction, version: number, reason: string): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, version)
  const next = transition(SUPPLIER_STATES, 'supplier', supplier.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  await call
    .trx('suppliers')
    .where({ id })
    .update({ state: next.state, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'supplier', id, action, changes: { before: supplier.state, after: next.state }, reason })
  return { id, version: version + 1 }
}

/** A new or changed account is unproven until a second person has checked it; the supplier's known contacts are told. */
export async function setBankAccount(call: Call, id: string, account: { iban: string; bic: string; holder: string; version: number }): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, account.version)
  refuseStops(checkIban(account.iban, 'iban'))
  await call.trx('supplierBankAccounts').where({ supplierId: id }).whereNot({ state: 'closed' }).update({ state: 'closed' })
  await insertAccount(call, id, account)
  await call
    .trx('suppliers')
    .where({ id })
    .update({ version: account.version + 1, changedAt: call.now })
  await record(call, { kind: 'supplier', id, action: 'bankAccountChanged', changes: { iban: normalIdentifier(account.iban), holder: account.holder } })
  const contacts = (await call.trx('supplierContacts').where({ supplierId: id }).whereNot({ email: '' }).limit(5)) as { email: string; name: string }[]
  for (const contact of contacts)
    await mail(
      call,
      `account-told:${id}:${account.version + 1}:${contact.email}`,
      { kind: 'supplier', id },
      {
        to: contact.email,
        subject: 'Your bank account at Saltmere Aquarium Trust was changed',
        text: `Dear ${contact.name},\n\nthe account that we pay ${supplier.name} to was changed to one ending in ${normalIdentifier(account.iban).slice(-4)}. We shall pay to it only after a second person has checked it with you.\n\nIf you did not ask for this, please call us on the number that you know.\n`,
      },
    )
  return { id, version: account.version + 1 }
}

export async function proveBankAccount(call: Call, id: string, accountId: string, version: number, proof: string): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, version)
  const account = found(
    (await call.trx('supplierBankAccounts').where({ id: accountId, supplierId: id }).first()) as { state: string; changedBy: string } | undefined,
    'bankAccount',
  )
  if (account.state !== 'unproven') throw new RuleBroken(stop('source.accountNotUnproven'))
  if (account.changedBy === call.actor.id) throw new RuleBroken(stop('source.ownProof', {}, { clearedBy: ['treasurer', 'financeController'] }))
  await call.trx('supplierBankAccounts').where({ id: accountId }).update({ state: 'proven', provenBy: call.actor.id, provenAt: call.now, proof })
  await call
    .trx('suppliers')
    .where({ id })
    .update({ version: version + 1, changedAt: call.now })
  await record(call, { kind: 'supplier', id, action: 'bankAccountProven', reason: proof })
  return { id, version: version + 1 }
}

export const insertAccount = async (call: Call, supplierId: string, account: { iban: string; bic: string; holder: string }): Promise<void> => {
  await call.trx('supplierBankAccounts').insert({
    id: randomUUID(),
    supplierId,
    iban: normalIdentifier(account.iban),
    bic: account.bic,
    holder: account.holder,
    state: 'unproven',
    changedBy: call.actor.id,
    changedAt: call.now,
  })
}

const ownColumns = (body: SupplierBody): Record<string, unknown> => ({
  name: body.name.trim(),
  searchName: searchName(body.name),
  kind: body.kind,
  currency: body.currency,
  terms: JSON.stringify(body.terms),
  overReceiptPercent: body.overReceiptPercent,
  categories: body.categories,
})

const checkBody = (body: SupplierBody) => [
  ...(body.name.trim() === '' ? [stop('source.noName', {}, { place: 'name' })] : []),
  ...body.identifiers.flatMap((identifier, index) => checkIdentifier(identifier.scheme, identifier.value, `identifiers.${index}.value`)),
]

async function writeParts(call: Call, supplierId: string, body: SupplierBody): Promise<void> {
  const rows = {
    supplierIdentifiers: body.identifiers.map(identifier => ({ supplierId, scheme: identifier.scheme, value: normalIdentifier(identifier.value) })),
    supplierLocations: body.locations.map(({ id: _id, ...location }, position) => ({ supplierId, position, ...location })),
    supplierContacts: body.contacts.map(({ id: _id, ...contact }, position) => ({ supplierId, position, ...contact })),
  }
  for (const [table, parts] of Object.entries(rows)) if (parts.length > 0) await call.trx.batchInsert(table, parts as Record<string, unknown>[], 1000)
}

/** The parts of a supplier as the form has them. */
export async function readParts(call: Call, supplier: SupplierRow): Promise<SupplierBody> {
  const of = { supplierId: supplier.id }
  const identifiers = (await call.trx('supplierIdentifiers').where(of).orderBy(['scheme', 'value']).select('scheme', 'value')) as SupplierBody['identifiers']
  const locations = (await call
    .trx('supplierLocations')
    .where(of)
    .orderBy('position')
    .select('id', 'name', 'street', 'postalCode', 'city', 'country', 'roles')) as SupplierBody['locations']
  const contacts = (await call.trx('supplierContacts').where(of).orderBy('position').select('id', 'name', 'email', 'phone', 'roles')) as SupplierBody['contacts']
  return {
    name: supplier.name,
    kind: supplier.kind,
    currency: supplier.currency as SupplierBody['currency'],
    terms: supplier.terms,
    overReceiptPercent: supplier.overReceiptPercent,
    categories: supplier.categories,
    identifiers,
    locations,
    contacts,
  }
}
