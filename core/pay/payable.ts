import type { AccountState, PayableFacts, PaymentFacts } from '#core/pay/facts.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Supplier states in which nothing is paid to it. */
const UNPAID: ReadonlySet<string> = new Set(['barred', 'closed'])

/** Reasons that lie in the account (AC01 wrong number, AC04 closed, …): paying there again would fail again. */
const accountIsWrong = (code: string): boolean => code.startsWith('AC')

/** Nothing is paid to a supplier that is barred or closed, whatever it is owed, until somebody takes that back. */
export const whyNotPaySupplier = (
  supplier: { readonly name: string; readonly state: string },
  invoice: string,
): Reason[] =>
  UNPAID.has(supplier.state)
    ? [
        stop(
          `pay.supplier.${supplier.state}`,
          { invoice, supplier: supplier.name },
          { clearedBy: ['buyer', 'sourcingLead'] },
        ),
      ]
    : []

function whyNotPayAccount(state: AccountState | null, refusedWith: string | null, invoice: string): Reason[] {
  if (state === null || state === 'closed') return [stop('pay.noAccount', { invoice }, { clearedBy: ['buyer'] })]
  if (state === 'unproven')
    return [stop('pay.unproven', { invoice }, { clearedBy: ['financeController', 'treasurer'] })]
  return refusedWith !== null && accountIsWrong(refusedWith)
    ? [stop('pay.refusedBefore', { invoice, code: refusedWith }, { clearedBy: ['buyer'] })]
    : []
}

/** Why an invoice that is due cannot be taken into a run. */
export const whyNotPay = (invoice: PayableFacts): Reason[] => [
  ...whyNotPaySupplier({ name: invoice.supplier, state: invoice.supplierState }, invoice.number),
  ...(invoice.method !== '' && invoice.method !== 'creditTransfer'
    ? [stop('pay.otherMethod', { invoice: invoice.number, method: invoice.method }, { clearedBy: ['buyer'] })]
    : []),
  ...(invoice.disputed ? [stop('pay.disputed', { invoice: invoice.number }, { clearedBy: ['buyer'] })] : []),
  ...(invoice.amount > 0n ? [] : [stop('pay.nothingToPay', { invoice: invoice.number })]),
  ...whyNotPayAccount(invoice.account?.state ?? null, invoice.refusedWith, invoice.number),
]

/** Why a payment that was proposed can no longer go out: its account or its supplier changed since. */
export const whyNotLeave = (payment: PaymentFacts): Reason[] => [
  ...whyNotPaySupplier({ name: payment.supplier, state: payment.supplierState }, payment.invoiceNumber),
  ...(payment.accountState === 'proven'
    ? []
    : [
        stop(
          'pay.accountChanged',
          { holder: payment.holder, payment: payment.endToEndId },
          { clearedBy: ['treasurer'] },
        ),
      ]),
]
