import type { Write } from '#server/call.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import type { Outgoing } from '#server/outbox/post.ts'

/** Sends something, holding nothing. The receiver knows it by its key and takes it once. */
export type Send = (parts: JobParts) => Promise<void>

/** How one kind of thing leaves the house. */
export interface Sender {
  /**
   * In a short transaction before it leaves: what is written now holds whatever happens then. It says how it is sent; nothing, where it must
   * not leave any more.
   */
  readonly before: (call: Write, row: Outgoing) => Promise<Send | undefined>
  /** In a short transaction when it has left. */
  readonly after?: (call: Write, row: Outgoing) => Promise<void>
  /** Takes a failure that trying again does not mend; false: it is tried again. */
  readonly refused?: (call: Write, row: Outgoing, error: unknown) => Promise<boolean>
}
export type Senders = Readonly<Record<Outgoing['kind'], Sender>>

/** Seconds for which whoever has begun to send something is left alone; longer than any connection lasts. */
const LEASE = 60

/**
 * Sends one thing of the outbox: claimed in a short transaction, sent without one, and settled in another. Two workers never send it at once; a
 * crash in between sends it again under the same identification, which mail servers and the bank know it by.
 */
export async function sendOutgoing(parts: JobParts, senders: Senders, id: string): Promise<void> {
  const claimed = await inTransaction(parts, call => claim(call, senders, id))
  if (!claimed) return
  const { row, send } = claimed
  const sender = senders[row.kind]
  try {
    await send(parts)
  } catch (error) {
    await keepFailure(parts, sender, row, error)
    return
  }
  await inTransaction(parts, async call => {
    await call.trx('outbox').where({ id }).update({ state: 'sent', sentAt: call.now, lastError: null, failure: null })
    await sender.after?.(call, row)
  })
}

async function claim(call: Write, senders: Senders, id: string): Promise<{ row: Outgoing; send: Send } | undefined> {
  const { rows } = await call.trx.raw<{ rows: Outgoing[] }>(
    `update outbox set attempts = attempts + 1, attempted_at = :now where id = :id and state = 'waiting' and (not_before is null or not_before <= :now) and (attempted_at is null or attempted_at < :now::timestamptz - interval '${LEASE} seconds') returning *`,
    { id, now: call.now },
  )
  const row = rows[0]
  if (!row) return undefined
  const send = await senders[row.kind].before(call, row)
  if (send) return { row, send }
  await call.trx('outbox').where({ id }).update({ state: 'failed', lastError: 'withdrawn' })
  return undefined
}

/** What failed stays in the outbox with why, and is tried again unless the receiver refused it for good. */
async function keepFailure(parts: JobParts, sender: Sender, row: Outgoing, error: unknown): Promise<void> {
  const message = error instanceof Error ? error.message : String(error)
  const columns = { lastError: message.slice(0, 300), failure: causeOf(error).slice(0, 4000), attemptedAt: null }
  const settled = await inTransaction(parts, async call => {
    const refused = (await sender.refused?.(call, row, error)) ?? false
    await call
      .trx('outbox')
      .where({ id: row.id })
      .update({ ...columns, ...(refused ? { state: 'failed' as const } : {}) })
    return refused
  })
  if (!settled) throw error
}

/** An error with everything that caused it. */
function causeOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error)
  const own = error.stack ?? error.message
  return error.cause === undefined ? own : `${own}\ncaused by ${causeOf(error.cause)}`
}

/** Puts what waits in the outbox without a job back into the queue; it is how a lost job is found. */
export async function sweepOutbox(parts: JobParts): Promise<void> {
  await parts.db.raw(
    `select graphile_worker.add_job('sendOutgoing', json_build_object('id', id::text), job_key => id::text, max_attempts => 200) from outbox where state = 'waiting' and coalesce(not_before, created_at) < now() - interval '30 seconds'`,
  )
}
