import { againstEntries, callOffEntries, type CallingLine, callsOff } from '#core/agreements/callOff.ts'
import {
  type Conversion,
  inAgreement,
  NOTHING_CONSUMED,
  orderConsumes,
  requestConsumes,
} from '#core/agreements/consumption.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import type { OrderState } from '#core/order/states.ts'
import type { QuantitySums } from '#core/ledger/quantity.ts'
import type { LineKind, Proof } from '#core/request/kinds.ts'
import type { Route } from '#core/request/routes.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import { groupBy, someIds } from '#server/database/rows.ts'
import { baseRates } from '#server/house/rates.ts'
import {
  agreementCurrencies,
  agreementsOfLines,
  calledAgreements,
  consumedOn,
  keptRates,
} from '#server/ledger/consumptionStore.ts'
import type { SourceDocument } from '#server/ledger/quantityStore.ts'

/** A line of a request or an order that calls off, or did. */
export interface CallingRow {
  readonly lineId: string
  readonly source: SourceDocument
  readonly side: 'request' | 'order'
  readonly agreementLineId: string | null
  readonly quantity: string
  readonly currency: string
  readonly amount: bigint
  readonly baseAmount: bigint
  /** Of the order; of a request it does not matter. */
  readonly state: OrderState
  readonly kind: LineKind
  readonly proof: Proof
  readonly routes: readonly Route[]
}

interface Bill {
  orderLineId: string
  net: bigint
  currency: string
  rate: string
}

/** Lines of requests and orders that call off an agreement, or did before something was changed. */
export async function callingRows(
  call: Read,
  { requisitionIds, orderIds }: { readonly requisitionIds: readonly string[]; readonly orderIds: readonly string[] },
): Promise<CallingRow[]> {
  const { rows } = await call.trx
    .raw<{ rows: (Omit<CallingRow, 'source'> & { documentId: string })[] }>(
      `select l.id as line_id, l.requisition_id as document_id, 'request' as side, l.agreement_line_id, l.quantity, l.currency, l.amount, l.base_amount, 'draft' as state, l.kind, l.proof, l.routes
         from requisition_lines l where l.requisition_id = any(:requisitions) and (l.agreement_line_id is not null or exists (select 1 from call_offs c where c.line_id = l.id))
       union all
       select l.id, l.order_id, 'order', l.agreement_line_id, l.quantity, o.currency, l.amount, l.base_amount, o.state, l.kind, l.proof, '{}'
         from order_lines l join orders o on o.id = l.order_id where l.order_id = any(:orders) and (l.agreement_line_id is not null or exists (select 1 from call_offs c where c.line_id = l.id))
       order by 1`,
      { requisitions: [...requisitionIds], orders: [...orderIds] },
    )
    .options({ name: 'calling-rows' })
  return rows.map(({ documentId, ...row }) => ({
    ...row,
    source: { kind: row.side === 'request' ? ('requisition' as const) : ('order' as const), id: documentId },
  }))
}

/** What posted invoices bill of lines of orders, credit notes taken off. */
export async function billsOf(call: Read, orderLineIds: readonly string[]): Promise<Map<string, Bill[]>> {
  if (orderLineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: Bill[] }>(
      `select l.order_line_id, l.net, i.currency, i.rate from invoice_lines l join invoices i on i.id = l.invoice_id where l.order_line_id = any(?) and i.state = any(?)`,
      [[...orderLineIds], [...INVOICE_GROUPS.posted]],
    )
    .options({ name: 'bills-of-lines' })
  return groupBy(rows, row => row.orderLineId)
}

type Bills = ReadonlyMap<string, readonly Bill[]>

/** A line with what has to stand on it; `to`: money of the agreement that it calls off. */
function callingLine(
  base: string,
  row: CallingRow,
  sums: QuantitySums,
  bills: readonly Bill[],
  stands: CallingLine['stands'],
  to: Conversion | null,
): CallingLine {
  const { lineId, agreementLineId } = row
  const calls = row.side === 'order' ? agreementLineId !== null : callsOff(row)
  if (!calls || to === null) return { lineId, agreementLineId: null, wanted: NOTHING_CONSUMED, stands }
  const value = inAgreement(row, to)
  const measured = { ...row, sums }
  const wanted =
    row.side === 'request'
      ? requestConsumes(measured, value)
      : orderConsumes(measured, value, billed(base, bills, to), row.state)
  return { lineId, agreementLineId, wanted, stands }
}

const billed = (base: string, bills: readonly Bill[], to: Conversion): Minor =>
  sumMinor(
    bills.map(({ net, currency, rate }) =>
      inAgreement({ amount: net, baseAmount: toBase(minor(net), currency, rate, base), currency }, to),
    ),
  )

export interface Calling {
  readonly lines: readonly CallingLine[]
  /** The agreement of each line of an agreement that is called off or was. */
  readonly agreementOf: ReadonlyMap<string, string>
  /** The rate of each line that calls off for the first time, or did before. */
  readonly rates: ReadonlyMap<string, string>
}

/** What stands and has to stand on lines that call off, with the quantities that the ledger gives them or would. */
export async function calling(
  call: Read,
  rows: readonly CallingRow[],
  sums: (lineId: string) => QuantitySums,
): Promise<Calling> {
  const ids = rows.map(row => row.lineId)
  const stands = await consumedOn(call, ids)
  const agreementOf = await agreementsOfLines(
    call,
    someIds([...rows.map(row => row.agreementLineId), ...[...stands.values()].flat().map(one => one.agreementLineId)]),
  )
  const currencies = await agreementCurrencies(call, [...new Set(agreementOf.values())])
  const today = await baseRates(call, currencies.values())
  const kept = await keptRates(call, ids)
  const bills: Bills = await billsOf(
    call,
    rows.filter(row => row.side === 'order').map(row => row.lineId),
  )
  const rates = new Map<string, string>()
  const lines = rows.map(row => {
    const currency = currencies.get(agreementOf.get(row.agreementLineId ?? '') ?? '')
    const rate = kept.get(row.lineId) ?? (currency === undefined ? null : today.get(currency)) ?? '1'
    if (row.agreementLineId !== null) rates.set(row.lineId, rate)
    const to = currency === undefined ? null : { currency, rate, base: call.base }
    return callingLine(call.base, row, sums(row.lineId), bills.get(row.lineId) ?? [], stands.get(row.lineId) ?? [], to)
  })
  return { lines, agreementOf, rates }
}

/** What would stand against it if lines called off what they would then take. */
export async function callOffReasons(
  call: Read,
  rows: readonly CallingRow[],
  sums: (lineId: string) => QuantitySums,
): Promise<Reason[]> {
  if (rows.length === 0) return []
  const { lines, agreementOf } = await calling(call, rows, sums)
  const agreements = await calledAgreements(call, [...new Set(agreementOf.values())])
  return againstEntries([...agreements.values()], callOffEntries(lines), call.today)
}
