import { randomUUID } from 'node:crypto'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { z } from 'zod'
import { type ImportOutcome, type LookAtImport, StartImport } from '#contract/source/duplicates.ts'
import type { SupplierBody } from '#contract/source/record.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type Mapped, mappedRow, proposeMapping } from '#core/source/importMapping.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { domainOf, match, type Party, PROBABLY, ready } from '#core/source/match.ts'
import { type ImportedSupplier, readSupplierRow } from '#core/source/supplierImport.ts'
import type { Read, Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'
import { recordFirst } from '#server/documents/history.ts'
import { ownContent } from '#server/files/fileActs.ts'
import type { Cells } from '#server/formats/cells.ts'
import { type RowFaults, slices } from '#server/formats/importResult.ts'
import type { LongWork, Progress } from '#server/jobs/longJobs.ts'
import { askAll } from '#server/consent/consentStore.ts'
import { proofAsked } from '#server/source/bankAccountActs.ts'
import { candidatesFor, readFacts } from '#server/source/findSuppliers.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'
import { searchName } from '#server/source/supplierStore.ts'

type Outcome = z.output<typeof ImportOutcome>
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
export async function lookAtImport(call: Read, fileId: string): Promise<ResponseOf<typeof LookAtImport>> {
  const content = await ownContent(call, fileId)
  const cells = await compute('cellsOf', { bytes: content })
  const examples = cells.rows.slice(0, 20)
  return {
    headings: cells.headings,
    examples: examples.slice(0, 5),
    rows: cells.rows.length,
    mapping: proposeMapping(cells.headings, examples),
  }
}

const Params = StartImport.body

/** The import as a job does it: reads the person's file and looks at every row; then all rows are loaded or none. */
export const importSuppliers: LongWork = async (call, params, progress) => {
  const { fileId, ...options } = Params.parse(params)
  const content = await ownContent(call, fileId)
  const cells = await compute('cellsOf', { bytes: content })
  const looked = await lookAtRows(call, cells, options, progress)
  return write => load(write, looked, progress)
}

interface Looked {
  readonly rows: readonly Row[]
  readonly total: number
  readonly faults: readonly RowFaults[]
  readonly near: Outcome['near']
  readonly load: boolean
  readonly started: number
}

/** Reads rows, and finds every fault and every row that looks like a record that is there. */
export async function lookAtRows(
  call: Read,
  cells: Cells,
  options: Options,
  progress: Progress = () => Promise.resolve(),
): Promise<Looked> {
  const started = Date.now()
  const mapped = (column: string): boolean => options.mapping.some(one => one.column === column && one.at >= 0)
  if (!mapped('name') || !mapped('country')) throw new RuleBroken(stop('import.mapping'))
  const total = cells.rows.length
  const { rows, faults } = await readRows(cells, options.mapping, done => progress(Math.round(done * 0.4), total))
  faults.push(...(await alreadyThere(call, rows)))
  const near = await nearRows(call, rows, done => progress(Math.round(total * 0.4 + done * 0.2), total))
  const wanted = !options.dryRun && faults.length === 0 && (near.length === 0 || options.withNear)
  return { rows, total, faults, near, load: wanted, started }
}

/** Loads what was looked at, where nothing stands in the way, and says what came of it. */
export async function load(
  call: Write,
  { rows, total, faults, near, load: wanted, started }: Looked,
  progress: Progress = () => Promise.resolve(),
): Promise<Outcome> {
  if (wanted) await insertAll(call, rows, done => progress(Math.round(total * 0.6 + done * 0.4), total))
  const all = faults.flatMap(fault =>
    fault.reasons.map(reason => ({
      row: fault.row,
      place: reason.place?.split('.').at(-1) ?? '',
      code: reason.code,
      details: { ...reason.details },
    })),
  )
  return {
    rows: total,
    good: total - new Set(faults.map(fault => fault.row)).size,
    loaded: wanted ? total : 0,
    faults: all.slice(0, SHOWN),
    faultCount: all.length,
    near: near.slice(0, SHOWN),
    nearCount: near.length,
    seconds: ((Date.now() - started) / 1000).toFixed(1),
  }
}

async function readRows(
  cells: Cells,
  mapping: Options['mapping'],
  progress: (done: number) => Promise<void>,
): Promise<{ rows: Row[]; faults: RowFaults[] }> {
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
  const keys = [
    `name ${searchName(supplier.name)} ${supplier.country} ${supplier.postalCode}`,
    ...(supplier.vat ? [`vat ${supplier.vat}`] : []),
  ]
  const earlier = keys.map(key => seen.get(key)).find(value => value !== undefined)
  for (const key of keys) if (!seen.has(key)) seen.set(key, row)
  return earlier === undefined ? [] : [stop('import.twice', { row: earlier }, { place: `rows.${row}.name` })]
}

/** Rows with a VAT number or an account that a record has: a shared strong identifier stops. */
async function alreadyThere(call: Read, rows: readonly Row[]): Promise<RowFaults[]> {
  const { rows: known } = await call.trx.raw<{
    rows: { value: string; number: string; name: string; place: string }[]
  }>(
    `select value, s.number, s.name, 'vat' as place from supplier_identifiers i join suppliers s on s.id = i.supplier_id where scheme = 'vat' and value = any(:vats)
     union all select iban, s.number, s.name, 'iban' from supplier_bank_accounts a join suppliers s on s.id = a.supplier_id where a.state <> 'closed' and iban = any(:ibans)`,
    { vats: rows.map(row => row.vat).filter(Boolean), ibans: rows.map(row => row.iban).filter(Boolean) },
  )
  const there = new Map(known.map(one => [`${one.place} ${one.value}`, one]))
  return rows.flatMap(row => {
    const other = there.get(`vat ${row.vat}`) ?? there.get(`iban ${row.iban}`)
    return other
      ? [
          {
            row: row.row,
            reasons: [
              stop(
                'import.supplierThere',
                { name: other.name, number: other.number },
                { place: `rows.${row.row}.${other.place}` },
              ),
            ],
          },
        ]
      : []
  })
}

const partyOf = (row: Row): Party => ({
  names: [row.name, ...(row.tradeName ? [row.tradeName] : [])],
  country: row.country,
  postalCode: row.postalCode,
  city: row.city,
  street: row.street,
  identifiers: [
    ...(row.vat ? [{ scheme: 'vat' as const, value: row.vat }] : []),
    ...(row.registration ? [{ scheme: 'registration' as const, value: row.registration }] : []),
  ],
  ibans: row.iban ? [row.iban] : [],
  domains: [...new Set([domainOf(row.web), domainOf(row.email)].filter(Boolean))],
})

async function nearRows(
  call: Read,
  rows: readonly Row[],
  progress: (done: number) => Promise<void>,
): Promise<Outcome['near']> {
  return rows.length <= SEARCHED_ROWS ? nearByIndex(call, rows, progress) : nearByKeys(call, rows)
}

async function nearByIndex(
  call: Read,
  rows: readonly Row[],
  progress: (done: number) => Promise<void>,
): Promise<Outcome['near']> {
  const near: Outcome['near'] = []
  for (const [index, row] of rows.entries()) {
    const best = (await candidatesFor(call, partyOf(row), null))[0]
    if (best && best.percent >= PROBABLY)
      near.push({ row: row.row, name: row.name, other: best.name, number: best.number, percent: best.percent })
    if (index % 50 === 0) await progress(index)
  }
  return near
}

/** Candidates for all rows in one query each way: the same telling words, or the same web domain; scored like any other. */
async function nearByKeys(call: Read, rows: readonly Row[]): Promise<Outcome['near']> {
  const parties = rows.map(partyOf)
  const { rows: hits } = await call.trx.raw<{ rows: { at: number; id: string }[] }>(
    `select n.at::int as at, s.id from unnest(:keys::text[]) with ordinality n (key, at) join suppliers s on s.match_key = n.key and s.merged_into is null
     union select d.at::int, s.id from unnest(:domains::text[]) with ordinality d (domain, at) join suppliers s on s.domains @> array[d.domain] and s.merged_into is null where d.domain <> ''`,
    { keys: rows.map(row => row.key), domains: parties.map(party => party.domains[0] ?? '') },
  )
  const facts = new Map<string, Awaited<ReturnType<typeof readFacts>>[number]>()
  const ids = [...new Set(hits.map(hit => hit.id))]
  for (let from = 0; from < ids.length; from += 2000)
    for (const one of await readFacts(call, ids.slice(from, from + 2000))) facts.set(one.id, one)
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
const SEARCH_INDEXES = [
  'suppliers_match',
  'suppliers_search',
  'suppliers_domains',
  'suppliers_categories',
  'supplier_names_fuzzy',
]

async function insertAll(call: Write, rows: readonly Row[], progress: (done: number) => Promise<void>): Promise<void> {
  await call.trx.raw(`set local gin_pending_list_limit = '${PENDING_KEYS}'`)
  for (let from = 0; from < rows.length; from += STEP) {
    await insertSome(call, rows.slice(from, from + STEP))
    await progress(Math.min(rows.length, from + STEP))
  }
  if (rows.length > STEP)
    for (const index of SEARCH_INDEXES) await call.trx.raw('select gin_clean_pending_list(?::regclass)', [index])
}

async function insertSome(call: Write, rows: readonly Row[]): Promise<void> {
  const { rows: numbers } = await call.trx.raw<{ rows: { number: string }[] }>(
    `select 'S-' || nextval('supplier_numbers') as number from generate_series(1, ?)`,
    [rows.length],
  )
  const made = rows.map((row, index) => ({
    row,
    id: randomUUID(),
    number: numbers[index]!.number,
    domains: partyOf(row).domains,
  }))
  const head = made.map(({ row, id, number, domains }) => ({
    id,
    number,
    name: row.name,
    searchName: searchName(row.name),
    matchKey: row.key,
    domains: [...domains],
    kind: 'company' as const,
    state: 'active' as const,
    currency: row.currency,
    terms: json({ days: row.termsDays, from: 'invoice' as const }),
    defaults: json({
      currency: row.currency as SupplierBody['defaults']['currency'],
      termsDays: String(row.termsDays),
    }),
    categories: [...row.categories],
    web: row.web,
    search: [
      row.name,
      searchName(row.name),
      number,
      row.tradeName,
      row.vat,
      row.registration,
      row.city,
      row.postalCode,
      ...domains,
      row.iban,
    ]
      .join(' ')
      .toLowerCase(),
    createdAt: call.now,
    changedAt: call.now,
  }))
  await insertMany(call.trx, 'suppliers', head)
  await insertMany(
    call.trx,
    'supplierLocations',
    made.flatMap(({ row, id }) => (row.city || row.street || row.country ? [placeOf(row, id)] : [])),
  )
  await insertMany(
    call.trx,
    'supplierContacts',
    made.flatMap(({ row, id }) => (row.email || row.contactName ? [contactOf(row, id)] : [])),
  )
  await insertMany(
    call.trx,
    'supplierIdentifiers',
    made.flatMap(({ row, id }) => [
      ...(row.vat ? [{ supplierId: id, scheme: 'vat' as const, value: row.vat }] : []),
      ...(row.registration ? [{ supplierId: id, scheme: 'registration' as const, value: row.registration }] : []),
    ]),
  )
  await insertMany(
    call.trx,
    'supplierNames',
    made.flatMap(({ row, id }) =>
      row.tradeName ? [{ supplierId: id, name: row.tradeName, matchKey: tellingKey(row.tradeName) }] : [],
    ),
  )
  await recordFirst(
    call,
    'supplier',
    made.map(one => one.id),
    'imported',
  )
  await insertAccounts(
    call,
    made.filter(one => one.row.iban !== ''),
  )
  await refreshSuppliers(
    call,
    made.map(one => one.id),
  )
}

const placeOf = (row: Row, supplierId: string) => ({
  supplierId,
  position: 0,
  name: 'Head office',
  street: row.street,
  postalCode: row.postalCode,
  city: row.city,
  country: row.country,
  roles: ['takesOrders' as const, 'shipsFrom' as const, 'invoices' as const, 'paidAt' as const],
})

const contactOf = (row: Row, supplierId: string) => ({
  supplierId,
  position: 0,
  name: row.contactName || row.name,
  email: row.email,
  phone: row.phone,
  roles: ['orders' as const, 'invoices' as const, 'payments' as const],
})

/** Accounts that came with a file are unproven like every other: a second person is asked to check each. */
async function insertAccounts(
  call: Write,
  made: readonly { readonly row: Row; readonly id: string; readonly number: string }[],
): Promise<void> {
  const accounts = made.map(({ row, id, number }) => ({
    id: randomUUID(),
    iban: row.iban,
    bic: row.bic,
    holder: row.name,
    supplier: { id, number, name: row.name },
  }))
  await insertMany(
    call.trx,
    'supplierBankAccounts',
    accounts.map(({ supplier, ...account }) => ({
      ...account,
      supplierId: supplier.id,
      state: 'unproven' as const,
      changedBy: call.actor.id,
      changedAt: call.now,
    })),
  )
  await askAll(
    call,
    accounts.map(({ supplier, ...account }) => proofAsked(call, supplier, account)),
  )
}
