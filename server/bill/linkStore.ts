import type { ReadLinks } from '#contract/bill/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { linkProposals, type LooseLine, type OpenLine } from '#core/bill/linkProposals.ts'
import { Decimal } from '#core/money/decimal.ts'
import { provenForBill, toBill } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import type { PackConversion } from '#core/units/units.ts'
import { knownInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import type { Read } from '#server/call.ts'
import { knownOrders } from '#server/order/orderStore.ts'

/** Orders whose lines are compared: the newest that still take bills. */
const MOST_ORDERS = 400

/** What the loose lines of a bill are likely for. */
export async function readLinks(call: Read, id: string): Promise<ResponseOf<typeof ReadLinks>> {
  const invoice = await knownInvoice(call, id)
  const loose = invoice.rows.filter(row => row.orderLineId === null)
  if (loose.length === 0) return { proposals: [] }
  const open = await openLines(call, invoice)
  const known = new Map(open.map(line => [line.id, line]))
  const positions = new Map(loose.map(row => [row.id, row.position]))
  const lines = loose.map((row): LooseLine => ({
    id: row.id,
    words: row.description,
    unit: row.unit,
    quantity: row.quantity,
    price: new Decimal(row.price).dividedBy(row.priceBase).toString(),
    ...row.told,
  }))
  return {
    proposals: linkProposals(lines, open).map(({ lineId, orderLineId, score, because, others }) => {
      const { order, position, words } = known.get(orderLineId)!
      return { lineId, orderLineId, score, because: [...because], others, position: positions.get(lineId)!, label: `${order} line ${position}, ${words}` } // prettier-ignore
    }),
  }
}

/** Lines of the supplier's orders of which something is not billed. */
async function openLines(call: Read, invoice: KnownInvoice): Promise<OpenLine[]> {
  const orders = await call
    .trx('orders')
    .where({ supplierId: invoice.supplierId, currency: invoice.currency })
    .whereIn('state', [...ORDER_GROUPS.billable])
    .orderBy('createdAt', 'desc')
    .limit(MOST_ORDERS)
    .select('id')
  const taken = new Set(invoice.lines.flatMap(line => line.orderLineId ?? []))
  const known = [...(await knownOrders(call, orders.map(one => one.id))).values()] // prettier-ignore
  const told = await itemsOf(call, known.flatMap(order => order.lines.map(line => line.id)), invoice.supplierId) // prettier-ignore
  return known.flatMap(order =>
    order.lines
      .filter(line => !taken.has(line.id) && new Decimal(toBill(line)).gt(0))
      .map((line): OpenLine => {
        const item = told.get(line.id)
        return {
          id: line.id,
          order: order.number,
          position: line.position,
          words: line.description,
          supplierItem: item?.supplierItem ?? '',
          item: item?.item ?? '',
          units: unitsOf(line.unit, item?.unit ?? null, item?.packs ?? []),
          open: toBill(line),
          proven: provenForBill(line),
          price: new Decimal(line.price).dividedBy(line.priceBase).toString(),
        }
      }),
  )
}

/** Units that convert into the ordered one, and how many of it each holds. */
function unitsOf(ordered: string, base: string | null, packs: readonly PackConversion[]): ReadonlyMap<string, string> {
  const holds = new Map([[base ?? ordered, '1'], ...packs.map(pack => [pack.unit, pack.holds] as const)])
  const own = holds.get(ordered) ?? '1'
  return new Map([...holds].map(([unit, count]) => [unit, new Decimal(count).dividedBy(own).toString()] as const).concat([[ordered, '1']])) // prettier-ignore
}

interface ItemTold {
  id: string
  item: string | null
  unit: string | null
  packs: PackConversion[] | null
  supplierItem: string | null
}

async function itemsOf(call: Read, lineIds: readonly string[], supplierId: string): Promise<Map<string, ItemTold>> {
  const { rows } = await call.trx.raw<{ rows: ItemTold[] }>(
    `select l.id, i.number as item, i.unit, i.packs, offer.supplier_item from order_lines l join items i on i.id = l.item_id
     left join lateral (select supplier_item from offers where offers.item_id = l.item_id and offers.supplier_id = :supplier limit 1) as offer on true where l.id = any(:lines)`,
    { supplier: supplierId, lines: [...lineIds] },
  )
  return new Map(rows.map(row => [row.id, row]))
}
