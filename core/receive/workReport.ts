import { type ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, type Message, NOT_YOURS, refused, saysWhy } from '#core/acts/decision.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { proven, toReceive } from '#core/order/measures.ts'
import { whyNotOpen, whyNotProve } from '#core/order/proving.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isWork, type Proof } from '#core/request/kinds.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type ReportState = 'draft' | 'sent' | 'accepted' | 'partAccepted' | 'refused' | 'withdrawn'
export type ReportAction = 'write' | 'send' | 'accept' | 'acceptPart' | 'refuse' | 'withdraw'
/** Work that was done, as it is told; accepted in full or in part, or refused, and then told anew. */
export const REPORT_STATES: StateTable<ReportState, ReportAction> = {
  draft: { write: 'draft', send: 'sent', withdraw: 'withdrawn' },
  sent: { accept: 'accepted', acceptPart: 'partAccepted', refuse: 'refused', withdraw: 'withdrawn' },
  accepted: {},
  partAccepted: {},
  refused: { send: 'sent', withdraw: 'withdrawn' },
  withdrawn: {},
}
export const REPORT_GROUPS = {
  /** Waits for whoever accepts it. */
  waiting: ['sent'],
  /** Counts against the ceiling: accepted, or waiting to be. */
  counted: ['sent', 'accepted', 'partAccepted'],
} as const satisfies Readonly<Record<string, readonly ReportState[]>>

/** How the bill and the acceptance of a line of work follow each other. workOrder('billFirst') //=> 'invoiceFirst' */
export const workOrder = (proof: Proof): 'reportFirst' | 'invoiceFirst' | 'none' =>
  proof === 'billFirst' ? 'invoiceFirst' : proof === 'none' ? 'none' : 'reportFirst'

export interface ReportEntry {
  /** The supplier's own number of it. */
  readonly number: string
  /** In the unit of the line: hours, days, money, or the one piece of work. */
  readonly quantity: string
  readonly from: string
  readonly to: string
  readonly place: string
  readonly people: readonly { readonly name: string; readonly quantity: string }[]
  readonly note: string
}
export interface ReportFacts {
  readonly number: string
  readonly state: ReportState
  readonly lineId: string
  readonly entry: ReportEntry
  /** Who wrote it: the supplier, or one of us on its word, or its invoice. */
  readonly origin: 'supplier' | 'requester' | 'invoice'
  readonly byId: string
  /** What other reports of the same line that wait would take. */
  readonly others: string
}

/** How much of a line is left for reports: its ceiling less what is accepted and what others wait for. */
export const leftFor = (line: OrderLine, others: string): string =>
  tidy(Decimal.max(0, new Decimal(toReceive(line)).minus(others)))

/** What is wrong with a report. */
export function whyNotReport(order: OrderFacts, report: Pick<ReportFacts, 'lineId' | 'entry' | 'others'>): Reason[] {
  const line = order.lines.find(one => one.id === report.lineId)
  const { quantity, from, to, people } = report.entry
  if (!line || !isWork(line.kind)) return [stop('report.foreignLine')]
  if (line.proof === 'none') return [stop('report.notNeeded')]
  const faults = [
    ...whyNotOpen(order),
    ...(isHeldDecimal(quantity) && new Decimal(quantity).gt(0)
      ? []
      : [stop('report.quantity', {}, { place: 'quantity' })]),
    ...(to < from ? [stop('report.period', {}, { place: 'to' })] : []),
  ]
  if (faults.length > 0) return faults
  const named = people.filter(one => one.quantity !== '')
  const sum = named.reduce((total, one) => total.plus(isHeldDecimal(one.quantity) ? one.quantity : NaN), new Decimal(0))
  return [
    ...(named.length === 0 || sum.equals(quantity) ? [] : [stop('report.people', { sum: sum.isNaN() ? '' : tidy(sum), quantity: tidy(quantity) }, { place: 'people' })]), // prettier-ignore
    ...(new Decimal(quantity).gt(leftFor(line, report.others)) ? [stop('report.ceiling', { left: leftFor(line, report.others), ordered: tidy(line.quantity), accepted: tidy(proven(line)) }, { place: 'quantity', clearedBy: ['buyer'] })] : []), // prettier-ignore
  ]
}

/** Hands a report in: whoever asked for the work is told. */
export function sendReport(order: OrderFacts, report: ReportFacts): Decision<{ readonly state: ReportState }> {
  const against = [...notNow(REPORT_STATES, 'workReport', report.state, 'send'), ...whyNotReport(order, report)]
  if (against.length > 0) return refused(against)
  return done(
    { state: 'sent' as const },
    { action: 'reported', changes: { report: report.number, quantity: tidy(report.entry.quantity) } },
  )
}

/** Who may not say yes: whoever handed it in on the supplier's word and ordered it, too. */
export function whyNotAnswer(order: OrderFacts, report: ReportFacts, actor: ActorFacts): Reason[] {
  const line = order.lines.find(one => one.id === report.lineId)
  return [
    ...notNow(REPORT_STATES, 'workReport', report.state, 'accept'),
    ...(line ? whyNotProve(line, actor) : [NOT_YOURS]),
    ...(report.byId === actor.id && order.buyerId === actor.id
      ? [stop('report.orderedAndSupplied', {}, { clearedBy: ['requester'] })]
      : []),
  ]
}

export interface AnsweredReport {
  readonly state: ReportState
  readonly accepted: string
}

/** Accepts all of a report or a part, with a reason where it is not all; nothing above the ceiling. */
export function acceptReport(
  order: OrderFacts,
  report: ReportFacts,
  quantity: string,
  actor: ActorFacts,
  reason: string,
): Decision<AnsweredReport> {
  const against = [...whyNotAnswer(order, report, actor), ...whyNotOpen(order)]
  if (against.length > 0) return refused(against)
  const line = order.lines.find(one => one.id === report.lineId)!
  const place = { place: 'quantity' }
  if (!isHeldDecimal(quantity) || new Decimal(quantity).lte(0) || new Decimal(quantity).gt(report.entry.quantity))
    return refused([stop('report.moreThanTold', { told: tidy(report.entry.quantity) }, place)])
  if (new Decimal(quantity).gt(toReceive(line)))
    return refused([stop('report.ceiling', { left: toReceive(line), ordered: tidy(line.quantity), accepted: tidy(proven(line)) }, { ...place, clearedBy: ['buyer'] })]) // prettier-ignore
  const part = new Decimal(quantity).lt(report.entry.quantity)
  if (part && !saysWhy(reason)) return refused([stop('report.whyPart', {}, { place: 'reason' })])
  return done(
    { state: part ? ('partAccepted' as const) : ('accepted' as const), accepted: tidy(quantity) },
    {
      action: part ? 'reportAcceptedInPart' : 'reportAccepted',
      changes: {
        report: report.number,
        lines: [{ position: line.position, quantity: tidy(quantity), unit: line.unit }],
      },
      reason,
    },
    {
      ...follow(order, [{ lineId: line.id, kind: 'accepted', quantity }]),
      says: [answerMail(order, report, part ? 'part' : 'all', quantity, reason)],
    },
  )
}

/** Refuses a report with the reason; the supplier can tell it anew. */
export function refuseReport(
  order: OrderFacts,
  report: ReportFacts,
  actor: ActorFacts,
  reason: string,
): Decision<AnsweredReport> {
  const against = [
    ...whyNotAnswer(order, report, actor),
    ...(saysWhy(reason) ? [] : [stop('report.whyRefused', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  return done(
    { state: 'refused' as const, accepted: '0' },
    { action: 'reportRefused', changes: { report: report.number }, reason },
    { says: [answerMail(order, report, 'none', '0', reason)] },
  )
}

const answerMail = (
  order: OrderFacts,
  report: ReportFacts,
  how: 'all' | 'part' | 'none',
  quantity: string,
  reason: string,
): Message => ({
  template: how === 'none' ? 'report.refused' : 'report.accepted',
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `work-report:${report.number}:${quantity}:${reason.slice(0, 40)}`,
  details: {
    number: report.number,
    order: order.number,
    title: order.title,
    told: tidy(report.entry.quantity),
    quantity: tidy(quantity),
    reason,
    path: `/supplier/orders/${order.id}`,
  },
})
