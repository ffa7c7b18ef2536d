import { Logger, run, type Runner, type TaskList } from 'graphile-worker'
import type { Knex } from 'knex'
import type { Settings } from '#server/configuration.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import { fetchBankAnswers, nightly, sendOutgoing, sweepOutbox, tidyUp } from '#server/jobs/tasks.ts'

export interface JobParts {
  readonly db: Knex
  readonly settings: Settings
  readonly clock: () => string
}

const quiet = new Logger(() => () => undefined)

/** Starts the job worker. Jobs are rows in the database: nothing is lost when it dies, and several workers share the work. */
export async function startWorker(parts: JobParts, options: { pollInterval?: number } = {}): Promise<Runner> {
  const taskList: TaskList = {
    sendOutgoing: payload => sendOutgoing(parts, (payload as { id: string }).id),
    fetchBankAnswers: () => fetchBankAnswers(parts).then(() => undefined),
    sweepOutbox: () => sweepOutbox(parts),
    tidyUp: () => tidyUp(parts),
    nightly: () => nightly(parts),
    runLongJob: payload => runLongJob(parts, (payload as { id: string }).id),
  }
  const runner = await run({
    connectionString: parts.settings.databaseUrl,
    taskList,
    concurrency: 3,
    pollInterval: options.pollInterval ?? 1000,
    noHandleSignals: true,
    logger: quiet,
    maxPoolSize: 6,
    parsedCronItems: undefined,
    crontab: '* * * * * sweepOutbox\n* * * * * fetchBankAnswers ?jobKey=fetch&max=3\n17 * * * * tidyUp\n10 0 * * * nightly ?fill=1d\n',
  })
  return runner
}
