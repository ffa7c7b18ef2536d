import { STRICT, type ToleranceProfile } from '#core/bill/tolerance.ts'
import { profileFor } from '#core/bill/toleranceRules.ts'
import { toleranceRule } from '#core/bill/toleranceEntry.ts'
import { amountToDecimal, minor } from '#core/money/amount.ts'
import { effective, HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { withAbove } from '#core/source/categories.ts'
import { dayOf, type Read } from '#server/call.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { entriesOf } from '#server/house/registerStore.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'
import { parentCategories } from '#server/source/categoryStore.ts'

/** What an invoice is judged by: as the versions of the day on which it came say. */
interface Judged {
  readonly id: string
  readonly supplierId: string
  readonly currency: string
  readonly rate: string
  readonly net: bigint
  readonly receivedAt: string
}

/** How far some invoices and their lines may differ. */
export async function tolerancesOf(
  call: Read,
  invoices: readonly Judged[],
  lines: readonly { readonly id: string; readonly invoiceId: string; readonly orderLineId: string | null }[],
  orders: readonly KnownOrder[],
): Promise<{ document: (id: string) => ToleranceProfile; line: (id: string) => ToleranceProfile }> {
  const rules = (await entriesOf(call, 'tolerances')).filter(one => one.open).map(one => toleranceRule(one.values))
  const suppliers = byId(await call.trx('suppliers').whereIn('id', someIds(invoices.map(one => one.supplierId))).select('id', 'number', 'defaults')) // prettier-ignore
  const parents = await parentCategories(call)
  const ordered = new Map(orders.flatMap(order => order.lines.map(line => [line.id, line] as const)))
  const categories = await categoriesOf(call, rules.some(rule => rule.category !== '') ? someIds(lines.map(line => line.orderLineId)) : []) // prettier-ignore
  const heads = byId(invoices)
  const judge = (invoice: Judged, value: bigint, currency: string, category: string): ToleranceProfile => {
    const supplier = suppliers.get(invoice.supplierId)
    const profile = effective([['house', HOUSE_DEFAULTS], ['supplier', supplier?.defaults ?? {}]], 'toleranceProfile') // prettier-ignore
    const one = {
      supplier: supplier?.number ?? '',
      categories: withAbove(category, parents),
      currency: invoice.currency,
      rate: invoice.rate,
      base: call.base,
      value: amountToDecimal(minor(value), currency).times(currency === call.base ? '1' : invoice.rate),
      on: dayOf(invoice.receivedAt, call.house.zone),
    }
    return profileFor(rules, one, profile)
  }
  const lineOf = byId(lines)
  return {
    document: id => judge(heads.get(id)!, heads.get(id)!.net, heads.get(id)!.currency, ''),
    line: id => {
      const { invoiceId, orderLineId } = lineOf.get(id)!
      const order = ordered.get(orderLineId ?? '')
      return order ? judge(heads.get(invoiceId)!, order.baseAmount, call.base, categories.get(order.id) ?? '') : STRICT
    },
  }
}

/** What is bought with each line of an order. */
async function categoriesOf(call: Read, lineIds: readonly string[]): Promise<Map<string, string>> {
  if (lineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; category: string }[] }>(
      `select l.id, coalesce(nullif(i.category, ''), q.category, '') as category from order_lines l left join items i on i.id = l.item_id
       left join requisition_lines q on q.id = l.requisition_line_id where l.id = any(?)`,
      [[...lineIds]],
    )
    .options({ name: 'categories-of-lines' })
  return new Map(rows.map(row => [row.id, row.category]))
}
