import type { StateTable } from '#core/states.ts'

export type ReceiptState = 'asked' | 'posted' | 'reversed' | 'refused'
export type ReceiptAction = 'agree' | 'refuse' | 'reverse'

/** A count above the tolerance is asked about before it counts; one that nobody agreed to never did. */
export const RECEIPT_STATES: StateTable<ReceiptState, ReceiptAction> = {
  asked: { agree: 'posted', refuse: 'refused' },
  posted: { reverse: 'reversed' },
  reversed: {},
  refused: {},
}
