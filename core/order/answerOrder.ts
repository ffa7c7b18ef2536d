import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused } from '#core/acts/decision.ts'
import { leadTo } from '#core/ledger/quantity.ts'
import { isDay } from '#core/calendar/days.ts'
import { Decimal, isDecimalText, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { isCancelledLine } from '#core/order/measures.ts'
import type { LinePromise, OrderNext } from '#core/order/next.ts'
import { type LineDifference, type ResponseLine, responseDepartures, revisionLines } from '#core/order/revision.ts'
import { delivered, inOrder, whyNotDated } from '#core/order/schedule.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type BehalfConsent, whyNotBehalf } from '#core/source/invitedActs.ts'
import { isUntold } from '#core/order/tellSupplier.ts'
import { isIn } from '#core/states.ts'

/** What stands against anything that a supplier does with a revision: it has to be the current one of an order that is open. */
export function whyNotCurrent(order: Pick<OrderFacts, 'number' | 'state' | 'revision'>, revision: number): Reason[] {
  if (order.state === 'cancelled') return [stop('order.isCancelled', { number: order.number })]
  if (revision !== order.revision) return [stop('order.superseded', { revision, current: order.revision })]
  return isIn(ORDER_GROUPS.live, order.state) ? [] : [stop('order.isClosed', { number: order.number })]
}

/** What stands against answering the current revision: it is not open, or an answer to it waits for the buyer. */
export const whyNotAnswer = (order: OrderFacts, revision: number): Reason[] => [
  ...whyNotCurrent(order, revision),
  ...(order.answer !== null && revision === order.revision ? [stop('order.responseWaiting')] : []),
]

export interface Answered extends OrderNext {
  readonly given: { readonly state: 'confirmed' | 'waiting'; readonly differences: readonly LineDifference[] }
}

/**
 * Takes a supplier's answer to the current revision: without departures it confirms every line for its day, with departures it waits for
 * the buyer. Every line is answered, each once.
 */
export function answerOrder(
  order: OrderFacts,
  revision: number,
  answer: readonly ResponseLine[],
  actor: ActorFacts,
  note: string,
): Decision<Answered> {
  const against = [...whyNotAnswer(order, revision), ...checkAnswer(order, answer)]
  if (against.length > 0) return refused(against)
  const differences = responseDepartures(revisionLines(order), answer)
  const changes = { differences, by: actor.name }
  if (differences.length > 0)
    return done<Answered>(
      { state: order.state, revision, given: { state: 'waiting', differences } },
      { action: 'answeredDifferently', changes, reason: note },
    )
  return done<Answered>(
    { state: 'acknowledged', revision, promises: promisesOf(answer), given: { state: 'confirmed', differences } },
    { action: 'confirmed', changes, reason: note },
    confirmAs({ ...order, state: 'acknowledged' }, answer),
  )
}

/**
 * Takes an answer that a supplier gave by telephone or mail and that one of us types in: the same rules, and who said so, when and how is kept with it.
 * The supplier is told what was written down in its name. `answerId`: what the answer is kept as.
 */
export function recordAnswer(
  order: OrderFacts,
  revision: number,
  answer: readonly ResponseLine[],
  actor: ActorFacts,
  { note, told, today, answerId }: { note: string; told: BehalfConsent; today: string; answerId: string },
): Decision<Answered> {
  const against = [...whyNotRecord(order, actor), ...whyNotBehalf(told, today)]
  if (against.length > 0) return refused(against)
  const decision = answerOrder(order, revision, answer, actor, note)
  if (!decision.ok) return decision
  const { who, on, how } = told
  const changes = { ...decision.did.changes, by: who, on, how, typedBy: actor.name }
  const mail: Message = {
    template: 'order.answerRecorded',
    to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
    key: `order-answer-recorded:${answerId}`,
    details: {
      number: order.number,
      title: order.title,
      who,
      on,
      lines: decision.next.given.differences.length || '',
      by: actor.name,
      path: `/supplier/orders/${order.id}`,
    },
  }
  // who answers has heard of it
  const next = isUntold(order) ? { ...decision.next, toldRevision: order.revision } : decision.next
  return { ...decision, next, did: { ...decision.did, changes }, says: [...decision.says, mail] }
}

/** What stands against typing in what a supplier answered. */
export const whyNotRecord = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...whyNotAnswer(order, order.revision),
]

/** What follows when a supplier's quantities are taken as confirmed. */
export const confirmAs = (order: OrderFacts, answer: readonly ResponseLine[]): ReturnType<typeof follow> => {
  const promised = new Map(answer.map(line => [line.lineId, line.quantity]))
  return follow(
    order,
    order.lines.flatMap(line => leadTo(line, 'confirmed', promised.get(line.id) ?? line.sums.confirmed)),
  )
}

export const promisesOf = (answer: readonly ResponseLine[]): LinePromise[] =>
  answer.map(({ lineId, date, parts = [] }) => ({
    lineId,
    date,
    ...(parts.length > 1 ? { parts: inOrder(parts) } : {}),
  }))

function checkAnswer(order: OrderFacts, answer: readonly ResponseLine[]): Reason[] {
  const answered = new Set(answer.map(line => line.lineId))
  const live = order.lines.filter(line => !isCancelledLine(line))
  const each = answer.length === answered.size && answered.size === live.length
  if (!each || live.some(line => !answered.has(line.id))) return [stop('order.answerEveryLine')]
  const below = (text: string): boolean => !isDecimalText(text) || new Decimal(text).lt(0)
  if (answer.some(line => below(line.quantity) || below(line.price))) return [stop('order.answerNegative')]
  return answer.flatMap(whyNotParts)
}

/** What an answer says of its days: parts are what it promises, and its day is that of the last. */
function whyNotParts({ quantity, date, parts = [] }: ResponseLine): Reason[] {
  if (parts.length === 0) return isDay(date) ? [] : [stop('order.schedule.day', { day: date.slice(0, 20) })]
  const against = whyNotDated(parts)
  if (against.length > 0) return against
  const sum = delivered(parts)
  if (!new Decimal(sum).equals(quantity)) return [stop('order.schedule.sum', { sum, quantity: tidy(quantity) })]
  return inOrder(parts).at(-1)!.date === date ? [] : [stop('order.schedule.lastDay', { day: date })]
}
