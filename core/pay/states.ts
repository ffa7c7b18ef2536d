import type { StateTable } from '#core/states.ts'

export type RunState = 'proposed' | 'approved' | 'sending' | 'sent' | 'answered' | 'withdrawn' | 'recalled'
export type RunAction = 'approve' | 'leave' | 'send' | 'answer' | 'withdraw' | 'recall'

/**
 * A run leaves in two steps: `leave` is written before its file is handed to the bank, `send` when the bank has taken it. From the first on
 * nobody knows here whether the bank has it, so it can no longer be withdrawn, only recalled at the bank.
 */
export const RUN_STATES: StateTable<RunState, RunAction> = {
  proposed: { approve: 'approved', withdraw: 'withdrawn' },
  approved: { leave: 'sending', withdraw: 'withdrawn' },
  sending: { send: 'sent', recall: 'recalled' },
  sent: { answer: 'answered', recall: 'recalled' },
  answered: {},
  withdrawn: {},
  recalled: {},
}

export const RUN_GROUPS = {
  /** Somebody or the bank still has to do something. */
  open: ['proposed', 'approved', 'sending', 'sent'],
  /** Its file is to be handed to the bank. */
  leaving: ['approved', 'sending'],
  /** Its file is made. */
  filed: ['approved', 'sending', 'sent', 'answered', 'recalled'],
  /** The bank has it, or may have it. */
  out: ['sending', 'sent'],
} as const satisfies Readonly<Record<string, readonly RunState[]>>

export type PaymentState = 'proposed' | 'sent' | 'accepted' | 'paid' | 'refused' | 'returned' | 'withdrawn' | 'recalled'
export type PaymentAction = 'send' | 'accept' | 'pay' | 'refuse' | 'giveBack' | 'withdraw' | 'recall'

/** A bank may book without accepting first, may refuse what it had accepted, and may return what it had booked, also weeks later. */
export const PAYMENT_STATES: StateTable<PaymentState, PaymentAction> = {
  proposed: { send: 'sent', withdraw: 'withdrawn', recall: 'recalled' },
  sent: { accept: 'accepted', pay: 'paid', refuse: 'refused', recall: 'recalled' },
  accepted: { pay: 'paid', refuse: 'refused', recall: 'recalled' },
  paid: { giveBack: 'returned' },
  refused: {},
  returned: {},
  withdrawn: {},
  recalled: {},
}

export const PAYMENT_GROUPS = {
  /** On its way: the bank has not said the last word. */
  live: ['proposed', 'sent', 'accepted'],
  /** At most one of these for each invoice. */
  once: ['proposed', 'sent', 'accepted', 'paid'],
  /** Ended without money: the invoice is payable again. */
  failed: ['refused', 'returned'],
} as const satisfies Readonly<Record<string, readonly PaymentState[]>>
