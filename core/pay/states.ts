import { type Reason, stop } from '#core/reasons.ts'
import type { StateTable } from '#core/states.ts'

export type RunState = 'proposed' | 'approved' | 'sent' | 'answered' | 'withdrawn'
export type RunAction = 'approve' | 'send' | 'answer' | 'withdraw'

export const RUN_STATES: StateTable<RunState, RunAction> = {
  proposed: { approve: 'approved', withdraw: 'withdrawn' },
  approved: { send: 'sent', withdraw: 'withdrawn' },
  sent: { answer: 'answered' },
  answered: {},
  withdrawn: {},
}

export type PaymentState = 'proposed' | 'sent' | 'accepted' | 'paid' | 'refused' | 'withdrawn'
export type PaymentAction = 'send' | 'accept' | 'pay' | 'refuse' | 'withdraw'

/** A bank may book without accepting first, and may return a payment it had accepted. */
export const PAYMENT_STATES: StateTable<PaymentState, PaymentAction> = {
  proposed: { send: 'sent', withdraw: 'withdrawn' },
  sent: { accept: 'accepted', pay: 'paid', refuse: 'refused' },
  accepted: { pay: 'paid', refuse: 'refused' },
  paid: {},
  refused: {},
  withdrawn: {},
}

export interface Payable {
  readonly number: string
  readonly bankAccount: { readonly state: 'unproven' | 'proven' | 'closed' } | null
  /** How the supplier is paid; only credit transfers go through the bank file. Undefined: as usual. */
  readonly method?: string
  /** ISO 20022 reason with which the bank refused a payment of this invoice to this same account, if it did. */
  readonly refusedWith: string | null
}

/** Reasons that lie in the account (AC01 wrong number, AC04 closed, …): paying there again would fail again. */
const accountIsWrong = (code: string): boolean => code.startsWith('AC')

/** Why an invoice that is due cannot be taken into a run. */
export function payableReasons(invoice: Payable): Reason[] {
  const reasons: Reason[] = []
  if (invoice.method !== undefined && invoice.method !== '' && invoice.method !== 'creditTransfer')
    reasons.push(stop('pay.otherMethod', { invoice: invoice.number, method: invoice.method }, { clearedBy: ['buyer'] }))
  if (!invoice.bankAccount || invoice.bankAccount.state === 'closed') reasons.push(stop('pay.noAccount', { invoice: invoice.number }, { clearedBy: ['buyer'] }))
  else if (invoice.bankAccount.state === 'unproven') reasons.push(stop('pay.unproven', { invoice: invoice.number }, { clearedBy: ['financeController', 'treasurer'] }))
  else if (invoice.refusedWith !== null && accountIsWrong(invoice.refusedWith))
    reasons.push(stop('pay.refusedBefore', { invoice: invoice.number, code: invoice.refusedWith }, { clearedBy: ['buyer'] }))
  return reasons
}
