import type { RevisionAttached } from '#core/acts/decision.ts'
import { randomUUID } from 'node:crypto'
import type { DocumentKind } from '#core/documents/kinds.ts'
import type { Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'

export interface MailPayload {
  readonly to: string
  readonly subject: string
  readonly text: string
  /** Attachments are made from the stored documents when the mail leaves. */
  readonly attach?: RevisionAttached | readonly RevisionAttached[] | undefined
  /** Before the @ of the address to which an answer goes. */
  readonly answerTo?: string | undefined
}
export interface BankPayload {
  readonly messageId: string
}

interface OutboxRow {
  id: string
  kind: 'mail' | 'bankFile'
  key: string
  payload: MailPayload | BankPayload
  documentKind: string
  documentId: string
  state: 'waiting' | 'sent' | 'failed'
  attempts: number
  /** When somebody began to send it and has not said how it ended. */
  attemptedAt: string | null
  /** Why the last attempt failed, for people. */
  lastError: string | null
  /** The same with its cause, for those who run the program. */
  failure: string | null
  createdAt: string
  sentAt: string | null
  /** It must not leave earlier. */
  notBefore: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    outbox: OutboxRow
  }
}
export type Outgoing = OutboxRow

export interface NewOutgoing {
  readonly kind: OutboxRow['kind']
  /** Says what it is once and for all: the same key is never put in twice. */
  readonly key: string
  readonly payload: MailPayload | BankPayload
  readonly document: { readonly kind: DocumentKind; readonly id: string }
  readonly notBefore?: string | undefined
}

/** Puts something that leaves the house into the outbox, in the caller's transaction; a job sends it after commit. */
export async function post(call: Write, outgoing: NewOutgoing): Promise<void> {
  const [row] = await call
    .trx('outbox')
    .insert({
      id: randomUUID(),
      kind: outgoing.kind,
      key: outgoing.key,
      payload: json(outgoing.payload),
      documentKind: outgoing.document.kind,
      documentId: outgoing.document.id,
      state: 'waiting',
      createdAt: call.now,
      notBefore: outgoing.notBefore ?? null,
    })
    .onConflict('key')
    .ignore()
    .returning('id')
  if (row)
    await call.trx.raw(
      `select graphile_worker.add_job('sendOutgoing', json_build_object('id', ?::text), job_key => ?, max_attempts => 200, run_at => coalesce(?::timestamptz, now()))`,
      [row.id, row.id, outgoing.notBefore ?? null],
    )
}

/** What must not leave any more is dropped, if it waits. */
export async function dropOutgoing(call: Write, key: string): Promise<void> {
  await call.trx('outbox').where({ key, state: 'waiting' }).update({ state: 'failed', lastError: 'withdrawn' })
}
