import { Logger, run, type Runner, type TaskList } from 'graphile-worker'
import type { JobParts } from '#server/jobs/parts.ts'

/** What a job does, by its name. */
export type Jobs = Readonly<Record<string, (parts: JobParts, payload: { readonly id: string }) => Promise<unknown>>>

const quiet = new Logger(() => () => undefined)

/**
 * Starts the job worker. Jobs are rows in the database: nothing is lost when it dies, and several workers share the work. A job that fails is
 * logged with its cause and tried again later.
 */
export const startWorker = (
  parts: JobParts,
  jobs: Jobs,
  crontab: string,
  options: { pollInterval?: number } = {},
): Promise<Runner> =>
  run({
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
  })

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
