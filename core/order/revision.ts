import { PERSONAL_FEE } from '#core/request/personalFee.ts'
import type { Message } from '#core/acts/decision.ts'
import { formatAmount, type Minor, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import type { ChargeKind } from '#core/order/charges.ts'
import { type DatedQuantity, fallsBehind, inOrder, scheduleText } from '#core/order/schedule.ts'

/** A line as the supplier sees it on one revision. */
export interface RevisionLine {
  readonly lineId: string
  readonly position: number
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly amount: string
  readonly needBy: string | null
  /** Where it goes. */
  readonly place?: string
  /** Its deliveries, where it comes in several. */
  readonly schedule?: readonly (DatedQuantity & { readonly place: string })[]
  /** What this line says beside its figures: its own Incoterm, its instalments, how far the ceiling is expected to be used. */
  readonly terms?: string
}

/** A charge or discount as the supplier sees it. */
export interface RevisionCharge {
  readonly kind: ChargeKind
  readonly words: string
  readonly percent: string | null
  readonly amount: string
}

/** What a revision says beside its lines. */
export interface RevisionHead {
  readonly title: string
  readonly message: string
  readonly charges: string
  readonly chargeItems?: readonly RevisionCharge[]
  /** The place of the supplier that it goes to; revisions of old do not say. */
  readonly location?: string
}

export interface LineDifference {
  readonly lineId: string
  readonly position: number
  readonly kind: 'added' | 'removed' | 'changed'
  readonly fields: {
    readonly field: (typeof COMPARED)[number] | (typeof HEAD_FIELDS)[number]
    readonly before: string
    readonly after: string
  }[]
}

const COMPARED = ['description', 'quantity', 'price', 'needBy', 'place', 'schedule'] as const

/** What stands for the head of an order where differences name lines. */
export const HEAD_LINE = '00000000-0000-0000-0000-000000000000'
const HEAD_FIELDS = ['title', 'message', 'charges', 'location'] as const

/** What changed in the head between two revisions, as a difference of line 0. */
export function compareHeads(before: RevisionHead, after: RevisionHead): LineDifference[] {
  const said = (head: RevisionHead, field: (typeof HEAD_FIELDS)[number]): string =>
    field === 'charges' ? chargesText(head) : (head[field] ?? '')
  const both = HEAD_FIELDS.filter(field => before[field] !== undefined && after[field] !== undefined)
  const fields = both
    .filter(field => said(before, field) !== said(after, field))
    .map(field => ({
      field,
      before: said(before, field),
      after: said(after, field),
    }))
  return fields.length === 0 ? [] : [{ lineId: HEAD_LINE, position: 0, kind: 'changed', fields }]
}

/** Charges of a revision; the sum of one of old counts as freight. */
export const chargesShown = ({
  charges,
  chargeItems,
}: Pick<RevisionHead, 'charges' | 'chargeItems'>): readonly RevisionCharge[] =>
  chargeItems ?? (new Decimal(charges).isZero() ? [] : [{ kind: 'freight', words: '', percent: null, amount: charges }])

/** Charges as one text, for comparing and for what is kept of a difference: one on each line, `kind amount words`. */
const chargesText = (head: RevisionHead): string =>
  chargesShown(head)
    .map(one => [one.kind, one.amount, one.words].join(' ').trim())
    .join('\n')

/** The head of an order as one of its revisions shows it. */
export const revisionHead = (
  order: Pick<OrderFacts, 'title' | 'message' | 'charges' | 'chargeItems' | 'location' | 'currency'>,
): RevisionHead => ({
  title: order.title,
  message: order.message,
  charges: formatAmount(order.charges, order.currency),
  location: order.location,
  chargeItems: order.chargeItems.map(({ kind, words, percent, amount }) => ({
    kind,
    words,
    percent,
    amount: formatAmount(amount, order.currency),
  })),
})

/** What changed between two states of an order: in its head, then line by line. */
export const compareOrders = (before: OrderFacts, after: OrderFacts): LineDifference[] => [
  ...compareHeads(revisionHead(before), revisionHead(after)),
  ...compareRevisions(revisionLines(before), revisionLines(after)),
]

/** What changed between two revisions, line by line; equal figures written differently (8 and 8.0) are no difference. */
export function compareRevisions(before: readonly RevisionLine[], after: readonly RevisionLine[]): LineDifference[] {
  const old = new Map(before.map(line => [line.lineId, line]))
  const kept = new Set(after.map(line => line.lineId))
  const changed = after.flatMap((line): LineDifference[] => {
    const earlier = old.get(line.lineId)
    if (!earlier) return [{ lineId: line.lineId, position: line.position, kind: 'added', fields: [] }]
    const fields = COMPARED.filter(field => differs(field, earlier, line)).map(field => ({
      field,
      before: saidOf(earlier, field),
      after: saidOf(line, field),
    }))
    return fields.length > 0 ? [{ lineId: line.lineId, position: line.position, kind: 'changed', fields }] : []
  })
  const removed = before
    .filter(line => !kept.has(line.lineId))
    .map((line): LineDifference => ({ lineId: line.lineId, position: line.position, kind: 'removed', fields: [] }))
  return [...changed, ...removed]
}

/** Differences as they are kept for all who read the history: what they say of a personal fee is left out. */
export const plainDifferences = (
  differences: readonly LineDifference[],
  lines: readonly Pick<OrderLine, 'id' | 'kind'>[],
): LineDifference[] => {
  const fees = new Set(lines.filter(line => line.kind === 'personalFee').map(line => line.id))
  return differences.map(difference => ({
    ...difference,
    fields: difference.fields.map(one =>
      one.field === 'description' && fees.has(difference.lineId)
        ? { ...one, before: PERSONAL_FEE, after: PERSONAL_FEE }
        : one,
    ),
  }))
}

type Field = (typeof COMPARED)[number]

const saidOf = (line: RevisionLine, field: Field): string =>
  field === 'schedule' ? scheduleText(line.schedule ?? []) : (line[field] ?? '')

/** Places were not kept with the revisions of old: there they say nothing. Where deliveries differ, the day of the first is part of that. */
function differs(field: Field, before: RevisionLine, after: RevisionLine): boolean {
  const [a, b] = [saidOf(before, field), saidOf(after, field)]
  if (field === 'quantity' || field === 'price') return !new Decimal(a || 0).equals(b || 0)
  if (field === 'place' && (before.place === undefined || after.place === undefined)) return false
  if (field === 'needBy' && saidOf(before, 'schedule') !== saidOf(after, 'schedule')) return false
  return a !== b
}

/** What a supplier promises for one line of an order. */
export interface ResponseLine {
  readonly lineId: string
  readonly quantity: string
  readonly price: string
  /** The day on which all of it is there. */
  readonly date: string
  /** What comes on which day, where it comes on several. */
  readonly parts?: readonly DatedQuantity[]
}

/** What a line wants delivered by when; nothing where no day is said. */
export const wantedDeliveries = (
  line: Pick<RevisionLine, 'quantity' | 'needBy'> & { readonly schedule?: readonly DatedQuantity[] },
): readonly DatedQuantity[] =>
  line.schedule && line.schedule.length > 0
    ? line.schedule
    : line.needBy === null
      ? []
      : [{ quantity: line.quantity, date: line.needBy }]

/** What an answer promises by when. */
export const promisedDeliveries = (
  answer: Pick<ResponseLine, 'quantity' | 'date' | 'parts'>,
): readonly DatedQuantity[] =>
  answer.parts && answer.parts.length > 0 ? answer.parts : [{ quantity: answer.quantity, date: answer.date }]

/** What confirms a line as it is ordered; where no day is said, for today. */
export const asWanted = (
  line: Omit<RevisionLine, 'position' | 'description' | 'unit' | 'priceBase' | 'amount'>,
  today: string,
): ResponseLine => {
  const parts = (line.schedule ?? []).map(({ quantity, date }) => ({ quantity, date }))
  const { lineId, quantity, price } = line
  return parts.length > 0
    ? { lineId, quantity, price, date: inOrder(parts).at(-1)!.date, parts }
    : { lineId, quantity, price, date: line.needBy ?? today }
}

/** What is promised of a line by when; nothing where no day was said. */
export const promisedOf = (
  line: Pick<OrderLine, 'quantity' | 'promisedDate' | 'promisedParts'>,
): readonly DatedQuantity[] =>
  line.promisedDate === null
    ? []
    : promisedDeliveries({ quantity: line.quantity, date: line.promisedDate, parts: line.promisedParts })

/** Where a supplier's answer departs from the order; an answer without departures confirms in full. */
export function responseDepartures(
  ordered: readonly RevisionLine[],
  answer: readonly ResponseLine[],
): LineDifference[] {
  const answered = new Map(answer.map(line => [line.lineId, line]))
  return ordered.flatMap((line): LineDifference[] => {
    const promise = answered.get(line.lineId)
    if (!promise) return []
    const fields: LineDifference['fields'] = []
    if (!new Decimal(promise.quantity).equals(line.quantity))
      fields.push({ field: 'quantity', before: line.quantity, after: promise.quantity })
    if (!new Decimal(promise.price).equals(line.price))
      fields.push({ field: 'price', before: line.price, after: promise.price })
    const [wanted, promised] = [wantedDeliveries(line), promisedDeliveries(promise)]
    if (fallsBehind(wanted, promised) !== null)
      fields.push(
        wanted.length > 1 || promised.length > 1
          ? { field: 'schedule', before: scheduleText(wanted), after: scheduleText(promised) }
          : { field: 'needBy', before: line.needBy ?? '', after: promise.date },
      )
    return fields.length > 0 ? [{ lineId: line.lineId, position: line.position, kind: 'changed', fields }] : []
  })
}

/** What an order comes to with its charges, in its currency. */
export const orderTotal = (
  order: Pick<OrderFacts, 'charges'> & { readonly lines: readonly Pick<OrderLine, 'amount'>[] },
): Minor => sumMinor([order.charges, ...order.lines.map(line => line.amount)])

/** The lines of an order as one of its revisions shows them. */
export const revisionLines = (order: Pick<OrderFacts, 'lines' | 'currency'>): RevisionLine[] =>
  order.lines.map(line => ({
    lineId: line.id,
    position: line.position,
    description: line.description,
    quantity: line.quantity,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
    amount: formatAmount(line.amount, order.currency),
    needBy: line.needBy,
    place: line.place,
    ...(line.schedule.length > 0
      ? { schedule: line.schedule.map(({ quantity, date, place }) => ({ quantity, date, place })) }
      : {}),
  }))

/** The message with which a revision goes to the supplier; the same revision goes once. */
export const revisionMail = (order: OrderFacts, reason: string, by: string): Message => ({
  template: order.revision === 0 ? 'order.issued' : 'order.revised',
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `order:${order.id}:${order.revision}`,
  details: {
    number: order.number,
    title: order.title,
    revision: order.revision,
    currency: order.currency,
    total: formatAmount(orderTotal(order), order.currency),
    supplier: order.supplier,
    reason,
    by,
    path: `/supplier/orders/${order.id}`,
  },
  attach: { orderId: order.id, revision: order.revision },
})
