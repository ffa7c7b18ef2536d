import type { StateTable } from '#core/states.ts'

export type OrderState = 'draft' | 'issued' | 'acknowledged' | 'closed' | 'sealed' | 'cancelled'
export type OrderAction = 'issue' | 'change' | 'acknowledge' | 'close' | 'reopen' | 'seal' | 'cancel'

/** Each change after issue makes a new revision and asks the supplier again, so it leads back to `issued`. */
export const ORDER_STATES: StateTable<OrderState, OrderAction> = {
  draft: { issue: 'issued', cancel: 'cancelled' },
  issued: { acknowledge: 'acknowledged', change: 'issued', close: 'closed', cancel: 'cancelled' },
  acknowledged: { change: 'issued', acknowledge: 'acknowledged', close: 'closed', cancel: 'cancelled' },
  closed: { reopen: 'acknowledged', seal: 'sealed' },
  sealed: {},
  cancelled: {},
}

/** Groups of states by what they mean for the work; lists and audit filter by them. */
export const ORDER_GROUPS = {
  /** The supplier owes what is on it. */
  live: ['issued', 'acknowledged'],
  /** Somebody may still do something with it. */
  open: ['draft', 'issued', 'acknowledged', 'closed'],
  /** Counted in ledgers and threads. */
  counted: ['issued', 'acknowledged', 'closed', 'sealed'],
  /** Not cancelled. */
  standing: ['draft', 'issued', 'acknowledged', 'closed', 'sealed'],
  /** Takes invoices. */
  billable: ['issued', 'acknowledged', 'closed'],
  /** Over, one way or the other. */
  ended: ['closed', 'sealed', 'cancelled'],
} as const satisfies Readonly<Record<string, readonly OrderState[]>>

export const ANSWER_STATES = ['confirmed', 'waiting', 'accepted', 'part', 'refused', 'superseded'] as const
/** What a supplier said to a revision, and what became of it. */
export type AnswerState = (typeof ANSWER_STATES)[number]
/** Answers after which the supplier is asked nothing more about that revision. */
export const ANSWERED: readonly AnswerState[] = ['confirmed', 'accepted', 'waiting']
