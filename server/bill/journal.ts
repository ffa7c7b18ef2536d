import { createHash } from 'node:crypto'
import { stringify } from 'csv-stringify/sync'
import type { ReadJournal } from '#contract/bill/journal.ts'
import type { ReadTaxes } from '#contract/bill/taxes.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { InvoiceTax } from '#core/bill/facts.ts'
import { ratesOn } from '#core/bill/taxRates.ts'
import { taxReport } from '#core/bill/taxReport.ts'
import { type JournalDocument, journalFaults, type JournalLine, journalOf } from '#core/bill/journal.ts'
import { dayAfter, firstDay, lastDay } from '#core/calendar/months.ts'
import { action } from '#core/acts/decision.ts'
import { type PeriodFacts, whyNotClosePeriod, whyNotReopenPeriod } from '#core/books/periods.ts'
import { formatAmount, type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { allTaxRates } from '#server/bill/invoiceStore.ts'
import { actionsJson, pathOf } from '#server/documents/sheetParts.ts'
import { closedMonths } from '#server/books/periodStore.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { accruedByAccount } from '#server/receive/accruedStore.ts'

/** What stands against the accounts that pay, as it is called in the journal. */
const AGAINST = { payables: 'payables', inputTax: 'input tax', accrued: 'received, not billed', rounding: 'rounding' }

interface Spent {
  documentId: string
  kind: string
  day: string
  account: string
  amount: bigint
}
interface Head {
  id: string
  kind: 'invoice' | 'creditNote'
  number: string
  text: string
  currency: string
  rate: string
  tax: bigint
  gross: bigint
  taxes: InvoiceTax[]
  country: string
}

/** The journal of a month, and what its accounts spent by the ledger. */
export async function journalMonth(
  call: Read,
  month: string,
): Promise<{ lines: JournalLine[]; ledger: Map<string, Minor>; faults: string[] }> {
  // prettier-ignore
  const span = { from: firstDay(month), to: dayAfter(month), zone: call.house.zone }
  const { rows, documents: found } = await spentIn(call, span)
  const documents = found.map(({ own, head }) => documentOf(call, own, head))
  const ledger = new Map<string, Minor>()
  for (const { account, amount } of rows) ledger.set(account, minor((ledger.get(account) ?? 0n) + amount))
  const lines = journalOf(month, documents, await accruedByAccount(call, lastDay(month)), AGAINST)
  return { lines, ledger, faults: journalFaults(lines, ledger, AGAINST, month) }
}

/** What a month spent, and its documents, one for each day that touched it. */
async function spentIn(call: Read, span: { from: string; to: string; zone: string }) {
  const { rows } = await call.trx.raw<{ rows: Spent[] }>(
    `select e.document_id, e.document_kind as kind, (e.at at time zone :zone)::date::text as day, concat_ws(' · ', a.cost_centre, a.natural_account, a.project) as account, sum(e.amount)::bigint as amount
     from budget_entries e join budget_accounts a on a.id = e.account_id
     where e.kind = 'spent' and e.at >= (:from::date)::timestamp at time zone :zone and e.at < (:to::date)::timestamp at time zone :zone group by 1, 2, 3, 4 having sum(e.amount) <> 0 order by 3, 1, 4`,
    span,
  )
  const heads = await headsOf(call, [...new Set(rows.map(row => row.documentId))])
  const documents = [...groupBy(rows, row => `${row.documentId} ${row.day}`).values()].map(own => ({ own, head: heads.get(own[0]!.documentId) })) // prettier-ignore
  return { rows, documents }
}

/** Whether a document gave back on a day: a credit note, or what was taken out of the books again. */
const signOf = (own: readonly Spent[]): 1 | -1 => (own.reduce((sum, one) => sum + one.amount, 0n) < 0n ? -1 : 1)

/** VAT of what a month posted. */
export async function readTaxes(call: Read, month = call.today.slice(0, 7)): Promise<ResponseOf<typeof ReadTaxes>> {
  const { documents } = await spentIn(call, { from: firstDay(month), to: dayAfter(month), zone: call.house.zone })
  const taxed = documents.flatMap(({ own, head }, at) => (head ? [{ ...head, key: String(at), day: own[0]!.day, sign: signOf(own) }] : [])) // prettier-ignore
  const byKey = new Map(taxed.map(one => [one.key, one]))
  const ours = ratesOn(await allTaxRates(call), lastDay(month)).filter(one => one.country === call.house.country)
  const rows = taxReport(taxed.map(one => ({ ...one, id: one.key, tax: minor(one.tax) })), ours, call.base) // prettier-ignore
  const text = (amount: bigint): string => formatAmount(amount, call.base)
  return {
    month,
    currency: call.base,
    tax: text(sumMinor(rows.map(row => row.tax))),
    owed: text(sumMinor(rows.map(row => row.owed))),
    rows: rows.map(({ documents, ...row }) => ({
      ...row,
      taxable: text(row.taxable),
      tax: text(row.tax),
      owed: text(row.owed),
      documents: documents.map(({ id: key, taxable, tax }) => {
        const { id, kind, number, text: supplier, day } = byKey.get(key)!
        return {
          id: `${id} ${day}`,
          number,
          supplier,
          day,
          path: pathOf(kind, id),
          taxable: text(taxable),
          tax: text(tax),
        }
      }),
    })),
  }
}

/** Taken out of the books on another day than it came in, a document stands twice, the second time with its sides turned. */
function documentOf(call: Read, own: readonly Spent[], head: Head | undefined): JournalDocument {
  const spent = own.map(({ account, amount }) => ({ account, amount: minor(amount) }))
  const net = sumMinor(spent.map(one => one.amount))
  const { documentId, day, kind } = own[0]!
  // what goes back or is deducted without a bill of its own has no tax here
  if (!head) return { number: `${kind} ${documentId.slice(0, 8)}`, text: kind, day, spent, tax: minor(0), gross: net }
  const sign = BigInt(signOf(own))
  const base = (amount: bigint): bigint => sign * toBase(minor(amount), head.currency, head.rate, call.base)
  return {
    number: head.number,
    text: head.text,
    day,
    spent,
    tax: minor(base(head.tax)),
    gross: minor(base(head.gross)),
  }
}

async function headsOf(call: Read, ids: readonly string[]): Promise<Map<string, Head>> {
  const { rows } = await call.trx.raw<{ rows: Head[] }>(
    `select i.id, 'invoice' as kind, i.taxes, coalesce(i.seller_countries[1], '') as country, i.number, s.name || ', ' || i.supplier_number as text, i.currency, i.rate, i.tax, i.gross from invoices i join suppliers s on s.id = i.supplier_id where i.id = any(:ids)
     union all select c.id, 'creditNote', c.taxes, coalesce(i.seller_countries[1], ''), c.number, s.name || ', ' || coalesce(nullif(c.supplier_number, ''), c.number), c.currency, i.rate, c.tax, c.gross from credit_notes c join suppliers s on s.id = c.supplier_id join invoices i on i.id = c.invoice_id where c.id = any(:ids)`,
    { ids: [...ids] },
  )
  return new Map(rows.map(row => [row.id, row]))
}

export async function readJournal(call: Read, month = call.today.slice(0, 7)): Promise<ResponseOf<typeof ReadJournal>> {
  const { lines, ledger, faults } = await journalMonth(call, month)
  const text = (amounts: readonly bigint[]): string => formatAmount(sumMinor(amounts.map(minor)), call.base)
  return {
    month,
    currency: call.base,
    documents: new Set(lines.map(line => line.document)).size,
    lines: lines.length,
    total: text(lines.map(line => line.debit)),
    accounts: [...groupBy(lines, line => line.account)].sort(([a], [b]) => (a < b ? -1 : 1)).map(([account, own]) => ({
      account,
      debit: text(own.map(line => line.debit)),
      credit: text(own.map(line => line.credit)),
      ledger: ledger.has(account) ? text([ledger.get(account)!]) : null,
    })), // prettier-ignore
    differences: faults,
    period: await periodJson(call, month, lines, faults),
  }
}

/** What tells two journals apart: day, document, account and both sides of every line. */
export const digestOf = (lines: readonly JournalLine[]): string =>
  createHash('sha256')
    .update(
      lines
        .map(({ day, document, account, debit, credit }) => `${day}\t${document}\t${account}\t${debit}\t${credit}`)
        .join('\n'),
    ) // prettier-ignore
    .digest('hex')

/** What is known of the months when one of them is closed or opened again. */
export async function periodFacts(call: Read, month: string, faults: readonly string[]): Promise<PeriodFacts> {
  const { rows } = await call.trx.raw<{ rows: { begins: string | null }[] }>(
    `select to_char(min(at) at time zone :zone, 'YYYY-MM') as begins from budget_entries`,
    { zone: call.house.zone },
  )
  return { month, today: call.today, begins: rows[0]!.begins, closed: await closedMonths(call), faults }
}

async function periodJson(
  call: Read,
  month: string,
  lines: readonly JournalLine[],
  faults: readonly string[],
): Promise<ResponseOf<typeof ReadJournal>['period']> {
  const row = await call.trx('bookPeriods').where({ month }).first()
  const facts = await periodFacts(call, month, faults)
  const who = row && (await call.trx('people').where({ id: row.byId }).first('name'))
  return {
    closed: row?.state === 'closed',
    by: who?.name ?? '',
    at: row?.at ?? null,
    reason: row?.reason ?? '',
    same: row?.state === 'closed' ? row.digest === digestOf(lines) : null,
    actions: actionsJson([
      ...(facts.closed.includes(month)
        ? [action('reopenPeriod', whyNotReopenPeriod(facts, call.actor, 'why'))]
        : [action('closePeriod', whyNotClosePeriod(facts, call.actor), true)]),
    ]),
  }
}

export async function journalFile(call: Read, month: string): Promise<FileAnswer> {
  const { lines } = await journalMonth(call, month)
  const money = (amount: Minor): string => (amount === 0n ? '' : formatAmount(amount, call.base))
  const table = lines.map(line => [line.day, line.document, line.account, line.text, money(line.debit), money(line.credit), call.base]) // prettier-ignore
  const head = ['day', 'document', 'account', 'text', 'debit', 'credit', 'currency']
  return { name: `journal-${month}.csv`, mediaType: 'text/csv', bytes: Buffer.from(stringify([head, ...table], { escape_formulas: true })) } // prettier-ignore
}
