import { EVENT_GROUPS } from '#core/source/eventStates.ts'
import type { LineKind } from '#core/request/kinds.ts'
import { lineWords, seesFee } from '#core/request/personalFee.ts'
import { formatAmount } from '#core/money/amount.ts'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import type { Sentence } from '#contract/fields.ts'
import { INCOMPLETE, isLate } from '#core/order/measures.ts'
import { isUntold } from '#core/order/tellSupplier.ts'
import type { OrderChannel } from '#core/source/defaults.ts'
import { ORDER_GROUPS, ORDER_STATES, type OrderState } from '#core/order/states.ts'
import { timeRisk } from '#core/request/pool.ts'
import type { Route } from '#core/request/routes.ts'
import { isIn } from '#core/states.ts'
import { unitLabel } from '#core/units/units.ts'
import { EXTENTS, type ListDefinition } from '#server/lists/list.ts'
import { EXPECTED } from '#server/order/orderStore.ts'
import { pathOf } from '#server/documents/sheetParts.ts'

interface ListedOrder {
  id: string
  number: string
  title: string
  state: OrderState
  supplier: string
  currency: string
  total: bigint
  needBy: string | null
  revision: number
  channel: OrderChannel
  toldRevision: number | null
  receiveExtent: string
  billExtent: string
  waiting: boolean
  issuedAt: string | null
  createdAt: string
  buyer: string
  expected: string | null
}

const WAITING = "exists (select 1 from order_responses where order_id = orders.id and state = 'waiting')"

export const orderList: ListDefinition<ListedOrder> = {
  id: 'orders.id',
  base: call =>
    call
      .trx('orders')
      .leftJoin('suppliers', 'suppliers.id', 'orders.supplierId')
      .leftJoin('people', 'people.id', 'orders.buyerId'),
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
    'orders.channel',
    'orders.told_revision',
    'orders.receive_extent',
    'orders.bill_extent',
    'orders.issued_at',
    'orders.created_at',
    'people.name as buyer',
    `${WAITING} as waiting`,
    `${EXPECTED} as expected`,
  ],
  views: {
    wantsAWord: (query, call) =>
      void query.where(inner =>
        inner
          .whereIn('orders.state', ['draft', 'issued'])
          .orWhereRaw(WAITING)
          .orWhere(late =>
            late
              .whereIn('orders.state', [...ORDER_GROUPS.live])
              .whereIn('orders.receiveExtent', [...INCOMPLETE])
              .where('orders.needBy', '<', call.today),
          ),
      ),
    open: query => void query.whereIn('orders.state', ['draft', ...ORDER_GROUPS.live]),
    all: () => undefined,
  },
  sorts: {
    newest: { sql: 'orders.created_at', descending: true, type: 'timestamptz' },
    needBy: { sql: "coalesce(orders.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    amount: { sql: 'orders.base_total', descending: true, type: 'bigint' },
  },
  search: 'orders.search',
  amount: 'orders.base_total',
  states: { column: 'orders.state', values: Object.keys(ORDER_STATES) },
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'revision', type: 'figure', sql: 'orders.revision' },
    { key: 'needBy', type: 'date', sql: 'orders.need_by' },
    { key: 'received', type: 'choice', sql: 'orders.receive_extent', options: EXTENTS },
    { key: 'billed', type: 'choice', sql: 'orders.bill_extent', options: EXTENTS },
    { key: 'buyer', type: 'person', sql: 'people.name', personId: 'orders.buyer_id' },
    { key: 'issuedAt', type: 'date', sql: 'orders.issued_at' },
    { key: 'expected', type: 'date', sql: EXPECTED },
  ],
  row: (row, call) => {
    const late = isLate(row, call.today)
    const untold = isUntold(row)
    return {
      id: row.id,
      path: pathOf('order', row.id),
      number: row.number,
      title: row.supplier,
      what: row.title,
      subtitle: `${row.number}${row.revision > 0 ? ` r${row.revision}` : ''}, ${row.title}`,
      state: row.state,
      amount: formatAmount(row.total, row.currency),
      currency: row.currency,
      note: {
        code: `order.short.${shortOf(row, late, untold)}`,
        details: { needBy: row.needBy ?? '', issuedAt: row.issuedAt ?? '' },
      },
      tone: late
        ? 'stop'
        : row.waiting || untold || row.state === 'draft'
          ? 'attention'
          : row.state === 'sealed' || row.state === 'closed'
            ? 'settled'
            : 'plain',
      cells: {
        supplier: row.supplier,
        revision: String(row.revision),
        needBy: row.needBy,
        received: row.receiveExtent,
        billed: row.billExtent,
        buyer: row.buyer,
        issuedAt: row.issuedAt?.slice(0, 10) ?? null,
        expected: row.expected,
      },
    }
  },
}

interface ListedLine {
  id: string
  requisitionId: string
  requisition: string
  requesterId: string
  kind: LineKind
  description: string
  supplier: string
  currency: string
  amount: bigint
  quantity: string
  unit: string
  needBy: string | null
  requester: string
  category: string
  buyer: string | null
  routes: Route[]
  markedFor: string | null
  bundle: string
  asked: boolean
  age: number
  leadTimeDays: number | null
  agreement: string | null
  event: string | null
}

const FOR_MY_CATEGORIES =
  'exists (select 1 from supply_categories c where c.name = line.category and ? = any(c.buyers))'

/** Approved lines that nobody has bought yet: by whose they are, with routes, age and whether they can still be there in time. */
export const toBuyList: ListDefinition<ListedLine> = {
  id: 'line.id',
  base: call =>
    call
      .trx('requisitionLines as line')
      .join('requisitions', 'requisitions.id', 'line.requisitionId')
      .join('people', 'people.id', 'requisitions.requesterId')
      .leftJoin('people as buyer', 'buyer.id', 'line.buyerId')
      .leftJoin('suppliers', 'suppliers.id', 'line.supplierId')
      .leftJoin('offers', 'offers.id', 'line.offerId')
      .where('line.state', 'toBuy'),
  select: [
    'line.id',
    'requisitions.id as requisition_id',
    'requisitions.number as requisition',
    'line.description',
    'line.kind',
    'requisitions.requester_id',
    "coalesce(suppliers.name, '') as supplier",
    'line.currency',
    'line.amount',
    'line.quantity',
    'line.unit',
    'line.need_by',
    'people.name as requester',
    'line.category',
    'buyer.name as buyer',
    'line.routes',
    'line.marked_for',
    'line.bundle',
    'line.asked',
    'coalesce(current_date - line.to_buy_at::date, 0)::int as age',
    'offers.lead_time_days',
    'offers.agreement',
    `(select e.number from event_lines x join events e on e.id = x.event_id where x.requisition_line_id = line.id and x.gone_at is null and e.state in (${EVENT_GROUPS.open.map(state => `'${state}'`).join(', ')}) limit 1) as event`,
  ],
  views: {
    all: () => undefined,
    mine: (query, call) => void query.where('line.buyerId', call.actor.id),
    ofMyCategories: (query, call) => void query.whereNull('line.buyerId').whereRaw(FOR_MY_CATEGORIES, [call.actor.id]),
    untaken: query => void query.whereNull('line.buyerId'),
    dueSoon: (query, call) => void query.whereRaw('line.need_by <= ?::date + 7', [call.today]),
    markedForQuotes: query => void query.where('line.markedFor', 'askForQuotes'),
    asked: query => void query.where('line.asked', true),
  },
  sorts: {
    needBy: { sql: "coalesce(line.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    supplier: { sql: "coalesce(suppliers.name, '')", descending: false, type: 'text' },
    oldest: { sql: "coalesce(line.to_buy_at, 'epoch'::timestamptz)", descending: false, type: 'timestamptz' },
    bundle: { sql: 'line.bundle', descending: true, type: 'text' },
  },
  search:
    "lower(case line.kind when 'personalFee' then '' else line.description end || ' ' || requisitions.number || ' ' || coalesce(suppliers.name, '') || ' ' || line.category || ' ' || line.bundle)",
  amount: 'line.base_amount',
  filters: [{ key: 'category', type: 'words', sql: 'line.category' }],
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'quantity', type: 'figure', sql: 'line.quantity' },
    { key: 'needBy', type: 'date', sql: 'line.need_by' },
    { key: 'inTime', type: 'words' },
    { key: 'age', type: 'figure', sql: '(current_date - line.to_buy_at::date)' },
    { key: 'routes', type: 'words', sql: "array_to_string(line.routes, ', ')" },
    { key: 'buyer', type: 'person', sql: 'buyer.name', personId: 'line.buyer_id' },
    { key: 'bundle', type: 'words', sql: 'line.bundle' },
    { key: 'requester', type: 'person', sql: 'people.name', personId: 'requisitions.requester_id' },
  ],
  row: (row, call) => {
    const { risk } = timeRisk(call.today, row.needBy, row.leadTimeDays, PLAIN_CALENDAR)
    return {
      id: row.id,
      path: pathOf('requisition', row.requisitionId),
      number: row.requisition,
      title: lineWords(row, seesFee(call.actor, row.requesterId)),
      subtitle: [
        row.requisition,
        row.supplier || 'no supplier yet',
        row.agreement ? `agreement ${row.agreement}` : '',
        row.event ? `asked in ${row.event}` : '',
      ]
        .filter(Boolean)
        .join(', '),
      state: '',
      amount: formatAmount(row.amount, row.currency),
      currency: row.currency,
      note: noteOf(row),
      tone: row.asked ? 'attention' : 'plain',
      cells: {
        supplier: row.supplier,
        quantity: `${row.quantity} ${unitLabel(row.unit)}`,
        needBy: row.needBy,
        inTime: risk,
        age: String(row.age),
        routes: row.routes.join(', '),
        buyer: row.buyer,
        bundle: row.bundle || null,
        requester: row.requester,
      },
    }
  },
}

function noteOf(row: ListedLine): Sentence | null {
  if (row.asked) return { code: 'line.short.asked', details: { who: row.requester } }
  return row.markedFor ? { code: `line.short.marked.${row.markedFor}`, details: {} } : null
}

/** What the row says in two or three words, the most urgent first. */
function shortOf(row: ListedOrder, late: boolean, untold: boolean): string {
  if (row.waiting) return 'answeredDifferently'
  if (late) return 'late'
  if (untold) return 'untold'
  if (row.state === 'issued' && row.receiveExtent === 'none') return 'noAnswer'
  return isIn(ORDER_GROUPS.live, row.state) && row.receiveExtent !== 'none'
    ? `received.${row.receiveExtent}`
    : row.state
}
