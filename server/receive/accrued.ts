import { stringify } from 'csv-stringify/sync'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAccrued } from '#contract/receive/overdue.ts'
import { formatAmount, minor, sumMinor } from '#core/money/amount.ts'
import {
  billedQuantity,
  NO_QUANTITIES,
  provenQuantity,
  type QuantityKind,
  sumQuantities,
} from '#core/ledger/quantity.ts'
import { type LineKind, provenBy } from '#core/request/kinds.ts'
import { lineWords, seesFee } from '#core/request/personalFee.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { FileAnswer } from '#server/http/route.ts'

interface Accrued {
  account: string
  orderId: string
  order: string
  supplier: string
  description: string
  unit: string
  received: string
  billed: string
  amount: bigint
}
const MOST = 2000
/** When a day ended, where the house is. */
const ENDED = '((:on::date + 1)::timestamp at time zone :zone)'

/** The two ledgers as they stood at the end of a day: what was accrued on which account for which line, and how much of it had come and was billed. */
async function accruedOn(call: Read, on: string): Promise<Accrued[]> {
  const until = { on, zone: call.house.zone }
  const { rows } =
    await call.trx.raw<{ rows: (Omit<Accrued, 'received' | 'billed'> & { lineId: string; kind: LineKind })[] }>( // prettier-ignore
      `with open as (select account_id, line_id, sum(amount)::bigint as amount from budget_entries where kind = 'accrued' and at < ${ENDED} group by 1, 2 having sum(amount) <> 0)
     select concat_ws(' · ', a.cost_centre, a.natural_account, a.project) as account, o.id as order_id, o.number as order, s.name as supplier, l.id as line_id, l.kind, l.description, l.unit, open.amount
     from open join budget_accounts a on a.id = open.account_id join order_lines l on l.id = open.line_id join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id
     order by 1, o.number, l.position`,
      until,
    )
  const { rows: entries } = await call.trx.raw<{ rows: { lineId: string; kind: QuantityKind; quantity: string }[] }>(
    `select line_id, kind, sum(quantity)::text as quantity from quantity_entries where line_id = any(:lines) and at < ${ENDED} group by 1, 2`,
    { ...until, lines: rows.map(row => row.lineId) },
  )
  const sums = new Map([...groupBy(entries, one => one.lineId)].map(([id, own]) => [id, sumQuantities(own)]))
  return rows.map(({ lineId, kind, ...row }) => {
    const own = sums.get(lineId) ?? NO_QUANTITIES
    const [received, billed] = [provenQuantity(provenBy(kind), own), billedQuantity(own)]
    return {
      ...row,
      received,
      billed,
      description: lineWords({ kind, description: row.description }, seesFee(call.actor, null)),
    }
  })
}

/** What had come in and was not billed at the end of a day. */
export async function readAccrued(call: Read, on = call.today): Promise<ResponseOf<typeof ReadAccrued>> {
  const rows = await accruedOn(call, on)
  const money = (amounts: readonly bigint[]): string => formatAmount(sumMinor(amounts.map(minor)), call.base)
  const shown = new Set(rows.slice(0, MOST))
  return {
    on,
    today: call.today,
    currency: call.base,
    total: money(rows.map(row => row.amount)),
    more: rows.length > MOST,
    accounts: [...groupBy(rows, row => row.account)].map(([account, own]) => ({
      account,
      amount: money(own.map(row => row.amount)),
      lines: own
        .filter(row => shown.has(row))
        .map(({ account: _account, orderId, amount, ...row }) => ({
          ...row,
          path: pathOf('delivery', orderId),
          amount: money([amount]),
        })),
    })),
  }
}

export async function accruedFile(call: Read, on: string): Promise<FileAnswer> {
  const rows = await accruedOn(call, on)
  const table = rows.map(row => [row.account, row.order, row.supplier, row.description, row.received, row.billed, row.unit, formatAmount(minor(row.amount), call.base), call.base]) // prettier-ignore
  const head = ['account', 'order', 'supplier', 'description', 'received', 'billed', 'unit', 'accrued', 'currency']
  return { name: `accrued-${on}.csv`, mediaType: 'text/csv', bytes: Buffer.from(stringify([head, ...table], { escape_formulas: true })) } // prettier-ignore
}
