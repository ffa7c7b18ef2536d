import { percentOf } from '#core/glances/series.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { may, type Read } from '#server/call.ts'
import { type Glance, inBase, listAt, row, rowsPart, says, valued } from '#server/glances/glance.ts'

const DAYS_BACK = 90

interface Held {
  kind: string
  count: number
  amount: bigint
  roles: string[]
}

/** What invoices are held by, what that is worth and who can clear it; and how many pass without anybody touching them. */
export const billGlance: Glance = async call => {
  if (!may(call, 'invoice.read')) return { says: [], parts: [] }
  const held = await heldByKind(call)
  const { posted, clean } = await passed(call)
  const waiting = await waitingInvoices(call)
  return {
    says: [
      says(
        'glance.bill.waiting',
        { count: waiting.count, amount: inBase(call, waiting.amount), currency: call.base },
        '/bill?view=toSettle',
      ),
      ...(posted > 0
        ? [says('glance.bill.untouched', { percent: percentOf(clean, posted), count: posted, days: DAYS_BACK })]
        : []),
    ],
    parts: [
      rowsPart(
        'bill.holds',
        held.map(one =>
          row(`hold.${one.kind}`, listAt('/bill', { view: 'toSettle', where: `holds.has:${valued(one.kind)}` }), {
            count: one.count,
            amount: inBase(call, one.amount),
            says: { code: 'glance.bill.clearedBy', details: { roles: one.roles.join(' ') } },
            tone: 'attention',
          }),
        ),
      ),
    ],
  }
}

async function heldByKind(call: Read): Promise<Held[]> {
  const { rows } = await call.trx.raw<{ rows: Held[] }>(
    `select h.kind, count(distinct i.id)::int as count, sum(abs(h.amount) * i.rate)::bigint as amount, array_agg(distinct h.cleared_by) as roles
     from invoice_holds h join invoices i on i.id = h.invoice_id where h.ended_at is null and i.state = any(:waiting) group by h.kind order by 3 desc`,
    { waiting: [...INVOICE_GROUPS.waiting] },
  )
  return rows
}

async function waitingInvoices(call: Read): Promise<{ count: number; amount: bigint }> {
  const { rows } = await call.trx.raw<{ rows: { count: number; amount: bigint }[] }>(
    'select count(*)::int as count, coalesce(sum(base_payable), 0)::bigint as amount from invoices where state = any(:waiting)',
    { waiting: [...INVOICE_GROUPS.waiting] },
  )
  return rows[0]!
}

/** Invoices posted lately, and those of them that nothing ever held. */
async function passed(call: Read): Promise<{ posted: number; clean: number }> {
  const { rows } = await call.trx.raw<{ rows: { posted: number; clean: number }[] }>(
    `select count(*)::int as posted, count(*) filter (where not exists (select 1 from invoice_holds h where h.invoice_id = i.id))::int as clean
     from invoices i where i.posted_at > :now::timestamptz - make_interval(days => ${DAYS_BACK})`,
    { now: call.now },
  )
  return rows[0]!
}
