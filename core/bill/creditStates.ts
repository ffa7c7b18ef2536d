import type { StateTable } from '#core/states.ts'

/** `draft` is seen by whoever writes it only; `waiting` is with us, and already counts where its invoice is matched. */
export type CreditState = 'draft' | 'waiting' | 'posted' | 'rejected' | 'withdrawn' | 'voided'
export type CreditAction = 'write' | 'send' | 'post' | 'unpost' | 'reject' | 'withdraw' | 'void'

/** Credit notes of suppliers and debit notes of ours. `unpost` follows from its invoice, which was taken out of the books; the rest people do. */
export const CREDIT_STATES: StateTable<CreditState, CreditAction> = {
  draft: { write: 'draft', send: 'waiting', withdraw: 'withdrawn' },
  waiting: { post: 'posted', reject: 'rejected', withdraw: 'withdrawn' },
  posted: { unpost: 'waiting', void: 'voided' },
  rejected: {},
  withdrawn: {},
  voided: {},
}

export const CREDIT_GROUPS = {
  /** Takes something off its invoice: counts wherever what may still be credited is asked. */
  standing: ['waiting', 'posted'],
  waiting: ['waiting'],
  posted: ['posted'],
  /** Not sent yet. */
  draft: ['draft'],
  /** Its number may not come again. */
  numbered: ['draft', 'waiting', 'posted'],
} as const satisfies Readonly<Record<string, readonly CreditState[]>>
