import { randomUUID } from 'node:crypto'
import type { SupplierBody } from '#contract/source/record.ts'
import { checkIban, checkIdentifier, normalIdentifier } from '#core/source/identifiers.ts'
import { STRONG_SCHEMES } from '#core/source/schemes.ts'
import { type SupplierAction, type SupplierState, SUPPLIER_STATES } from '#core/source/states.ts'
import { type Reason, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { askAgreement } from '#server/source/agreements.ts'
import { replaceAccount } from '#server/source/bankAccounts.ts'
import { lockSupplier, nextNumber, ownColumns, readParts, type SupplierRow, touch, writeParts } from '#server/source/supplierStore.ts'

type NewBody = SupplierBody & { iban?: string | undefined }
interface Making {
  /** The state that the record starts in. */
  readonly state?: SupplierState
  /** The agreement that lets it share strong identifiers. */
  readonly agreementId?: string
  readonly action?: string
}

/** Makes a record. A strong identifier that another record has stops it, unless a second person agreed. */
export async function createSupplier(call: Call, { iban = '', ...body }: NewBody, making: Making = {}): Promise<Done & { number: string }> {
  refuseStops([
    ...checkBody(body, making.state ?? 'active'),
    ...(iban.trim() === '' ? [] : checkIban(iban, 'iban')),
    ...(making.agreementId ? [] : [...(await sharedIdentifiers(call, body, null)), ...(await sharedAccount(call, iban))]),
  ])
  const id = randomUUID()
  const number = await nextNumber(call, 'supplier_numbers', 'S')
  await call.trx('suppliers').insert({ id, number, ...ownColumns(call, body), state: making.state ?? 'active', createdAt: call.now, changedAt: call.now })
  await writeParts(call, id, body, making.agreementId ?? null)
  await record(call, { kind: 'supplier', id, action: making.action ?? 'created', changes: { after: withoutConfidential(body) } })
  if (iban.trim() !== '') await replaceAccount(call, { id, name: body.name, version: 0 }, { iban, bic: '', holder: body.name })
  return { id, version: 1, number }
}

export async function changeSupplier(call: Call, id: string, body: SupplierBody, version: number, action = 'changed'): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, version)
  if (supplier.mergedInto) throw new RuleBroken(stop('merge.already', { name: supplier.name }))
  refuseStops([...checkBody(body, supplier.state), ...(await sharedIdentifiers(call, body, id))])
  const before = await readParts(call, supplier)
  const done = await touch(call, supplier, ownColumns(call, body))
  await writeParts(call, id, body)
  await record(call, { kind: 'supplier', id, action, changes: { before: withoutConfidential(before), after: withoutConfidential(body) } })
  return done
}

/** Pauses, resumes, closes or reopens; barring only asks, because it takes two people. */
export async function actOnSupplier(call: Call, id: string, action: SupplierAction, version: number, reason: string, until: string | null = null): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, version)
  if (supplier.mergedInto) throw new RuleBroken(stop('merge.already', { name: supplier.name }))
  if (until !== null && until <= call.today) throw new RuleBroken(stop('source.untilPast', { today: call.today }, { place: 'until' }))
  if (action === 'bar') {
    const next = transition(SUPPLIER_STATES, 'supplier', supplier.state, 'bar')
    if (!next.ok) throw new RuleBroken(next.reasons)
    await askAgreement(call, { kind: 'bar', supplierId: id, subject: {}, reason })
    await record(call, { kind: 'supplier', id, action: 'barAsked', reason })
    return touch(call, supplier)
  }
  return moveSupplier(call, supplier, action, reason, until)
}

/** Moves a supplier that is held already to its next state. */
export async function moveSupplier(call: Call, supplier: SupplierRow, action: SupplierAction, reason: string | null, until: string | null = null): Promise<Done> {
  const next = transition(SUPPLIER_STATES, 'supplier', supplier.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  const done = await touch(call, supplier, { state: next.state, stateReason: next.state === 'active' ? null : reason, pausedUntil: next.state === 'paused' ? until : null })
  await record(call, { kind: 'supplier', id: supplier.id, action, changes: { before: supplier.state, after: next.state, ...(until ? { until } : {}) }, reason })
  return done
}

/** Suppliers whose pause has come to its day take orders again. */
export async function resumePaused(call: Call): Promise<number> {
  const rows = (await call.trx('suppliers').where({ state: 'paused' }).andWhere('pausedUntil', '<=', call.today).orderBy('id').forNoKeyUpdate()) as SupplierRow[]
  for (const supplier of rows) await moveSupplier(call, supplier, 'resume', 'The day came until which orders were paused.')
  return rows.length
}

/** What a person who is paid a fee is asked beyond a company, and other faults of a record. */
export function checkBody(body: SupplierBody, state: SupplierState): Reason[] {
  const country = body.locations[0]?.country ?? ''
  const complete = state === 'active' || state === 'paused'
  return [
    ...(body.name.trim() === '' ? [stop('source.noName', {}, { place: 'name' })] : []),
    ...body.identifiers.flatMap((one, index) => checkIdentifier(one.scheme, one.value, `identifiers.${index}.value`, country)),
    ...(body.kind === 'person' && complete && body.person === null ? [stop('source.personData', {}, { place: 'person' })] : []),
    ...(body.kind === 'person' && complete && body.person !== null && body.person.birthDate === '' ? [stop('source.birthDate', {}, { place: 'person.birthDate' })] : []),
    ...(body.kind === 'person' && complete && body.tax.number.trim() === '' ? [stop('source.taxNumber', {}, { place: 'tax.number' })] : []),
    ...body.locations.flatMap((one, index) =>
      one.defaults.incoterm && !one.defaults.incotermPlace?.trim() ? [stop('source.incotermPlace', {}, { place: `locations.${index}.defaults.incotermPlace` })] : [],
    ),
    ...(body.defaults.incoterm && !body.defaults.incotermPlace?.trim() ? [stop('source.incotermPlace', {}, { place: 'defaults.incotermPlace' })] : []),
  ]
}

/** Strong identifiers of the body that another record has. Registration numbers count within their country. */
export async function sharedIdentifiers(call: Call, body: Pick<SupplierBody, 'identifiers'>, exceptId: string | null): Promise<Reason[]> {
  const strong = body.identifiers.map((one, index) => ({ ...one, value: normalIdentifier(one.value), index })).filter(one => STRONG_SCHEMES.has(one.scheme) && one.value !== '')
  if (strong.length === 0) return []
  const rows = (await call
    .trx('supplierIdentifiers as identifier')
    .join('suppliers', 'suppliers.id', 'identifier.supplierId')
    .whereIn(
      'identifier.value',
      strong.map(one => one.value),
    )
    .whereNull('suppliers.mergedInto')
    .modify(query => {
      if (exceptId) void query.whereNot('suppliers.id', exceptId).whereNull('identifier.agreementId')
    })
    .select('identifier.scheme', 'identifier.value', 'suppliers.id', 'suppliers.name', 'suppliers.number')) as {
    scheme: string
    value: string
    id: string
    name: string
    number: string
  }[]
  const agreed = exceptId
    ? ((await call.trx('supplierIdentifiers').where({ supplierId: exceptId }).whereNotNull('agreementId').select('scheme', 'value')) as { scheme: string; value: string }[])
    : []
  return strong.flatMap(one => {
    const other = rows.find(row => row.scheme === one.scheme && row.value === one.value)
    if (!other || agreed.some(known => known.scheme === one.scheme && known.value === one.value)) return []
    return [
      stop(
        'source.shared',
        { scheme: one.scheme, value: one.value, name: other.name, number: other.number },
        { place: `identifiers.${one.index}.value`, clearedBy: ['buyer', 'sourcingLead', 'financeController'] },
      ),
    ]
  })
}

/** Another supplier that is paid to this account. */
export async function sharedAccount(call: Call, iban: string): Promise<Reason[]> {
  if (iban.trim() === '') return []
  const other = (await call
    .trx('supplierBankAccounts as account')
    .join('suppliers', 'suppliers.id', 'account.supplierId')
    .where('account.iban', normalIdentifier(iban))
    .whereNot('account.state', 'closed')
    .first('suppliers.name', 'suppliers.number')) as { name: string; number: string } | undefined
  return other
    ? [
        stop(
          'source.shared',
          { scheme: 'iban', value: normalIdentifier(iban), name: other.name, number: other.number },
          { place: 'iban', clearedBy: ['buyer', 'sourcingLead', 'financeController'] },
        ),
      ]
    : []
}

/** The history is read by more people than the record of a person: what is confidential is left out of it. */
export const withoutConfidential = (body: SupplierBody): unknown => ({
  ...body,
  contacts: body.contacts.slice(0, 200),
  person: body.person === null ? null : 'kept apart',
  tax: { ...body.tax, number: body.tax.number === '' ? '' : 'kept apart' },
})
