import { randomUUID } from 'node:crypto'
import type { Call } from '#server/call.ts'

export interface Outgoing {
  readonly kind: 'mail' | 'bankFile'
  /** Says what it is once and for all: the same key is never put in twice. */
  readonly key: string
  readonly payload: unknown
  readonly documentKind: string
  readonly documentId: string
}

export interface MailPayload {
  readonly to: string
  readonly subject: string
  readonly text: string
  /** Attachments are made from the stored documents when the mail leaves. */
  readonly attach?: { readonly orderId: string; readonly revision: number }
}

/** Puts something that leaves the house into the outbox, in the caller's transaction; a job sends it after commit. */
export async function post(call: Call, outgoing: Outgoing): Promise<void> {
  const inserted = (await call
    .trx('outbox')
    .insert({
      id: randomUUID(),
      kind: outgoing.kind,
      key: outgoing.key,
      payload: JSON.stringify(outgoing.payload),
      documentKind: outgoing.documentKind,
      documentId: outgoing.documentId,
      state: 'waiting',
      createdAt: call.now,
    })
    .onConflict('key')
    .ignore()
    .returning('id')) as { id: string }[]
  for (const row of inserted)
    await call.trx.raw(`select graphile_worker.add_job('sendOutgoing', json_build_object('id', ?::text), job_key => ?, max_attempts => 200)`, [row.id, row.id])
}

export const mail = (call: Call, key: string, document: { kind: string; id: string }, payload: MailPayload): Promise<void> =>
  payload.to === '' ? Promise.resolve() : post(call, { kind: 'mail', key, payload, documentKind: document.kind, documentId: document.id })
