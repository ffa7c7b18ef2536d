import { readSettings } from '#server/configuration.ts'
import { connect } from '#server/database/connect.ts'
import { startWorker } from '#server/jobs/worker.ts'

const settings = readSettings(process.env)
const db = connect(settings.databaseUrl, 6)
const runner = await startWorker({ db, settings, clock: () => new Date().toISOString() })
process.send?.({ ready: 'worker' })
const end = (): void => void runner.stop().finally(() => void db.destroy().then(() => process.exit(0)))
process.once('disconnect', end)
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, end)
