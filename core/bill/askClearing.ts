import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import { againstOf } from '#core/bill/matchInvoice.ts'
import type { NewConsent } from '#core/consent/consent.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { splitAmounts } from '#core/request/lines.ts'
import { type DecidedDocument, type DecidedPart, partFacts } from '#core/rules/facts.ts'

/** Whether others are asked about a hold and have not answered. */
export const isAskedAbout = (hold: Pick<KeptHold, 'asked' | 'ended'>): boolean =>
  !hold.ended && hold.asked?.state === 'open'

/** What a difference is about, in the base currency's smallest unit at the invoice's rate. */
export const differenceAmount = (
  invoice: Pick<InvoiceFacts, 'currency' | 'rate' | 'base'>,
  hold: Pick<KeptHold, 'amount'>,
): Minor => toBase(hold.amount, invoice.currency, invoice.rate, invoice.base)

/** The question whether a difference may be accepted; who asks is the one who would accept it, and never decides. Rules name the steps. */
export const clearingQuestion = (
  invoice: Pick<InvoiceFacts, 'id'>,
  hold: KeptHold,
  askedBy: string,
  reason: string,
): NewConsent => ({
  purpose: 'difference',
  documentKind: 'invoice',
  documentId: invoice.id,
  part: hold.id,
  reason,
  subject: { holdId: hold.id, kind: hold.kind, line: hold.position },
  steps: [{ stage: 1, asked: [], notBy: [askedBy], label: '' }],
})

/** What is known of who sold and of the accounts that pay, for rules. */
export interface DifferenceAround {
  readonly supplier: { readonly number: string; readonly state: string }
  readonly accounts: ReadonlyMap<
    string,
    { readonly costCentre: string; readonly account: string; readonly project: string | null }
  >
}

/** A difference as rules see it: its money, on the accounts that pay for the line that differs, or for nothing known where it is of the whole bill. */
export function decidedDifference(
  invoice: InvoiceFacts,
  hold: KeptHold,
  requesterId: string,
  around: DifferenceAround,
): Omit<DecidedDocument, 'facts'> {
  const total = differenceAmount(invoice, hold)
  const line = invoice.lines.find(one => one.position === hold.position)
  const ordered = line && againstOf(invoice, line)?.line
  const parts = ordered
    ? splitAmounts(total, ordered.splits).map(({ accountId, amount }): DecidedPart => ({
        amount,
        facts: partFacts(around.accounts.get(accountId)),
      }))
    : [{ amount: minor(total), facts: {} }]
  return {
    kind: 'billDifference',
    requesterId,
    total,
    lines: [
      {
        id: hold.id,
        facts: {
          supplier: around.supplier.number,
          supplierState: around.supplier.state,
          ...(ordered ? { lineKind: ordered.kind } : {}),
        },
        parts,
      },
    ],
  }
}
