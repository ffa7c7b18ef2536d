import type { ImportResult } from '#contract/files/endpoints.ts'
import { fiscalYearOf } from '#core/calendar/days.ts'
import { accountsOf } from '#core/order/after.ts'
import { takeOverOrder } from '#core/order/issueOrder.ts'
import {
  differingRows,
  type ImportedOrderLine,
  importedOrders,
  ORDER_COLUMNS,
  ORDER_COLUMNS_NEEDED,
  type PlacedOrderLine,
  readOrderRow,
} from '#core/order/orderImport.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import { baseRates } from '#server/house/rates.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { supplierReasons } from '#server/order/conditionStore.ts'
import { insertDraft } from '#server/order/draftActs.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { searchName, suppliersCalled } from '#server/source/supplierStore.ts'

type Row = ImportedOrderLine & { readonly row: number }

/**
 * Takes over open orders of goods from a file, a row for each line, all or none. Each becomes an issued order of its supplier, on its budget
 * account, received and billed as far as its rows say; the supplier is told nothing.
 */
export async function importOrders(call: Write, bytes: Buffer, dryRun: boolean): Promise<ImportResult> {
  const table = await compute('tableOf', {
    bytes,
    known: ORDER_COLUMNS,
    needed: ORDER_COLUMNS_NEEDED,
    most: MOST_ROWS_AT_ONCE,
  })
  const faults: RowFaults[] = []
  const rows: Row[] = []
  for await (const { row, index } of slices(table.rows)) {
    const { line, reasons } = readOrderRow(row, index + 2, call.base)
    if (line) rows.push({ ...line, row: index + 2 })
    else faults.push({ row: index + 2, reasons })
  }
  // one file after the other, so that the same one sent twice at once is taken over once
  await call.trx.raw(`select pg_advisory_xact_lock(hashtextextended('orders from before', 0))`)
  const placed = await place(call, rows, faults)
  faults.push(...differingRows(placed), ...(await againstSuppliers(call, placed)))
  const load = !dryRun && faults.length === 0
  if (load) for (const order of importedOrders(placed, call.base)) await takeOver(call, order)
  return importResult(
    table,
    faults.sort((a, b) => a.row - b.row),
    load,
  )
}

async function takeOver(call: Write, { soFar, ...imported }: ReturnType<typeof importedOrders>[number]): Promise<void> {
  const { id } = await insertDraft(call, imported)
  const order = await heldOrder(call, id)
  const accounts = await holdAccounts(call, accountsOf(order))
  await carryOut(call, order, takeOverOrder(order, accounts, call.actor, soFar))
}

/** Looks up what the rows name; what is not there is a fault of its row. */
async function place(call: Read, rows: readonly Row[], faults: RowFaults[]): Promise<PlacedOrderLine[]> {
  const suppliers = await suppliersCalled(
    call,
    rows.map(row => row.supplier),
  )
  const items = await idsOf(
    call,
    'items',
    'number',
    rows.map(row => row.item),
  )
  const places = await idsOf(
    call,
    'addresses',
    'name',
    rows.map(row => row.place),
  )
  const accounts = await openAccounts(call)
  const rates = await baseRates(
    call,
    rows.map(row => row.currency),
  )
  const former = await knownBefore(call, rows)
  return rows.flatMap((row): PlacedOrderLine[] => {
    const year = fiscalYearOf(row.needBy ?? call.today, call.house.fiscalYearFrom)
    const supplier = suppliers.get(searchName(row.supplier))
    const accountId = accounts.get(accountKey(row.costCentre, row.account, year, row.project))
    const itemId = row.item === '' ? null : items.get(row.item.toLowerCase())
    const addressId = row.place === '' ? null : places.get(row.place.toLowerCase())
    const rate = rates.get(row.currency) ?? null
    const at = (column: string) => ({ place: `rows.${row.row}.${column}` })
    const reasons: Reason[] = [
      ...(former.has(row.order) ? [stop('import.orderKnown', {}, at('order'))] : []),
      ...(supplier ? [] : [stop('import.noSupplier', { supplier: row.supplier.slice(0, 60) }, at('supplier'))]),
      ...(accountId ? [] : [stop('import.noBudget', { year }, at('cost_centre'))]),
      ...(itemId === undefined ? [stop('import.noItem', { value: row.item.slice(0, 40) }, at('item'))] : []),
      ...(addressId === undefined ? [stop('import.noPlace', { value: row.place.slice(0, 40) }, at('place'))] : []),
      ...(rate === null ? [stop('line.noRate', { currency: row.currency, base: call.base }, at('currency'))] : []),
    ]
    if (reasons.length > 0) faults.push({ row: row.row, reasons })
    if (!supplier || !accountId || itemId === undefined || addressId === undefined || rate === null) return []
    const { id: supplierId, name: supplierName, overReceiptPercent } = supplier
    return [{ ...row, supplierId, supplierName, overReceiptPercent, itemId, accountId, addressId, rate }]
  })
}

/** Numbers of orders that were taken over already. */
async function knownBefore(call: Read, rows: readonly Row[]): Promise<Set<string | null>> {
  const known = await call
    .trx('orders')
    .whereIn('formerNumber', [...new Set(rows.map(row => row.order))])
    .select('formerNumber')
  return new Set(known.map(row => row.formerNumber))
}

async function idsOf(
  call: Read,
  rows: 'items' | 'addresses',
  column: 'number' | 'name',
  names: readonly string[],
): Promise<Map<string, string>> {
  const found = await call.trx.raw<{ rows: { id: string; name: string }[] }>(
    `select id, lower(${column}) as name from ${rows} where lower(${column}) = any(?)${rows === 'addresses' ? ' and open' : ''}`,
    [[...new Set(names.map(name => name.toLowerCase()).filter(Boolean))]],
  )
  return new Map(found.rows.map(row => [row.name, row.id]))
}

const accountKey = (costCentre: string, account: string, year: number, project: string | null): string =>
  [costCentre, account, year, project ?? ''].join(' ')

async function openAccounts(call: Read): Promise<Map<string, string>> {
  const rows = await call.trx('budgetAccounts').where({ open: true })
  return new Map(rows.map(row => [accountKey(row.costCentre, row.naturalAccount, row.fiscalYear, row.project), row.id]))
}

/** Suppliers that take no orders, said at the first row of each. */
async function againstSuppliers(call: Read, lines: readonly PlacedOrderLine[]): Promise<RowFaults[]> {
  const faults: RowFaults[] = []
  const seen = new Set<string>()
  for (const line of lines) {
    if (seen.has(line.supplierId)) continue
    seen.add(line.supplierId)
    const items = lines.filter(one => one.supplierId === line.supplierId).map(one => one.itemId)
    const reasons = stops(await supplierReasons(call, line.supplierId, items))
    if (reasons.length > 0)
      faults.push({
        row: line.row,
        reasons: reasons.map(reason => ({ ...reason, place: `rows.${line.row}.supplier` })),
      })
  }
  return faults
}
