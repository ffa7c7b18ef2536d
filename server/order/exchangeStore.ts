import type { ExchangeFile, ForeignName, MappedKind } from '#core/order/orderExchange.ts'
import { mappingKey } from '#core/order/orderExchange.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { found, type Read } from '#server/call.ts'
import { searchName, suppliersCalled } from '#server/source/supplierStore.ts'

export interface ExchangeRow {
  id: string
  direction: 'in' | 'out'
  sender: string
  content: ExchangeFile
  /** The orders that were made, by their numbers there. */
  made: Record<string, { id: string; number: string }>
  byId: string
  at: string
  version: number
  changedAt: string
}
interface MappingRow {
  sender: string
  kind: MappedKind
  theirs: string
  ours: string
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    orderExchanges: ExchangeRow
    orderMappings: MappingRow
  }
}

/** What a name of another installation means here: chosen, or guessed because it is the same here. */
export interface MappedName extends ForeignName {
  readonly ours: string
  readonly oursLabel: string
  readonly kept: boolean
}

export const ownExchange = async (call: Read, id: string, direction: 'in' | 'out'): Promise<ExchangeRow> =>
  found(await call.trx('orderExchanges').where({ id, direction, byId: call.actor.id }).first(), 'longJob')

/** Names with what they mean here: what somebody chose for this sender, else what is called the same or bears the same number. */
export async function mappedNames(call: Read, sender: string, names: readonly ForeignName[]): Promise<MappedName[]> {
  const rows = await call.trx('orderMappings').where({ sender }).select('kind', 'theirs', 'ours')
  const kept = new Map(rows.map(row => [mappingKey(row.kind, row.theirs), row.ours]))
  const guessed = await guesses(call, names)
  const chosen = names.map(name => {
    const key = mappingKey(name.kind, name.theirs)
    return { ...name, ours: kept.get(key) ?? guessed.get(key) ?? '', kept: kept.has(key) }
  })
  const labels = await labelsOf(call, chosen)
  return chosen.map(name => ({ ...name, oursLabel: labels.get(`${name.kind} ${name.ours}`) ?? name.ours }))
}

async function guesses(call: Read, names: readonly ForeignName[]): Promise<Map<string, string>> {
  const of = (kind: MappedKind) => names.filter(name => name.kind === kind)
  const suppliers = await suppliersByName(call, of('supplier'))
  const items = await itemsByNumber(call, of('item'))
  const places = await call.trx('addresses').where({ open: true }).select('name')
  const known = new Set(places.map(place => place.name.toLowerCase()))
  const accounts = await accountCodes(call)
  return new Map([
    ...suppliers,
    ...items,
    ...of('account').flatMap(name => {
      const ours = accounts.get(name.theirs.toUpperCase().split(/[\s/|]+/).filter(Boolean).join('|')) // prettier-ignore
      return ours ? [[mappingKey('account', name.theirs), ours] as const] : []
    }),
    ...of('place').flatMap(name => {
      const [place = ''] = name.theirs.split(',')
      return known.has(place.trim().toLowerCase()) ? [[mappingKey('place', name.theirs), place.trim()] as const] : []
    }),
  ])
}

async function suppliersByName(call: Read, names: readonly ForeignName[]): Promise<[string, string][]> {
  const called = await suppliersCalled(call, names.map(name => name.theirs)) // prettier-ignore
  const vats = names.map(name => normalIdentifier(name.code)).filter(Boolean)
  const numbers = await call
    .trx('supplierIdentifiers')
    .join('suppliers', 'suppliers.id', 'supplierIdentifiers.supplierId')
    .where({ scheme: 'vat' })
    .whereNull('suppliers.mergedInto')
    .whereIn('value', vats)
    .select<{ value: string; number: string }[]>('value', 'suppliers.number')
  const byVat = new Map(numbers.map(row => [row.value, row.number]))
  const ids = await supplierNumbers(call, [...called.values()].map(one => one.id)) // prettier-ignore
  return names.flatMap(name => {
    const same = called.get(searchName(name.theirs))
    const ours = byVat.get(normalIdentifier(name.code)) ?? (same ? ids.get(same.id) : undefined)
    return ours ? [[mappingKey('supplier', name.theirs), ours]] : []
  })
}

async function supplierNumbers(call: Read, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await call.trx('suppliers').whereIn('id', [...ids]).select('id', 'number') // prettier-ignore
  return new Map(rows.map(row => [row.id, row.number]))
}

/** Items of the same number, else of the same GTIN. */
async function itemsByNumber(call: Read, names: readonly ForeignName[]): Promise<[string, string][]> {
  const { rows } = await call.trx.raw<{ rows: { number: string; gtin: string }[] }>(
    `select number, gtin from items where lower(number) = any(?) or (gtin <> '' and gtin = any(?))`,
    [names.map(name => name.theirs.toLowerCase()), names.map(name => name.code).filter(Boolean)],
  )
  const byNumber = new Map(rows.map(row => [row.number.toLowerCase(), row.number]))
  const byGtin = new Map(rows.flatMap(row => (row.gtin === '' ? [] : [[row.gtin, row.number] as const])))
  return names.flatMap(name => {
    const ours = byNumber.get(name.theirs.toLowerCase()) ?? byGtin.get(name.code)
    return ours ? [[mappingKey('item', name.theirs), ours]] : []
  })
}

/** Open accounts of any year as `centre|account|project`, each by itself. */
async function accountCodes(call: Read): Promise<Map<string, string>> {
  const rows = await call.trx('budgetAccounts').where({ open: true }).distinct('costCentre', 'naturalAccount', 'project') // prettier-ignore
  const codes = rows.map(row => [row.costCentre, row.naturalAccount, row.project ?? ''].filter(Boolean).join('|').toUpperCase()) // prettier-ignore
  return new Map(codes.map(code => [code, code]))
}

/** How what was chosen reads: suppliers and items by name. */
async function labelsOf(
  call: Read,
  names: readonly { readonly kind: MappedKind; readonly ours: string }[],
): Promise<Map<string, string>> {
  const of = (kind: MappedKind): string[] =>
    names.filter(name => name.kind === kind && name.ours).map(name => name.ours)
  const suppliers = await call.trx('suppliers').whereIn('number', of('supplier')).select('number', 'name')
  const items = await call.trx('items').whereIn('number', of('item')).select('number', 'name')
  return new Map([
    ...suppliers.map(row => [`supplier ${row.number}`, row.name] as const),
    ...items.map(row => [`item ${row.number}`, `${row.number}, ${row.name}`] as const),
    ...of('account').map(code => [`account ${code}`, code.split('|').filter(Boolean).join(' / ')] as const),
  ])
}
