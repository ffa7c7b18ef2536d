import { randomUUID } from 'node:crypto'
import type { DisputeJson } from '#contract/bill/disputes.ts'
import type { DisputeFacts, Outcome, Side } from '#core/bill/disputeFacts.ts'
import type { DisputeNext, DisputeState } from '#core/bill/disputes.ts'
import type { Read, Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'

export interface DisputeRow {
  id: string
  invoiceId: string
  state: DisputeState
  openedBy: string
  openedAt: string
  proposed: Outcome | null
  proposedBy: Side | null
  outcome: Outcome | null
  endedBy: string | null
  endedAt: string | null
  lastBy: Side
  lastAt: string
}
export interface DisputeMessageRow {
  id: string
  disputeId: string
  side: Side
  byId: string
  at: string
  text: string
  outcome: Outcome | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    invoiceDisputes: DisputeRow
    disputeMessages: DisputeMessageRow
  }
}

/** The open disputes of some invoices. */
export async function openDisputes(call: Read, invoiceIds: readonly string[]): Promise<Map<string, DisputeFacts>> {
  const { rows } = await call.trx
    .raw<{ rows: DisputeRow[] }>(`select * from invoice_disputes where invoice_id = any(?) and state = 'open'`, [
      [...invoiceIds],
    ])
    .options({ name: 'open-disputes' })
  return new Map(
    rows.map(({ id, invoiceId, openedBy, proposed, proposedBy, lastBy, lastAt }) => [
      invoiceId,
      { id, openedBy, proposed: proposed && proposedBy ? { outcome: proposed, by: proposedBy } : null, lastBy, lastAt },
    ]),
  )
}

/** Writes what was decided about a dispute: a new one, a message in it, or its end. */
export async function writeDispute(
  call: Write,
  invoiceId: string,
  open: DisputeFacts | null,
  { dispute, said }: Pick<DisputeNext, 'dispute' | 'said'>,
): Promise<void> {
  const id = open?.id ?? randomUUID()
  const last = said ? { lastBy: said.side, lastAt: call.now } : {}
  if (!open)
    await call.trx('invoiceDisputes').insert({ id, invoiceId, state: dispute.state, openedBy: call.actor.id, openedAt: call.now, lastBy: 'house', lastAt: call.now, ...last }) // prettier-ignore
  else
    await call
      .trx('invoiceDisputes')
      .where({ id })
      .update({
        ...last,
        ...(said?.outcome ? { proposed: said.outcome, proposedBy: said.side } : {}),
        ...(dispute.state === 'open'
          ? {}
          : { state: dispute.state, outcome: dispute.outcome, endedBy: call.actor.id, endedAt: call.now }),
      })
  if (said)
    await call.trx('disputeMessages').insert({ id: randomUUID(), disputeId: id, side: said.side, byId: call.actor.id, at: call.now, text: said.text, outcome: said.outcome }) // prettier-ignore
}

/** All disputes about an invoice with their messages, as one side reads them: the last first. */
export async function disputesOf(call: Read, invoiceId: string, side: Side): Promise<DisputeJson[]> {
  const disputes = await call.trx('invoiceDisputes').where({ invoiceId }).orderBy('openedAt', 'desc')
  if (disputes.length === 0) return []
  const messages = await call
    .trx('disputeMessages')
    .join('people', 'people.id', 'disputeMessages.byId')
    .whereIn('disputeId', disputes.map(one => one.id))
    .orderBy(['at', 'dispute_messages.id'])
    .select<(DisputeMessageRow & { who: string })[]>('disputeMessages.*', 'people.name as who') // prettier-ignore
  const byDispute = groupBy(messages, one => one.disputeId)
  return disputes.map(one => ({
    id: one.id,
    state: one.state,
    openedAt: one.openedAt,
    endedAt: one.endedAt,
    outcome: one.outcome,
    toAgree: one.state === 'open' && one.proposedBy !== side ? one.proposed : null,
    ours: one.state === 'open' && one.proposedBy === side ? one.proposed : null,
    messages: (byDispute.get(one.id) ?? []).map(({ id, who, side: from, at, text, outcome }) => ({ id, who, mine: from === side, at, text, outcome })), // prettier-ignore
  }))
}
