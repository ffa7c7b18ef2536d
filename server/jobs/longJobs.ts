import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import type { JobJson } from '#contract/source/duplicates.ts'
import { say } from '#contract/messages/say.ts'
import { RuleBroken } from '#core/reasons.ts'
import { type Call, dayOf, found } from '#server/call.ts'
import type { JobParts } from '#server/jobs/worker.ts'
import { getActor } from '#server/people/sessions.ts'
import { runImport } from '#server/source/importSuppliers.ts'
import { searchDuplicates } from '#server/source/duplicates.ts'

type Kind = JobJson['kind']
interface JobRow {
  id: string
  kind: Kind
  state: JobJson['state']
  params: Record<string, unknown>
  total: number
  done: number
  result: Record<string, unknown> | null
  failure: string | null
  byId: string
  startedAt: string | null
  finishedAt: string | null
}

/** Tells how far a job is; seen by others at once, because it is written outside the job's own transaction. */
export type Progress = (done: number, total: number) => Promise<void>

/** What a kind of job does, in one transaction, as the person who started it. */
const WORK: Readonly<Record<Kind, (call: Call, params: Record<string, unknown>, progress: Progress) => Promise<Record<string, unknown>>>> = {
  duplicates: (call, _params, progress) => searchDuplicates(call, progress),
  supplierImport: (call, params, progress) => runImport(call, params as never, progress) as never,
}

/** Puts a long job into the queue, in the caller's transaction. */
export async function startJob(call: Call, kind: Kind, params: Record<string, unknown>): Promise<JobJson> {
  const id = randomUUID()
  await call.trx('longJobs').insert({ id, kind, state: 'waiting', params: JSON.stringify(params), byId: call.actor.id, createdAt: call.now })
  await call.trx.raw(`select graphile_worker.add_job('runLongJob', json_build_object('id', ?::text), job_key => ?, max_attempts => 3)`, [id, id])
  return readJob(call, id)
}

export async function readJob(call: Call, id: string): Promise<JobJson> {
  const row = found(
    (await call.trx('longJobs').join('people', 'people.id', 'longJobs.byId').where('longJobs.id', id).first('longJobs.*', 'people.name as by')) as
      (JobRow & { by: string }) | undefined,
    'job',
  )
  if (row.byId === call.actor.id && (row.state === 'done' || row.state === 'failed')) await call.trx('longJobs').where({ id, seen: false }).update({ seen: true })
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

/** Runs a job that waits. What it did and that it is done are written in one transaction: a crash leaves nothing half done. */
export async function runLongJob(parts: JobParts, id: string): Promise<void> {
  const { db } = parts
  const row = (await db('longJobs').where({ id }).whereIn('state', ['waiting', 'running']).first()) as JobRow | undefined
  if (!row) return
  await db('longJobs').where({ id }).update({ state: 'running', startedAt: parts.clock() })
  await tell(db, id)
  let last = 0
  const progress: Progress = async (done, total) => {
    if (Date.now() - last < 250 && done < total) return
    last = Date.now()
    await db('longJobs').where({ id }).update({ done, total })
    await tell(db, id)
  }
  try {
    await db.transaction(async trx => {
      const now = parts.clock()
      const call: Call = { trx, actor: await getActor(trx, row.byId), now, today: dayOf(now), channel: 'import', base: parts.settings.base }
      const result = await WORK[row.kind](call, row.params, progress)
      await trx('longJobs')
        .where({ id })
        .update({ state: 'done', result: JSON.stringify(result), finishedAt: parts.clock() })
    })
  } catch (error) {
    const known = error instanceof RuleBroken
    await db('longJobs')
      .where({ id })
      .update({
        state: 'failed',
        failure: known ? error.reasons.map(reason => say(reason.code, reason.details)).join(' ') : say('server.failed', { reference: id.slice(0, 8) }),
        finishedAt: parts.clock(),
      })
    if (!known) throw error
  } finally {
    await tell(db, id)
  }
}

const tell = (db: Knex, id: string): Promise<unknown> => db.raw('select pg_notify(?, ?)', ['ivory', JSON.stringify({ kind: 'job', id })]) as unknown as Promise<unknown>
