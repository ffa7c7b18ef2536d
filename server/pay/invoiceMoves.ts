import { INVOICE_STATES, type InvoiceAction } from '#core/bill/states.ts'
import { RuleBroken } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import type { Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** What paying does to an invoice, with what is recorded of it. */
export interface InvoiceMove {
  readonly invoiceId: string
  readonly action: Extract<InvoiceAction, 'schedule' | 'unschedule' | 'pay' | 'giveBack'>
  readonly changes: Readonly<Record<string, unknown>>
  readonly reason?: string
}

/** Moves invoices along with their payments, in id order, and what waits because of them. */
export async function moveInvoices(call: Write, moves: readonly InvoiceMove[]): Promise<void> {
  for (const { invoiceId, action, changes, reason } of [...moves].sort((a, b) =>
    a.invoiceId < b.invoiceId ? -1 : 1,
  )) {
    const invoice = await hold(call, 'invoice', invoiceId)
    const next = transition(INVOICE_STATES, 'invoice', invoice.state, action)
    if (!next.ok) throw new RuleBroken(next.reasons)
    await move(call, 'invoice', invoice, { state: next.state }, { action, changes, reason: reason ?? null })
  }
  await refreshThread(call, { invoiceIds: moves.map(one => one.invoiceId) })
}
