import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import type { DisputeFacts, Outcome, Side } from '#core/bill/disputeFacts.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type DeskEntry, forPerson } from '#core/desk/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** A dispute ends by what both agree, or because we drop it. */
export type DisputeState = 'open' | 'agreed' | 'dropped'
/** Letters of one message. */
export const MOST_LETTERS = 4000

/** A message in a dispute, with what it proposes. */
export interface Said {
  readonly side: Side
  readonly text: string
  readonly outcome: Outcome | null
}
/** What becomes of a dispute, and of its invoice. */
export interface DisputeNext extends InvoiceNext {
  readonly dispute: { readonly state: DisputeState; readonly outcome: Outcome | null }
  readonly said: Said | null
}

/** On which side somebody is: their own company's, or ours. */
export const sideOf = (invoice: Pick<InvoiceFacts, 'supplierId'>, actor: ActorFacts): Side =>
  actor.supplierId === invoice.supplierId ? 'supplier' : 'house'

const mayTakePart = (invoice: Pick<InvoiceFacts, 'supplierId'>, actor: ActorFacts): Reason[] =>
  sideOf(invoice, actor) === 'supplier' ? [] : needsRight(actor, 'hold.clear')

const text = (said: string): Reason[] =>
  saysWhy(said)
    ? said.length > MOST_LETTERS
      ? [stop('dispute.long', { most: MOST_LETTERS }, { place: 'text' })]
      : []
    : [stop('dispute.wantsWords', {}, { place: 'text' })]

/** What stands against disputing an invoice: it is disputed already, or over. */
export const whyNotDispute = (invoice: InvoiceFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'hold.clear'),
  ...(invoice.dispute ? [stop('dispute.there')] : []),
  ...(isIn(INVOICE_GROUPS.standing, invoice.state) ? [] : [stop('bill.holdEnded')]),
  ...(invoice.state === 'scheduled' ? [stop('dispute.onItsWay')] : []),
]

/** Disputes an invoice: nothing of it is posted or paid until both agree, and the supplier is asked. */
export function openDispute(invoice: InvoiceFacts, actor: ActorFacts, said: string): Decision<DisputeNext> {
  const against = [...whyNotDispute(invoice, actor), ...text(said)]
  if (against.length > 0) return refused(against)
  const dispute = { id: '', openedBy: actor.id, proposed: null, lastBy: 'house' as const, lastAt: '' }
  return done<DisputeNext>(
    {
      ...matchedWith(invoice, dispute),
      dispute: { state: 'open', outcome: null },
      said: { side: 'house', text: said, outcome: null },
    },
    { action: 'disputed', reason: said },
    { says: [mailOf(invoice, 'invoice.disputed', said, said)] },
  )
}

/** Writes on in a dispute, perhaps with what could be agreed. Either side may; the other is told. */
export function sayInDispute(
  invoice: InvoiceFacts,
  actor: ActorFacts,
  said: string,
  outcome: Outcome | null,
): Decision<DisputeNext> {
  const against = [...whyNotInDispute(invoice, actor), ...text(said)]
  if (against.length > 0) return refused(against)
  const side = sideOf(invoice, actor)
  return done<DisputeNext>(
    { state: invoice.state, dispute: { state: 'open', outcome: null }, said: { side, text: said, outcome } },
    { action: 'disputeSaid', changes: outcome ? { outcome } : {}, reason: said },
    {
      says:
        side === 'house' ? [mailOf(invoice, 'invoice.disputeSaid', said, `${invoice.dispute!.lastAt}:${said}`)] : [],
    },
  )
}

const whyNotInDispute = (invoice: InvoiceFacts, actor: ActorFacts): Reason[] => [
  ...mayTakePart(invoice, actor),
  ...(invoice.dispute ? [] : [stop('dispute.ended')]),
]

/** What stands against agreeing: nothing is proposed, or by oneself. */
export function whyNotAgree(invoice: InvoiceFacts, actor: ActorFacts): Reason[] {
  const ended = whyNotInDispute(invoice, actor)
  if (ended.length > 0) return ended
  const { proposed } = invoice.dispute!
  if (!proposed) return [stop('dispute.nothingProposed')]
  return proposed.by === sideOf(invoice, actor) ? [stop('dispute.ownProposal')] : []
}

/**
 * Agrees on what the other side proposed: the dispute ends, what else stops the invoice stays. Where another invoice is to come, one that is not posted
 * goes back with it.
 */
export function agreeInDispute(invoice: InvoiceFacts, actor: ActorFacts): Decision<DisputeNext> {
  const against = whyNotAgree(invoice, actor)
  if (against.length > 0) return refused(against)
  const { outcome } = invoice.dispute!.proposed!
  return done<DisputeNext>(
    {
      ...(outcome === 'newInvoice' ? sentBack(invoice) : matchedWith(invoice, null)),
      dispute: { state: 'agreed', outcome },
      said: null,
    },
    { action: 'disputeAgreed', changes: { outcome } },
    { says: [mailOf(invoice, `invoice.agreed.${outcome}`, '', 'agreed')] },
  )
}

/** We drop a dispute, with a reason that the supplier reads. */
export function dropDispute(invoice: InvoiceFacts, actor: ActorFacts, reason: string): Decision<DisputeNext> {
  const against = [
    ...needsRight(actor, 'hold.clear'),
    ...(invoice.dispute ? [] : [stop('dispute.ended')]),
    ...(saysWhy(reason) ? [] : [stop('bill.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  return done<DisputeNext>(
    {
      ...matchedWith(invoice, null),
      dispute: { state: 'dropped', outcome: null },
      said: { side: 'house', text: reason, outcome: null },
    },
    { action: 'disputeDropped', reason },
    { says: [mailOf(invoice, 'invoice.disputeSaid', reason, 'dropped')] },
  )
}

const matchedWith = (invoice: InvoiceFacts, dispute: DisputeFacts | null): InvoiceNext => {
  const { state, holds } = matchInvoice({ ...invoice, dispute })
  return { state, holds }
}

/** An invoice that waits goes back; one in the books stays there until somebody voids it. */
function sentBack(invoice: InvoiceFacts): InvoiceNext {
  const back = isIn(INVOICE_GROUPS.waiting, invoice.state)
  if (!back) return matchedWith(invoice, null)
  return { state: 'rejected', holds: { open: [], end: invoice.holds.filter(hold => !hold.ended).map(hold => hold.id) } }
}

const mailOf = (invoice: InvoiceFacts, template: string, said: string, once: string): Message => ({
  template,
  to: { kind: 'supplier', id: invoice.supplierId, message: 'invoices' },
  key: `dispute:${invoice.id}:${invoice.dispute?.id ?? ''}:${template}:${once.slice(0, 80)}`,
  details: { number: invoice.supplierNumber, said, path: `/supplier/invoices/${invoice.id}` },
})

/** A dispute waits for who opened it, once the supplier wrote or proposed something. */
export const disputeDesk = (
  dispute: DisputeFacts | null,
  common: Pick<DeskEntry, 'amount' | 'currency' | 'needBy' | 'notFor' | 'from' | 'path' | 'details'>,
): DeskEntry[] =>
  dispute?.lastBy === 'supplier'
    ? [
        {
          ...common,
          key: 'dispute',
          stage: 'bill',
          act: 'answer',
          tone: 'attention',
          audiences: [forPerson(dispute.openedBy)],
          since: dispute.lastAt,
        },
      ]
    : []
