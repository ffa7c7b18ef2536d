import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadInvoice } from '#contract/bill/endpoints.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import { stop } from '#core/reasons.ts'
import { type Call, found, may } from '#server/call.ts'
import type { HoldRow, InvoiceLineRow, InvoiceRow } from '#server/bill/matchService.ts'
import { budgetFigures } from '#server/ledger/budgetStore.ts'
import { gauge, quantitySums } from '#server/ledger/quantityStore.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { action, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { threadOf } from '#server/sheets/thread.ts'

type ShownLine = InvoiceLineRow & {
  orderId: string | null
  orderNumber: string | null
  orderPosition: number | null
  orderPrice: string | null
  orderBase: string | null
  orderQuantity: string | null
  splits: { accountId: string; share: string }[] | null
  requesterId: string | null
}

const BY_REASON = ['price', 'quantity', 'charges', 'nearDuplicate']

export async function readInvoice(call: Call, id: string): Promise<ResponseOf<typeof ReadInvoice>> {
  const row = found(
    (await call.trx('invoices').join('suppliers', 'suppliers.id', 'invoices.supplierId').where('invoices.id', id).first('invoices.*', 'suppliers.name as supplier')) as
      (InvoiceRow & { supplier: string }) | undefined,
    'invoice',
  )
  const lines = (await call
    .trx('invoiceLines as line')
    .leftJoin('orderLines as ordered', 'ordered.id', 'line.orderLineId')
    .leftJoin('orders', 'orders.id', 'ordered.orderId')
    .leftJoin('requisitionLines as request', 'request.id', 'ordered.requisitionLineId')
    .leftJoin('requisitions', 'requisitions.id', 'request.requisitionId')
    .where('line.invoiceId', id)
    .orderBy('line.position')
    .select(
      'line.*',
      'orders.id as orderId',
      'orders.number as orderNumber',
      'ordered.position as orderPosition',
      'ordered.price as orderPrice',
      'ordered.priceBase as orderBase',
      'ordered.quantity as orderQuantity',
      'ordered.splits',
      'requisitions.requesterId',
    )) as ShownLine[]
  const orderIds = [...new Set(lines.map(line => line.orderId).filter(one => one !== null))]
  const [parts, thread, holds, sums, account, linkable] = await Promise.all([
    sheetParts(call, id),
    orderIds.length > 0 ? threadOf(call, { orderIds }) : Promise.resolve(null),
    call
      .trx('invoiceHolds as held')
      .leftJoin('people', 'people.id', 'held.endedBy')
      .where({ invoiceId: id })
      .orderBy(['openedAt', 'position'])
      .select('held.*', 'people.name as endedByName') as unknown as Promise<(HoldRow & { endedByName: string | null })[]>,
    quantitySums(
      call,
      lines.map(line => line.orderLineId).filter(one => one !== null),
    ),
    call.trx('supplierBankAccounts').where({ supplierId: row.supplierId }).whereNot({ state: 'closed' }).first('iban', 'state') as Promise<
      { iban: string; state: string } | undefined
    >,
    linkableLines(call, row),
  ])
  const amounts = amountsByAccount(lines.map(line => ({ amount: minor(line.net), splits: line.splits ?? [] })))
  const shownHolds = await Promise.all(
    holds.map(async hold => ({
      id: hold.id,
      position: hold.position,
      kind: hold.kind,
      quantity: hold.quantity,
      unit: lines.find(line => line.position === hold.position)?.unit ?? '',
      amount: formatAmount(hold.amount, row.currency),
      clearedBy: hold.clearedBy,
      clearers: await clearers(call, hold, lines),
      mayClear: hold.endedAt === null && BY_REASON.includes(hold.kind) && may(call, 'hold.clear') && call.actor.roles.includes(hold.clearedBy),
      endedAt: hold.endedAt,
      endedBy: hold.endedByName,
      endReason: hold.endReason,
    })),
  )
  const open = shownHolds.filter(hold => hold.endedAt === null)
  const write = may(call, 'invoice.write')
  return {
    kind: 'invoice',
    id,
    number: row.number,
    title: `${row.supplier}, ${row.supplierNumber}`,
    state: row.state,
    version: row.version,
    ...parts,
    thread,
    budgets: row.currency === call.base ? await budgetFigures(call, amounts, ['cleared', 'scheduled', 'paid'].includes(row.state)) : [],
    steps: [],
    sentence: sentenceOf(call, row, open),
    tone: row.state === 'onHold' ? 'stop' : row.state === 'paid' ? 'settled' : row.state === 'matched' ? 'attention' : 'plain',
    actions: [
      ...(['read', 'onHold', 'matched'].includes(row.state)
        ? [
            action('post', row.state === 'matched' ? write : [stop('bill.heldUp', { holds: open.length }, { clearedBy: [...new Set(open.flatMap(hold => hold.clearers))] })], {
              primary: true,
            }),
            action('reject', write),
          ]
        : []),
      ...(['cleared', 'scheduled'].includes(row.state) ? [action('void', row.state === 'cleared' ? write : [stop('bill.inRun')])] : []),
    ],
    supplier: row.supplier,
    supplierPath: PATHS.supplier(row.supplierId),
    supplierNumber: row.supplierNumber,
    source: row.source,
    currency: row.currency,
    issueDate: row.issueDate,
    dueOn: row.dueOn,
    net: formatAmount(row.net, row.currency),
    charges: formatAmount(row.charges, row.currency),
    tax: formatAmount(row.tax, row.currency),
    gross: formatAmount(row.gross, row.currency),
    account: account ?? null,
    taxes: row.taxes,
    holds: shownHolds,
    linkable,
    fileId: row.fileId,
    lines: lines.map(line => ({
      id: line.id,
      position: line.position,
      description: line.description,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      net: formatAmount(line.net, row.currency),
      tax: `${line.taxCategory} ${line.taxRate} %`,
      orderLineId: line.orderLineId,
      orderNumber: line.orderNumber,
      orderPath: line.orderId && may(call, 'order.read') ? PATHS.order(line.orderId) : null,
      orderPosition: line.orderPosition,
      orderPrice: otherPrice(line),
      gauge: line.orderLineId ? gauge(line.orderLineId, line.unit, line.orderQuantity ?? line.quantity, sums(line.orderLineId)) : null,
    })),
  }
}

/** The ordered price where the billed one differs from it; nothing where they agree. */
function otherPrice(line: ShownLine): string | null {
  if (line.orderPrice === null || (line.orderPrice === line.price && line.orderBase === line.priceBase)) return null
  return line.orderBase === '1' ? line.orderPrice : `${line.orderPrice} / ${line.orderBase}`
}

async function linkableLines(call: Call, invoice: InvoiceRow): Promise<{ id: string; label: string }[]> {
  if (!may(call, 'invoice.write') || !['onHold', 'matched'].includes(invoice.state)) return []
  const rows = (await call
    .trx('orderLines')
    .join('orders', 'orders.id', 'orderLines.orderId')
    .where({ supplierId: invoice.supplierId })
    .whereIn('orders.state', ['issued', 'acknowledged', 'closed'])
    .orderBy('orders.createdAt', 'desc')
    .limit(60)
    .select('orderLines.id', 'orders.number', 'orderLines.position', 'orderLines.description')) as { id: string; number: string; position: number; description: string }[]
  return rows.map(line => ({ id: line.id, label: `${line.number} line ${line.position}, ${line.description}` }))
}

/** The people who can clear a hold, by name. */
async function clearers(call: Call, hold: HoldRow, lines: readonly ShownLine[]): Promise<string[]> {
  if (hold.endedAt !== null) return []
  if (hold.clearedBy === 'requester') {
    const requester = lines.find(line => line.position === hold.position)?.requesterId
    return requester ? ((await call.trx('people').where({ id: requester }).pluck('name')) as string[]) : []
  }
  return (await call
    .trx('people')
    .join('personRoles', 'personRoles.personId', 'people.id')
    .where({ role: hold.clearedBy, active: true })
    .orderBy('name')
    .limit(3)
    .pluck('name')) as string[]
}

function sentenceOf(call: Call, row: InvoiceRow, open: readonly { kind: string; amount: string; clearers: string[] }[]): Sentence {
  const first = open[0]
  if (row.state === 'onHold' && first)
    return {
      code: open.length === 1 ? `invoice.is.heldBy.${first.kind}` : 'invoice.is.heldByMany',
      details: { holds: open.length, amount: first.amount, currency: row.currency, who: [...new Set(open.flatMap(hold => hold.clearers))].join(', ') },
    }
  return {
    code: `invoice.is.${row.state}`,
    details: { dueOn: row.dueOn ?? '', at: row.changedAt, days: row.dueOn ? Math.round((Date.parse(row.dueOn) - Date.parse(call.today)) / 86_400_000) : 0 },
  }
}

interface Listed {
  id: string
  number: string
  supplierNumber: string
  supplier: string
  state: string
  gross: bigint
  currency: string
  dueOn: string | null
  issueDate: string
  holds: string | null
  holdAmount: bigint | null
  accountState: string | null
}

export const invoiceList: ListDefinition<Listed> = {
  id: 'invoices.id',
  base: call => call.trx('invoices').leftJoin('suppliers', 'suppliers.id', 'invoices.supplierId'),
  select: [
    'invoices.id',
    'invoices.number',
    'invoices.supplier_number',
    'suppliers.name as supplier',
    'invoices.state',
    'invoices.gross',
    'invoices.currency',
    'invoices.due_on',
    'invoices.issue_date',
    "(select string_agg(distinct kind, ' ') from invoice_holds where invoice_id = invoices.id and ended_at is null) as holds",
    '(select sum(amount)::bigint from invoice_holds where invoice_id = invoices.id and ended_at is null) as hold_amount',
    "(select state from supplier_bank_accounts where supplier_id = invoices.supplier_id and state <> 'closed') as account_state",
  ],
  views: {
    toSettle: query => void query.whereIn('invoices.state', ['read', 'onHold', 'matched']),
    posted: query => void query.whereIn('invoices.state', ['cleared', 'scheduled', 'paid']),
    all: () => undefined,
  },
  sorts: { newest: { sql: 'invoices.received_at', descending: true, type: 'timestamptz' }, amount: { sql: 'invoices.base_gross', descending: true, type: 'bigint' } },
  search: 'invoices.search',
  states: { column: 'invoices.state', values: ['onHold', 'matched', 'cleared', 'scheduled', 'paid', 'rejected', 'voided'] },
  columns: [
    { key: 'supplier', numeric: false },
    { key: 'supplierNumber', numeric: false },
    { key: 'issueDate', numeric: false },
    { key: 'dueOn', numeric: false },
    { key: 'holds', numeric: false },
  ],
  row: row => ({
    id: row.id,
    path: PATHS.invoice(row.id),
    number: row.number,
    title: row.supplier,
    subtitle: `${row.number}, ${row.supplierNumber}`,
    state: row.state,
    amount: formatAmount(row.gross, row.currency),
    currency: row.currency,
    note: {
      code: row.state !== 'onHold' || !row.holds ? `invoice.short.${row.state}` : row.holds.includes(' ') ? 'invoice.short.held' : `invoice.short.held.${row.holds}`,
      details: { amount: formatAmount(row.holdAmount ?? 0n, row.currency), count: row.holds?.split(' ').length ?? 0, dueOn: row.dueOn ?? '' },
    },
    tone: row.state === 'onHold' ? 'stop' : row.state === 'matched' ? 'attention' : row.state === 'paid' ? 'settled' : 'plain',
    cells: { supplier: row.supplier, supplierNumber: row.supplierNumber, issueDate: row.issueDate, dueOn: row.dueOn, holds: row.holds },
  }),
}
