import type { Knex } from 'knex'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadCredit, ReadCreditable } from '#contract/bill/credits.ts'
import { creditActions } from '#core/bill/creditDesk.ts'
import type { CreditedInvoice, CreditFigures } from '#core/bill/creditFacts.ts'
import { CREDIT_GROUPS, CREDIT_STATES, type CreditState } from '#core/bill/creditStates.ts'
import { chargesLeft, grossLeft, leftOf } from '#core/bill/writeCredit.ts'
import { givenBack } from '#core/bill/postCredit.ts'
import { byAccount } from '#core/ledger/budget.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isIn } from '#core/states.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { knownInvoice } from '#server/bill/invoiceStore.ts'
import { creditedInvoice, knownCredit } from '#server/bill/knownCreditStore.ts'
import { may, type Read } from '#server/call.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { shownFigures } from '#server/ledger/shownFigures.ts'
import { threadOf } from '#server/thread/thread.ts'

export const CREDIT_TONES = {
  draft: 'plain',
  waiting: 'attention',
  posted: 'settled',
  rejected: 'stop',
  withdrawn: 'plain',
  voided: 'plain',
} as const satisfies Readonly<Record<CreditState, string>>

/** Lines of a credit note as the contract has them. */
export const creditLines = ({ lines }: CreditFigures, currency: string) =>
  lines.map(line => ({
    position: line.position,
    of: line.of,
    description: line.description,
    way: line.way,
    quantity: line.quantity,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
    net: formatAmount(line.net, currency),
    tax: `${line.taxCategory} ${line.taxRate} %`,
  }))

/** Lines of an invoice with what of them may still be credited. */
export const creditable = (invoice: CreditedInvoice): ResponseOf<typeof ReadCreditable> => ({
  currency: invoice.currency,
  chargesLeft: formatAmount(chargesLeft(invoice), invoice.currency),
  grossLeft: formatAmount(grossLeft(invoice), invoice.currency),
  lines: invoice.lines.map(line => {
    const left = leftOf(invoice, line)
    return {
      of: line.position,
      description: line.description,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      net: formatAmount(line.net, invoice.currency),
      leftQuantity: left.quantity,
      leftNet: formatAmount(left.net, invoice.currency),
    }
  }),
})

export const readCreditable = async (call: Read, id: string): Promise<ResponseOf<typeof ReadCreditable>> =>
  creditable(await creditedInvoice(call, await knownInvoice(call, id)))

export async function readCredit(call: Read, id: string): Promise<ResponseOf<typeof ReadCredit>> {
  const credit = await knownCredit(call, id)
  const { row, invoice } = credit
  const text = (amount: bigint): string => formatAmount(amount, row.currency)
  const orderIds = credit.orders.map(order => order.id)
  const waitsFor =
    row.state === 'waiting' && !isIn(INVOICE_GROUPS.posted, invoice.state) ? 'waitsForInvoice' : row.state
  return {
    kind: 'creditNote',
    id,
    number: row.number,
    title: `${credit.supplier}, ${credit.supplierNumber}`,
    state: row.state,
    version: row.version,
    ...(await sheetParts(call, 'creditNote', id)),
    thread: orderIds.length > 0 ? await threadOf(call, { orderIds }) : null,
    budgets: await shownFigures(call, byAccount(givenBack(credit)), true, may(call, 'invoice.write')),
    steps: [],
    sentence: { code: `creditNote.is.${waitsFor}`, details: { invoice: invoice.number, setOff: text(row.setOff), open: text(row.gross - row.setOff), currency: row.currency } }, // prettier-ignore
    tone: CREDIT_TONES[row.state],
    actions: actionsJson(creditActions(credit, call.actor)),
    issuer: row.issuer,
    source: row.source,
    supplier: credit.supplier,
    supplierPath: pathOf('supplier', row.supplierId),
    supplierNumber: credit.supplierNumber,
    invoiceNumber: invoice.number,
    invoicePath: pathOf('invoice', invoice.id),
    currency: row.currency,
    issueDate: row.issueDate,
    reason: row.reason,
    charges: text(row.charges),
    net: text(row.net),
    tax: text(row.tax),
    gross: text(row.gross),
    taxes: row.taxes,
    lines: creditLines(credit, row.currency),
    setOff: text(row.setOff),
    setOffs: await setOffsOf(call, id, row.currency),
    fileId: row.fileId,
  }
}

async function setOffsOf(call: Read, creditId: string, currency: string) {
  const rows = await call
    .trx('setOffs')
    .join('invoices', 'invoices.id', 'setOffs.invoiceId')
    .where({ creditId })
    .whereNull('endedAt')
    .orderBy('at')
    .select<{ id: string; number: string; amount: bigint }[]>('invoices.id', 'invoices.number', 'setOffs.amount')
  return rows.map(one => ({ number: one.number, path: pathOf('invoice', one.id), amount: formatAmount(one.amount, currency) })) // prettier-ignore
}

interface Listed {
  id: string
  number: string
  issuer: string
  supplierNumber: string
  supplier: string
  invoice: string
  state: CreditState
  issueDate: string
  gross: bigint
  setOff: bigint
  currency: string
}

/** Credit notes of suppliers and debit notes of ours. */
export const creditList: ListDefinition<Listed> = {
  id: 'credit_notes.id',
  base: call => {
    const notes: Knex.QueryBuilder = call
      .trx('creditNotes')
      .leftJoin('suppliers', 'suppliers.id', 'creditNotes.supplierId')
      .leftJoin('invoices', 'invoices.id', 'creditNotes.invoiceId')
    return notes.whereNotIn('creditNotes.state', [...CREDIT_GROUPS.draft])
  },
  select: [
    'credit_notes.id',
    'credit_notes.number',
    'credit_notes.issuer',
    'credit_notes.supplier_number',
    'suppliers.name as supplier',
    'invoices.number as invoice',
    'credit_notes.state',
    'credit_notes.issue_date',
    'credit_notes.gross',
    'credit_notes.set_off',
    'credit_notes.currency',
  ],
  views: {
    toPost: query => void query.whereIn('creditNotes.state', [...CREDIT_GROUPS.waiting]),
    open: query =>
      void query
        .whereIn('creditNotes.state', [...CREDIT_GROUPS.posted])
        .whereRaw('credit_notes.set_off < credit_notes.gross'),
    all: () => undefined,
  },
  sorts: {
    newest: { sql: 'credit_notes.received_at', descending: true, type: 'timestamptz' },
    amount: { sql: 'credit_notes.base_gross', descending: true, type: 'bigint' },
  },
  search: 'credit_notes.search',
  amount: 'credit_notes.base_gross',
  states: { column: 'credit_notes.state', values: Object.keys(CREDIT_STATES).filter(state => state !== 'draft') },
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'supplierNumber', type: 'words', sql: 'credit_notes.supplier_number' },
    { key: 'invoice', type: 'words', sql: 'invoices.number' },
    { key: 'issueDate', type: 'date', sql: 'credit_notes.issue_date' },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('creditNote', row.id),
    number: row.number,
    title: row.supplier,
    subtitle: `${row.number}, ${row.supplierNumber || 'debit note'}`,
    state: row.state,
    amount: formatAmount(row.gross, row.currency),
    currency: row.currency,
    note: {
      code: `creditNote.short.${row.state === 'posted' && row.setOff < row.gross ? 'open' : row.state}`,
      details: { invoice: row.invoice, open: formatAmount(row.gross - row.setOff, row.currency) },
    },
    tone: CREDIT_TONES[row.state],
    cells: {
      supplier: row.supplier,
      supplierNumber: row.supplierNumber,
      invoice: row.invoice,
      issueDate: row.issueDate,
    },
  }),
}
