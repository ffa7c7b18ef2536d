import { randomUUID } from 'node:crypto'
import type { ImportResult } from '#contract/files/endpoints.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type ImportedSupplier, readSupplierRow, SUPPLIER_COLUMNS } from '#core/source/supplierImport.ts'
import type { Call } from '#server/call.ts'
import { readTable } from '#server/formats/delimited.ts'
import { insertHistory } from '#server/ledger/bulkHistory.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import { searchName } from '#server/source/supplierService.ts'

/** Reads a supplier file row by row; loads all rows or none. */
export async function importSuppliers(call: Call, bytes: Buffer, dryRun: boolean): Promise<ImportResult> {
  const table = readTable(bytes, SUPPLIER_COLUMNS, ['name', 'country'])
  const faults: RowFaults[] = []
  const suppliers: ImportedSupplier[] = []
  const seen = new Map<string, number>()
  for await (const { row, index } of slices(table.rows)) {
    const { supplier, reasons } = readSupplierRow(row, index + 2)
    const twice = supplier ? repeated(supplier, index + 2, seen) : []
    if (reasons.length + twice.length > 0) faults.push({ row: index + 2, reasons: [...reasons, ...twice] })
    else if (supplier) suppliers.push(supplier)
  }
  faults.push(...(await alreadyThere(call, suppliers)))
  const load = !dryRun && faults.length === 0
  if (load) await insertAll(call, suppliers)
  return importResult(table, faults, load)
}

function repeated(supplier: ImportedSupplier, row: number, seen: Map<string, number>): Reason[] {
  const keys = [`name ${searchName(supplier.name)} ${supplier.country}`, ...(supplier.vat ? [`vat ${supplier.vat}`] : [])]
  const earlier = keys.map(key => seen.get(key)).find(value => value !== undefined)
  for (const key of keys) if (!seen.has(key)) seen.set(key, row)
  return earlier === undefined ? [] : [stop('import.twice', { row: earlier }, { place: `rows.${row}.name` })]
}

async function alreadyThere(call: Call, suppliers: readonly ImportedSupplier[]): Promise<RowFaults[]> {
  const vats = suppliers.map(supplier => supplier.vat).filter(Boolean)
  const { rows } = (await call.trx.raw(
    `select identifier.value, s.number, s.name from supplier_identifiers identifier join suppliers s on s.id = identifier.supplier_id where scheme = 'vat' and value = any(?)`,
    [vats],
  )) as { rows: { value: string; number: string; name: string }[] }
  const known = new Map(rows.map(row => [row.value, row]))
  return suppliers.flatMap((supplier, index) => {
    const other = known.get(supplier.vat)
    return other ? [{ row: index + 2, reasons: [stop('import.supplierThere', { name: other.name, number: other.number }, { place: `rows.${index + 2}.vat` })] }] : []
  })
}

async function insertAll(call: Call, suppliers: readonly ImportedSupplier[]): Promise<void> {
  const { rows: numbers } = (await call.trx.raw(`select 'S-' || nextval('supplier_numbers') as number from generate_series(1, ?)`, [suppliers.length])) as {
    rows: { number: string }[]
  }
  const ids = suppliers.map(() => randomUUID())
  const heads = suppliers.map((one, index) => ({
    id: ids[index],
    number: numbers[index]!.number,
    name: one.name,
    searchName: searchName(one.name),
    kind: 'company',
    state: 'active',
    currency: one.currency,
    terms: JSON.stringify({ days: one.termsDays, from: 'invoice' }),
    categories: one.categories,
    createdAt: call.now,
    changedAt: call.now,
  }))
  await call.trx.batchInsert('suppliers', heads as Record<string, unknown>[], 1000)
  const place = suppliers.flatMap((one, index) =>
    one.city || one.street
      ? [
          {
            supplierId: ids[index],
            position: 0,
            name: 'Head office',
            street: one.street,
            postalCode: one.postalCode,
            city: one.city,
            country: one.country,
            roles: ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'],
          },
        ]
      : [],
  )
  const contacts = suppliers.flatMap((one, index) =>
    one.email || one.contactName
      ? [{ supplierId: ids[index], position: 0, name: one.contactName || one.name, email: one.email, phone: '', roles: ['orders', 'invoices', 'payments'] }]
      : [],
  )
  const identifiers = suppliers.flatMap((one, index) => (one.vat ? [{ supplierId: ids[index], scheme: 'vat', value: one.vat }] : []))
  const accounts = suppliers.flatMap((one, index) =>
    one.iban
      ? [{ id: randomUUID(), supplierId: ids[index], iban: one.iban, bic: one.bic, holder: one.name, state: 'unproven', changedBy: call.actor.id, changedAt: call.now }]
      : [],
  )
  for (const [name, rows] of Object.entries({ supplierLocations: place, supplierContacts: contacts, supplierIdentifiers: identifiers, supplierBankAccounts: accounts }))
    if (rows.length > 0) await call.trx.batchInsert(name, rows as Record<string, unknown>[], 1000)
  await insertHistory(call, 'supplier', ids, 'imported')
}
