import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { isWork, provenBy } from '#core/request/kinds.ts'
import { stop } from '#core/reasons.ts'
import { type Call, may } from '#server/call.ts'
import { gauge, quantitySums } from '#server/ledger/quantityStore.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { lastPromise, orderHead, shownLines } from '#server/order/orderSheet.ts'
import { requesterOf } from '#server/receive/receiveService.ts'
import { action, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { threadOf } from '#server/sheets/thread.ts'
import { RuleBroken } from '#core/reasons.ts'

interface ReceiptRow {
  id: string
  number: string
  state: string
  receivedOn: string
  place: string
  by: string
  byId: string
  at: string
  note: string
  lines: { position: number; quantity: string; unit: string }[]
}

export async function readDelivery(call: Call, id: string): Promise<ResponseOf<typeof ReadDelivery>> {
  const head = await orderHead(call, id)
  const lines = await shownLines(call, id)
  const requesters = await requesterOf(call, lines)
  const mineToProve = (line: (typeof lines)[number]): boolean =>
    line.proof === 'none' ? false : !isWork(line.kind) ? may(call, 'delivery.receive') : requesters.get(line.id) === call.actor.id
  if (head.state === 'draft' || (!may(call, 'order.read') && ![...requesters.values()].includes(call.actor.id))) throw new RuleBroken(stop('document.notFound', { kind: 'order' }))
  const [sums, parts, thread, receipts, places] = await Promise.all([
    quantitySums(
      call,
      lines.map(line => line.id),
    ),
    sheetParts(call, id),
    threadOf(call, { orderIds: [id] }),
    call
      .trx('receipts')
      .join('people', 'people.id', 'receipts.byId')
      .join('addresses', 'addresses.id', 'receipts.placeId')
      .where({ orderId: id })
      .orderBy('at', 'desc')
      .select(
        'receipts.id',
        'receipts.number',
        'receipts.state',
        'receivedOn',
        'addresses.name as place',
        'people.name as by',
        'byId',
        'at',
        'note',
        call.trx.raw(
          `(select json_agg(json_build_object('position', l.position, 'quantity', trim_scale(r.quantity)::text, 'unit', l.unit) order by l.position) from receipt_lines r join order_lines l on l.id = r.order_line_id where r.receipt_id = receipts.id) as lines`,
        ),
      ) as unknown as Promise<ReceiptRow[]>,
    call.trx('addresses').where({ open: true }).orderBy('name').select('id', 'name', 'dock') as Promise<{ id: string; name: string; dock: string }[]>,
  ])
  const open = head.state === 'issued' || head.state === 'acknowledged'
  const shown = lines.map(line => {
    const done = sums(line.id)[provenBy(line.kind)]
    return {
      id: line.id,
      position: line.position,
      kind: line.kind,
      description: line.description,
      itemNumber: line.itemNumber,
      unit: line.unit,
      ordered: line.quantity,
      done,
      open: line.proof === 'none' ? '0' : Decimal.max(0, new Decimal(line.quantity).minus(done)).toString(),
      proof: line.proof,
      instalments: (line.details.instalments ?? []).map(one => ({ title: one.title, amount: one.amount, due: one.due })),
      needBy: line.needBy,
      promisedDate: line.promisedDate,
      address: line.address,
      mayProve: open && mineToProve(line),
      gauge: gauge(line.id, line.unit, line.quantity, sums(line.id)),
    }
  })
  const toDo = shown.filter(line => line.mayProve && line.open !== '0')
  const late = open && head.needBy !== null && head.needBy < call.today && ['none', 'part'].includes(head.receiveExtent)
  return {
    kind: 'receipt',
    id,
    number: head.number,
    title: head.title,
    state: head.state,
    version: head.version,
    ...parts,
    thread,
    budgets: [],
    steps: [],
    sentence: {
      code: open ? (late ? 'delivery.is.late' : `delivery.is.${head.receiveExtent}`) : `order.is.${head.state}`,
      details: {
        supplier: head.supplier,
        needBy: head.needBy ?? '',
        promised: lastPromise(head, lines),
        at: head.changedAt,
      },
    },
    tone: late ? 'stop' : head.receiveExtent === 'full' || head.receiveExtent === 'over' ? 'settled' : 'plain',
    actions: [
      action(
        'receiveAll',
        toDo.length > 0
          ? true
          : [
              open
                ? shown.every(line => line.open === '0')
                  ? stop('receive.nothingOpen')
                  : stop('receive.goodsByReceiver', {}, { clearedBy: ['receiver'] })
                : stop('receive.notOpen', { number: head.number, state: head.state }),
            ],
        { primary: true },
      ),
    ],
    supplier: head.supplier,
    orderPath: may(call, 'order.read') ? PATHS.order(id) : null,
    places: places.map(place => ({ id: place.id, label: `${place.name}, ${place.dock}` })),
    usualPlaceId: lines.find(line => line.addressId)?.addressId ?? places[0]?.id ?? null,
    today: call.today,
    lines: shown,
    receipts: receipts.map(({ byId, ...receipt }) => ({
      ...receipt,
      lines: receipt.lines ?? [],
      mayReverse: receipt.state === 'posted' && open && (may(call, 'delivery.receive') || byId === call.actor.id),
    })),
  }
}

interface Listed {
  id: string
  number: string
  title: string
  state: string
  supplier: string
  needBy: string | null
  promised: string | null
  total: bigint
  currency: string
  receiveExtent: string
  place: string | null
}

const MINE =
  'exists (select 1 from order_lines ol join requisition_lines rl on rl.id = ol.requisition_line_id join requisitions r on r.id = rl.requisition_id where ol.order_id = orders.id and r.requester_id = ?)'

export const deliveryList: ListDefinition<Listed> = {
  id: 'orders.id',
  base: call => {
    const query = call
      .trx('orders')
      .leftJoin('suppliers', 'suppliers.id', 'orders.supplierId')
      .leftJoin('addresses', 'addresses.id', 'orders.addressId')
      .whereNotIn('orders.state', ['draft', 'cancelled'])
    return may(call, 'order.read') ? query : query.whereRaw(MINE, [call.actor.id])
  },
  select: [
    'orders.id',
    'orders.number',
    'orders.title',
    'orders.state',
    'suppliers.name as supplier',
    'orders.need_by',
    '(select max(promised_date) from order_lines where order_id = orders.id) as promised',
    'orders.total',
    'orders.currency',
    'orders.receive_extent',
    'addresses.name as place',
  ],
  views: {
    expected: query => void query.whereIn('orders.state', ['issued', 'acknowledged']).whereIn('orders.receiveExtent', ['none', 'part']),
    forMe: (query, call) => void query.whereIn('orders.state', ['issued', 'acknowledged']).whereIn('orders.receiveExtent', ['none', 'part']).whereRaw(MINE, [call.actor.id]),
    received: query => void query.whereIn('orders.receiveExtent', ['full', 'over']),
    all: () => undefined,
  },
  sorts: {
    needBy: { sql: "coalesce(orders.need_by, '9999-12-31'::date)", descending: false, type: 'date' },
    newest: { sql: 'orders.created_at', descending: true, type: 'timestamptz' },
  },
  search: 'orders.search',
  columns: [
    { key: 'supplier', numeric: false },
    { key: 'needBy', numeric: false },
    { key: 'promised', numeric: false },
    { key: 'place', numeric: false },
    { key: 'received', numeric: false },
  ],
  row: (row, call) => {
    const late = ['none', 'part'].includes(row.receiveExtent) && row.needBy !== null && row.needBy < call.today
    return {
      id: row.id,
      path: PATHS.receipt(row.id),
      number: row.number,
      title: row.supplier,
      subtitle: `${row.number}, ${row.title}`,
      state: row.state,
      amount: null,
      currency: null,
      note: { code: late ? 'delivery.short.late' : `delivery.short.${row.receiveExtent}`, details: { needBy: row.promised ?? row.needBy ?? '' } },
      tone: late ? 'stop' : ['full', 'over'].includes(row.receiveExtent) ? 'settled' : 'plain',
      cells: { supplier: row.supplier, needBy: row.needBy, promised: row.promised, place: row.place, received: row.receiveExtent, amount: formatAmount(row.total, row.currency) },
    }
  },
}
