import type { ResponseOf } from '#contract/endpoint.ts'
import type { ActionState, Sentence } from '#contract/fields.ts'
import type { ReadOrder } from '#contract/order/endpoints.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { compareRevisions, type LineDifference, type ResponseLine } from '#core/order/revision.ts'
import { ORDER_STATES, type OrderAction } from '#core/order/states.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, found, may } from '#server/call.ts'
import { budgetFigures } from '#server/ledger/budgetStore.ts'
import { gauge, quantitySums } from '#server/ledger/quantityStore.ts'
import { committedValues } from '#server/order/commitment.ts'
import { orderConditions, supplierReasons, termsOf } from '#server/order/conditions.ts'
import { termsText } from '#server/order/documents.ts'
import { lineTerms, type OrderLineRow, type OrderRow, type RevisionContent } from '#server/order/orderStore.ts'
import { action, reasonsJson, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { threadOf } from '#server/sheets/thread.ts'

type Head = OrderRow & { supplier: string; buyer: string; address: string | null }
type ShownLine = OrderLineRow & { itemNumber: string | null; address: string | null; requisitionId: string | null; requisitionNumber: string | null }
interface ResponseRow {
  id: string
  revision: number
  state: string
  at: string
  by: string
  note: string
  lines: ResponseLine[]
  differences: LineDifference[]
}
interface RevisionRow {
  revision: number
  content: RevisionContent
  issuedAt: string
  by: string
  reason: string
}

const ADDRESS = "nullif(concat_ws(', ', addresses.name, addresses.dock), '') as address"

export async function orderHead(call: Call, id: string): Promise<Head> {
  return found(
    (await call
      .trx('orders')
      .join('suppliers', 'suppliers.id', 'orders.supplierId')
      .join('people', 'people.id', 'orders.buyerId')
      .leftJoin('addresses', 'addresses.id', 'orders.addressId')
      .where('orders.id', id)
      .first('orders.*', 'suppliers.name as supplier', 'people.name as buyer', call.trx.raw(ADDRESS))) as Head | undefined,
    'order',
  )
}

export const shownLines = (call: Call, orderId: string): Promise<ShownLine[]> =>
  call
    .trx('orderLines as line')
    .leftJoin('items', 'items.id', 'line.itemId')
    .leftJoin('addresses', 'addresses.id', 'line.addressId')
    .leftJoin('requisitionLines as request', 'request.id', 'line.requisitionLineId')
    .leftJoin('requisitions', 'requisitions.id', 'request.requisitionId')
    .where('line.orderId', orderId)
    .orderBy('line.position')
    .select('line.*', 'items.number as itemNumber', call.trx.raw(ADDRESS), 'requisitions.id as requisitionId', 'requisitions.number as requisitionNumber') as unknown as Promise<
    ShownLine[]
  >

export async function readOrder(call: Call, id: string): Promise<ResponseOf<typeof ReadOrder>> {
  const head = await orderHead(call, id)
  const [lines, parts, thread, responses, revisions, delivery] = await Promise.all([
    shownLines(call, id),
    sheetParts(call, id),
    threadOf(call, { orderIds: [id] }),
    call
      .trx('orderResponses as response')
      .join('people', 'people.id', 'response.byId')
      .where({ orderId: id })
      .orderBy('at', 'desc')
      .limit(20)
      .select('response.*', 'people.name as by') as unknown as Promise<ResponseRow[]>,
    call
      .trx('orderRevisions as revision')
      .join('people', 'people.id', 'revision.issuedBy')
      .where({ orderId: id })
      .orderBy('revision')
      .select('revision.*', 'people.name as by') as unknown as Promise<RevisionRow[]>,
    call.trx('outbox').where({ documentId: id }).orderBy('createdAt', 'desc').limit(10).select('kind', 'state', 'attempts', 'lastError', 'createdAt as at') as unknown as Promise<
      { kind: string; state: string; attempts: number; lastError: string | null; at: string }[]
    >,
  ])
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const values = committedValues(head, lines, call.base)
  const amounts = amountsByAccount(lines.map(line => ({ amount: values.get(line.id)!, splits: line.splits })))
  const waiting = responses.find(response => response.state === 'waiting')
  const conditions = await orderConditions(call, head)
  const fromSupplier =
    head.state === 'draft'
      ? await supplierReasons(
          call,
          head,
          lines.map(line => line.itemId),
        )
      : []
  return {
    kind: 'order',
    id,
    number: head.number,
    title: head.title,
    state: head.state,
    version: head.version,
    ...parts,
    thread,
    budgets: await budgetFigures(call, amounts, head.state !== 'draft'),
    steps: [],
    sentence: sentenceOf(call, head, waiting, lines),
    tone: waiting ? 'attention' : head.state === 'sealed' || head.state === 'closed' ? 'settled' : isLate(call, head) ? 'stop' : 'plain',
    actions: actionsOf(
      call,
      head,
      waiting,
      lines.map(line => sums(line.id)),
      stops(fromSupplier),
    ),
    supplierId: head.supplierId,
    supplier: head.supplier,
    supplierPath: PATHS.supplier(head.supplierId),
    buyer: head.buyer,
    agreement: head.agreement,
    currency: head.currency,
    revision: head.revision,
    total: formatAmount(head.total, head.currency),
    charges: formatAmount(head.charges, head.currency),
    message: head.message,
    terms: termsText(termsOf(conditions)),
    conditions: head.conditions,
    effective: conditions,
    supplierReasons: reasonsJson(fromSupplier),
    address: head.address,
    issuedAt: head.issuedAt,
    lines: lines.map(line => ({
      id: line.id,
      position: line.position,
      kind: line.kind,
      description: line.description,
      itemNumber: line.itemNumber,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      amount: formatAmount(line.amount, head.currency),
      needBy: line.needBy,
      address: line.address,
      requisitionNumber: line.requisitionNumber,
      requisitionPath: line.requisitionId ? PATHS.requisition(line.requisitionId) : null,
      promisedDate: line.promisedDate,
      terms: lineTerms(line, head.currency),
      proof: line.proof,
      gauge: gauge(line.id, line.unit, line.quantity, sums(line.id)),
    })),
    revisions: revisions.map((revision, index) => ({
      revision: revision.revision,
      issuedAt: revision.issuedAt,
      by: revision.by,
      reason: revision.reason,
      total: revision.content.total,
      differences: index === 0 ? [] : compareRevisions(revisions[index - 1]!.content.lines, revision.content.lines).map(writable),
    })),
    responses: responses.map(response => ({
      id: response.id,
      revision: response.revision,
      state: response.state,
      at: response.at,
      by: response.by,
      note: response.note,
      lines: response.lines,
      differences: response.differences.map(writable),
    })),
    delivery,
  }
}

export const writable = (difference: LineDifference) => ({ ...difference, fields: [...difference.fields] })

/** The last day that was promised for any line, else the need-by date. */
export const lastPromise = (order: Pick<OrderRow, 'needBy'>, lines: readonly Pick<OrderLineRow, 'promisedDate'>[]): string =>
  lines.reduce<string>((last, line) => (line.promisedDate !== null && line.promisedDate > last ? line.promisedDate : last), '') || (order.needBy ?? '')

const isLate = (call: Call, order: Pick<OrderRow, 'state' | 'needBy' | 'receiveExtent'>): boolean =>
  (order.state === 'issued' || order.state === 'acknowledged') && order.needBy !== null && order.needBy < call.today && ['none', 'part'].includes(order.receiveExtent)

function sentenceOf(call: Call, order: Head, waiting: ResponseRow | undefined, lines: readonly ShownLine[]): Sentence {
  const details = { supplier: order.supplier, needBy: order.needBy ?? '', at: order.issuedAt ?? order.changedAt }
  if (waiting) return { code: 'order.is.answeredDifferently', details: { ...details, lines: waiting.differences.length } }
  if (isLate(call, order)) return { code: 'order.is.late', details }
  if (order.state === 'acknowledged' && order.receiveExtent === 'none')
    return {
      code: 'order.is.confirmed',
      details: {
        ...details,
        promised: lastPromise(order, lines),
      },
    }
  if (order.state === 'issued' || order.state === 'acknowledged')
    return { code: order.receiveExtent === 'none' ? 'order.is.issued' : `order.is.received.${order.receiveExtent}`, details: { ...details, billed: order.billExtent } }
  return { code: `order.is.${order.state}`, details }
}

function actionsOf(
  call: Call,
  order: Head,
  waiting: ResponseRow | undefined,
  sums: readonly { received: string; accepted: string; billed: string }[],
  stopping: readonly Reason[],
): ActionState[] {
  const write = may(call, 'order.write')
  const reasons = (name: OrderAction): Reason[] | boolean => {
    const next = transition(ORDER_STATES, 'order', order.state, name)
    return !next.ok ? next.reasons : write
  }
  const started = sums.some(line => [line.received, line.accepted, line.billed].some(quantity => !new Decimal(quantity).isZero()))
  const actions: ActionState[] = []
  if (waiting) actions.push(action('acceptAnswer', write, { primary: true }), action('refuseAnswer', write))
  if (order.state === 'draft')
    actions.push(action('issue', !write ? false : stopping.length === 0 ? true : stopping, { primary: true }), action('edit', write), action('cancel', write))
  else {
    actions.push(action('revise', reasons('change')), action('close', reasons('close')))
    if (order.state === 'issued' || order.state === 'acknowledged')
      actions.push(
        action('cancel', started ? [stop('order.startedAlready')] : write),
        action('receive', may(call, 'delivery.receive') ? true : [stop('receive.goodsByReceiver', {}, { clearedBy: ['receiver'] })]),
      )
    if (order.state === 'closed') actions.push(action('reopen', write), action('seal', write))
  }
  return actions
}
