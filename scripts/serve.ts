import { buildWeb } from '#scripts/build.ts'
import { command } from '#scripts/run.ts'

/** One web server in this process, on a database that is there already; systemd or a container starts as many as are wanted. */
process.env.NODE_ENV ??= 'production'
await command(async () => {
  buildWeb()
  await import('#server/app/main.ts')
  return 0
})
