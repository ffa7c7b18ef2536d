import type { InvoiceFacts } from '#core/bill/facts.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'

/** States in which everything agrees and only posting is left. */
export const READY_TO_POST = INVOICE_GROUPS.ready

/** Whether an invoice can be posted without anybody looking at it: all agrees, and nobody had to accept a difference or was asked to. */
export const isUntouched = (invoice: Pick<InvoiceFacts, 'state' | 'holds'>): boolean =>
  READY_TO_POST.some(state => state === invoice.state) &&
  invoice.holds.every(hold => !hold.cleared && hold.asked === null)
