import { command } from '#scripts/run.ts'

/** One job worker in this process, on a database that is there already. */
process.env.NODE_ENV ??= 'production'
await command(async () => {
  await import('#server/app/worker.ts')
  return 0
})
