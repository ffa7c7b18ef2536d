import { CRONTAB, JOBS } from '#server/app/jobs.ts'
import { log } from '#server/app/log.ts'
import { wire } from '#server/app/wiring.ts'
import { endThreads } from '#server/compute/compute.ts'
import { readSettings } from '#server/configuration.ts'
import { connect } from '#server/database/connect.ts'
import { MAIL_PREFIX } from '#server/consent/ways.ts'
import { noteMailIn, startMailIn } from '#server/mail/mailIn.ts'
import { startWorker } from '#server/jobs/worker.ts'

const settings = readSettings(process.env)
process.on('unhandledRejection', error => log().error(error, 'a failure that nobody waited for'))
const db = connect(settings.databaseUrl, 6)
wire()
const parts = {
  db,
  settings,
  clock: () => new Date().toISOString(),
  log: (message: string, details: unknown) => log().error(details, message),
}
const runner = await startWorker(parts, JOBS, CRONTAB)
const mailIn = settings.mailInPort > 0 ? await startMailIn(parts, MAIL_PREFIX, settings.mailInPort, settings.host) : undefined // prettier-ignore
if (!mailIn) await noteMailIn(db, false)
process.send?.({ ready: 'worker' })
async function end(): Promise<void> {
  await mailIn?.stop()
  await runner.stop()
  await endThreads()
  await db.destroy()
  process.exit(0)
}
process.once('disconnect', () => void end())
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => void end())
