import nodemailer from 'nodemailer'
import type { Knex } from 'knex'
import { readBankAnswer } from '#core/formats/bankAnswers.ts'
import { type Call, dayOf } from '#server/call.ts'
import { remindOfWaiting } from '#server/decide/reminders.ts'
import { decodeXml } from '#server/formats/text.ts'
import { writeOrderPdf } from '#server/formats/orderPdf.ts'
import { writeUblOrder } from '#server/formats/ublOrder.ts'
import type { JobParts } from '#server/jobs/worker.ts'
import { orderDocument } from '#server/order/documents.ts'
import type { MailPayload } from '#server/outbox/post.ts'
import { markSent, takeBankAnswer } from '#server/pay/runService.ts'
import { getActor } from '#server/people/sessions.ts'
import { remindOfCertificates } from '#server/source/certificates.ts'
import { refreshSignals, suppliersToWatch } from '#server/source/signals.ts'
import { resumePaused } from '#server/source/supplierService.ts'

interface Outgoing {
  id: string
  kind: 'mail' | 'bankFile'
  key: string
  payload: MailPayload & { messageId?: string }
  documentId: string
  state: string
  attempts: number
}

/** The account that jobs act under; it can sign in nowhere. */
export const SYSTEM_PERSON = '00000000-0000-4000-8000-000000000001'

async function jobCall(parts: JobParts, trx: Knex): Promise<Call> {
  const now = parts.clock()
  return { trx, actor: await getActor(trx, SYSTEM_PERSON), now, today: dayOf(now), channel: 'job', base: parts.settings.base }
}

/**
 * Sends one thing of the outbox. The row is held while it is sent, so two workers never send it at once; a crash in between sends it again
 * under the same message identification, which mail servers and the bank know it by.
 */
export async function sendOutgoing(parts: JobParts, id: string): Promise<void> {
  const failure = await parts.db.transaction(async trx => {
    const row = (await trx('outbox').where({ id, state: 'waiting' }).forUpdate().first()) as Outgoing | undefined
    if (!row) return undefined
    const call = await jobCall(parts, trx)
    try {
      if (row.kind === 'mail') await sendMail(parts, call, row)
      else await uploadBankFile(parts, call, row)
      await trx('outbox')
        .where({ id })
        .update({ state: 'sent', sentAt: call.now, attempts: row.attempts + 1, lastError: null })
      return undefined
    } catch (error) {
      if (row.kind === 'mail' && isBounce(error)) return void (await keepBounce(call, row, error))
      await trx('outbox')
        .where({ id })
        .update({ attempts: row.attempts + 1, lastError: String(error instanceof Error ? error.message : error).slice(0, 300) })
      return error
    }
  })
  if (failure) throw failure instanceof Error ? failure : new Error(String(failure))
}

/** The receiving server says for good that there is no such address (RFC 5321, 4.2.1: replies 5yz). */
const isBounce = (error: unknown): error is Error & { responseCode: number } => {
  const code = (error as { responseCode?: number }).responseCode
  return code !== undefined && code >= 550 && code <= 559
}

/** A bounced mail is not tried again; the address is marked, so that the supplier's administrator and the buyer see it. */
async function keepBounce(call: Call, row: Outgoing, error: Error): Promise<void> {
  const bounce = error.message.slice(0, 300)
  await call
    .trx('outbox')
    .where({ id: row.id })
    .update({ state: 'failed', attempts: row.attempts + 1, lastError: bounce })
  await call.trx('supplierAddresses').where({ email: row.payload.to.toLowerCase() }).whereNull('bouncedAt').update({ bouncedAt: call.now, bounce })
}

/** What is done once a night: certificates, pauses that end, signals of every supplier that is watched. */
export async function nightly(parts: JobParts): Promise<void> {
  await parts.db.transaction(async trx => {
    const call = await jobCall(parts, trx)
    await resumePaused(call)
    await remindOfCertificates(call)
    await remindOfWaiting(call)
  })
  const ids = await suppliersToWatch(await jobCall(parts, parts.db))
  for (const id of ids) await parts.db.transaction(async trx => void (await refreshSignals(await jobCall(parts, trx), id)))
}

async function sendMail(parts: JobParts, call: Call, row: Outgoing): Promise<void> {
  const transport = nodemailer.createTransport(parts.settings.smtpUrl, { connectionTimeout: 5000, greetingTimeout: 5000, socketTimeout: 10_000 } as never)
  const document = row.payload.attach ? await orderDocument(call, row.payload.attach.orderId, row.payload.attach.revision) : undefined
  const attachments = document
    ? [
        { filename: `${document.number}-r${document.revision}.pdf`, content: await writeOrderPdf(document) },
        { filename: `${document.number}-r${document.revision}.xml`, content: writeUblOrder(document), contentType: 'application/xml' },
      ]
    : []
  const text = row.payload.text.replaceAll(/(^|\s)(\/[a-z]+\/[\w/-]+)/g, (_, space: string, path: string) => `${space}${parts.settings.publicUrl}${path}`)
  try {
    await transport.sendMail({
      from: `"Saltmere Aquarium Trust" <${parts.settings.mailFrom}>`,
      to: row.payload.to,
      subject: row.payload.subject,
      text,
      attachments,
      messageId: `<${row.id}@ivory-order.example>`,
    })
  } finally {
    transport.close()
  }
}

async function uploadBankFile(parts: JobParts, call: Call, row: Outgoing): Promise<void> {
  const run = (await call.trx('paymentRuns').where({ id: row.documentId }).first('file', 'number', 'state')) as { file: string; number: string; state: string }
  if (run.state === 'withdrawn') return
  const answer = await fetch(`${parts.settings.bankUrl}/payments/${encodeURIComponent(run.number)}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/xml' },
    body: run.file,
    signal: AbortSignal.timeout(10_000),
  })
  if (!answer.ok) throw new Error(`The bank answered ${answer.status}.`)
  await markSent(call, row.documentId)
  await call.trx.raw(`select graphile_worker.add_job('fetchBankAnswers', '{}'::json, run_at => now() + interval '2 seconds', job_key => 'fetch', max_attempts => 10)`)
}

/** Fetches what the bank has to say and takes in each message once, each in its own transaction. Says how many payments moved. */
export async function fetchBankAnswers(parts: JobParts): Promise<number> {
  const waiting = (await parts.db('paymentRuns').whereIn('state', ['approved', 'sent']).first('id')) as unknown
  if (!waiting) return 0
  const list = await fetch(`${parts.settings.bankUrl}/answers`, { signal: AbortSignal.timeout(10_000) })
  if (!list.ok) throw new Error(`The bank answered ${list.status}.`)
  const { answers } = (await list.json()) as { answers: string[] }
  const known = new Set(((await parts.db('bankMessages').whereIn('messageId', answers).select('messageId')) as { messageId: string }[]).map(row => row.messageId))
  let moved = 0
  for (const name of answers.filter(answer => !known.has(answer))) {
    const file = await fetch(`${parts.settings.bankUrl}/answers/${encodeURIComponent(name)}`, { signal: AbortSignal.timeout(10_000) })
    const { text } = decodeXml(Buffer.from(await file.arrayBuffer()))
    const answer = readBankAnswer(text)
    moved += await parts.db.transaction(async trx => takeBankAnswer(await jobCall(parts, trx), answer, text))
  }
  const open = (await parts.db('paymentRuns').where({ state: 'sent' }).first('id')) as unknown
  if (open)
    await parts.db.raw(`select graphile_worker.add_job('fetchBankAnswers', '{}'::json, run_at => now() + interval '5 seconds', job_key => 'fetch-later', max_attempts => 10)`)
  return moved
}

/** Puts what waits in the outbox without a job back into the queue; it is how a lost job is found. */
export async function sweepOutbox(parts: JobParts): Promise<void> {
  await parts.db.raw(
    `select graphile_worker.add_job('sendOutgoing', json_build_object('id', id::text), job_key => id::text, max_attempts => 200) from outbox where state = 'waiting' and created_at < now() - interval '30 seconds'`,
  )
}

export async function tidyUp(parts: JobParts): Promise<void> {
  await parts.db('sessions').where('expiresAt', '<', parts.clock()).delete()
  await parts.db.raw(`delete from request_keys where created_at < now() - interval '3 days'`)
  await parts.db.raw(`delete from rate_limits where resets_at < now()`)
  await parts.db.raw(
    `delete from files where at < now() - interval '2 days' and not exists (select 1 from supplier_certificates where file_id = files.id) and not exists (select 1 from onboardings where answers::text like '%' || files.id || '%') and not exists (select 1 from supplier_revisions where answer::text like '%' || files.id || '%') and not exists (select 1 from long_jobs where state in ('waiting', 'running') and params ->> 'fileId' = files.id::text) and not exists (select 1 from attachments where file_id = files.id) and not exists (select 1 from invoices where file_id = files.id)`,
  )
}
