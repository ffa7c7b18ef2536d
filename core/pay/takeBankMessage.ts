import { isDay } from '#core/calendar/days.ts'
import { type Decision, done, type Message } from '#core/acts/decision.ts'
import type { BankItem, BankMessage } from '#core/formats/bankAnswers.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import type { PaymentFacts } from '#core/pay/facts.ts'
import { PAYMENT_GROUPS, PAYMENT_STATES, type PaymentAction, type PaymentState } from '#core/pay/states.ts'
import { isIn, transition } from '#core/states.ts'

/**
 * What became of one thing that a bank said. moved: a payment moved · known: nothing new · noted: it waits at the bank · open: a person has
 * to look, and why.
 */
export interface AssignedItem {
  readonly item: BankItem
  readonly effect: 'moved' | 'known' | 'noted' | 'open'
  readonly why: WhyOpen | null
  readonly paymentIds: readonly string[]
}

/** Why a person has to look at something that the bank said. */
export const WHY_OPEN = [
  'bank.open.contradicts',
  'bank.open.incoming',
  'bank.open.noAmount',
  'bank.open.noPayment',
  'bank.open.otherAmount',
  'bank.open.otherCurrency',
  'bank.open.paidAfterEnd',
  'bank.open.paidTwice',
  'bank.open.unknownStatus',
  'bank.open.wrongDate',
] as const
export type WhyOpen = (typeof WHY_OPEN)[number]

/** How a payment reads after a message. */
export interface PaymentMove {
  readonly paymentId: string
  readonly runId: string
  readonly invoiceId: string
  readonly state: PaymentState
  readonly bankReason: string | null
  readonly paidOn: string | null
  /** What its invoice does because of it. */
  readonly invoice: 'pay' | 'unschedule' | 'giveBack' | null
}

export interface BankNext {
  readonly items: readonly AssignedItem[]
  readonly moves: readonly PaymentMove[]
}

/**
 * Takes in what a bank says: every item is assigned to a payment that it moves, or is found to say nothing new, or stays open for a
 * person. Nothing is taken silently: an unknown reference, another amount, a booking of what was refused or withdrawn stay open. What was
 * booked is paid on the order lines, what came back is taken off again and its invoice is payable anew.
 */
export function takeBankMessage(message: BankMessage, payments: readonly PaymentFacts[]): Decision<BankNext> {
  const now = new Map(payments.map(payment => [payment.id, payment]))
  const moves: PaymentMove[] = []
  const quantity: QuantityEntry[] = []
  const says: Message[] = []
  const move = (payment: PaymentFacts, action: PaymentAction, item: BankItem): void => {
    const moved = moveOf(payment, action, item)
    now.set(payment.id, { ...payment, state: moved.state, paidOn: moved.paidOn })
    moves.push(moved)
    if (moved.invoice === 'pay') {
      quantity.push(...paidEntries(payment, 1))
      says.push(remittance(payment, item.date))
    }
    if (moved.invoice === 'giveBack') quantity.push(...paidEntries(payment, -1))
  }
  const items = inOrder(message.items).map((item): AssignedItem => {
    const about = paymentsOf(item, [...now.values()])
    const judged = about.map(payment => judge(item, payment, about))
    const doing = judged.flatMap((one, index) => (one.action ? [{ payment: about[index]!, action: one.action }] : []))
    const open = about.length === 0 ? noPayment(item) : (judged.find(one => one.why !== null)?.why ?? null)
    if (open === null) for (const { payment, action } of doing) move(payment, action, item)
    const effect = open !== null ? 'open' : doing.length > 0 ? 'moved' : quiet(item)
    return { item, effect, why: open, paymentIds: about.map(payment => payment.id) }
  })
  const count = (effect: AssignedItem['effect']): number => items.filter(one => one.effect === effect).length
  return done<BankNext>(
    { items, moves },
    { action: 'bankAnswered', changes: { message: message.messageId, moved: count('moved'), open: count('open') } },
    { quantity, says },
  )
}

/** What has to be looked up to assign a message: runs that it may name, whole or by currency, and payments. */
export function referencesOf(message: BankMessage): { runNumbers: string[]; endToEndIds: string[] } {
  const of = (...levels: BankItem['level'][]): string[] =>
    message.items.filter(item => levels.includes(item.level)).map(item => item.reference)
  const runs = [...of('file'), ...of('batch').map(reference => reference.replace(/-[A-Z]{3}$/, ''))]
  return { runNumbers: [...new Set(runs)], endToEndIds: [...new Set(of('payment'))] }
}

const quiet = (item: BankItem): 'known' | 'noted' => (item.outcome === 'pending' ? 'noted' : 'known')

/** What is said of a whole file comes before what is said of its parts. */
const LEVELS = ['file', 'batch', 'payment'] as const
const inOrder = (items: readonly BankItem[]): BankItem[] =>
  [...items].sort((a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level))

/** The payments that an item is about; none where the reference is not ours, or none is given. */
function paymentsOf(item: BankItem, payments: readonly PaymentFacts[]): PaymentFacts[] {
  if (item.reference === '' || item.reference === 'NOTPROVIDED') return []
  if (item.level === 'file') return payments.filter(payment => payment.runNumber === item.reference)
  if (item.level === 'batch')
    return payments.filter(payment => batchId(payment.runNumber, payment.currency) === item.reference)
  return payments.filter(payment => payment.endToEndId === item.reference)
}

/** The identification of the payments of a run in one currency, as its file has it (PmtInfId). */
export const batchId = (runNumber: string, currency: string): string => `${runNumber}-${currency}`

/** Why something that is about none of our payments stays open. */
const noPayment = (item: BankItem): WhyOpen =>
  item.outcome === 'incoming'
    ? 'bank.open.incoming'
    : item.outcome === 'unknown'
      ? 'bank.open.unknownStatus'
      : 'bank.open.noPayment'

interface Judged {
  readonly action: PaymentAction | null
  readonly why: WhyOpen | null
}
const nothingNew: Judged = { action: null, why: null }
const look = (why: WhyOpen): Judged => ({ action: null, why })

const ACTIONS: Readonly<Record<'accepted' | 'refused' | 'paid' | 'returned', PaymentAction>> = {
  accepted: 'accept',
  refused: 'refuse',
  paid: 'pay',
  returned: 'giveBack',
}

/** States in which something that a bank says is no news any more. */
const NO_NEWS: Readonly<Record<PaymentAction, readonly PaymentState[]>> = {
  send: [],
  accept: ['accepted', 'paid', 'returned'],
  pay: ['paid', 'returned'],
  refuse: ['refused', 'returned'],
  giveBack: ['returned'],
  withdraw: [],
  recall: [],
}

/** What an item does to one payment. */
function judge(item: BankItem, payment: PaymentFacts, about: readonly PaymentFacts[]): Judged {
  if (item.outcome === 'pending') return nothingNew
  if (item.outcome === 'unknown') return look('bank.open.unknownStatus')
  // money that comes in with the identification of one of our payments is that payment coming back
  const action = item.outcome === 'incoming' ? 'giveBack' : ACTIONS[item.outcome]
  const booked = action === 'pay' || action === 'giveBack'
  if (booked && !isDay(item.date)) return look('bank.open.wrongDate')
  if (booked) {
    const amounts = about.length > 1 ? wholeBatch(item, about) : oneAmount(item, payment)
    if (amounts !== null) return look(amounts)
  }
  // a bank may return what it never told us it had booked: it is then as if it had refused
  const does = action === 'giveBack' && payment.state !== 'paid' ? 'refuse' : action
  if (NO_NEWS[action].includes(payment.state)) return sameAgain(item, action, payment)
  return transition(PAYMENT_STATES, 'payment', payment.state, does).ok
    ? { action: does, why: null }
    : look(action === 'pay' ? 'bank.open.paidAfterEnd' : 'bank.open.contradicts')
}

/** The same booking may be told twice, by a notification and a statement; another day would be another booking. */
const sameAgain = (item: BankItem, action: PaymentAction, payment: PaymentFacts): Judged =>
  action === 'pay' && payment.paidOn !== null && payment.paidOn !== item.date ? look('bank.open.paidTwice') : nothingNew

function oneAmount(item: BankItem, payment: PaymentFacts): WhyOpen | null {
  const own = item.amounts.filter(one => one.currency === payment.currency)
  if (own.length === 0) return item.amounts.length === 0 ? 'bank.open.noAmount' : 'bank.open.otherCurrency'
  return own.some(one => sameNumber(one.amount, formatAmount(payment.amount, payment.currency)))
    ? null
    : 'bank.open.otherAmount'
}

/** A whole batch is booked in one sum: it has to be the sum of its payments. */
function wholeBatch(item: BankItem, about: readonly PaymentFacts[]): WhyOpen | null {
  const currency = about[0]!.currency
  const total = sumDecimals(about.map(payment => formatAmount(payment.amount, payment.currency))).toString()
  const own = item.amounts.filter(one => one.currency === currency)
  if (own.length === 0) return 'bank.open.noAmount'
  return own.some(one => sameNumber(one.amount, total)) ? null : 'bank.open.otherAmount'
}

/** Amounts compare as numbers: 595.0 is 595.00. */
const sameNumber = (a: string, b: string): boolean => /^\d{1,18}(\.\d{1,5})?$/.test(a) && new Decimal(a).equals(b)

function moveOf(payment: PaymentFacts, action: PaymentAction, item: BankItem): PaymentMove {
  const next = transition(PAYMENT_STATES, 'payment', payment.state, action)
  return {
    paymentId: payment.id,
    runId: payment.runId,
    invoiceId: payment.invoiceId,
    state: next.ok ? next.state : payment.state,
    bankReason: item.reasonCode || (action === 'refuse' || action === 'giveBack' ? item.status : null),
    paidOn: action === 'pay' ? item.date : action === 'giveBack' ? payment.paidOn : null,
    invoice: action === 'pay' ? 'pay' : action === 'refuse' ? 'unschedule' : action === 'giveBack' ? 'giveBack' : null,
  }
}

const paidEntries = (payment: PaymentFacts, sign: 1 | -1): QuantityEntry[] =>
  payment.lines.map(line => ({
    lineId: line.orderLineId,
    kind: 'paid',
    quantity: new Decimal(line.quantity).times(sign).toString(),
  }))

const remittance = (payment: PaymentFacts, day: string): Message => ({
  template: 'payment.remittance',
  to: { kind: 'supplier', id: payment.supplierId, message: 'payments' },
  key: `remittance:${payment.id}:${day}`,
  details: {
    currency: payment.currency,
    amount: formatAmount(payment.amount, payment.currency),
    invoice: payment.supplierNumber,
    issueDate: payment.issueDate,
    day,
    ending: payment.iban.slice(-4),
    reference: payment.endToEndId,
  },
})

/** Whether nothing of a run is still on its way: then it is answered. */
export const isAnswered = (states: readonly PaymentState[]): boolean =>
  states.every(state => !isIn(PAYMENT_GROUPS.live, state))
