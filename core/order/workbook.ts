import type { ActorFacts } from '#core/acts/actor.ts'
import { Decimal, isDecimalText, tidy } from '#core/money/decimal.ts'
import { whyNotCancel } from '#core/order/cancelOrder.ts'
import { whyNotClose } from '#core/order/closeOrder.ts'
import { whyNotEdit } from '#core/order/editDraft.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { isCancelledLine } from '#core/order/measures.ts'
import { whyNotPromise } from '#core/order/promiseDays.ts'
import { whyNotRevise } from '#core/order/reviseOrder.ts'
import type { Reason } from '#core/reasons.ts'

/** What can be changed of lines of orders in a workbook. */
export const WORKBOOK_FIELDS = ['quantity', 'needBy', 'promised', 'place', 'price', 'buyer', 'act'] as const
export type WorkbookField = (typeof WORKBOOK_FIELDS)[number]
export type WorkbookValues = Readonly<Record<WorkbookField, string>>

/** What can be done with a line or its order from a workbook. */
export const WORKBOOK_ACTS = ['cancelLine', 'closeOrder', 'cancelOrder'] as const
export type WorkbookAct = (typeof WORKBOOK_ACTS)[number]

/** A place of the address book as a workbook shows it, told by its code. placeLabel('QUAY', 'Saltmere Quay') //=> 'QUAY: Saltmere Quay' */
export const placeLabel = (code: string, name: string): string => `${code}: ${name}`
/** The code of a place that was typed, with or without its name. */
export const placeCode = (text: string): string => text.split(':')[0]!.trim().toUpperCase()

/** A line as a workbook shows it: days as ISO, nobody and nothing as an empty text. */
export const workbookValues = (
  line: Pick<OrderLine, 'quantity' | 'needBy' | 'promisedDate' | 'price'>,
  buyer: string,
  place: string,
): WorkbookValues => ({
  quantity: tidy(line.quantity),
  needBy: line.needBy ?? '',
  promised: line.promisedDate ?? '',
  place,
  price: tidy(line.price),
  buyer,
  act: '',
})

/** The fields that somebody may change on a line now: a draft is edited, an issued order gets a revision, and a promise only where the supplier owes something. */
export function editableFields(order: OrderFacts, line: OrderLine, actor: ActorFacts): WorkbookField[] {
  const reads = (reasons: readonly Reason[]): boolean => reasons.length === 0
  if (isCancelledLine(line)) return []
  const written = reads(order.state === 'draft' ? whyNotEdit(order, actor) : whyNotRevise(order, actor))
  const promised = reads(whyNotPromise(order, actor))
  const ends = reads(whyNotClose(order, actor)) || reads(whyNotCancel(order, actor))
  return WORKBOOK_FIELDS.filter(field =>
    field === 'promised' ? promised : field === 'act' ? ends : field === 'buyer' ? written || promised : written,
  )
}

/** A line as it went out in a workbook. */
export interface SentRow {
  readonly lineId: string
  readonly orderId: string
  readonly values: WorkbookValues
  readonly may: readonly WorkbookField[]
}

/** A row that came back. */
export interface ReturnedRow {
  /** Its place in the file. */
  readonly row: number
  /** The line that it says it is; none: somebody typed a row of their own. */
  readonly lineId: string | null
  readonly values: WorkbookValues
  readonly reasons: readonly Reason[]
}

export interface FieldChange {
  readonly field: WorkbookField
  readonly before: string
  readonly after: string
  /** What stands there now. */
  readonly now: string
}

export const ROW_STATES = ['ready', 'conflict', 'refused', 'same', 'settled'] as const
export type RowState = (typeof ROW_STATES)[number]

export interface RowDifference {
  readonly row: number
  readonly lineId: string | null
  readonly changes: readonly FieldChange[]
  readonly state: RowState
  readonly reasons: readonly Reason[]
}

/** Whether two texts of a field say the same. */
export const sameValue = (field: WorkbookField, a: string, b: string): boolean =>
  a === b ||
  (field === 'place' && placeCode(a) === placeCode(b)) ||
  ((field === 'quantity' || field === 'price') && isDecimalText(a) && isDecimalText(b) && new Decimal(a).equals(b))

/**
 * What a row that came back would change. Somebody else's change of the same field meanwhile is a conflict, to be chosen about; what stands there already
 * is no change, so that the same file given twice changes nothing.
 *
 * `now`: the line as it stands; nothing where it is no more.
 */
export function rowDifference(
  sent: SentRow,
  returned: ReturnedRow,
  now: WorkbookValues | null,
): Omit<RowDifference, 'state'> & { readonly state: Exclude<RowState, 'settled'> } {
  const { row, values, reasons } = returned
  // what was made before a column was there says nothing of it
  const changes = WORKBOOK_FIELDS.filter(
    field => field in sent.values && !sameValue(field, sent.values[field], values[field]),
  ).map((field): FieldChange => ({
    field,
    before: sent.values[field],
    after: values[field],
    now: now?.[field] ?? sent.values[field],
  }))
  const open = changes.filter(one => !sameValue(one.field, one.now, one.after))
  const moved = open.some(one => !sameValue(one.field, one.now, one.before))
  const state = reasons.length > 0 ? 'refused' : open.length === 0 ? 'same' : moved ? 'conflict' : 'ready'
  return { row, lineId: sent.lineId, changes: reasons.length > 0 ? changes : open, state, reasons }
}
