import type { StateTable } from '#core/states.ts'

export type AgreementState =
  'draft' | 'waiting' | 'active' | 'usedUp' | 'ended' | 'windingDown' | 'sealed' | 'cancelled'
export type AgreementAction =
  | 'ask'
  | 'approve'
  | 'refuse'
  | 'withdraw'
  | 'activate'
  | 'cancel'
  | 'useUp'
  | 'reopen'
  | 'end'
  | 'amend'
  | 'windDown'
  | 'seal'

/**
 * A framework agreement from its draft to the day that it can never be reopened (domain page, section 3). An amendment of one that is used up or
 * over leads back to `active`: it gives it more, or more time.
 */
export const AGREEMENT_STATES: StateTable<AgreementState, AgreementAction> = {
  draft: { ask: 'waiting', activate: 'active', cancel: 'cancelled' },
  waiting: { approve: 'active', refuse: 'draft', withdraw: 'draft' },
  active: { amend: 'active', useUp: 'usedUp', end: 'ended', windDown: 'windingDown' },
  usedUp: { amend: 'active', reopen: 'active', end: 'ended', windDown: 'windingDown' },
  ended: { amend: 'active', windDown: 'windingDown' },
  windingDown: { seal: 'sealed' },
  sealed: {},
  cancelled: {},
}

export const AGREEMENT_GROUPS = {
  /** What its ceilings and its last day make of it, from day to day. */
  standing: ['active', 'usedUp', 'ended'],
  /** It was in force once: its number stands on orders. */
  signed: ['active', 'usedUp', 'ended', 'windingDown', 'sealed'],
  /** Nothing more is called off, and it is still open. */
  spent: ['usedUp', 'ended'],
  open: ['draft', 'waiting', 'active', 'usedUp', 'ended', 'windingDown'],
  over: ['sealed', 'cancelled'],
} as const satisfies Readonly<Record<string, readonly AgreementState[]>>

/** What is being changed of one in force: nothing, a draft, or one that waits for a yes. */
export type AmendmentState = 'none' | 'writing' | 'waiting'
