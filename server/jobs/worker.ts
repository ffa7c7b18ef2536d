import { EventEmitter } from 'node:events'
import { Logger, run, type Runner, type TaskList, type WorkerEvents } from 'graphile-worker'
import { Beats } from '#server/jobs/beats.ts'
import type { JobParts } from '#server/jobs/parts.ts'

/** What a job does, by its name. */
export type Jobs = Readonly<Record<string, (parts: JobParts, payload: { readonly id: string }) => Promise<unknown>>>

const quiet = new Logger(() => () => undefined)

/**
 * Starts the job worker. Jobs are rows in the database: nothing is lost when it dies, and several workers share the work. A job that fails is
 * logged with its cause and tried again later.
 */
export async function startWorker(
  parts: JobParts,
  jobs: Jobs,
  crontab: string,
  options: { pollInterval?: number; beat?: number } = {},
): Promise<{ stop: () => Promise<void> }> {
  const beats = new Beats(parts)
  const events = new EventEmitter() as WorkerEvents
  events.on('worker:create', ({ worker }) => beats.add(worker.workerId))
  const runner: Runner = await run({
    connectionString: parts.settings.databaseUrl,
    taskList: Object.fromEntries(
      Object.entries(jobs).map(([name, work]) => [name, logged(parts, name, work)]),
    ) satisfies TaskList,
    concurrency: 3,
    pollInterval: options.pollInterval ?? 1000,
    noHandleSignals: true,
    logger: quiet,
    maxPoolSize: 6,
    parsedCronItems: undefined,
    crontab,
    events,
  })
  await beats.start(options.beat)
  return {
    stop: async () => {
      await runner.stop()
      await beats.stop()
    },
  }
}

const logged =
  (parts: JobParts, name: string, work: Jobs[string]): TaskList[string] =>
  async (payload, helpers) => {
    try {
      await work(parts, payload as { id: string })
    } catch (error) {
      parts.log(`job ${name} failed`, { error, payload, attempt: helpers.job.attempts })
      throw error
    }
  }
