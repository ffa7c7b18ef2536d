import { randomUUID } from 'node:crypto'
import type { HouseIdentity, InvoiceFacts, InvoiceLine, InvoiceTax } from '#core/bill/facts.ts'
import type { InvoiceWaits } from '#core/bill/desk.ts'
import type { Clearer, HoldChange, HoldKind, KeptHold } from '#core/bill/holds.ts'
import type { PartyText } from '#core/bill/invoiceText.ts'
import { CREDIT_GROUPS } from '#core/bill/creditStates.ts'
import { NEAR_DAYS } from '#core/bill/matchHead.ts'
import { INVOICE_GROUPS, type InvoiceState } from '#core/bill/states.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { endConsent } from '#core/consent/consent.ts'
import { minor } from '#core/money/amount.ts'
import { PAYMENT_GROUPS } from '#core/pay/states.ts'
import { isIn } from '#core/states.ts'
import { creditsAgainst } from '#server/bill/creditStore.ts'
import { openDisputes } from '#server/bill/disputeStore.ts'
import { tolerancesOf } from '#server/bill/toleranceStore.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { consentsById, type KeptConsent, settleConsent } from '#server/consent/consentStore.ts'
import { groupBy, someIds } from '#server/database/rows.ts'
import { type DatedTaxRate, ratesOn } from '#core/bill/taxRates.ts'
import { hold } from '#server/documents/hold.ts'
import { heldOrders, type KnownOrder, knownOrders } from '#server/order/orderStore.ts'

export interface InvoiceRow {
  id: string
  number: string
  supplierId: string
  supplierNumber: string
  normalNumber: string
  state: InvoiceState
  source: 'file' | 'supplierPages' | 'selfBilled' | 'entered'
  currency: string
  rate: string
  issueDate: string
  printedDueDate: string | null
  dueOn: string | null
  net: bigint
  charges: bigint
  tax: bigint
  gross: bigint
  prepaid: bigint
  rounding: bigint
  /** What is paid: gross − prepaid + rounding. */
  payable: bigint
  basePayable: bigint
  /** Credits set off against it, in its currency and in the base currency. */
  setOff: bigint
  baseSetOff: bigint
  taxes: InvoiceTax[]
  buyer: PartyText | null
  sellerCountries: string[]
  iban: string
  orderReference: string
  fileId: string | null
  receivedAt: string
  byId: string
  postedAt: string | null
  version: number
  changedAt: string
  search: string
}
export interface InvoiceLineRow {
  id: string
  invoiceId: string
  position: number
  orderLineId: string | null
  description: string
  quantity: string
  unit: string
  price: string
  priceBase: string
  net: bigint
  taxCategory: string
  taxRate: string
  /** Its references, as far as the bill gives them. */
  told: { sellerItem: string; buyerItem: string; order: string; orderLine: string }
}
export interface HoldRow {
  id: string
  invoiceId: string
  position: number | null
  kind: HoldKind
  quantity: string
  amount: bigint
  clearedBy: Clearer
  openedAt: string
  endedAt: string | null
  endedBy: string | null
  endReason: string | null
  cleared: boolean
  remindedAt: string | null
  /** Since when those above may clear it, too. */
  escalatedAt: string | null
  /** The last question whether it may be accepted. */
  askedId: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    invoices: InvoiceRow
    invoiceLines: InvoiceLineRow
    invoiceHolds: HoldRow
    taxRates: DatedTaxRate
  }
}

/** A hold with the last question about it. */
export type KnownHold = KeptHold & { readonly asked: KeptConsent | null }

/** An invoice with everything that the core needs of it, its orders included, and its rows. */
export type KnownInvoice = Omit<InvoiceFacts, 'holds'> &
  InvoiceWaits & {
    readonly holds: readonly KnownHold[]
    readonly row: InvoiceRow
    readonly rows: readonly InvoiceLineRow[]
    readonly holdRows: readonly HoldRow[]
    readonly orders: readonly KnownOrder[]
  }

/** What is the same for every invoice of a call. */
interface Around {
  readonly house: HouseIdentity
  readonly taxRates: readonly DatedTaxRate[]
}

async function around(call: Read): Promise<Around> {
  return { house: call.house, taxRates: await allTaxRates(call) }
}

/** All rates of VAT that the house knows, with the days on which they are charged. */
export const allTaxRates = (call: Read): Promise<DatedTaxRate[]> =>
  call.trx('taxRates').orderBy(['country', 'validFrom', 'rate']).select('country', 'rate', 'validFrom', 'validTo')

/** Invoices with everything that the core needs of them. Their orders are given where they are held already. */
export async function knownInvoices(
  call: Read,
  ids: readonly string[],
  held?: readonly KnownOrder[],
): Promise<Map<string, KnownInvoice>> {
  if (ids.length === 0) return new Map()
  const heads = await headsOf(call, ids)
  const rows = await call
    .trx('invoiceLines')
    .whereIn('invoiceId', [...ids])
    .orderBy(['invoiceId', 'position'])
  const holds = await call
    .trx('invoiceHolds')
    .whereIn('invoiceId', [...ids])
    .orderBy(['openedAt', 'position'])
  const questions = await consentsById(call, someIds(holds.map(hold => hold.askedId)))
  const orders = held ?? [...(await knownOrders(call, await ordersOfLines(call, rows))).values()]
  const byLine = new Map(orders.flatMap(order => order.lines.map(line => [line.id, order] as const)))
  const accounts = await accountsOf(call, someIds(heads.map(head => head.supplierId)))
  const charged = await chargesBilled(call, ids)
  const posted = await postedBy(call, ids)
  const twins = await twinsOf(call, ids)
  const failed = await failedPayments(call, ids)
  const credits = await creditsAgainst(call, ids)
  const disputes = await openDisputes(call, ids)
  const common = await around(call)
  const tolerances = await tolerancesOf(call, heads, rows, orders)
  const linesOf = groupBy(rows, row => row.invoiceId)
  const holdsOf = groupBy(holds, row => row.invoiceId)
  return new Map(
    heads.map(({ supplier, ...row }) => {
      const own = linesOf.get(row.id) ?? []
      const ownHolds = holdsOf.get(row.id) ?? []
      const known: KnownInvoice = {
        ...row,
        ...common,
        // what is charged on the day of the invoice, however late it is looked at
        taxRates: ratesOn(common.taxRates, row.issueDate),
        supplier,
        base: call.base,
        net: minor(row.net),
        charges: minor(row.charges),
        tax: minor(row.tax),
        gross: minor(row.gross),
        prepaid: minor(row.prepaid),
        rounding: minor(row.rounding),
        payable: minor(row.payable),
        tolerances: tolerances.document(row.id),
        lines: own.map((line): InvoiceLine => ({
          ...line,
          net: minor(line.net),
          tolerances: tolerances.line(line.id),
        })),
        orders: [...new Set(own.flatMap(line => (line.orderLineId ? (byLine.get(line.orderLineId) ?? []) : [])))],
        holds: ownHolds.map(hold => toHold(hold, questions)),
        chargesBilled: minor(charged.get(row.id) ?? 0n),
        twin: twins.get(row.id) ?? null,
        accounts: accounts.get(row.supplierId) ?? [],
        posted: posted.get(row.id) ?? { quantities: [], spent: [] },
        dispute: disputes.get(row.id) ?? null,
        failedWith: failed.get(row.id) ?? null,
        setOff: minor(row.setOff),
        credits: (credits.get(row.id) ?? []).filter(one => isIn(CREDIT_GROUPS.waiting, one.row.state)),
        creditedBy: (credits.get(row.id) ?? []).map(one => one.row.number),
        row,
        rows: own,
        holdRows: ownHolds,
      }
      return [row.id, known]
    }),
  )
}

/** One of them. */
export const knownInvoice = async (call: Read, id: string, held?: readonly KnownOrder[]): Promise<KnownInvoice> =>
  found((await knownInvoices(call, [id], held)).get(id), 'invoice')

/** Holds an invoice after its orders and their lines, as everybody does who posts on them, and says what is known of it. */
export async function heldInvoice(call: Write, id: string, version?: number): Promise<KnownInvoice> {
  const lines = await call.trx('invoiceLines').where({ invoiceId: id })
  const orders = await heldOrders(call, (await ordersOfLines(call, lines)).sort())
  await hold(call, 'invoice', id, version)
  return await knownInvoice(call, id, orders)
}

/** Writes which holds end and which are opened. Nobody has to decide about one that has ended. */
export async function writeHolds(call: Write, invoiceId: string, change: HoldChange, endReason: string): Promise<void> {
  if (change.end.length > 0) {
    const ended = await call
      .trx('invoiceHolds')
      .whereIn('id', [...change.end])
      .update({ endedAt: call.now, endReason }, ['askedId'])
    const questions = await consentsById(call, someIds(ended.map(one => one.askedId)))
    for (const question of questions.values())
      if (question.state === 'open') await settleConsent(call, question, endConsent(question, 'dropped'))
  }
  if (change.open.length > 0)
    await call
      .trx('invoiceHolds')
      .insert(
        change.open.map((hold): Partial<HoldRow> => ({ id: randomUUID(), invoiceId, ...hold, openedAt: call.now })),
      )
}

const toHold = (row: HoldRow, questions: ReadonlyMap<string, KeptConsent>): KnownHold => ({
  asked: questions.get(row.askedId ?? '') ?? null,
  id: row.id,
  position: row.position,
  kind: row.kind,
  quantity: row.quantity,
  amount: minor(row.amount),
  clearedBy: row.clearedBy,
  ended: row.endedAt !== null,
  cleared: row.cleared,
  escalated: row.escalatedAt !== null,
})

async function headsOf(call: Read, ids: readonly string[]): Promise<(InvoiceRow & { supplier: string })[]> {
  const { rows } = await call.trx
    .raw<{ rows: (InvoiceRow & { supplier: string })[] }>(
      'select i.*, s.name as supplier from invoices i join suppliers s on s.id = i.supplier_id where i.id = any(?) order by i.id',
      [[...ids]],
    )
    .options({ name: 'invoice-heads' })
  return rows
}

export async function ordersOfLines(
  call: Read,
  lines: readonly Pick<InvoiceLineRow, 'orderLineId'>[],
): Promise<string[]> {
  const ids = someIds(lines.map(line => line.orderLineId))
  if (ids.length === 0) return []
  const rows = await call.trx('orderLines').whereIn('id', ids).distinct<{ orderId: string }[]>('orderId')
  return rows.map(row => row.orderId)
}

async function accountsOf(call: Read, supplierIds: readonly string[]): Promise<Map<string, string[]>> {
  const rows = await call
    .trx('supplierBankAccounts')
    .whereIn('supplierId', [...supplierIds])
    .whereNot({ state: 'closed' })
    .select('supplierId', 'iban')
  return new Map([...groupBy(rows, row => row.supplierId)].map(([id, own]) => [id, own.map(row => row.iban)]))
}

/** What other posted invoices of the same orders billed in charges. */
async function chargesBilled(call: Read, ids: readonly string[]): Promise<Map<string, bigint>> {
  const { rows } = await call.trx
    .raw<{ rows: { id: string; charges: bigint }[] }>(
      `with mine as (select distinct il.invoice_id, ol.order_id from invoice_lines il join order_lines ol on ol.id = il.order_line_id where il.invoice_id = any(:ids)),
         others as (select distinct mine.invoice_id, i.id, i.charges from mine join order_lines ol on ol.order_id = mine.order_id join invoice_lines il on il.order_line_id = ol.id join invoices i on i.id = il.invoice_id
           where i.id <> mine.invoice_id and i.charges <> 0 and i.state = any(:posted))
       select invoice_id as id, sum(charges)::bigint as charges from others group by 1`,
      { ids: [...ids], posted: [...INVOICE_GROUPS.posted] },
    )
    .options({ name: 'charges-billed' })
  return new Map(rows.map(row => [row.id, row.charges]))
}

/** Entries that posted invoices made and nobody took back. */
async function postedBy(call: Read, ids: readonly string[]): Promise<Map<string, InvoiceFacts['posted']>> {
  const { rows: quantities } = await call.trx
    .raw<{ rows: { documentId: string; id: string; lineId: string; quantity: string }[] }>(
      `select e.document_id, e.id::text as id, e.line_id, e.quantity from quantity_entries e where e.document_id = any(?) and e.kind = 'billed' and e.reverses_id is null
       and not exists (select 1 from quantity_entries r where r.reverses_id = e.id) order by e.id`,
      [[...ids]],
    )
    .options({ name: 'billed-by-invoices' })
  const { rows: spent } = await call.trx
    .raw<{ rows: (BudgetEntry & { documentId: string; amount: bigint })[] }>(
      `select document_id, account_id, kind, line_id, sum(amount)::bigint as amount from budget_entries where document_id = any(?) and kind = 'spent' group by 1, 2, 3, 4 having sum(amount) <> 0 order by 4, 2`,
      [[...ids]],
    )
    .options({ name: 'spent-by-invoices' })
  return new Map(
    ids.map(id => [
      id,
      {
        quantities: quantities
          .filter(row => row.documentId === id)
          .map(({ id: entryId, lineId, quantity }) => ({ id: entryId, lineId, quantity })),
        spent: spent
          .filter(row => row.documentId === id)
          .map(({ accountId, kind, lineId, amount }) => ({ accountId, kind, lineId: lineId!, amount: minor(amount) })),
      },
    ]),
  )
}

/** Standing invoices of the same supplier and amount that are near in time and were here before. */
async function twinsOf(call: Read, ids: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await call.trx
    .raw<{ rows: { id: string; number: string }[] }>(
      `select i.id, min(t.number) as number from invoices i join invoices t on t.supplier_id = i.supplier_id and t.payable = i.payable and t.currency = i.currency and t.id <> i.id
       where i.id = any(:ids) and t.state = any(:standing) and abs(t.issue_date - i.issue_date) <= :days and (t.received_at, t.id) < (i.received_at, i.id) group by 1`,
      { ids: [...ids], standing: [...INVOICE_GROUPS.standing], days: NEAR_DAYS },
    )
    .options({ name: 'twins-of-invoices' })
  return new Map(rows.map(row => [row.id, row.number]))
}

/** Why the last payment of an invoice came to nothing, where it did. */
async function failedPayments(call: Read, ids: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await call.trx
    .raw<{ rows: { id: string; reason: string | null }[] }>(
      'select distinct on (invoice_id) invoice_id as id, bank_reason as reason from payments where invoice_id = any(:ids) and state = any(:failed) order by invoice_id, end_to_end_id desc',
      { ids: [...ids], failed: [...PAYMENT_GROUPS.failed] },
    )
    .options({ name: 'failed-payments' })
  return new Map(rows.map(row => [row.id, row.reason ?? '']))
}
