import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { asked, type Bar, daysAhead, series, sumBars } from '#core/glances/series.ts'
import { PAYMENT_GROUPS } from '#core/pay/states.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { may, type Read } from '#server/call.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { barsPart, type Glance, inBase, listAt, row, rowsPart, says } from '#server/glances/glance.ts'

const DAYS = 10
const FIRST = 6

interface Failed {
  invoiceId: string
  supplier: string
  amount: bigint
  currency: string
  reason: string
  state: string
}

/** What is owed by the day it is due, and what the bank refused or gave back. */
export const payGlance: Glance = async call => {
  if (!may(call, 'payment.read')) return { says: [], parts: [] }
  const owed = await owedByDay(call)
  const failed = await failedPayments(call)
  const bars = series(owed, daysAhead(call.today, DAYS))
  const [overdue] = bars
  // what is in a run already is owed, too: the list of what can be paid next has less
  const owedAt = (span?: Bar): string =>
    listAt('/bill', {
      view: 'all',
      where: [`state.is:${INVOICE_GROUPS.owed.join(',')}`, span ? asked('dueOn', span) : ''].filter(Boolean).join(';'),
    })
  return {
    says: [
      says('glance.pay.owed', { amount: inBase(call, sumBars(bars)), currency: call.base }, owedAt()),
      ...(overdue && overdue.amount > 0n
        ? [
            says(
              'glance.pay.overdue',
              { amount: inBase(call, overdue.amount), currency: call.base },
              owedAt(overdue),
              'stop',
            ),
          ]
        : []),
    ],
    parts: [
      barsPart(call, 'pay.due', bars, owedAt),
      rowsPart(
        'pay.failed',
        failed.map(one =>
          row(one.supplier, pathOf('invoice', one.invoiceId), {
            amount: formatAmount(minor(one.amount), one.currency),
            says: { code: `glance.pay.failed.${one.state}`, details: { reason: one.reason, currency: one.currency } },
            tone: 'stop',
          }),
        ),
      ),
    ],
  }
}

/** What is owed, by due day; the part that is in a run already is filled. */
async function owedByDay(call: Read): Promise<{ day: string | null; amount: bigint; part: bigint }[]> {
  const { rows } = await call.trx.raw<{ rows: { day: string | null; amount: bigint; part: bigint }[] }>(
    `select due_on as day, sum(base_payable - base_set_off)::bigint as amount, coalesce(sum(base_payable - base_set_off) filter (where state <> all(:payable)), 0)::bigint as part
     from invoices where state = any(:owed) group by due_on`,
    { owed: [...INVOICE_GROUPS.owed], payable: [...INVOICE_GROUPS.payable] },
  )
  return rows
}

/** Payments that came to nothing, of invoices that are still to be paid. */
async function failedPayments(call: Read): Promise<Failed[]> {
  const { rows } = await call.trx.raw<{ rows: Failed[] }>(
    `select distinct on (i.id) i.id as invoice_id, s.name as supplier, p.amount, p.currency, coalesce(p.bank_reason, '') as reason, p.state
     from payments p join invoices i on i.id = p.invoice_id join suppliers s on s.id = i.supplier_id
     where p.state = any(:failed) and i.state = any(:payable) order by i.id, p.end_to_end_id desc limit ${FIRST}`,
    { failed: [...PAYMENT_GROUPS.failed], payable: [...INVOICE_GROUPS.payable] },
  )
  return rows
}
