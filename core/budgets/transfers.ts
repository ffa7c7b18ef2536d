import { available, type BudgetEntry, type BudgetSums } from '#core/ledger/budget.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type ActorFacts } from '#core/acts/actor.ts'
import {
  answerConsent,
  type Consent,
  type ConsentNext,
  endConsent,
  type NewConsent,
  whyNotWithdraw,
} from '#core/consent/consent.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type DecidedDocument, partFacts } from '#core/rules/facts.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type TransferState = 'waiting' | 'approved' | 'refused' | 'withdrawn'
export type TransferAction = 'approve' | 'refuse' | 'withdraw'
export const TRANSFER_STATES: StateTable<TransferState, TransferAction> = {
  waiting: { approve: 'approved', refuse: 'refused', withdraw: 'withdrawn' },
  approved: {},
  refused: {},
  withdrawn: {},
}

interface TransferAccount {
  readonly id: string
  readonly label: string
  readonly open: boolean
}

/** What stands against moving an amount: the giving account has to have it, both have to be open. */
export function checkTransfer(
  from: TransferAccount,
  to: TransferAccount,
  sums: BudgetSums,
  amount: Minor,
  text: (amount: Minor) => string,
): Reason[] {
  const reasons = [from, to]
    .filter(account => !account.open)
    .map(account => stop('budget.closed', { account: account.label }))
  if (from.id === to.id) reasons.push(stop('transfer.same', {}, { place: 'toId' }))
  if (amount <= 0n) reasons.push(stop('transfer.amount', {}, { place: 'amount' }))
  const left = available(sums)
  if (amount > left)
    reasons.push(
      stop('transfer.notThere', { account: from.label, left: text(left), wanted: text(amount) }, { place: 'amount' }),
    )
  return reasons
}

/** The two entries of an approved transfer; they add up to nothing. */
export const transferEntries = (fromId: string, toId: string, amount: Minor): BudgetEntry[] => [
  { accountId: fromId, kind: 'transferred', amount: minor(-amount) },
  { accountId: toId, kind: 'transferred', amount },
]

/** A transfer that somebody asked for. */
export interface TransferFacts {
  readonly id: string
  readonly state: TransferState
  readonly fromId: string
  readonly toId: string
  readonly amount: Minor
  readonly consent: Consent | null
}

/** Whoever holds the giving cost centre or keeps the books decides, never who asked. */
export const transferQuestion = (id: string, costCentre: string, askedBy: string, reason: string): NewConsent => ({
  purpose: 'transfer',
  documentKind: 'budgetTransfer',
  documentId: id,
  reason,
  steps: [
    {
      stage: 1,
      asked: [
        { kind: 'right', right: 'budget.transfer', costCentre },
        { kind: 'right', right: 'budget.write', costCentre: null },
      ],
      notBy: [askedBy],
      label: costCentre,
    },
  ],
})

/** A transfer as rules see it: what the giving account pays. */
export const decidedTransfer = (
  id: string,
  requesterId: string,
  giving: { readonly costCentre: string; readonly naturalAccount: string; readonly project: string | null },
  amount: Minor,
): Omit<DecidedDocument, 'facts'> => ({
  kind: 'transfer',
  requesterId,
  total: amount,
  lines: [
    {
      id,
      facts: {},
      parts: [
        {
          amount,
          facts: partFacts({ ...giving, account: giving.naturalAccount }),
        },
      ],
    },
  ],
})

export interface TransferNext {
  readonly state: TransferState
  readonly consent: ConsentNext
}

/** Takes the decision about a transfer; approved, its two entries are posted, checked against what is there now. */
export function decideTransfer(
  transfer: TransferFacts,
  against: readonly Reason[],
  actor: ActorFacts,
  answer: 'approve' | 'refuse',
  reason: string,
): Decision<TransferNext> {
  const late = notNow(TRANSFER_STATES, 'budgetTransfer', transfer.state, answer)
  if (late.length > 0 || transfer.consent === null) return refused(late)
  const answered = answerConsent(transfer.consent, actor, answer === 'approve' ? 'approve' : 'reject', reason)
  if (!answered.ok) return refused(answered.reasons)
  if (answer === 'refuse')
    return done<TransferNext>({ state: 'refused', consent: answered.next }, { action: answer, reason })
  if (against.length > 0) return refused(against)
  if (answered.next.state !== 'given')
    return done<TransferNext>(
      { state: transfer.state, consent: answered.next },
      { action: 'decided', changes: { rule: answered.step.label }, reason },
    )
  return done<TransferNext>(
    { state: 'approved', consent: answered.next },
    { action: answer, reason },
    { budget: transferEntries(transfer.fromId, transfer.toId, transfer.amount) },
  )
}

/** Whoever asked takes it back while nobody has decided. */
export function withdrawTransfer(transfer: TransferFacts, actor: ActorFacts, reason: string): Decision<TransferNext> {
  const late = notNow(TRANSFER_STATES, 'budgetTransfer', transfer.state, 'withdraw')
  const against = late.length > 0 || transfer.consent === null ? late : whyNotWithdraw(transfer.consent, actor)
  if (against.length > 0) return refused(against)
  return done<TransferNext>(
    { state: 'withdrawn', consent: endConsent(transfer.consent!, 'withdrawn') },
    { action: 'withdraw', reason },
  )
}
