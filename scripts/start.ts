import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { loadDemo } from '#demo/load.ts'
import { buildWeb } from '#scripts/build.ts'
import { dataFolder, freePort, Mendable, stopCluster } from '#scripts/cluster.ts'
import {
  type Child,
  endPrivateCluster,
  forgetInstance,
  isEmptyHouse,
  openDatabase,
  runningInstance,
  startChild,
  wantedPort,
  writeInstance,
} from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'
import { connect } from '#server/database/connect.ts'
import { readSettings } from '#server/configuration.ts'

async function start(): Promise<number> {
  const { values } = parseArgs({
    options: {
      fresh: { type: 'boolean' },
      empty: { type: 'boolean' },
      port: { type: 'string', default: process.env.PORT ?? '4747' },
    },
  })
  const running = runningInstance()
  if (running) throw new Mendable(`Ivory Order runs already at ${running.url}: ./ivory stop ends it.`)
  const port = await wantedPort(Number(values.port))
  if (values.fresh) startOver()
  buildWeb()
  const { url: databaseUrl, privateCluster } = await openDatabase()
  const ports = {
    SMTP_PORT: String(await freePort()),
    MAILBOX_PORT: String(await freePort()),
    BANK_PORT: String(await freePort()),
  }
  const demo = !values.empty
  const environment = {
    ...ports,
    STAND_INS_FOLDER: join(dataFolder(), 'stand-ins'),
    DATABASE_URL: databaseUrl,
    PORT: String(port),
    IVORY_DEMO: demo ? '1' : '0',
    SMTP_URL: process.env.SMTP_URL ?? `smtp://127.0.0.1:${ports.SMTP_PORT}`,
    BANK_URL: process.env.BANK_URL ?? `http://127.0.0.1:${ports.BANK_PORT}`,
    MAILBOX_URL: `http://127.0.0.1:${ports.MAILBOX_PORT}`,
    PUBLIC_URL: process.env.PUBLIC_URL ?? `http://127.0.0.1:${port}`,
    NODE_ENV: 'production',
  }
  const children: Child[] = [await startChild('stand-ins/main.ts', environment)]
  if (demo) await loadIntoEmpty(databaseUrl, environment)
  children.push(
    ...(await Promise.all([
      startChild('server/app/main.ts', environment),
      startChild('server/app/worker.ts', environment),
    ])),
  )
  const address = `http://127.0.0.1:${port}`
  writeInstance({ pid: process.pid, url: address, databaseUrl, mailboxUrl: environment.MAILBOX_URL, privateCluster })
  process.stdout.write(
    `\nIvory Order is at ${address}\n${demo ? 'Sign in with one click as any person of the scenario (their password is kelp-and-krill).\n' : ''}Ctrl-C or ./ivory stop ends it.\n`,
  )
  return await untilEnd(children, privateCluster)
}

function startOver(): void {
  if (process.env.DATABASE_URL)
    throw new Mendable(
      '--fresh does not empty a database that you name yourself: make a new one and name that in DATABASE_URL.',
    )
  stopCluster(dataFolder(), 'immediate')
  rmSync(dataFolder(), { recursive: true, force: true })
}

async function loadIntoEmpty(databaseUrl: string, environment: Record<string, string>): Promise<void> {
  const db = connect(databaseUrl, 4)
  try {
    if (!(await isEmptyHouse(db))) return
    process.stdout.write('Loading the demo scenario …\n')
    await loadDemo({
      db,
      settings: readSettings({ ...process.env, ...environment }),
      clock: () => new Date().toISOString(),
      log: (message, details) => process.stderr.write(`${message}: ${String(details)}\n`),
    })
  } finally {
    await db.destroy()
  }
}

/** Waits for Ctrl-C, ./ivory stop or the end of a process; then ends everything. */
async function untilEnd(children: readonly Child[], privateCluster: boolean): Promise<number> {
  const code = await new Promise<number>(resolve => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve(0))
    for (const child of children) child.process.once('exit', () => resolve(1))
  })
  await Promise.all(
    children.map(
      child =>
        new Promise<void>(resolve => {
          if (child.process.exitCode !== null || child.process.signalCode !== null) return resolve()
          child.process.once('exit', () => resolve())
          child.process.kill('SIGTERM')
          setTimeout(() => child.process.kill('SIGKILL'), 6000).unref()
        }),
    ),
  )
  if (privateCluster) endPrivateCluster()
  forgetInstance()
  process.stdout.write(
    code === 0
      ? 'Ended.\n'
      : 'A process of Ivory Order ended by itself; everything was stopped. Start it again with ./ivory start.\n',
  )
  return code
}

await command(start)
process.exit()
