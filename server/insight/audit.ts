import type { Knex } from 'knex'
import type { AuditDifference } from '#contract/insight/endpoints.ts'
import { checkChain, type HistoryRecord } from '#core/ledger/canonical.ts'
import { sha256 } from '#server/ledger/history.ts'

export interface AuditReport {
  readonly quantityEntries: number
  readonly budgetEntries: number
  readonly historyRecords: number
  readonly differences: AuditDifference[]
}

/** Each query gives the differences of one law: what was found against what the entries say. */
const LAWS: Readonly<Record<string, string>> = {
  quantityBalances: `select coalesce(e.line_id, b.line_id)::text || ' ' || coalesce(e.kind, b.kind) as document, coalesce(e.quantity, 0)::text as expected, coalesce(b.quantity, 0)::text as found
    from (select line_id, kind, sum(quantity) as quantity from quantity_entries group by 1, 2) e full join quantity_balances b on b.line_id = e.line_id and b.kind = e.kind where coalesce(e.quantity, 0) <> coalesce(b.quantity, 0)`,
  budgetBalances: `select coalesce(e.account_id, b.account_id)::text || ' ' || coalesce(e.kind, b.kind) as document, coalesce(e.amount, 0)::text as expected, coalesce(b.amount, 0)::text as found
    from (select account_id, kind, sum(amount) as amount from budget_entries group by 1, 2) e full join budget_balances b on b.account_id = e.account_id and b.kind = e.kind where coalesce(e.amount, 0) <> coalesce(b.amount, 0)`,
  orderedQuantity: `select o.number || ' line ' || l.position as document, (case when o.state in ('draft', 'cancelled') then 0 else l.quantity end)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join quantity_balances b on b.line_id = l.id and b.kind = 'ordered' where coalesce(b.quantity, 0) <> case when o.state in ('draft', 'cancelled') then 0 else l.quantity end`,
  receivedQuantity: `select o.number || ' line ' || l.position as document, coalesce(r.quantity, 0)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join (select order_line_id, sum(rl.quantity) as quantity from receipt_lines rl join receipts r on r.id = rl.receipt_id where r.state = 'posted' group by 1) r on r.order_line_id = l.id
    left join (select line_id, sum(quantity) as quantity from quantity_balances where kind in ('received', 'accepted') group by 1) b on b.line_id = l.id where coalesce(r.quantity, 0) <> coalesce(b.quantity, 0)`,
  billedQuantity: `select o.number || ' line ' || l.position as document, coalesce(i.quantity, 0)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join (select order_line_id, sum(il.quantity) as quantity from invoice_lines il join invoices i on i.id = il.invoice_id where i.state in ('cleared', 'scheduled', 'paid') group by 1) i on i.order_line_id = l.id
    left join quantity_balances b on b.line_id = l.id and b.kind = 'billed' where coalesce(i.quantity, 0) <> coalesce(b.quantity, 0)`,
  paidQuantity: `select o.number || ' line ' || l.position as document, coalesce(i.quantity, 0)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join (select order_line_id, sum(il.quantity) as quantity from invoice_lines il join invoices i on i.id = il.invoice_id where i.state = 'paid' group by 1) i on i.order_line_id = l.id
    left join quantity_balances b on b.line_id = l.id and b.kind = 'paid' where coalesce(i.quantity, 0) <> coalesce(b.quantity, 0)`,
  reservedAmount: `select r.number || ' line ' || l.position as document, l.base_amount::text as expected, coalesce(sum(e.amount), 0)::text as found
    from requisition_lines l join requisitions r on r.id = l.requisition_id left join budget_entries e on e.line_id = l.id and e.kind = 'reserved' where (r.state in ('waiting', 'approved') and l.state in ('open', 'toBuy')) and not exists (select 1 from order_lines ol where ol.requisition_line_id = l.id) group by r.number, l.position, l.base_amount having coalesce(sum(e.amount), 0) <> l.base_amount`,
  reservedWithoutNeed: `select r.number || ' line ' || l.position as document, '0' as expected, sum(e.amount)::text as found from requisition_lines l join requisitions r on r.id = l.requisition_id join budget_entries e on e.line_id = l.id and e.kind = 'reserved' where r.state in ('draft', 'returned', 'rejected', 'withdrawn', 'cancelled') or l.state in ('bought', 'done', 'cancelled') group by r.number, l.position having sum(e.amount) <> 0`,
  committedWithoutOrder: `select o.number || ' line ' || l.position as document, '0' as expected, sum(e.amount)::text as found from order_lines l join orders o on o.id = l.order_id join budget_entries e on e.line_id = l.id and e.kind = 'committed' where o.state in ('draft', 'cancelled', 'closed', 'sealed') group by o.number, l.position having sum(e.amount) <> 0`,
  spentAmount: `select i.number as document, round(i.net * i.rate * case when i.currency in ('JPY', 'KRW', 'ISK') then 100 when i.currency in ('BHD', 'KWD', 'TND') then 0.1 else 1 end)::text as expected, coalesce(sum(e.amount), 0)::text as found
    from invoices i left join budget_entries e on e.document_id = i.id and e.kind = 'spent' where i.state in ('cleared', 'scheduled', 'paid') group by i.id having abs(coalesce(sum(e.amount), 0) - round(i.net * i.rate * case when i.currency in ('JPY', 'KRW', 'ISK') then 100 when i.currency in ('BHD', 'KWD', 'TND') then 0.1 else 1 end)) > 1`,
  paidOnce: `select i.number as document, '1' as expected, count(*)::text as found from payments p join invoices i on i.id = p.invoice_id where p.state = 'paid' group by i.number having count(*) > 1`,
  requestedQuantity: `select r.number || ' line ' || l.position as document, l.quantity::text as expected, coalesce(b.quantity, 0)::text as found from requisition_lines l join requisitions r on r.id = l.requisition_id left join quantity_balances b on b.line_id = l.id and b.kind = 'requested'
    where r.state in ('waiting', 'approved', 'inPurchasing', 'ordered', 'finished') and l.state <> 'cancelled' and coalesce(b.quantity, 0) <> l.quantity`,
  transfersBalance: `select 'all accounts' as document, '0' as expected, sum(amount)::text as found from budget_entries where kind = 'transferred' having sum(amount) <> 0`,
  ordersOfMerged: `select o.number as document, 'a record that stands' as expected, s.number as found from orders o join suppliers s on s.id = o.supplier_id where s.merged_into is not null and o.state in ('issued', 'acknowledged')`,
  sharedNumbers: `select i.value as document, '1' as expected, count(distinct i.supplier_id)::text as found from supplier_identifiers i join suppliers s on s.id = i.supplier_id and s.merged_into is null where i.scheme in ('vat', 'gln', 'lei') and i.agreement_id is null group by i.scheme, i.value having count(distinct i.supplier_id) > 1`,
  reversals: `select e.id::text as document, (-r.quantity)::text as expected, e.quantity::text as found from quantity_entries e join quantity_entries r on r.id = e.reverses_id where e.quantity <> -r.quantity or e.line_id <> r.line_id or e.kind <> r.kind`,
}

/** Recomputes both ledgers and every history chain from their first entry, in one consistent view of the database. */
export async function audit(db: Knex): Promise<AuditReport> {
  return await db.transaction(
    async trx => {
      const differences: AuditDifference[] = []
      for (const [check, sql] of Object.entries(LAWS)) {
        const { rows } = (await trx.raw(sql)) as { rows: { document: string; expected: string; found: string }[] }
        differences.push(...rows.map(row => ({ check, document: row.document, expected: row.expected, found: row.found })))
      }
      const counts = (await trx.raw(
        'select (select count(*)::int from quantity_entries) as quantity_entries, (select count(*)::int from budget_entries) as budget_entries, (select count(*)::int from history) as history_records',
      )) as { rows: [Omit<AuditReport, 'differences'>] }
      differences.push(...(await auditHistory(trx)))
      return { ...counts.rows[0], differences }
    },
    { isolationLevel: 'repeatable read', readOnly: true },
  )
}

type Kept = HistoryRecord & { hash: string; documentKind: string }

async function auditHistory(trx: Knex): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for (let after = ['00000000-0000-0000-0000-000000000000']; after.length > 0;) {
    const ids = ((await trx('history').where('documentId', '>', after.at(-1)!).distinct('documentId').orderBy('documentId').limit(500)) as { documentId: string }[]).map(
      row => row.documentId,
    )
    const records = (await trx('history').whereIn('documentId', ids).orderBy(['documentId', 'sequence'])) as Kept[]
    const chains = new Map<string, Kept[]>()
    for (const one of records) chains.set(one.documentId, [...(chains.get(one.documentId) ?? []), one])
    for (const [id, chain] of chains) {
      const facts = chain.map(({ documentKind: _kind, ...rest }) => rest)
      differences.push(
        ...checkChain(facts, sha256).map(fault => ({
          check: 'history',
          document: `${chain[0]!.documentKind} ${id}`,
          expected: `record ${fault.sequence} unbroken`,
          found: fault.fault,
        })),
      )
    }
    after = ids
  }
  return differences
}
