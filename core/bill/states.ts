import type { StateTable } from '#core/states.ts'

export type InvoiceState = 'read' | 'onHold' | 'matched' | 'cleared' | 'scheduled' | 'paid' | 'rejected' | 'voided'
export type InvoiceAction = 'hold' | 'clear' | 'post' | 'schedule' | 'unschedule' | 'pay' | 'reject' | 'void'

/** `hold` and `clear` are the outcome of matching; the rest people do. A bank refusal unschedules. */
export const INVOICE_STATES: StateTable<InvoiceState, InvoiceAction> = {
  read: { hold: 'onHold', clear: 'matched', reject: 'rejected' },
  onHold: { hold: 'onHold', clear: 'matched', reject: 'rejected' },
  matched: { hold: 'onHold', clear: 'matched', post: 'cleared', reject: 'rejected' },
  cleared: { schedule: 'scheduled', void: 'voided' },
  scheduled: { pay: 'paid', unschedule: 'cleared' },
  paid: {},
  rejected: {},
  voided: {},
}
