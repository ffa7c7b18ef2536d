import { fiscalYearOf } from '#core/calendar/days.ts'
import type { GoodsRow, PlacedGoods } from '#core/order/goodsRow.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import type { RowFaults } from '#server/formats/importResult.ts'
import { baseRates } from '#server/house/rates.ts'
import { supplierReasons } from '#server/order/conditionStore.ts'
import { searchName, suppliersCalled } from '#server/source/supplierStore.ts'

/** Looks up what rows of goods name; what is not there is a fault of its row. A row that describes nothing is called as its item is. */
export async function placeGoods<T extends GoodsRow & { readonly row: number }>(
  call: Read,
  rows: readonly T[],
): Promise<{ placed: (T & PlacedGoods)[]; faults: RowFaults[] }> {
  const suppliers = await suppliersCalled(call, rows.map(row => row.supplier)) // prettier-ignore
  const items = await itemsNumbered(call, rows.map(row => row.item)) // prettier-ignore
  const places = await placesNamed(call, rows.map(row => row.place)) // prettier-ignore
  const accounts = await openAccounts(call)
  const rates = await baseRates(call, rows.map(row => row.currency)) // prettier-ignore
  const faults: RowFaults[] = []
  const placed = rows.flatMap((row): (T & PlacedGoods)[] => {
    const year = fiscalYearOf(row.needBy ?? call.today, call.house.fiscalYearFrom)
    const supplier = suppliers.get(searchName(row.supplier))
    const accountId = accounts.get(accountKey(row.costCentre, row.account, year, row.project))
    const item = row.item === '' ? null : items.get(row.item.toLowerCase())
    const addressId = row.place === '' ? null : places.get(row.place.toLowerCase())
    const rate = rates.get(row.currency) ?? null
    const at = (column: string) => ({ place: `rows.${row.row}.${column}` })
    const reasons: Reason[] = [
      ...(supplier ? [] : [stop('import.noSupplier', { supplier: row.supplier.slice(0, 60) }, at('supplier'))]),
      ...(accountId ? [] : [stop('import.noBudget', { year }, at('cost_centre'))]),
      ...(item === undefined ? [stop('import.noItem', { value: row.item.slice(0, 40) }, at('item'))] : []),
      ...(addressId === undefined ? [stop('import.noPlace', { value: row.place.slice(0, 40) }, at('place'))] : []),
      ...(rate === null ? [stop('line.noRate', { currency: row.currency, base: call.base }, at('currency'))] : []),
    ]
    if (reasons.length > 0) faults.push({ row: row.row, reasons })
    if (!supplier || !accountId || item === undefined || addressId === undefined || rate === null) return []
    const { id: supplierId, name: supplierName, overReceiptPercent } = supplier
    const description = row.description || (item?.name ?? '')
    return [{ ...row, description, supplierId, supplierName, overReceiptPercent, itemId: item?.id ?? null, accountId, addressId, rate }] // prettier-ignore
  })
  return { placed, faults }
}

const wanted = (names: readonly string[]): string[] => [
  ...new Set(names.map(name => name.toLowerCase()).filter(Boolean)),
]

/** Items by their number in small letters. */
export async function itemsNumbered(
  call: Read,
  numbers: readonly string[],
): Promise<Map<string, { id: string; name: string }>> {
  const { rows } = await call.trx.raw<{ rows: { id: string; number: string; name: string }[] }>(
    'select id, lower(number) as number, name from items where lower(number) = any(?)',
    [wanted(numbers)],
  )
  return new Map(rows.map(row => [row.number, row]))
}

async function placesNamed(call: Read, names: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await call.trx.raw<{ rows: { id: string; name: string }[] }>(
    'select id, lower(name) as name from addresses where lower(name) = any(?) and open',
    [wanted(names)],
  )
  return new Map(rows.map(row => [row.name, row.id]))
}

const accountKey = (costCentre: string, account: string, year: number, project: string | null): string =>
  [costCentre, account, year, project ?? ''].join(' ')

async function openAccounts(call: Read): Promise<Map<string, string>> {
  const rows = await call.trx('budgetAccounts').where({ open: true })
  return new Map(rows.map(row => [accountKey(row.costCentre, row.naturalAccount, row.fiscalYear, row.project), row.id]))
}

/** What stands against ordering from each supplier of some goods. */
async function reasonsOfSuppliers(call: Read, goods: readonly PlacedGoods[]): Promise<Map<string, Reason[]>> {
  const found = new Map<string, Reason[]>()
  for (const [supplierId, own] of groupBy(goods, one => one.supplierId))
    found.set(
      supplierId,
      stops(await supplierReasons(call, supplierId, own.map(one => one.itemId))), // prettier-ignore
    )
  return found
}

/** Suppliers that take no orders, said at each of their rows. */
export async function againstSuppliers(call: Read, goods: readonly PlacedGoods[]): Promise<RowFaults[]> {
  const reasons = await reasonsOfSuppliers(call, goods)
  return goods.flatMap(({ row, supplierId }) => {
    const against = reasons.get(supplierId)!
    return against.length === 0
      ? []
      : [{ row, reasons: against.map(reason => ({ ...reason, place: `rows.${row}.supplier` })) }]
  })
}
