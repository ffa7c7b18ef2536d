import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { KeepInvoiceDraft, ReadWhatBills } from '#contract/bill/drafts.ts'
import { whatBills } from '#core/bill/whatBills.ts'
import { waitingOf } from '#server/bill/waitingStore.ts'
import type { Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { knownOrder, needOwn } from '#server/order/orderStore.ts'

type Content = BodyOf<typeof KeepInvoiceDraft>
interface InvoiceDraftRow {
  orderId: string
  revision: number
  content: Content
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    invoiceDrafts: InvoiceDraftRow
  }
}

/** What a supplier can bill of its order, and what it began to. */
export async function readWhatBills(call: Read, orderId: string): Promise<ResponseOf<typeof ReadWhatBills>> {
  await needOwn(call, orderId)
  const { lines } = await knownOrder(call, orderId)
  const waiting = await waitingOf(call, orderId)
  return {
    lines: lines.map(line => {
      const { open, ready, why } = whatBills(line, waiting.get(line.id))
      return { lineId: line.id, open, ready, why: why && { code: why.code, details: { ...why.details } } }
    }),
    draft: await draftOf(call, orderId),
  }
}

async function draftOf(call: Read, orderId: string) {
  const row = await call.trx('invoiceDrafts').where({ orderId }).first()
  if (!row) return null
  const who = await call.trx('people').where({ id: row.byId }).first('name')
  return { ...row.content, by: who?.name ?? '', at: row.at }
}

/** Keeps it for later, in place of what was kept before. */
export async function keepDraft(call: Write, orderId: string, content: Content): Promise<Record<string, never>> {
  await needOwn(call, orderId)
  const row = { revision: content.revision, content: json(content), byId: call.actor.id, at: call.now }
  await call
    .trx('invoiceDrafts')
    .insert({ orderId, ...row })
    .onConflict('orderId')
    .merge(row)
  return {}
}

/** It is sent, or nobody wants it any more. */
export const dropDraft = async (call: Write, orderId: string): Promise<Record<string, never>> => {
  await call.trx('invoiceDrafts').where({ orderId }).del()
  return {}
}

export async function dropOwnDraft(call: Write, orderId: string): Promise<Record<string, never>> {
  await needOwn(call, orderId)
  return await dropDraft(call, orderId)
}
