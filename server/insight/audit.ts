import type { Knex } from 'knex'
import type { AuditDifference } from '#contract/insight/endpoints.ts'
import { creditDesk } from '#core/bill/creditDesk.ts'
import { creditLaws } from '#core/bill/creditLaws.ts'
import { invoiceDesk } from '#core/bill/desk.ts'
import { invoiceLaws } from '#core/bill/laws.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import type { DeskEntry } from '#core/desk/entry.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { checkChain, type HistoryRecord } from '#core/ledger/canonical.ts'
import type { Breach } from '#core/ledger/law.ts'
import { orderDesk } from '#core/order/desk.ts'
import { keptLaws, orderLaws } from '#core/order/laws.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { paymentLaws, type PaidFacts } from '#core/pay/laws.ts'
import { requisitionDesk } from '#core/request/desk.ts'
import { computeBuild } from '#core/build/computeBuild.ts'
import { buildFigures } from '#core/build/figures.ts'
import { planAgain } from '#core/award/planAgain.ts'
import { factsOf, knownCosting } from '#server/build/costingStore.ts'
import { auditAgreement, auditCallOffs } from '#server/insight/auditAgreements.ts'
import { auctionEnd } from '#core/source/dayActs.ts'
import { eventDesk } from '#core/source/eventDesk.ts'
import { isWork, LINE_KINDS } from '#core/request/kinds.ts'
import { requisitionLaws } from '#core/request/laws.ts'
import { table } from '#core/text/table.ts'
import { knownInvoices } from '#server/bill/invoiceStore.ts'
import { knownCredit } from '#server/bill/knownCreditStore.ts'
import { type Read, reading } from '#server/call.ts'
import { consentsById, entriesOf } from '#server/consent/consentStore.ts'
import { byId, groupBy } from '#server/database/rows.ts'
import { noteDesks } from '#server/files/noteActs.ts'
import { audited, keptDesk, wantedDesk } from '#server/desk/deskStore.ts'
import { sha256 } from '#server/documents/history.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { knownOrders } from '#server/order/orderStore.ts'
import { faultsOf, lotStandings } from '#server/source/eventLogStore.ts'
import { knownEvents } from '#server/source/eventStore.ts'
import { knownRequisitions } from '#server/request/requisitionStore.ts'

export interface AuditReport {
  readonly quantityEntries: number
  readonly budgetEntries: number
  readonly historyRecords: number
  readonly differences: AuditDifference[]
}

/** Sums that the database keeps beside entries or documents; each query gives the differences of one law. */
const SUMS: Readonly<Record<string, string>> = table({
  quantityBalances: `select coalesce(e.line_id, b.line_id)::text || ' ' || coalesce(e.kind, b.kind) as document, coalesce(e.quantity, 0)::text as expected, coalesce(b.quantity, 0)::text as found
    from (select line_id, kind, sum(quantity) as quantity from quantity_entries group by 1, 2) e full join quantity_balances b on b.line_id = e.line_id and b.kind = e.kind where coalesce(e.quantity, 0) <> coalesce(b.quantity, 0)`,
  budgetBalances: `select coalesce(e.account_id, b.account_id)::text || ' ' || coalesce(e.kind, b.kind) as document, coalesce(e.amount, 0)::text as expected, coalesce(b.amount, 0)::text as found
    from (select account_id, kind, sum(amount) as amount from budget_entries group by 1, 2) e full join budget_balances b on b.account_id = e.account_id and b.kind = e.kind where coalesce(e.amount, 0) <> coalesce(b.amount, 0)`,
  receivedQuantity: `select o.number || ' line ' || l.position as document, (coalesce(r.quantity, 0) + l.received_before)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join (select order_line_id, sum(rl.quantity - rl.reversed) as quantity from receipt_lines rl join receipts r on r.id = rl.receipt_id where r.state in ('posted', 'reversed') group by 1) r on r.order_line_id = l.id
    left join quantity_balances b on b.line_id = l.id and b.kind = case when l.kind = any(:goods) then 'received' else 'accepted' end where coalesce(r.quantity, 0) + l.received_before <> coalesce(b.quantity, 0)`,
  billedQuantity: `select o.number || ' line ' || l.position as document, (coalesce(i.quantity, 0) + l.billed_before)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join (select order_line_id, sum(il.quantity) as quantity from invoice_lines il join invoices i on i.id = il.invoice_id where i.state = any(:posted) group by 1) i on i.order_line_id = l.id
    left join quantity_balances b on b.line_id = l.id and b.kind = 'billed' where coalesce(i.quantity, 0) + l.billed_before <> coalesce(b.quantity, 0)`,
  paidQuantity: `select o.number || ' line ' || l.position as document, coalesce(i.quantity, 0)::text as expected, coalesce(b.quantity, 0)::text as found
    from order_lines l join orders o on o.id = l.order_id left join (select order_line_id, sum(il.quantity) as quantity from invoice_lines il join invoices i on i.id = il.invoice_id where i.state = 'paid' group by 1) i on i.order_line_id = l.id
    left join quantity_balances b on b.line_id = l.id and b.kind = 'paid' where coalesce(i.quantity, 0) <> coalesce(b.quantity, 0)`,
  agreementBalances: `select coalesce(e.agreement_line_id, b.agreement_line_id)::text || ' ' || coalesce(e.kind, b.kind) as document, coalesce(e.amount, 0)::text || ' for ' || coalesce(e.quantity, 0)::text as expected, coalesce(b.amount, 0)::text || ' for ' || coalesce(b.quantity, 0)::text as found
    from (select agreement_line_id, kind, sum(amount) as amount, sum(quantity) as quantity from agreement_entries group by 1, 2) e full join agreement_balances b on b.agreement_line_id = e.agreement_line_id and b.kind = e.kind
    where coalesce(e.amount, 0) <> coalesce(b.amount, 0) or coalesce(e.quantity, 0) <> coalesce(b.quantity, 0)`,
  stockLots: `select coalesce(e.item_id, l.item_id)::text || ' ' || coalesce(e.bin, l.bin) || ' ' || coalesce(e.batch, l.batch) as document, coalesce(e.quantity, 0)::text as expected, coalesce(l.quantity, 0)::text as found
    from (select item_id, place_id, bin, batch, sum(quantity) as quantity from stock_entries group by 1, 2, 3, 4) e full join stock_lots l on l.item_id = e.item_id and l.place_id = e.place_id and l.bin = e.bin and l.batch = e.batch where coalesce(e.quantity, 0) <> coalesce(l.quantity, 0)`,
  stockHoldings: `select coalesce(e.item_id, h.item_id)::text as document, coalesce(e.quantity, 0)::text || ' worth ' || coalesce(e.value, 0)::text as expected, coalesce(h.quantity, 0)::text || ' worth ' || coalesce(h.value, 0)::text as found
    from (select item_id, place_id, sum(quantity) as quantity, sum(value) as value from stock_entries group by 1, 2) e full join stock_holdings h on h.item_id = e.item_id and h.place_id = e.place_id where coalesce(e.quantity, 0) <> coalesce(h.quantity, 0) or coalesce(e.value, 0) <> coalesce(h.value, 0)`,
  stockWithoutGoods: `select item_id::text as document, '0' as expected, value::text as found from stock_holdings where quantity = 0 and value <> 0`,
  setOffOfCredits: `select c.number as document, coalesce(s.amount, 0)::text as expected, c.set_off::text as found from credit_notes c left join (select credit_id, sum(amount) as amount from set_offs where ended_at is null group by 1) s on s.credit_id = c.id where coalesce(s.amount, 0) <> c.set_off`,
  setOffOfInvoices: `select i.number as document, coalesce(s.amount, 0)::text as expected, i.set_off::text as found from invoices i left join (select invoice_id, sum(amount) as amount from set_offs where ended_at is null group by 1) s on s.invoice_id = i.id
    where coalesce(s.amount, 0) <> i.set_off or i.set_off > 0 and i.set_off > i.payable or (i.state = 'setOff') <> (i.set_off = i.payable and i.payable > 0)`,
  payers: `select number as document, payers_of(id)::text as expected, payers::text as found from requisitions where payers <> payers_of(id)`,
  transfersBalance: `select 'all accounts' as document, '0' as expected, sum(amount)::text as found from budget_entries where kind = 'transferred' having sum(amount) <> 0`,
  ordersOfMerged: `select o.number as document, 'a record that stands' as expected, s.number as found from orders o join suppliers s on s.id = o.supplier_id where s.merged_into is not null and o.state = any(:live)`,
  sharedNumbers: `select i.value as document, '1' as expected, count(distinct i.supplier_id)::text as found from supplier_identifiers i join suppliers s on s.id = i.supplier_id and s.merged_into is null where i.scheme in ('vat', 'gln', 'lei') and i.consent_id is null group by i.scheme, i.value having count(distinct i.supplier_id) > 1`,
  reversals: `select r.id::text as document, 'at most ' || (-r.quantity)::text as expected, sum(e.quantity)::text as found from quantity_entries e join quantity_entries r on r.id = e.reverses_id
    group by r.id having sign(r.quantity) * sum(e.quantity) < -abs(r.quantity) or bool_or(sign(e.quantity) = sign(r.quantity)) or bool_or(e.line_id <> r.line_id or e.kind <> r.kind)`,
})

/** The same in one consistent view of a database. */
export async function auditDatabase(db: Knex): Promise<AuditReport> {
  const setting = await settingOf({ db, clock: () => new Date().toISOString() })
  return await db.transaction(trx => audit(reading(trx, setting)), {
    isolationLevel: 'repeatable read',
    readOnly: true,
  })
}

/** Recomputes both ledgers, every document's standing in them, the Desks and every history chain, in the caller's snapshot. */
export async function audit(call: Read): Promise<AuditReport> {
  const differences = [
    ...(await auditSums(call)),
    ...(await auditRequests(call)),
    ...(await auditOrders(call)),
    ...(await auditInvoices(call)),
    ...(await auditCredits(call)),
    ...(await auditPayments(call)),
    ...(await auditConsents(call)),
    ...(await auditNotes(call)),
    ...(await auditEvents(call)),
    ...(await auditPlans(call)),
    ...(await auditCostings(call)),
    ...(await auditAgreements(call)),
    ...(await auditHistory(call.trx)),
  ]
  const counts = await call.trx.raw<{ rows: [Omit<AuditReport, 'differences'>] }>(
    'select (select count(*)::int from quantity_entries) as quantity_entries, (select count(*)::int from budget_entries) as budget_entries, (select count(*)::int from history) as history_records',
  )
  return { ...counts.rows[0], differences }
}

async function auditSums(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for (const [check, sql] of Object.entries(SUMS)) {
    const { rows } = await call.trx.raw<{ rows: { document: string; expected: string; found: string }[] }>(sql, {
      posted: [...INVOICE_GROUPS.posted],
      live: [...ORDER_GROUPS.live],
      goods: LINE_KINDS.filter(kind => !isWork(kind)),
    })
    differences.push(...rows.map(row => ({ check, ...row })))
  }
  return differences
}

const BATCH = 200
const FIRST = '00000000-0000-0000-0000-000000000000'

/** All documents of a table, some at a time, in id order. */
async function* batches(
  call: Read,
  table:
    | 'agreements'
    | 'requisitions'
    | 'orders'
    | 'invoices'
    | 'creditNotes'
    | 'consents'
    | 'notes'
    | 'events'
    | 'awardPlanRuns'
    | 'buildCostings',
): AsyncGenerator<string[]> {
  for (let after = FIRST; ;) {
    const ids = await call.trx(table).where('id', '>', after).orderBy('id').limit(BATCH).pluck<string[]>('id')
    if (ids.length === 0) return
    yield ids
    after = ids.at(-1)!
  }
}

const toDifference = ({ law, document, expected, found }: Breach): AuditDifference => ({
  check: law,
  document,
  expected,
  found,
})

/** What stands on the Desks because of documents is what has to. */
async function auditDesk(
  call: Read,
  kind: DocumentKind,
  documents: readonly { readonly id: string; readonly number: string; readonly entries: readonly DeskEntry[] }[],
): Promise<AuditDifference[]> {
  const rows = await keptDesk(
    call,
    kind,
    documents.map(document => document.id),
  )
  const kept = groupBy(rows, row => row.documentId)
  return documents.flatMap(({ id, number, entries }) => {
    const wanted = wantedDesk({ kind, id }, entries).join(', ')
    const found = (kept.get(id) ?? []).map(audited).sort().join(', ')
    return wanted === found ? [] : [{ check: 'desk', document: number, expected: wanted, found }]
  })
}

/** Notes that name people stand on the Desks of those who have not seen them. */
async function auditNotes(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'notes')) {
    const desks = await noteDesks(call, ids)
    const documents = desks.map(({ document, entries }) => ({ id: document.id, number: document.id, entries }))
    differences.push(...(await auditDesk(call, 'note', documents)))
  }
  return differences
}

/** What waits because of events, their logs link by link, and the end of an auction by the clocks of its lots. */
async function auditEvents(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'events')) {
    const events = await knownEvents(call, ids)
    const logs = groupBy(await call.trx('eventLog').whereIn('eventId', ids).orderBy('sequence'), row => row.eventId)
    for (const event of events) {
      for (const { sequence, fault } of faultsOf(logs.get(event.id) ?? []))
        differences.push({ check: 'eventLog', document: event.number, expected: `entry ${sequence} unbroken`, found: fault }) // prettier-ignore
      if (event.kind.format === 'auction' && event.state === 'asking') {
        const end = auctionEnd(event, await lotStandings(call, event))
        const expected = end === null ? '' : new Date(end).toISOString()
        if (expected !== (event.endsAt ?? ''))
          differences.push({ check: 'auctionEnd', document: event.number, expected, found: event.endsAt ?? '' })
      }
    }
    const documents = events.map(event => ({
      id: event.id,
      number: event.number,
      entries: eventDesk({ ...event, createdAt: event.row.createdAt, unread: event.row.unread }),
    }))
    differences.push(...(await auditDesk(call, 'event', documents)))
  }
  return differences
}

/** Award plans come to the same cent when they are added up again from what they were made of. */
async function auditPlans(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'awardPlanRuns')) {
    const runs = await call.trx('awardPlanRuns').whereIn('id', ids).whereNotNull('outcome')
    const numbers = byId(await call.trx('events').whereIn('id', runs.map(one => one.eventId)).select('id', 'number')) // prettier-ignore
    for (const { eventId, facts, wishes, outcome } of runs)
      for (const { key, kept, again, same } of planAgain(facts, wishes, outcome!))
        if (!same) differences.push({ check: 'awardPlan', document: numbers.get(eventId)!.number, expected: `${key} ${again}`, found: kept }) // prettier-ignore
  }
  return differences
}

/** Build costings come to what stands in their list when they are computed again from what they were made of. */
async function auditCostings(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'buildCostings'))
    for (const id of ids) {
      const costing = await knownCosting(call, id)
      const { number, settings, parts, total, partCount, unpriced } = costing.row
      const facts = factsOf(costing)
      const again = buildFigures(facts, computeBuild(facts, settings, parts).costed)
      const expected = `${again.total} for ${again.parts} parts, ${again.unpriced} without a price`
      const found = `${total} for ${partCount} parts, ${unpriced} without a price`
      if (expected !== found) differences.push({ check: 'costing', document: number, expected, found })
    }
  return differences
}

/** Agreements: what is kept beside them, and what waits because of them. */
async function auditAgreements(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'agreements')) {
    const audits = []
    for (const id of ids) audits.push(await auditAgreement(call, id))
    differences.push(...audits.flatMap(one => one.differences), ...(await auditDesk(call, 'agreement', audits)))
  }
  return differences
}

async function auditRequests(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'requisitions')) {
    const requests = [...(await knownRequisitions(call, ids)).values()]
    differences.push(...requests.flatMap(requisitionLaws).map(toDifference))
    const documents = requests.map(({ id, number, ...rest }) => ({
      id,
      number,
      entries: requisitionDesk({ id, number, ...rest }),
    }))
    differences.push(...(await auditDesk(call, 'requisition', documents)))
    differences.push(...(await auditCallOffs(call, { requisitionIds: ids, orderIds: [] })))
  }
  return differences
}

async function auditOrders(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'orders')) {
    const orders = [...(await knownOrders(call, ids)).values()]
    differences.push(
      ...orders.flatMap(order => [...orderLaws(order), ...keptLaws(order, order.kept)]).map(toDifference),
    )
    const documents = orders.map(order => ({ id: order.id, number: order.number, entries: orderDesk(order) }))
    differences.push(...(await auditDesk(call, 'order', documents)))
    differences.push(...(await auditCallOffs(call, { requisitionIds: [], orderIds: ids })))
  }
  return differences
}

async function auditInvoices(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'invoices')) {
    const invoices = [...(await knownInvoices(call, ids)).values()]
    differences.push(...invoices.flatMap(invoiceLaws).map(toDifference))
    const documents = invoices.map(invoice => ({
      id: invoice.id,
      number: invoice.number,
      entries: invoiceDesk(invoice),
    }))
    differences.push(...(await auditDesk(call, 'invoice', documents)))
  }
  return differences
}

async function auditCredits(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'creditNotes')) {
    const credits = []
    for (const id of ids) credits.push(await knownCredit(call, id))
    differences.push(...credits.flatMap(creditLaws).map(toDifference))
    differences.push(...(await auditDesk(call, 'creditNote', credits.map(({ id, number, ...rest }) => ({ id, number, entries: creditDesk({ id, number, ...rest }) }))))) // prettier-ignore
  }
  return differences
}

async function auditPayments(call: Read): Promise<AuditDifference[]> {
  const { rows } = await call.trx.raw<{ rows: PaidFacts[] }>(
    `select i.number, i.state, coalesce(array_agg(p.state) filter (where p.id is not null), '{}') as payments from invoices i left join payments p on p.invoice_id = i.id group by i.id`,
  )
  return rows.flatMap(paymentLaws).map(toDifference)
}

async function auditConsents(call: Read): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for await (const ids of batches(call, 'consents')) {
    const consents = [...(await consentsById(call, ids)).values()]
    const documents = consents.map(consent => ({
      id: consent.id,
      number: `${consent.purpose} ${consent.about.number}`,
      entries: entriesOf(consent),
    }))
    differences.push(...(await auditDesk(call, 'secondYes', documents)))
  }
  return differences
}

type Kept = HistoryRecord & { hash: string; documentKind: string }

async function auditHistory(trx: Knex): Promise<AuditDifference[]> {
  const differences: AuditDifference[] = []
  for (let after = [FIRST]; after.length > 0;) {
    const ids = (
      await trx('history')
        .where('documentId', '>', after.at(-1)!)
        .distinct<{ documentId: string }[]>('documentId')
        .orderBy('documentId')
        .limit(500)
    ).map(row => row.documentId)
    const records: Kept[] = await trx('history').whereIn('documentId', ids).orderBy(['documentId', 'sequence'])
    for (const [id, chain] of groupBy(records, record => record.documentId)) {
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
