import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import { z } from 'zod'
import type { Endpoint } from '#contract/endpoint.ts'
import { seesAccounts, withoutAccounts } from '#core/people/maskAccounts.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { reading, RefusedAndKept, type Setting, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { worthRetrying } from '#server/http/faults.ts'
import type { Route, Told } from '#server/http/route.ts'

interface RequestKeyRow {
  personId: string
  key: string
  endpoint: string
  fingerprint: string
  answer: unknown
  createdAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    requestKeys: RequestKeyRow
  }
}

export interface Input {
  readonly params: unknown
  readonly query: unknown
  readonly body: unknown
}

/** Sends an answer; `begun` says whether anything of it has left already. */
export interface Delivery {
  readonly send: (answer: unknown) => Promise<void>
  readonly begun: () => boolean
}

/**
 * Carries an endpoint out as its mode says, and holds the answer against the contract. What is only read is sent while its snapshot is open,
 * because a file may still be read while it is sent; what was changed is sent when it is committed.
 */
export async function perform(
  db: Knex,
  route: Route,
  setting: Setting,
  input: Input,
  told: Told,
  key: string | undefined,
  delivery: Delivery,
): Promise<void> {
  const { endpoint, mode } = route
  const handle = route.handle as (call: unknown, input: unknown, told: Told) => Promise<unknown>
  if (mode === 'glance')
    return await retried(
      async () => delivery.send(shown(endpoint, setting, await handle(reading(db, setting), input, told))),
      delivery.begun,
    )
  if (mode === 'reading')
    return await retried(
      () =>
        db.transaction(
          async trx => delivery.send(shown(endpoint, setting, await handle(reading(trx, setting), input, told))),
          SNAPSHOT,
        ),
      delivery.begun,
    )
  const answer =
    mode === 'direct'
      ? shown(endpoint, setting, await handle(writing(db, setting), input, told))
      : await retried(
          () => write(db, setting, endpoint, input, key, trx => handle(writing(trx, setting), input, told)),
          delivery.begun,
        )
  await delivery.send(answer)
}

const SNAPSHOT = { isolationLevel: 'repeatable read', readOnly: true } as const

/** One transaction; a refusal of which something is kept is thrown after the commit, every other one rolls back. */
async function write(
  db: Knex,
  setting: Setting,
  endpoint: Endpoint,
  input: Input,
  key: string | undefined,
  work: (trx: Knex) => Promise<unknown>,
): Promise<unknown> {
  // a key belongs to a person; who comes by a link is held by the link, which works once
  const usedKey = setting.actor.id === '' ? undefined : key?.slice(0, 80)
  const outcome = await db.transaction(async trx => {
    if (usedKey !== undefined) {
      const earlier = await claimKey(trx, setting.actor.id, usedKey, endpoint.name, input)
      if (earlier) return { answer: earlier.answer }
    }
    const where = { personId: setting.actor.id, key: usedKey ?? '' }
    try {
      // inside the transaction, so that nothing half right is kept
      const answer = shown(endpoint, setting, await work(trx))
      if (usedKey !== undefined)
        await trx('requestKeys')
          .where(where)
          .update({ answer: json(answer) })
      return { answer }
    } catch (error) {
      if (!(error instanceof RefusedAndKept)) throw error
      if (usedKey !== undefined) await trx('requestKeys').where(where).delete()
      return { refused: error }
    }
  })
  if ('refused' in outcome) throw outcome.refused
  return outcome.answer
}

/** What of an answer this person sees: account numbers whole only for those who pay or prove, and our own where it is set up. */
function shown(endpoint: Endpoint, { actor }: Setting, answer: unknown): unknown {
  const checked = checkAnswer(endpoint, answer)
  const whole =
    endpoint.answers === 'file' || endpoint.permission === 'setup.read' || endpoint.permission === 'setup.write'
  return whole || seesAccounts(actor) ? checked : withoutAccounts(checked)
}

/** An answer that breaks the contract is our fault: logged whole with its cause, said politely. */
function checkAnswer(endpoint: Endpoint, answer: unknown): unknown {
  if (endpoint.answers === 'file') return answer
  const checked = endpoint.response.safeParse(answer)
  if (!checked.success)
    throw new Error(`The answer of ${endpoint.name} breaks its contract: ${z.prettifyError(checked.error)}`, {
      cause: checked.error,
    })
  return checked.data
}

/**
 * Takes a request key for this transaction. A second request with the same key waits for the first and gets its answer; the same key with
 * another content is refused.
 */
async function claimKey(
  trx: Knex,
  personId: string,
  key: string,
  endpoint: string,
  input: Input,
): Promise<{ answer: unknown } | undefined> {
  const fingerprint = createHash('sha256').update(JSON.stringify(input)).digest('hex')
  const inserted = await trx('requestKeys')
    .insert({ personId, key, endpoint, fingerprint })
    .onConflict(['personId', 'key'])
    .ignore()
    .returning('key')
  if (inserted.length > 0) return undefined
  const earlier = await trx('requestKeys').where({ personId, key }).first('endpoint', 'fingerprint', 'answer')
  if (earlier?.endpoint !== endpoint || earlier.fingerprint !== fingerprint)
    throw new RuleBroken(stop('request.keyReused'))
  return { answer: earlier.answer }
}

const MOST_ATTEMPTS = 8

/** Deadlocks and a database that restarts are tried again; nothing was committed, or the request key knows. */
async function retried<T>(work: () => Promise<T>, begun: () => boolean): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await work()
    } catch (error) {
      if (attempt >= MOST_ATTEMPTS || begun() || !worthRetrying(error)) throw error
      await new Promise(resolve => setTimeout(resolve, Math.min(50 * 2 ** attempt, 2000)))
    }
  }
}
