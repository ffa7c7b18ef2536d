import { log } from '#server/app/log.ts'
import { startWebServer } from '#server/app/webServer.ts'
import { readSettings } from '#server/configuration.ts'

/** What goes wrong beside any request is logged; it ends nobody's work. */
process.on('unhandledRejection', error => log().error(error, 'a failure that nobody waited for'))
const running = await startWebServer(readSettings(process.env))
process.send?.({ ready: 'web', port: running.port })
// A parent that dies without a word ends us too, so that the next start finds the port free.
process.once('disconnect', () => void running.stop().then(() => process.exit(0)))
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.once(signal, () => void running.stop().then(() => process.exit(0)))
