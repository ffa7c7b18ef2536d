import { command } from '#scripts/run.ts'

/** One job worker in this process, on a database that is there already. */
await command(async () => {
  await import('#server/app/worker.ts')
  return 0
})
