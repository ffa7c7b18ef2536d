import type { StateTable } from '#core/states.ts'

export type InvoiceState =
  'read' | 'onHold' | 'matched' | 'cleared' | 'scheduled' | 'paid' | 'setOff' | 'rejected' | 'voided'
export type InvoiceAction =
  | 'hold'
  | 'clear'
  | 'post'
  | 'unpost'
  | 'schedule'
  | 'unschedule'
  | 'pay'
  | 'giveBack'
  | 'setOff'
  | 'reopen'
  | 'reject'
  | 'void'

/**
 * `hold` and `clear` are the outcome of matching, `unpost` of a receipt that was taken back; the rest people do. A bank that refuses unschedules; one that returns what it had paid
 * gives the invoice back: it is payable again. One that credits took all of is set off, until one of them is taken back.
 */
export const INVOICE_STATES: StateTable<InvoiceState, InvoiceAction> = {
  read: { hold: 'onHold', clear: 'matched', reject: 'rejected' },
  onHold: { hold: 'onHold', clear: 'matched', reject: 'rejected' },
  matched: { hold: 'onHold', clear: 'matched', post: 'cleared', reject: 'rejected' },
  cleared: { schedule: 'scheduled', unpost: 'read', void: 'voided', setOff: 'setOff' },
  setOff: { reopen: 'cleared', unpost: 'read' },
  scheduled: { pay: 'paid', unschedule: 'cleared' },
  paid: { giveBack: 'cleared' },
  rejected: {},
  voided: {},
}

/** Groups of states by what they mean for the work. */
export const INVOICE_GROUPS = {
  /** Not posted yet: matched anew whenever something changes. */
  waiting: ['read', 'onHold', 'matched'],
  /** All agrees: it only has to be posted. */
  ready: ['matched'],
  /** In the ledgers. */
  posted: ['cleared', 'scheduled', 'paid', 'setOff'],
  /** Counts against a second one of the same number. */
  standing: ['read', 'onHold', 'matched', 'cleared', 'scheduled', 'paid', 'setOff'],
  /** Somebody still has to do something before its order can be sealed. */
  open: ['read', 'onHold', 'matched', 'cleared', 'scheduled'],
  /** In the ledgers, and no payment has it or had it. */
  unpaid: ['cleared', 'setOff'],
  /** Could be paid by the next run. */
  payable: ['cleared'],
  /** Owed and not paid. */
  owed: ['cleared', 'scheduled'],
} as const satisfies Readonly<Record<string, readonly InvoiceState[]>>
