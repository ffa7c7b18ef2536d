import type { z } from 'zod'
import type { ToldJson, WantedOrderBody } from '#contract/order/endpoints.ts'
import type { DefaultsJson } from '#contract/source/record.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { minor } from '#core/money/amount.ts'
import type { AskedExcess, OrderFacts, OrderLine, WaitingAnswer } from '#core/order/facts.ts'
import type { KeptFigures } from '#core/order/laws.ts'
import type { ChargeItem, ChargeKind } from '#core/order/charges.ts'
import { neededNext } from '#core/order/measures.ts'
import type { LineDifference, ResponseLine } from '#core/order/revision.ts'
import type { DatedQuantity, Delivery } from '#core/order/schedule.ts'
import { type AnswerState, ORDER_STATES, type OrderState } from '#core/order/states.ts'
import { placeText, sentTo } from '#core/order/supplierPlace.ts'
import type { ReceivingTerms } from '#core/receive/terms.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { MatchLevel } from '#core/source/defaults.ts'
import type { LineDetails, LineKind, Proof } from '#core/request/kinds.ts'
import type { EffectiveValue, OrderChannel } from '#core/source/defaults.ts'
import { placesOf } from '#server/order/placeStore.ts'
import type { OrderClause } from '#server/order/clauseStore.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { consentsById, type KeptConsent } from '#server/consent/consentStore.ts'
import { byId, groupBy, someIds } from '#server/database/rows.ts'
import { hold, holdAll } from '#server/documents/hold.ts'
import { standingOn } from '#server/ledger/budgetStore.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { payingFor, splitsOf } from '#server/ledger/splitStore.ts'
import { requestedFacts, type RequisitionLineRow } from '#server/request/requisitionStore.ts'

export interface OrderRow {
  id: string
  number: string
  /** What it was called where it was made, if that was before this program was used. */
  formerNumber: string | null
  title: string
  state: OrderState
  supplierId: string
  buyerId: string
  currency: string
  rate: string
  revision: number
  charges: bigint
  chargeItems: readonly ChargeRow[]
  total: bigint
  baseTotal: bigint
  message: string
  addressId: string | null
  receiveExtent: string
  billExtent: string
  needBy: string | null
  version: number
  createdAt: string
  issuedAt: string | null
  chasedAt: string | null
  /** How it reaches the supplier; kept when it is issued. */
  channel: OrderChannel
  /** It was written without a request. */
  direct: boolean
  /** The invoice for which it was written afterwards. */
  forInvoiceId: string | null
  toldRevision: number | null
  changedAt: string
  search: string
  /** What this order says otherwise than its supplier's defaults. */
  conditions: DefaultsJson
  /** The framework agreement that it calls off, if any. */
  agreement: string
  /** The last question about what it costs above what was approved. */
  excessId: string | null
  /** The place of the supplier that it goes to, where that is not the first that takes orders. */
  locationId: string | null
  /** The clauses that it got when it was issued. */
  clauses: readonly OrderClause[] | null
  /** All conditions as they were when it was issued. */
  agreed: EffectiveValue[] | null
}
/** A charge or discount as it is kept: its amount in the currency's smallest unit. */
export type ChargeRow = Omit<ChargeItem, 'amount'> & { readonly amount: string }
export interface OrderLineRow {
  id: string
  orderId: string
  position: number
  requisitionLineId: string | null
  eventLineId: string | null
  /** The line of an agreement that it calls off. */
  agreementLineId: string | null
  kind: LineKind
  itemId: string | null
  description: string
  quantity: string
  unit: string
  price: string
  priceBase: string
  amount: bigint
  baseAmount: bigint
  needBy: string | null
  /** Its deliveries, where it comes in several. */
  schedule: readonly Delivery[]
  promisedDate: string | null
  promisedParts: readonly DatedQuantity[]
  addressId: string | null
  overReceiptPercent: number
  /** What it says itself of how it is received. */
  receiving: Partial<ReceivingTerms>
  /** Its bills wait for an inspection. */
  inspects: boolean
  proof: Proof
  details: LineDetails
  incoterm: string | null
  incotermPlace: string
  /** What had come in and was billed before it was taken over. */
  receivedBefore: string
  billedBefore: string
  /** Kept by the acts: see `keepFigures`. */
  proven: string
  billed: string
  settled: boolean
  billable: boolean
  confirmedValue: bigint
  receivedValue: bigint
  billedValue: bigint
  paidValue: bigint
}
/** What is kept with a question about what an order costs above what was approved. */
export interface ExcessSubject extends Readonly<Record<string, unknown>> {
  /** Up to what value a yes goes, by line. */
  readonly upTo: Readonly<Record<string, string>>
  /** The change of an issued order that it is asked for. */
  readonly wanted: WantedOrderBody | null
  readonly revision: number
}
export interface ResponseRow {
  id: string
  orderId: string
  revision: number
  state: AnswerState
  lines: ResponseLine[]
  differences: LineDifference[]
  note: string
  /** Who said it, when and how, where one of us typed it in. */
  told: z.output<typeof ToldJson> | null
  byId: string
  at: string
  answeredBy: string | null
  answeredAt: string | null
  answerReason: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    orders: OrderRow
    orderLines: OrderLineRow
    orderResponses: ResponseRow
  }
}

/** SQL of the last day that was promised for an order, else the day it is needed: `lastPromise` in core/order/measures.ts. */
export const EXPECTED =
  'coalesce((select max(promised_date) from order_lines where order_id = orders.id), orders.need_by)'

/** Charges and discounts as they are kept. */
export const chargeRows = (items: readonly ChargeItem[]): ChargeRow[] =>
  items.map(item => ({ ...item, amount: item.amount.toString() }))

/** An order with everything that the core needs of it, and its rows. */
export type KnownOrder = Omit<OrderFacts, 'excess'> & {
  readonly excess: (AskedExcess & { readonly consent: KeptConsent }) | null
  readonly row: OrderRow
  readonly rows: readonly KnownLine[]
  readonly createdAt: string
  /** Where it is delivered to. */
  readonly place: string
  readonly kept: KeptFigures
}
type KnownLine = OrderLineRow & {
  /** Where it goes. */
  readonly place: string
  readonly requesterId: string | null
  readonly requisitionId: string | null
  readonly requisitionNumber: string | null
}

type Head = OrderRow & { supplier: string; place: string | null }

/** Orders with everything that the core needs of them, each kind of row in one query. */
export async function knownOrders(call: Read, ids: readonly string[]): Promise<Map<string, KnownOrder>> {
  if (ids.length === 0) return new Map()
  const heads = await headsOf(call, ids)
  const rows = await linesOf(call, ids)
  const requestedIds = someIds(rows.map(row => row.requisitionLineId))
  const splits = await splitsOf(call, [...rows.map(row => row.id), ...requestedIds])
  const requested = payingFor(await requestedRows(call, requestedIds), splits)
  const lines = payingFor(rows, splits)
  const lineIds = [...lines, ...requested].map(line => line.id)
  const sums = await quantitySums(call, lineIds)
  const standing = await standingOn(call, lineIds)
  const answers = await waitingAnswers(call, ids)
  const invoices = await openInvoices(call, ids)
  const questions = await consentsById(call, someIds(heads.map(head => head.excessId)))
  const requests = new Map(
    requested.map(line => [line.id, requestedFacts(line, sums(line.id), standing.get(line.id) ?? [])]),
  )
  const ofOrder = groupBy(lines, line => line.orderId)
  const places = await placesOf(call, heads.map(head => head.supplierId)) // prettier-ignore
  return new Map(
    heads.map(head => {
      const own = ofOrder.get(head.id) ?? []
      const level = head.agreed?.find(one => one.key === 'matchLevel')?.value as MatchLevel | undefined
      const facts = own.map((line): OrderLine => ({
        ...line,
        ...(line.details.charge ? { charge: line.details.charge as ChargeKind } : {}),
        amount: minor(line.amount),
        baseAmount: minor(line.baseAmount),
        requestLineId: line.requisitionLineId,
        ...(level ? { matchLevel: level } : {}),
        sums: sums(line.id),
        standing: (standing.get(line.id) ?? []).filter(part => part.kind === 'committed' || part.kind === 'accrued'),
      }))
      return [
        head.id,
        {
          ...head,
          base: call.base,
          charges: minor(head.charges),
          chargeItems: head.chargeItems.map(item => ({ ...item, amount: minor(BigInt(item.amount)) })),
          place: head.place ?? '',
          location: placeText(sentTo(places.get(head.supplierId) ?? [], head.locationId)),
          needBy: neededNext(facts),
          lines: facts,
          requests: someIds(own.map(line => line.requisitionLineId)).flatMap(id => requests.get(id) ?? []),
          answer: answers.get(head.id) ?? null,
          supplierReasons: [],
          agreementReasons: [],
          excess: askedExcess(questions.get(head.excessId ?? '')),
          openInvoices: invoices.get(head.id) ?? [],
          row: head,
          rows: own,
          kept: {
            receiveExtent: head.receiveExtent,
            billExtent: head.billExtent,
            needBy: head.needBy,
            lines: own.map(({ id, proven, billed, settled }) => ({ id, proven, billed, settled })),
          },
        },
      ]
    }),
  )
}

/** What is kept with a question about what an order costs. */
export const excessSubject = (consent: KeptConsent): ExcessSubject => consent.subject as ExcessSubject

/** The same as the core asks about it. */
function askedExcess(consent: KeptConsent | undefined): KnownOrder['excess'] {
  if (!consent) return null
  const { upTo, revision } = excessSubject(consent)
  return {
    consent,
    revision,
    upTo: new Map(Object.entries(upTo).map(([lineId, amount]) => [lineId, minor(BigInt(amount))])),
  }
}

export const knownOrder = async (call: Read, id: string): Promise<KnownOrder> =>
  found((await knownOrders(call, [id])).get(id), 'order')

/** Holds an order, its lines and what they buy until the transaction ends, and says what is known of it. */
export async function heldOrder(call: Write, id: string, version?: number): Promise<KnownOrder> {
  await hold(call, 'order', id, version)
  await holdLines(call, [id])
  return await knownOrder(call, id)
}

/** The same for several, in id order. */
export async function heldOrders(call: Write, ids: readonly string[]): Promise<KnownOrder[]> {
  if (ids.length === 0) return []
  await holdAll(call, 'order', ids)
  await holdLines(call, ids)
  return [...(await knownOrders(call, ids)).values()]
}

async function holdLines(call: Write, orderIds: readonly string[]): Promise<void> {
  const lines = await call
    .trx('orderLines')
    .whereIn('orderId', [...orderIds])
    .orderBy('id')
    .forNoKeyUpdate()
    .select('requisitionLineId')
  const requested = someIds(lines.map(line => line.requisitionLineId))
  if (requested.length > 0)
    await call.trx('requisitionLines').whereIn('id', requested).orderBy('id').forNoKeyUpdate().select('id')
}

async function headsOf(call: Read, ids: readonly string[]): Promise<Head[]> {
  const { rows } = await call.trx
    .raw<{ rows: Head[] }>(
      `select o.*, s.name as supplier, a.name as place from orders o join suppliers s on s.id = o.supplier_id left join addresses a on a.id = o.address_id where o.id = any(?) order by o.id`,
      [[...ids]],
    )
    .options({ name: 'order-heads' })
  return rows
}

/** SQL of the name of an address `a`, as it stands on documents. */
export const PLACE = "nullif(concat_ws(', ', a.name, nullif(a.dock, '')), '')"

async function linesOf(call: Read, orderIds: readonly string[]): Promise<KnownLine[]> {
  const { rows } = await call.trx
    .raw<{ rows: KnownLine[] }>(
      `select l.*, coalesce(${PLACE}, '') as place, r.requester_id, r.id as requisition_id, r.number as requisition_number from order_lines l left join requisition_lines q on q.id = l.requisition_line_id
       left join requisitions r on r.id = q.requisition_id left join addresses a on a.id = l.address_id where l.order_id = any(?) order by l.order_id, l.position`,
      [[...orderIds]],
    )
    .options({ name: 'order-lines' })
  return rows
}

async function requestedRows(call: Read, ids: readonly string[]): Promise<RequisitionLineRow[]> {
  if (ids.length === 0) return []
  const { rows } = await call.trx
    .raw<{ rows: RequisitionLineRow[] }>('select * from requisition_lines where id = any(?) order by id', [[...ids]])
    .options({ name: 'requested-lines' })
  return rows
}

async function waitingAnswers(call: Read, orderIds: readonly string[]): Promise<Map<string, WaitingAnswer>> {
  const rows = await call
    .trx('orderResponses')
    .whereIn('orderId', [...orderIds])
    .where({ state: 'waiting' })
    .select('orderId', 'id', 'revision', 'lines')
  return new Map(rows.map(({ orderId, ...answer }) => [orderId, answer]))
}

async function openInvoices(call: Read, orderIds: readonly string[]): Promise<Map<string, string[]>> {
  const { rows } = await call.trx
    .raw<{ rows: { orderId: string; number: string }[] }>(
      `select distinct l.order_id, i.number from invoices i join invoice_lines il on il.invoice_id = i.id join order_lines l on l.id = il.order_line_id where l.order_id = any(?) and i.state = any(?) order by 1, 2`,
      [[...orderIds], [...INVOICE_GROUPS.open]],
    )
    .options({ name: 'open-invoices-of-orders' })
  return new Map([...groupBy(rows, row => row.orderId)].map(([id, own]) => [id, own.map(row => row.number)]))
}

export const orderRows = (call: Read, orderId: string): Promise<KnownLine[]> => linesOf(call, [orderId])

interface Beside {
  id: string
  itemNumber: string | null
  address: string | null
}

/** Names beside the lines: of the item and of where it goes. */
export async function linesBeside(call: Read, orderId: string): Promise<Map<string, Beside>> {
  const { rows } = await call.trx
    .raw<{ rows: Beside[] }>(
      `select l.id, i.number as item_number, ${PLACE} as address from order_lines l left join items i on i.id = l.item_id left join addresses a on a.id = l.address_id where l.order_id = ?`,
      [orderId],
    )
    .options({ name: 'lines-beside' })
  return byId(rows)
}

/** The supplier's own order, held; another company's, or one that is not issued, is as if it were not there. */
export async function heldOwnOrder(call: Write, id: string): Promise<KnownOrder> {
  const own = await call
    .trx('orders')
    .where({ id, supplierId: call.actor.supplierId ?? '' })
    .first('state')
  if (!own || own.state === 'draft') throw new RuleBroken(stop('document.notFound', { kind: 'order' }))
  return await heldOrder(call, id)
}

/** A supplier sees an order from the moment it is issued. */
export const SHOWN = Object.keys(ORDER_STATES).filter(state => state !== 'draft')

/** Another company's order, or one that is not issued, is as if it were not there. */
export async function needOwn(call: Read, id: string): Promise<void> {
  const own = await call
    .trx('orders')
    .where({ id, supplierId: call.actor.supplierId ?? '' })
    .whereIn('state', SHOWN as never[])
    .first('id')
  if (!own) throw new RuleBroken(stop('document.notFound', { kind: 'order' }))
}
