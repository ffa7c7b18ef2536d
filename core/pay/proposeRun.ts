import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type NewConsent, secondYes } from '#core/consent/consent.ts'
import { addDays, isDay } from '#core/calendar/days.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type Minor, sumMinor } from '#core/money/amount.ts'
import type { PayableFacts } from '#core/pay/facts.ts'
import { whyNotPay } from '#core/pay/payable.ts'
import type { DecidedDocument } from '#core/rules/facts.ts'
import { type Reason, stop } from '#core/reasons.ts'

export interface ProposedNext {
  readonly taken: readonly PayableFacts[]
  /** Why the others stay out, each with its reason. */
  readonly left: readonly Reason[]
  readonly baseTotal: Minor
}

/** Days ahead that a bank may be told to wait: a year. */
export const FARTHEST_DAYS = 365

/** The day on which a run is carried out: not in the past, and within a year. */
export function checkExecution(executeOn: string, today: string): Reason[] {
  const at = { place: 'executeOn' }
  if (!isDay(executeOn)) return [stop('calendar.notADay', { day: executeOn.slice(0, 20) }, at)]
  if (executeOn < today) return [stop('pay.executePast', { today }, at)]
  const last = addDays(today, FARTHEST_DAYS)
  return executeOn > last ? [stop('pay.executeFar', { last }, at)] : []
}

/** Proposes what is due. What cannot be paid stays out with its reason; where that is everything, no run is made. */
export function proposeRun(
  due: readonly PayableFacts[],
  executeOn: string,
  actor: ActorFacts,
  today: string,
): Decision<ProposedNext> {
  const against = [...needsRight(actor, 'payment.propose'), ...checkExecution(executeOn, today)]
  if (against.length > 0) return refused(against)
  const judged = due.map(invoice => ({ invoice, reasons: whyNotPay(invoice) }))
  const taken = judged.filter(one => one.reasons.length === 0).map(one => one.invoice)
  const left = judged.flatMap(one => one.reasons)
  return done<ProposedNext>(
    { taken, left, baseTotal: sumMinor(taken.map(invoice => invoice.baseAmount)) },
    { action: 'proposed', changes: { payments: taken.length, left: left.length } },
  )
}

/** A run as rules see it: a line for each payment, by its supplier. */
export const decidedRun = (
  requesterId: string,
  payments: readonly (Pick<PayableFacts, 'invoiceId' | 'baseAmount' | 'supplierState'> & {
    readonly supplierNumber: string
  })[],
): Omit<DecidedDocument, 'facts'> => ({
  kind: 'run',
  requesterId,
  total: sumMinor(payments.map(one => one.baseAmount)),
  lines: payments.map(one => ({
    id: one.invoiceId,
    facts: { supplier: one.supplierNumber, supplierState: one.supplierState },
    parts: [{ amount: one.baseAmount, facts: {} }],
  })),
})

/** Whoever proposed a run does not approve it. */
export const runQuestion = (runId: string, proposedBy: string): NewConsent =>
  secondYes({ purpose: 'run', documentKind: 'paymentRun', documentId: runId, reason: '' }, 'payment.approve', [
    proposedBy,
  ])
