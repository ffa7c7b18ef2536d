import { randomUUID } from 'node:crypto'
import type { SupplierBody } from '#contract/source/record.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkRecord } from '#core/source/checkRecord.ts'
import { checkIban } from '#core/source/identifiers.ts'
import { whyNotChange } from '#core/source/merging.ts'
import { barQuestion } from '#core/source/questions.ts'
import { type SupplierAction, type SupplierState, SUPPLIER_STATES } from '#core/source/states.ts'
import { notNow, transition } from '#core/states.ts'
import { refreshThread } from '#server/thread/refresh.ts'
import type { Done, Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { refuse } from '#server/documents/obey.ts'
import { replaceAccount } from '#server/source/bankAccountActs.ts'
import { askSecondYes } from '#server/source/secondYesStore.ts'
import { sharedAccount, sharedIdentifiers } from '#server/source/sharedStore.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'
import { ownColumns, readParts, type SupplierRow, writeParts } from '#server/source/supplierStore.ts'

export type NewSupplierBody = SupplierBody & { iban?: string | undefined }
interface Making {
  /** The state that the record starts in. */
  readonly state?: SupplierState
  /** The second yes that lets it share strong identifiers. */
  readonly consentId?: string
  readonly action?: string
}

/** Makes a record. A strong identifier that another record has stops it, unless a second person said yes. */
export async function createSupplier(
  call: Write,
  { iban = '', ...body }: NewSupplierBody,
  making: Making = {},
): Promise<Done & { number: string }> {
  refuseStops([
    ...checkRecord(body, making.state ?? 'active'),
    ...(iban.trim() === '' ? [] : checkIban(iban, 'iban')),
    ...(making.consentId ? [] : [...(await sharedIdentifiers(call, body, null)), ...(await sharedAccount(call, iban))]),
  ])
  const id = randomUUID()
  const number = await nextNumber(call, 'supplier')
  await call.trx('suppliers').insert({
    id,
    number,
    ...ownColumns(call, body),
    state: making.state ?? 'active',
    createdAt: call.now,
    changedAt: call.now,
  })
  await writeParts(call, id, body, making.consentId ?? null)
  await record(call, {
    kind: 'supplier',
    id,
    action: making.action ?? 'created',
    changes: { after: withoutConfidential(body) },
  })
  if (iban.trim() !== '')
    await replaceAccount(call, { id, name: body.name, number }, { iban, bic: '', holder: body.name })
  await refreshSuppliers(call, [id])
  return { id, version: 1, number }
}

export async function changeSupplier(
  call: Write,
  id: string,
  body: SupplierBody,
  version: number,
  action = 'changed',
): Promise<Done> {
  const supplier = await hold(call, 'supplier', id, version)
  refuse(whyNotChange(supplier))
  refuseStops([...checkRecord(body, supplier.state), ...(await sharedIdentifiers(call, body, id))])
  const before = await readParts(call, supplier)
  const changes = { before: withoutConfidential(before), after: withoutConfidential(body) }
  const done = await move(call, 'supplier', supplier, ownColumns(call, body), { action, changes, reason: null })
  await writeParts(call, id, body)
  await refreshSuppliers(call, [id])
  await refreshThread(call, { judgedOf: [id] })
  return done
}

/** Pauses, resumes, closes or reopens; barring only asks, because it takes two people. */
export async function actOnSupplier(
  call: Write,
  id: string,
  action: SupplierAction,
  version: number,
  reason: string,
  until: string | null = null,
): Promise<Done> {
  const supplier = await hold(call, 'supplier', id, version)
  refuse(whyNotChange(supplier))
  if (until !== null && until <= call.today)
    throw new RuleBroken(stop('source.untilPast', { today: call.today }, { place: 'until' }))
  if (action !== 'bar') return await moveSupplier(call, supplier, action, reason, until)
  refuse(notNow(SUPPLIER_STATES, 'supplier', supplier.state, 'bar'))
  await askSecondYes(call, barQuestion(id, call.actor.id, reason), supplier.name, supplier.number)
  return await move(call, 'supplier', supplier, {}, { action: 'barAsked', changes: {}, reason })
}

/** Moves a supplier that is held already to its next state. */
export async function moveSupplier(
  call: Write,
  supplier: SupplierRow,
  action: SupplierAction,
  reason: string | null,
  until: string | null = null,
): Promise<Done> {
  const next = transition(SUPPLIER_STATES, 'supplier', supplier.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  const done = await move(
    call,
    'supplier',
    supplier,
    {
      state: next.state,
      stateReason: next.state === 'active' ? null : reason,
      pausedUntil: next.state === 'paused' ? until : null,
    },
    { action, changes: { before: supplier.state, after: next.state, ...(until ? { until } : {}) }, reason },
  )
  await refreshSuppliers(call, [supplier.id])
  return done
}

/** Suppliers whose pause has come to its day take orders again. */
export async function resumePaused(call: Write): Promise<number> {
  const rows = await call
    .trx('suppliers')
    .where({ state: 'paused' })
    .andWhere('pausedUntil', '<=', call.today)
    .orderBy('id')
    .select('id')
  for (const { id } of rows)
    await moveSupplier(call, await hold(call, 'supplier', id), 'resume', 'The day came until which orders were paused.')
  return rows.length
}

/** The history is read by more people than the record of a person: what is confidential is left out of it. */
const withoutConfidential = (body: SupplierBody): unknown => ({
  ...body,
  contacts: body.contacts.slice(0, 200),
  person: body.person === null ? null : 'kept apart',
  tax: { ...body.tax, number: body.tax.number === '' ? '' : 'kept apart' },
})
