import type { ReadLeftOpen } from '#contract/bill/journal.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { billedUnproven, byAccount, type LeftOpen } from '#core/bill/periodEnd.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { lastDay } from '#core/calendar/months.ts'
import { formatAmount, type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { sumQuantities } from '#core/ledger/quantity.ts'
import type { Read } from '#server/call.ts'
import { byId, groupBy } from '#server/database/rows.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { type KnownOrder, knownOrders } from '#server/order/orderStore.ts'
import { entriesUntil, linesBilledOutOfStep } from '#server/ledger/asOfStore.ts'
import { accruedByLine } from '#server/receive/accruedStore.ts'

type Shown = ResponseOf<typeof ReadLeftOpen>
/** Rows that one page can show; the sums are of all. */
const MOST = 200

/** What a month leaves open: what came in and is not billed, what is billed and did not come in, and bills that wait. */
export async function readLeftOpen(call: Read, month: string): Promise<Shown> {
  const on = lastDay(month)
  const accrued = await accruedByLine(call, on)
  const unproven = await unprovenOn(call, on)
  const orders = new Map([...(await ordersOf(call, accrued.map(one => one.lineId))), ...unproven.orders]) // prettier-ignore
  const names = await accountNames(call)
  const early = byAccount(unproven.open)
  const sums = new Map<string, { received: bigint; billed: bigint }>()
  const add = (account: string, key: 'received' | 'billed', amount: Minor): void => {
    const before = sums.get(account) ?? { received: 0n, billed: 0n }
    sums.set(account, { ...before, [key]: before[key] + amount })
  }
  for (const one of accrued) add(names.get(one.accountId) ?? '', 'received', one.amount)
  for (const [accountId, amount] of early) add(names.get(accountId) ?? '', 'billed', amount)
  const text = (amount: bigint): string => formatAmount(amount, call.base)
  const byLine = [...groupBy(accrued, one => one.lineId)].map(([lineId, own]) => ({ lineId, amount: sumMinor(own.map(one => one.amount)) })) // prettier-ignore
  return {
    currency: call.base,
    accounts: [...sums].sort(([a], [b]) => (a < b ? -1 : 1)).map(([account, one]) => ({ account, received: text(one.received), billed: text(one.billed) })), // prettier-ignore
    received: { total: text(sumMinor(byLine.map(one => one.amount))), lines: byLine.slice(0, MOST).flatMap(one => shown(orders.get(one.lineId), one.lineId, text(one.amount))) }, // prettier-ignore
    billed: { total: text(sumMinor(unproven.open.map(one => one.amount))), lines: unproven.open.slice(0, MOST).flatMap(one => shown(orders.get(one.line.id), one.line.id, text(one.amount))) }, // prettier-ignore
    waiting: await waitingBills(call, on),
  }
}

function shown(order: KnownOrder | undefined, lineId: string, amount: string): Shown['received']['lines'] {
  const line = order?.lines.find(one => one.id === lineId)
  if (!order || !line) return []
  return [{ id: lineId, order: order.number, path: pathOf('order', order.id), position: line.position, description: line.kind === 'personalFee' ? '' : line.description, supplier: order.supplier, amount }] // prettier-ignore
}

async function unprovenOn(call: Read, on: string): Promise<{ open: LeftOpen[]; orders: Map<string, KnownOrder> }> {
  const ids = await linesBilledOutOfStep(call, on)
  const orders = await ordersOf(call, ids)
  const entries = groupBy(await entriesUntil(call, ids, on), one => one.lineId)
  const open = ids.flatMap(id => {
    const order = orders.get(id)
    const line = order?.lines.find(one => one.id === id)
    if (!order || !line) return []
    return billedUnproven({ ...line, sums: sumQuantities(entries.get(id) ?? []) }, order) ?? []
  })
  return { open, orders }
}

async function ordersOf(call: Read, lineIds: readonly string[]): Promise<Map<string, KnownOrder>> {
  if (lineIds.length === 0) return new Map()
  const rows = await call.trx('orderLines').whereRaw('id = any(?)', [[...new Set(lineIds)]]).select('id', 'orderId') // prettier-ignore
  const orders = await knownOrders(call, [...new Set(rows.map(row => row.orderId))])
  return new Map(rows.map(row => [row.id, orders.get(row.orderId)!]))
}

async function accountNames(call: Read): Promise<Map<string, string>> {
  const rows = byId(await call.trx('budgetAccounts').select('id', 'costCentre', 'naturalAccount', 'project'))
  return new Map([...rows].map(([id, one]) => [id, [one.costCentre, one.naturalAccount, one.project].filter(Boolean).join(' · ')])) // prettier-ignore
}

/** Bills that had come by then and are not in the books yet: they will be, or go back. */
async function waitingBills(call: Read, on: string): Promise<Shown['waiting']> {
  const { rows } = await call.trx.raw<{ rows: { count: number; total: bigint | null }[] }>(
    `select count(*)::int as count, sum(base_payable)::bigint as total from invoices where state = any(:waiting) and received_at < ((:on::date + 1)::timestamp at time zone :zone)`,
    { waiting: [...INVOICE_GROUPS.waiting], on, zone: call.house.zone },
  )
  return { count: rows[0]!.count, total: formatAmount(minor(rows[0]!.total ?? 0n), call.base) }
}
