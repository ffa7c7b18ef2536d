import type { ImportResult } from '#contract/files/endpoints.ts'
import { accountsOf } from '#core/order/after.ts'
import { takeOverOrder } from '#core/order/issueOrder.ts'
import {
  differingRows,
  type ImportedOrderLine,
  importedOrders,
  ORDER_COLUMNS,
  ORDER_COLUMNS_NEEDED,
  readOrderRow,
} from '#core/order/orderImport.ts'
import type { PlacedGoods } from '#core/order/goodsRow.ts'
import { stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { insertDraft } from '#server/order/newOrderStore.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { againstSuppliers, placeGoods } from '#server/order/placeGoods.ts'

export type ImportRow = ImportedOrderLine & { readonly row: number }

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
  const rows: ImportRow[] = []
  for await (const { row, index } of slices(table.rows)) {
    const { line, reasons } = readOrderRow(row, index + 2, call.base)
    if (line) rows.push({ ...line, row: index + 2 })
    else faults.push({ row: index + 2, reasons })
  }
  await oneAfterTheOther(call)
  const { placed, faults: against } = await judgeRows(call, rows)
  faults.push(...against)
  const load = !dryRun && faults.length === 0
  if (load) for (const order of importedOrders(placed, call.base)) await takeOver(call, order)
  return importResult(
    table,
    faults.sort((a, b) => a.row - b.row),
    load,
  )
}

/** One file after the other, so that the same one sent twice at once is taken over once. */
export const oneAfterTheOther = (call: Write): Promise<unknown> =>
  call.trx.raw(`select pg_advisory_xact_lock(hashtextextended('orders from before', 0))`)

/** Rows of open orders with what they name, and what stands against each: nothing of the kind is here, or its order is already. */
export async function judgeRows(
  call: Read,
  rows: readonly ImportRow[],
): Promise<{ placed: (ImportRow & PlacedGoods)[]; faults: RowFaults[] }> {
  const { placed, faults } = await placeGoods(call, rows)
  return {
    placed,
    faults: [
      ...faults,
      ...(await takenOverAlready(call, rows)),
      ...differingRows(placed),
      ...(await againstSuppliers(call, placed)),
    ],
  }
}

/** Makes an issued order of one that was open before. */
export async function takeOver(
  call: Write,
  { soFar, ...imported }: ReturnType<typeof importedOrders>[number],
): Promise<{ id: string; number: string }> {
  const { id, number } = await insertDraft(call, imported)
  const order = await heldOrder(call, id)
  const accounts = await holdAccounts(call, accountsOf(order))
  await carryOut(call, order, takeOverOrder(order, accounts, call.actor, soFar))
  return { id, number }
}

/** Rows of orders that were taken over already. */
async function takenOverAlready(call: Read, rows: readonly ImportRow[]): Promise<RowFaults[]> {
  const known = await call
    .trx('orders')
    .whereIn('formerNumber', [...new Set(rows.map(row => row.order))])
    .select('formerNumber')
  const former = new Set(known.map(row => row.formerNumber))
  return rows.flatMap(({ row, order }) =>
    former.has(order) ? [{ row, reasons: [stop('import.orderKnown', {}, { place: `rows.${row}.order` })] }] : [],
  )
}
