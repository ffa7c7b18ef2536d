import { whyNotPostCredit, whyNotEndCredit } from '#core/bill/postCredit.ts'
import type { ActorFacts } from '#core/acts/actor.ts'
import { type Action, action } from '#core/acts/decision.ts'
import type { CreditFacts } from '#core/bill/creditFacts.ts'
import { CREDIT_GROUPS } from '#core/bill/creditStates.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type DeskEntry, forRight } from '#core/desk/entry.ts'
import { isIn } from '#core/states.ts'

/** What waits because of a credit note: to be looked at and posted, once its invoice is in the books; with one that is not it posts by itself. */
export const creditDesk = (credit: CreditFacts & { readonly receivedAt: string }): DeskEntry[] =>
  isIn(CREDIT_GROUPS.waiting, credit.state) && isIn(INVOICE_GROUPS.posted, credit.invoice.state)
    ? [
        {
          key: 'postCredit',
          stage: 'bill',
          act: 'post',
          tone: 'plain',
          audiences: [forRight('invoice.write')],
          amount: credit.gross,
          currency: credit.invoice.currency,
          needBy: null,
          notFor: [],
          from: null,
          since: credit.receivedAt,
          path: `/bill/credits/${credit.id}`,
          details: {
            number: credit.number,
            title: `${credit.supplier}, ${credit.supplierNumber}`,
            who: credit.supplier,
          },
        },
      ]
    : []

/** What can be done with a credit note now, and for the rest why not. */
export function creditActions(credit: CreditFacts, actor: ActorFacts): Action[] {
  if (isIn(CREDIT_GROUPS.waiting, credit.state))
    return [
      action('post', whyNotPostCredit(credit, actor), true),
      credit.issuer === 'supplier'
        ? action('reject', whyNotEndCredit(credit, 'reject', actor))
        : action('withdraw', whyNotEndCredit(credit, 'withdraw', actor)),
    ]
  return isIn(CREDIT_GROUPS.posted, credit.state) ? [action('void', whyNotEndCredit(credit, 'void', actor))] : []
}
