import { formatAmount } from '#core/money/amount.ts'
import { unitLabel } from '#core/units/units.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { PATHS } from '#server/sheets/parts.ts'

interface ListedOrder {
  id: string
  number: string
  title: string
  state: string
  supplier: string
  currency: string
  total: bigint
  needBy: string | null
  revision: number
  receiveExtent: string
  billExtent: string
  waiting: boolean
  issuedAt: string | null
  createdAt: string
  buyer: string
}

const WAITING = "exists (select 1 from order_responses where order_id = orders.id and state = 'waiting')"

export const orderList: ListDefinition<ListedOrder> = {
  id: 'orders.id',
  base: call => call.trx('orders').leftJoin('suppliers', 'suppliers.id', 'orders.supplierId').leftJoin('people', 'people.id', 'orders.buyerId'),
  select: [
    'orders.id',
    'orders.number',
    'orders.title',
    'orders.state',
    'suppliers.name as supplier',
    'orders.currency',
    'orders.total',
    'orders.need_by',
    'orders.revision',
    'orders.receive_extent',
    'orders.bill_extent',
    'orders.issued_at',
    'orders.created_at',
    'people.name as buyer',
    `${WAITING} as waiting`,
  ],
  views: {
    wantsAWord: (query, call) =>
      void query.where(inner =>
        inner
          .where('orders.state', 'draft')
          .orWhereRaw(WAITING)
          .orWhere(late => late.whereIn('orders.state', ['issued', 'acknowledged']).whereIn('orders.receiveExtent', ['none', 'part']).where('orders.needBy', '<', call.today))
          .orWhere('orders.state', 'issued'),
      ),
    open: query => void query.whereIn('orders.state', ['draft', 'issued', 'acknowledged']),
    all: () => undefined,
  },
  sorts: {
    newest: { sql: 'orders.created_at', descending: true, type: 'timestamptz' },
    needBy: { sql: "coalesce(orders.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    amount: { sql: 'orders.base_total', descending: true, type: 'bigint' },
  },
  search: 'orders.search',
  states: { column: 'orders.state', values: ['draft', 'issued', 'acknowledged', 'closed', 'sealed', 'cancelled'] },
  columns: [
    { key: 'supplier', numeric: false },
    { key: 'revision', numeric: true },
    { key: 'needBy', numeric: false },
    { key: 'received', numeric: false },
    { key: 'billed', numeric: false },
    { key: 'buyer', numeric: false },
    { key: 'issuedAt', numeric: false },
  ],
  row: (row, call) => {
    const open = row.state === 'issued' || row.state === 'acknowledged'
    const late = open && row.needBy !== null && row.needBy < call.today && ['none', 'part'].includes(row.receiveExtent)
    const code = row.waiting
      ? 'answeredDifferently'
      : late
        ? 'late'
        : row.state === 'issued' && row.receiveExtent === 'none'
          ? 'noAnswer'
          : open && row.receiveExtent !== 'none'
            ? `received.${row.receiveExtent}`
            : row.state
    return {
      id: row.id,
      path: PATHS.order(row.id),
      number: row.number,
      title: row.supplier,
      subtitle: `${row.number}${row.revision > 0 ? ` r${row.revision}` : ''}, ${row.title}`,
      state: row.state,
      amount: formatAmount(row.total, row.currency),
      currency: row.currency,
      note: { code: `order.short.${code}`, details: { needBy: row.needBy ?? '', issuedAt: row.issuedAt ?? '' } },
      tone: late ? 'stop' : row.waiting || row.state === 'draft' ? 'attention' : row.state === 'sealed' || row.state === 'closed' ? 'settled' : 'plain',
      cells: {
        supplier: row.supplier,
        revision: String(row.revision),
        needBy: row.needBy,
        received: row.receiveExtent,
        billed: row.billExtent,
        buyer: row.buyer,
        issuedAt: row.issuedAt?.slice(0, 10) ?? null,
      },
    }
  },
}

interface ListedLine {
  id: string
  requisitionId: string
  requisition: string
  description: string
  supplier: string
  currency: string
  amount: bigint
  quantity: string
  unit: string
  needBy: string | null
  requester: string
}

/** Approved lines that nobody has bought yet. */
export const toBuyList: ListDefinition<ListedLine> = {
  id: 'line.id',
  base: call =>
    call
      .trx('requisitionLines as line')
      .join('requisitions', 'requisitions.id', 'line.requisitionId')
      .join('people', 'people.id', 'requisitions.requesterId')
      .leftJoin('suppliers', 'suppliers.id', 'line.supplierId')
      .where('line.state', 'toBuy'),
  select: [
    'line.id',
    'requisitions.id as requisition_id',
    'requisitions.number as requisition',
    'line.description',
    "coalesce(suppliers.name, '') as supplier",
    'line.currency',
    'line.amount',
    'line.quantity',
    'line.unit',
    'line.need_by',
    'people.name as requester',
  ],
  views: { all: () => undefined, dueSoon: (query, call) => void query.whereRaw('line.need_by <= ?::date + 7', [call.today]) },
  sorts: {
    needBy: { sql: "coalesce(line.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    supplier: { sql: "coalesce(suppliers.name, '')", descending: false, type: 'text' },
  },
  search: "lower(line.description || ' ' || requisitions.number || ' ' || coalesce(suppliers.name, ''))",
  columns: [
    { key: 'supplier', numeric: false },
    { key: 'quantity', numeric: true },
    { key: 'needBy', numeric: false },
    { key: 'requester', numeric: false },
    { key: 'requisition', numeric: false },
  ],
  row: (row, call) => ({
    id: row.id,
    path: PATHS.requisition(row.requisitionId),
    number: row.requisition,
    title: row.description,
    subtitle: `${row.requisition}, ${row.supplier}`,
    state: 'toBuy',
    amount: formatAmount(row.amount, row.currency),
    currency: row.currency,
    note: row.needBy ? { code: 'line.short.needBy', details: { needBy: row.needBy } } : null,
    tone: row.needBy !== null && row.needBy < call.today ? 'stop' : 'plain',
    cells: { supplier: row.supplier, quantity: `${row.quantity} ${unitLabel(row.unit)}`, needBy: row.needBy, requester: row.requester, requisition: row.requisition },
  }),
}
