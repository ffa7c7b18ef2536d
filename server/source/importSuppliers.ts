import { randomUUID } from 'node:crypto'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { z } from 'zod'
import type { ImportOutcome, LookAtImport } from '#contract/source/duplicates.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type Mapped, mappedRow, proposeMapping } from '#core/source/importMapping.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { domainOf, match, type Party, PROBABLY, ready } from '#core/source/match.ts'
import { type ImportedSupplier, readSupplierRow } from '#core/source/supplierImport.ts'
import type { Call } from '#server/call.ts'
import { ownFile } from '#server/files/fileService.ts'
import { type Cells, readCells } from '#server/formats/cells.ts'
import { type RowFaults, slices } from '#server/formats/importResult.ts'
import { insertHistory } from '#server/ledger/bulkHistory.ts'
import { candidatesFor, readFacts } from '#server/source/findSuppliers.ts'
import { searchName } from '#server/source/supplierStore.ts'

type Outcome = z.output<typeof ImportOutcome>
type Progress = (done: number, total: number) => Promise<void>
interface Options {
  readonly mapping: readonly Pick<Mapped, 'column' | 'at'>[]
  readonly dryRun: boolean
  /** Load although some rows look like records that are there. */
  readonly withNear: boolean
}
interface Row extends ImportedSupplier {
  readonly row: number
  readonly key: string
}
const SHOWN = 500
/** Files up to this size are held against every record by index; larger ones by equal keys, domains and numbers. */
const SEARCHED_ROWS = 3000

/** Headings, some rows and the mapping that is proposed for a file. */
export async function lookAtImport(call: Call, fileId: string): Promise<ResponseOf<typeof LookAtImport>> {
  const cells = await readCells((await ownFile(call, fileId)).content)
  const examples = cells.rows.slice(0, 20)
  return { headings: cells.headings, examples: examples.slice(0, 5), rows: cells.rows.length, mapping: proposeMapping(cells.headings, examples) }
}

/** The import as a job does it: reads the person's file and goes on from there. */
export async function runImport(call: Call, params: Options & { fileId: string }, progress: Progress): Promise<Outcome> {
  const cells = await readCells((await ownFile(call, params.fileId)).content)
  return importCells(call, cells, params, progress)
}

/** Reads rows, tells every fault and every row that looks like a record that is there, and loads all rows or none. */
export async function importCells(call: Call, cells: Cells, options: Options, progress: Progress = () => Promise.resolve()): Promise<Outcome> {
  const started = Date.now()
  if (!options.mapping.some(one => one.column === 'name' && one.at >= 0) || !options.mapping.some(one => one.column === 'country' && one.at >= 0))
    throw new RuleBroken(stop('import.mapping'))
  const total = cells.rows.length
  const { rows, faults } = await readRows(cells, options.mapping, done => progress(Math.round(done * 0.4), total))
  faults.push(...(await alreadyThere(call, rows)))
  const near = await nearRows(call, rows, done => progress(Math.round(total * 0.4 + done * 0.2), total))
  const load = !options.dryRun && faults.length === 0 && (near.length === 0 || options.withNear)
  if (load) await insertAll(call, rows, done => progress(Math.round(total * 0.6 + done * 0.4), total))
  await progress(total, total)
  const bad = new Set(faults.map(fault => fault.row))
  const all = faults.flatMap(fault =>
    fault.reasons.map(reason => ({ row: fault.row, place: reason.place?.split('.').at(-1) ?? '', code: reason.code, details: { ...reason.details } })),
  )
  return {
    rows: total,
    good: total - bad.size,
    loaded: load ? total : 0,
    faults: all.slice(0, SHOWN),
    faultCount: all.length,
    near: near.slice(0, SHOWN),
    nearCount: near.length,
    seconds: ((Date.now() - started) / 1000).toFixed(1),
  }
}

async function readRows(cells: Cells, mapping: Options['mapping'], progress: (done: number) => Promise<void>): Promise<{ rows: Row[]; faults: RowFaults[] }> {
  const rows: Row[] = []
  const faults: RowFaults[] = []
  const seen = new Map<string, number>()
  for await (const { row: cellsOfRow, index } of slices(cells.rows)) {
    const number = index + 2
    const { supplier, reasons } = readSupplierRow(mappedRow(cellsOfRow, mapping), number)
    const twice = supplier ? repeated(supplier, number, seen) : []
    if (reasons.length + twice.length > 0) faults.push({ row: number, reasons: [...reasons, ...twice] })
    else if (supplier) rows.push({ ...supplier, row: number, key: tellingKey(supplier.name) })
    if (index % 1000 === 0) await progress(index)
  }
  return { rows, faults }
}

function repeated(supplier: ImportedSupplier, row: number, seen: Map<string, number>): Reason[] {
  const keys = [`name ${searchName(supplier.name)} ${supplier.country} ${supplier.postalCode}`, ...(supplier.vat ? [`vat ${supplier.vat}`] : [])]
  const earlier = keys.map(key => seen.get(key)).find(value => value !== undefined)
  for (const key of keys) if (!seen.has(key)) seen.set(key, row)
  return earlier === undefined ? [] : [stop('import.twice', { row: earlier }, { place: `rows.${row}.name` })]
}

/** Rows with a VAT number or an account that a record has: a shared strong identifier stops. */
async function alreadyThere(call: Call, rows: readonly Row[]): Promise<RowFaults[]> {
  const { rows: known } = (await call.trx.raw(
    `select value, s.number, s.name, 'vat' as place from supplier_identifiers i join suppliers s on s.id = i.supplier_id where scheme = 'vat' and value = any(:vats)
     union all select iban, s.number, s.name, 'iban' from supplier_bank_accounts a join suppliers s on s.id = a.supplier_id where a.state <> 'closed' and iban = any(:ibans)`,
    { vats: rows.map(row => row.vat).filter(Boolean), ibans: rows.map(row => row.iban).filter(Boolean) },
  )) as { rows: { value: string; number: string; name: string; place: string }[] }
  const there = new Map(known.map(one => [`${one.place} ${one.value}`, one]))
  return rows.flatMap(row => {
    const other = there.get(`vat ${row.vat}`) ?? there.get(`iban ${row.iban}`)
    return other ? [{ row: row.row, reasons: [stop('import.supplierThere', { name: other.name, number: other.number }, { place: `rows.${row.row}.${other.place}` })] }] : []
  })
}

const partyOf = (row: Row): Party => ({
  names: [row.name, ...(row.tradeName ? [row.tradeName] : [])],
  country: row.country,
  postalCode: row.postalCode,
  city: row.city,
  street: row.street,
  identifiers: [...(row.vat ? [{ scheme: 'vat' as const, value: row.vat }] : []), ...(row.registration ? [{ scheme: 'registration' as const, value: row.registration }] : [])],
  ibans: row.iban ? [row.iban] : [],
  domains: [...new Set([domainOf(row.web), domainOf(row.email)].filter(Boolean))],
})

async function nearRows(call: Call, rows: readonly Row[], progress: (done: number) => Promise<void>): Promise<Outcome['near']> {
  return rows.length <= SEARCHED_ROWS ? nearByIndex(call, rows, progress) : nearByKeys(call, rows)
}

async function nearByIndex(call: Call, rows: readonly Row[], progress: (done: number) => Promise<void>): Promise<Outcome['near']> {
  const near: Outcome['near'] = []
  for (const [index, row] of rows.entries()) {
    const best = (await candidatesFor(call, partyOf(row), null))[0]
    if (best && best.percent >= PROBABLY) near.push({ row: row.row, name: row.name, other: best.name, number: best.number, percent: best.percent })
    if (index % 50 === 0) await progress(index)
  }
  return near
}

/** Candidates for all rows in one query each way: the same telling words, or the same web domain; scored like any other. */
async function nearByKeys(call: Call, rows: readonly Row[]): Promise<Outcome['near']> {
  const parties = rows.map(partyOf)
  const { rows: hits } = (await call.trx.raw(
    `select n.at::int as at, s.id from unnest(:keys::text[]) with ordinality n (key, at) join suppliers s on s.match_key = n.key and s.merged_into is null
     union select d.at::int, s.id from unnest(:domains::text[]) with ordinality d (domain, at) join suppliers s on s.domains @> array[d.domain] and s.merged_into is null where d.domain <> ''`,
    { keys: rows.map(row => row.key), domains: parties.map(party => party.domains[0] ?? '') },
  )) as { rows: { at: number; id: string }[] }
  const facts = new Map<string, Awaited<ReturnType<typeof readFacts>>[number]>()
  const ids = [...new Set(hits.map(hit => hit.id))]
  for (let from = 0; from < ids.length; from += 2000) for (const one of await readFacts(call, ids.slice(from, from + 2000))) facts.set(one.id, one)
  const near: Outcome['near'] = []
  const taken = new Set<number>()
  for (const hit of hits) {
    const row = rows[hit.at - 1]!
    const other = facts.get(hit.id)
    if (!other || taken.has(row.row)) continue
    const { percent } = match(ready(parties[hit.at - 1]!), ready(other))
    if (percent < PROBABLY) continue
    taken.add(row.row)
    near.push({ row: row.row, name: row.name, other: other.names[0]!, number: other.number, percent })
  }
  return near.sort((a, b) => a.row - b.row)
}

const STEP = 5000

/** Search indexes take new keys in heaps of this size while a file is loaded, and are put in order at the end. */
const PENDING_KEYS = '128MB'
const SEARCH_INDEXES = ['suppliers_match', 'suppliers_search', 'suppliers_domains', 'suppliers_categories', 'supplier_names_fuzzy']

async function insertAll(call: Call, rows: readonly Row[], progress: (done: number) => Promise<void>): Promise<void> {
  await call.trx.raw(`set local gin_pending_list_limit = '${PENDING_KEYS}'`)
  for (let from = 0; from < rows.length; from += STEP) {
    await insertSome(call, rows.slice(from, from + STEP))
    await progress(Math.min(rows.length, from + STEP))
  }
  if (rows.length > STEP) for (const index of SEARCH_INDEXES) await call.trx.raw('select gin_clean_pending_list(?::regclass)', [index])
}

async function insertSome(call: Call, rows: readonly Row[]): Promise<void> {
  const { rows: numbers } = (await call.trx.raw(`select 'S-' || nextval('supplier_numbers') as number from generate_series(1, ?)`, [rows.length])) as { rows: { number: string }[] }
  const made = rows.map((row, index) => ({ row, id: randomUUID(), number: numbers[index]!.number, domains: partyOf(row).domains }))
  const head = made.map(({ row, id, number, domains }) => ({
    id,
    number,
    name: row.name,
    searchName: searchName(row.name),
    matchKey: row.key,
    domains: [...domains],
    kind: 'company',
    state: 'active',
    currency: row.currency,
    terms: JSON.stringify({ days: row.termsDays, from: 'invoice' }),
    defaults: JSON.stringify({ currency: row.currency, termsDays: String(row.termsDays) }),
    categories: [...row.categories],
    web: row.web,
    search: [row.name, searchName(row.name), number, row.tradeName, row.vat, row.registration, row.city, row.postalCode, ...domains, row.iban].join(' ').toLowerCase(),
    createdAt: call.now,
    changedAt: call.now,
  }))
  const parts: Record<string, Record<string, unknown>[]> = {
    suppliers: head,
    supplierLocations: made.flatMap(({ row, id }) =>
      row.city || row.street || row.country
        ? [
            {
              supplierId: id,
              position: 0,
              name: 'Head office',
              street: row.street,
              postalCode: row.postalCode,
              city: row.city,
              country: row.country,
              roles: ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'],
            },
          ]
        : [],
    ),
    supplierContacts: made.flatMap(({ row, id }) =>
      row.email || row.contactName
        ? [{ supplierId: id, position: 0, name: row.contactName || row.name, email: row.email, phone: row.phone, roles: ['orders', 'invoices', 'payments'] }]
        : [],
    ),
    supplierIdentifiers: made.flatMap(({ row, id }) => [
      ...(row.vat ? [{ supplierId: id, scheme: 'vat', value: row.vat }] : []),
      ...(row.registration ? [{ supplierId: id, scheme: 'registration', value: row.registration }] : []),
    ]),
    supplierNames: made.flatMap(({ row, id }) => (row.tradeName ? [{ supplierId: id, name: row.tradeName, matchKey: tellingKey(row.tradeName) }] : [])),
    supplierBankAccounts: made.flatMap(({ row, id }) =>
      row.iban ? [{ id: randomUUID(), supplierId: id, iban: row.iban, bic: row.bic, holder: row.name, state: 'unproven', changedBy: call.actor.id, changedAt: call.now }] : [],
    ),
  }
  for (const [table, list] of Object.entries(parts)) if (list.length > 0) await call.trx.batchInsert(table, list, 1000)
  await insertHistory(
    call,
    'supplier',
    made.map(one => one.id),
    'imported',
  )
}
