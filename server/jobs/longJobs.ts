import { randomUUID } from 'node:crypto'
import { say } from '#contract/messages/say.ts'
import type { JobJson } from '#contract/source/duplicates.ts'
import { LONG_JOB_GROUPS, longJobDesk, type LongJobKind, type LongJobState } from '#core/desk/longJob.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { inTransaction, type JobParts, outside, settingOf } from '#server/jobs/parts.ts'
import { CHANNEL, documentTopic } from '#server/news/tell.ts'

type Values = Record<string, unknown>
interface JobRow {
  id: string
  kind: LongJobKind
  state: LongJobState
  params: Values
  total: number
  done: number
  result: Values | null
  /** Why it failed, for whoever started it. */
  failure: string | null
  /** The same with its cause, for those who run the program. */
  cause: string | null
  byId: string
  createdAt: string
  startedAt: string | null
  finishedAt: string | null
  seen: boolean
  /** Somebody wants it to end with what it has. */
  stopAsked: boolean
}
declare module 'knex/types/tables.js' {
  interface Tables {
    longJobs: JobRow
  }
}

/** Tells how far a job is; seen by others at once, because it is written outside of any transaction. */
export type Progress = (done: number, total: number, soFar?: Values) => Promise<void>
/** Whether somebody asked a job to end with what it has. */
export type Stopped = () => Promise<boolean>

/**
 * What a kind of job does, as the person who started it: it computes first, holding nothing, and gives what is then written in one short
 * transaction. A job that dies in between begins again.
 */
export type LongWork = (
  call: Read,
  params: Values,
  progress: Progress,
  stopped: Stopped,
) => Promise<(call: Write) => Promise<Values>>

const works = new Map<LongJobKind, LongWork>()

/** A stage says once what one of its long jobs does. */
export const worksLong = (kind: LongJobKind, work: LongWork): void => void works.set(kind, work)

/** Puts a long job into the queue, in the caller's transaction. */
export async function startJob(call: Write, kind: LongJobKind, params: Values): Promise<JobJson> {
  const id = randomUUID()
  await call
    .trx('longJobs')
    .insert({ id, kind, state: 'waiting', params: json(params), byId: call.actor.id, createdAt: call.now })
  await call.trx.raw(
    `select graphile_worker.add_job('runLongJob', json_build_object('id', ?::text), job_key => ?, max_attempts => 3)`,
    [id, id],
  )
  await keepJobDesk(call, id)
  return await readJob(call, id)
}

async function keepJobDesk(call: Write, id: string): Promise<void> {
  const row = found(await call.trx('longJobs').where({ id }).first(), 'longJob')
  await keepDesk(call, { kind: 'longJob', id }, longJobDesk(row))
}

export async function readJob(call: Read, id: string): Promise<JobJson> {
  const row = found(
    await call
      .trx('longJobs')
      .join('people', 'people.id', 'longJobs.byId')
      .where('longJobs.id', id)
      .first<(JobRow & { by: string }) | undefined>('longJobs.*', 'people.name as by'),
    'longJob',
  )
  return {
    id,
    kind: row.kind,
    state: row.state,
    total: row.total,
    done: row.done,
    startedAt: row.startedAt,
    finishedAt: row.finishedAt,
    failure: row.failure,
    result: row.result,
    by: row.by,
  }
}

/** Asks a job to end with what it has; says whether it was still going. */
export async function stopJob(call: Write, id: string): Promise<boolean> {
  const count = await call.trx('longJobs').where({ id }).whereIn('state', [...LONG_JOB_GROUPS.going]).update({ stopAsked: true }) // prettier-ignore
  return count > 0
}

/** A job whose page shows how it ended stands on nobody's Desk. */
export async function leaveDesk(call: Write, id: string): Promise<void> {
  await call.trx('longJobs').where({ id }).update({ seen: true })
  await keepJobDesk(call, id)
}

/** Whoever started it has seen how it ended: it leaves their Desk. */
export async function seeJob(call: Write, id: string): Promise<{ id: string }> {
  await call
    .trx('longJobs')
    .where({ id, byId: call.actor.id })
    .whereIn('state', [...LONG_JOB_GROUPS.ended])
    .update({ seen: true })
  await keepJobDesk(call, id)
  return { id }
}

/** Milliseconds between two words about how far a job is. */
const TELL_EVERY = 250

/** Runs a job that waits. What it did and that it is done are written in one transaction: a crash leaves nothing half done. */
export async function runLongJob(parts: JobParts, id: string): Promise<void> {
  const row = await parts
    .db('longJobs')
    .where({ id })
    .whereIn('state', [...LONG_JOB_GROUPS.going])
    .first()
  if (!row) return
  await write(parts, id, { state: 'running', startedAt: parts.clock() })
  let last = 0
  const progress: Progress = async (done, total, soFar) => {
    if (Date.now() - last < TELL_EVERY && done < total) return
    last = Date.now()
    await write(parts, id, { done, total, ...(soFar ? { result: json(soFar) } : {}) })
  }
  const stopped: Stopped = async () => (await parts.db('longJobs').where({ id }).first('stopAsked'))?.stopAsked ?? false
  try {
    const setting = await settingOf(parts, row.byId, 'import')
    const work = works.get(row.kind)
    if (!work) throw new Error(`Nobody does the long job ${row.kind}.`)
    const apply = await work(outside(parts, setting), row.params, progress, stopped)
    await write(parts, id, { state: 'applying' })
    await parts.db.transaction(async trx => {
      const call = writing(trx, setting)
      const result = await apply(call)
      await trx('longJobs')
        .where({ id })
        .update({ state: 'done', result: json(result), finishedAt: parts.clock() })
      await keepJobDesk(call, id)
    })
  } catch (error) {
    await fail(parts, id, error)
    if (!(error instanceof RuleBroken)) throw error
  } finally {
    await tellJob(parts, id)
  }
}

/** Jobs that nobody does any more, because whoever had them in hand died each time: whoever started them is told. */
export async function failLost(parts: JobParts): Promise<void> {
  const { rows } = await parts.db.raw<{ rows: { id: string }[] }>(
    `select id from long_jobs l where state = any(?) and created_at < now() - interval '1 minute'
       and not exists (select 1 from graphile_worker.jobs j where j.key = l.id::text and (j.attempts < j.max_attempts or j.locked_at is not null))`,
    [[...LONG_JOB_GROUPS.going]],
  )
  for (const { id } of rows) await fail(parts, id, new RuleBroken(stop('job.lost')))
}

async function fail(parts: JobParts, id: string, error: unknown): Promise<void> {
  const failure =
    error instanceof RuleBroken
      ? error.reasons.map(reason => say(reason.code, reason.details)).join(' ')
      : say('server.failed', { reference: id.slice(0, 8) })
  const cause = error instanceof Error ? (error.stack ?? error.message) : String(error)
  await write(parts, id, { state: 'failed', failure, cause: cause.slice(0, 4000), finishedAt: parts.clock() })
  await inTransaction(parts, call => keepJobDesk(call, id))
}

async function write(parts: JobParts, id: string, columns: Partial<JobRow>): Promise<void> {
  await parts.db('longJobs').where({ id }).update(columns)
  await tellJob(parts, id)
}

async function tellJob(parts: JobParts, id: string): Promise<void> {
  await parts.db.raw('select pg_notify(?, ?)', [CHANNEL, JSON.stringify([documentTopic(id)])])
}
