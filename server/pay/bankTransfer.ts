import { RUN_GROUPS } from '#core/pay/states.ts'
import type { Sender } from '#server/outbox/send.ts'
import { worthRetrying } from '#server/http/faults.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { keepFailed, takeFile, type Taken } from '#server/pay/bankActs.ts'
import { leave, markSent } from '#server/pay/runActs.ts'

const TIMEOUT = 10_000

/** How payment files leave: that one is about to leave is written before it does, so that it can no longer be withdrawn. */
export const bankSender: Sender = {
  before: async (call, row) => {
    const run = await leave(call, row.documentId)
    return run && (({ settings }) => upload(settings.bankUrl, run))
  },
  after: async (call, row) => {
    await markSent(call, row.documentId)
    await call.trx.raw(
      `select graphile_worker.add_job('fetchBankAnswers', '{}'::json, run_at => now() + interval '2 seconds', job_key => 'fetch', max_attempts => 10)`,
    )
  },
}

async function upload(bankUrl: string, run: { number: string; file: string }): Promise<void> {
  const answer = await fetch(`${bankUrl}/payments/${encodeURIComponent(run.number)}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/xml' },
    body: run.file,
    signal: AbortSignal.timeout(TIMEOUT),
  })
  if (!answer.ok) throw new Error(`The bank answered ${answer.status}.`)
}

async function ask(parts: JobParts, path: string): Promise<Response> {
  const answer = await fetch(`${parts.settings.bankUrl}${path}`, { signal: AbortSignal.timeout(TIMEOUT) })
  if (!answer.ok) throw new Error(`The bank answered ${answer.status}.`)
  return answer
}

/**
 * Fetches what the bank has to say and takes in each file once, each in its own transaction: also when no run is on its way, because money may
 * come back weeks later. What cannot be taken in is kept and shown, and the next one is taken. Says how many payments moved.
 */
export async function fetchBankAnswers(parts: JobParts): Promise<number> {
  const { answers } = (await (await ask(parts, '/answers')).json()) as { answers: string[] }
  const known = new Set(await parts.db('bankMessages').whereIn('name', answers).pluck('name'))
  let moved = 0
  for (const name of answers.filter(answer => !known.has(answer))) moved += (await take(parts, name)).moved
  const out = await parts
    .db('paymentRuns')
    .whereIn('state', [...RUN_GROUPS.out])
    .first('id')
  if (out)
    await parts.db.raw(
      `select graphile_worker.add_job('fetchBankAnswers', '{}'::json, run_at => now() + interval '5 seconds', job_key => 'fetch-later', max_attempts => 10)`,
    )
  return moved
}

async function take(parts: JobParts, name: string): Promise<Taken> {
  const file = await ask(parts, `/answers/${encodeURIComponent(name)}`)
  const content = Buffer.from(await file.arrayBuffer())
  try {
    return await inTransaction(parts, call => takeFile(call, name, content))
  } catch (error) {
    // the database is away or busy: it is fetched again; anything else would fail every time
    if (worthRetrying(error)) throw error
    parts.log(`the bank's message ${name} could not be taken in`, error)
    return await inTransaction(parts, call => keepFailed(call, name, content))
  }
}
