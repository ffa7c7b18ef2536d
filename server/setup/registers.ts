import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { whyNotOwnWords } from '#contract/messages/ownWords.ts'
import type { ReadRegister, SaveEntry } from '#contract/setup/registers.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import {
  identityOf,
  type KnownCodes,
  pointersTo,
  readEntry,
  REGISTER_KEYS,
  type RegisterKey,
  REGISTERS,
  type Values,
  whyNotDrop,
  whyNotRename,
} from '#core/setup/registers.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import type { EntryRow } from '#server/house/registerStore.ts'
import { EVERYBODY, refreshThread } from '#server/thread/refresh.ts'

/** The entries of a register, in the order of their names. */
export async function readRegister(call: Read, register: RegisterKey): Promise<ResponseOf<typeof ReadRegister>> {
  const rows = await call.trx('setupEntries').where({ register }).orderBy('code')
  const pointed = await pointedAt(call, register)
  return {
    entries: rows.map(({ id, values, open, version }) => ({
      id,
      values: { ...values },
      open,
      version,
      pointed: pointed.get(values.code ?? '') ?? 0,
    })),
  }
}

/** How many entries of other registers, or people who work there, point to each code. */
async function pointedAt(call: Read, register: RegisterKey): Promise<Map<string, number>> {
  const counts = new Map<string, number>()
  for (const [other, field] of pointersTo(register)) {
    const { rows } = await call.trx.raw<{ rows: { code: string; count: number }[] }>(
      'select e.values ->> :field as code, count(*)::int as count from setup_entries e where e.register = :other group by 1',
      { field, other },
    )
    for (const { code, count } of rows) counts.set(code, (counts.get(code) ?? 0) + count)
  }
  if (register === 'sites')
    for (const { site, count } of await call
      .trx('people')
      .whereNotNull('site')
      .groupBy('site')
      .select<{ site: string; count: number }[]>('site', call.trx.raw('count(*)::int as count')))
      counts.set(site, (counts.get(site) ?? 0) + count)
  return counts
}

/** Codes to which entries may point. */
export async function knownCodes(call: Read): Promise<KnownCodes> {
  const rows = await call.trx('setupEntries').where({ open: true }).select('register', 'values')
  return new Map(
    REGISTER_KEYS.map(key => [
      key,
      new Set(rows.flatMap(row => (row.register === key && row.values.code ? [row.values.code] : []))),
    ]),
  )
}

/** Adds an entry, or changes, closes or opens the one that there is. */
export async function saveEntry(
  call: Write,
  register: RegisterKey,
  { id, values: typed, open, version }: BodyOf<typeof SaveEntry>,
): Promise<Done> {
  const before = id === null ? undefined : await hold(call, 'setupEntry', id, version)
  if (before && before.register !== register) throw new RuleBroken(stop('document.notFound', { kind: 'setupEntry' }))
  const { values, reasons } = readEntry(register, typed, await knownCodes(call), before?.values)
  refuse([...reasons, ...(await moreAgainst(call, register, values, id))])
  const code = identityOf(register, values)
  const other = await call.trx('setupEntries').where({ register, code }).first('id')
  if (other && other.id !== id) refuse([stop('register.there', { code }, { place: REGISTERS[register].by.at(-1)! })])
  if (!before) {
    const added = await addEntry(call, register, values)
    await judgedAnew(call, register)
    return added
  }
  const pointed = (await pointedAt(call, register)).get(before.values.code ?? '') ?? 0
  refuse(whyNotRename(before.code, code, pointed))
  const done = await move(
    call,
    'setupEntry',
    before,
    { values: json(values), code, open },
    {
      action: open === before.open ? 'changed' : open ? 'reopened' : 'closed',
      changes: { before: before.values, after: values },
      reason: null,
    },
  )
  await judgedAnew(call, register)
  return done
}

/** What waits is judged by the entries of the register as they are now. */
export async function judgedAnew(call: Write, register: RegisterKey): Promise<void> {
  if (register === 'tolerances') await refreshThread(call, { judgedOf: [EVERYBODY] })
}

/** What stands against an entry beside its fields: another with the same beginning, or words of a mail that do not fit it. */
export async function moreAgainst(
  call: Read,
  register: RegisterKey,
  values: Values,
  id: string | null,
): Promise<Reason[]> {
  const reasons: Reason[] = register === 'mailTexts' ? whyNotOwnWords(values) : []
  if (register === 'tolerances') reasons.push(...(await whyNotFor(call, values)))
  for (const field of REGISTERS[register].distinct ?? []) {
    const alike = await call
      .trx('setupEntries')
      .where({ register, open: true })
      .whereRaw('values ->> ? = ?', [field, values[field] ?? ''])
      .first('id')
    if (alike && alike.id !== id) reasons.push(stop('register.there', { code: values[field] ?? '' }, { place: field }))
  }
  return reasons
}

/** Whom a tolerance is for has to be there. */
async function whyNotFor(call: Read, { supplier = '', category = '' }: Values): Promise<Reason[]> {
  const missing = (place: string, value: string): Reason => stop('register.noSuch', { column: place, value }, { place })
  return [
    ...(supplier !== '' && !(await call.trx('suppliers').where({ number: supplier }).first('id')) ? [missing('supplier', supplier)] : []), // prettier-ignore
    ...(category !== '' && !(await call.trx('supplyCategories').where({ name: category }).first('name')) ? [missing('category', category)] : []), // prettier-ignore
  ]
}

export async function addEntry(call: Write, register: RegisterKey, values: Values): Promise<Done> {
  const id = randomUUID()
  const code = identityOf(register, values)
  await call.trx('setupEntries').insert({ id, register, code, values: json(values), changedAt: call.now })
  await record(call, { kind: 'setupEntry', id, action: 'created', changes: { after: values } })
  return { id, version: 1 }
}

/** Takes out an entry to which nothing points; its history stays. */
export async function dropEntry(
  call: Write,
  register: RegisterKey,
  id: string,
  version: number,
): Promise<Record<string, never>> {
  const row: EntryRow = found(await hold(call, 'setupEntry', id, version), 'setupEntry')
  if (row.register !== register) throw new RuleBroken(stop('document.notFound', { kind: 'setupEntry' }))
  refuse(whyNotDrop(register, row.values, (await pointedAt(call, register)).get(row.values.code ?? '') ?? 0))
  await record(call, { kind: 'setupEntry', id, action: 'dropped', changes: { before: row.values } })
  await call.trx('setupEntries').where({ id }).delete()
  await judgedAnew(call, register)
  return {}
}
