import type { StateTable } from '#core/states.ts'

export type ReceiptState = 'posted' | 'reversed'
export type ReceiptAction = 'reverse'

export const RECEIPT_STATES: StateTable<ReceiptState, ReceiptAction> = { posted: { reverse: 'reversed' }, reversed: {} }
