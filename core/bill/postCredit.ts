import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import type { CreditFacts } from '#core/bill/creditFacts.ts'
import { CREDIT_STATES, type CreditState } from '#core/bill/creditStates.ts'
import { spentOn } from '#core/bill/spent.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { whyBeyond } from '#core/bill/writeCredit.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import { billed } from '#core/order/measures.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn, notNow } from '#core/states.ts'

export interface CreditNext {
  readonly state: CreditState
}

interface Entries {
  readonly quantity: QuantityEntry[]
  readonly budget: BudgetEntry[]
}

/** What stands against posting: it is posted or over, its invoice is not in the books yet, or it would take more than that billed. */
export const whyNotPostCredit = (credit: CreditFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'invoice.write'),
  ...notNow(CREDIT_STATES, 'creditNote', credit.state, 'post'),
  ...(credit.state !== 'waiting' || isIn(INVOICE_GROUPS.posted, credit.invoice.state)
    ? []
    : [stop('credit.invoiceFirst', { number: credit.invoice.number })]),
  ...(credit.state === 'waiting' && isIn(INVOICE_GROUPS.posted, credit.invoice.state) ? whyNotBilled(credit) : []),
]

/** Pieces that are billed no more already, by a debit note for goods that went back, cannot be credited once more. */
const whyNotBilled = (credit: CreditFacts): Reason[] =>
  credit.orders
    .flatMap(order => order.lines)
    .flatMap((line): Reason[] => {
      const own = credit.lines.filter(one => one.orderLineId === line.id && one.way === 'quantity')
      const pieces = sumDecimals(own.map(one => one.quantity))
      return pieces.gt(0) && pieces.gt(billed(line))
        ? [stop('credit.aboveBilled', { line: own[0]!.of, left: billed(line) })]
        : []
    })

/** What a credit note posts in both ledgers: pieces that are not billed any more, and what the accounts get back. */
export function creditEntries(credit: CreditFacts): Entries {
  const quantity = credit.lines.flatMap(
    (line): QuantityEntry[] =>
    line.way === 'quantity' && line.orderLineId !== null ? [{ lineId: line.orderLineId, kind: 'credited', quantity: line.quantity }] : [], // prettier-ignore
  )
  return { quantity, budget: [...followed(credit, quantity), ...givenBack(credit)] }
}

/** The spent value that a credit note takes back, at the rate of its invoice, on the accounts that paid for the lines. */
export function givenBack(credit: CreditFacts): BudgetEntry[] {
  const { invoice, orders } = credit
  // charges without lines are given back to all lines of the invoice, by their size
  const weights = credit.lines.length > 0 ? credit.lines : invoice.lines
  const lines = weights.map(line => ({ orderLineId: line.orderLineId, net: credit.lines.length > 0 ? line.net : minor(0), size: line.net })) // prettier-ignore
  const spent = spentOn({
    currency: invoice.currency,
    rate: invoice.rate,
    base: invoice.base,
    net: credit.net,
    baseNet: credit.baseNet,
    lines,
    orders,
  })
  return spent.map(entry => ({ ...entry, amount: minor(-entry.amount) }))
}

const followed = (credit: Pick<CreditFacts, 'orders'>, quantity: readonly QuantityEntry[]): BudgetEntry[] =>
  credit.orders.flatMap(order => {
    const own = new Set(order.lines.map(line => line.id))
    return follow(
      order,
      quantity.filter(entry => own.has(entry.lineId)),
    ).budget
  })

/** Posts a credit note: what it takes away is not billed any more, and the accounts get it back. */
export function postCredit(credit: CreditFacts, actor: ActorFacts): Decision<CreditNext> {
  const against = [...whyNotPostCredit(credit, actor), ...whyBeyond(credit.invoice, credit)]
  if (against.length > 0) return refused(against)
  return done<CreditNext>(
    { state: 'posted' },
    { action: 'posted', changes: { gross: formatAmount(credit.gross, credit.invoice.currency), of: credit.invoice.number } }, // prettier-ignore
    creditEntries(credit),
  )
}

/** Counter-entries of everything that a credit note has posted. */
export function creditTakenBack(credit: CreditFacts): Entries {
  const quantity = credit.posted.quantities.map((entry): QuantityEntry => ({
    lineId: entry.lineId,
    kind: 'credited',
    quantity: new Decimal(0).minus(entry.quantity).toString(),
    reversesId: entry.id,
  }))
  const spent = credit.posted.spent.map(entry => ({ ...entry, amount: minor(-entry.amount) }))
  return { quantity, budget: [...spent, ...followed(credit, quantity)] }
}

export type CreditEnd = 'reject' | 'withdraw' | 'void'

/** What stands against ending it. A supplier takes back what it wrote as long as it is not posted; we reject what waits, withdraw our own, void what is posted. */
export function whyNotEndCredit(credit: CreditFacts, how: CreditEnd, actor: ActorFacts): Reason[] {
  const own = actor.supplierId !== null && actor.supplierId === credit.supplierId && credit.issuer === 'supplier'
  const right = how === 'withdraw' && credit.issuer === 'supplier' ? (own ? [] : [stop('credit.theirs')]) : needsRight(actor, 'invoice.write') // prettier-ignore
  return [
    ...right,
    ...notNow(CREDIT_STATES, 'creditNote', credit.state, how),
    ...(how === 'void' && credit.setOffPaid > 0n
      ? [stop('credit.setOff', { amount: `${credit.invoice.currency} ${formatAmount(credit.setOffPaid, credit.invoice.currency)}` })] // prettier-ignore
      : []),
  ]
}

/** Ends a credit note: what was posted is taken back by counter-entries; what was not leaves no trace in the ledgers. */
export function endCredit(
  credit: CreditFacts,
  how: CreditEnd,
  actor: ActorFacts,
  reason: string,
): Decision<CreditNext> {
  const against = [
    ...whyNotEndCredit(credit, how, actor),
    ...(how === 'withdraw' || saysWhy(reason) ? [] : [stop('bill.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const state = ({ reject: 'rejected', withdraw: 'withdrawn', void: 'voided' } as const)[how]
  return done<CreditNext>({ state }, { action: how, reason }, how === 'void' ? creditTakenBack(credit) : {})
}
