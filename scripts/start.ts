import { existsSync, rmdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { HISTORY_MONTHS } from '#demo/history.ts'
import { LIVE_BIDDERS, LIVE_USUAL, openLiveAuction } from '#demo/liveAuction.ts'
import { loadDemo } from '#demo/load.ts'
import { asksYes } from '#scripts/ask.ts'
import { buildWeb } from '#scripts/build.ts'
import { dataFolder, freePort, keepClusterUp, Mendable, ownEntries, stopCluster } from '#scripts/cluster.ts'
import {
  bringUpToDate,
  endPrivateCluster,
  forgetInstance,
  openDatabase,
  runningInstance,
  wantedPort,
  writeInstance,
} from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'
import { Supervisor } from '#scripts/supervise.ts'
import { connect } from '#server/database/connect.ts'
import { readSettings } from '#server/configuration.ts'
import { isDemo } from '#server/house/house.ts'
import { firstLink, isEmptyHouse } from '#server/setup/houseActs.ts'

async function start(): Promise<number> {
  const { values } = parseArgs({
    options: {
      fresh: { type: 'boolean' },
      yes: { type: 'boolean' },
      empty: { type: 'boolean' },
      port: { type: 'string', default: process.env.PORT ?? '4747' },
    },
  })
  const running = runningInstance()
  if (running) throw new Mendable(`Ivory Order runs already at ${running.url}: ./ivory stop ends it.`)
  const port = await wantedPort(Number(values.port))
  if (values.fresh) await startOver(values.yes ?? false)
  buildWeb()
  const { url: databaseUrl, privateCluster } = await openDatabase()
  await bringUpToDate(databaseUrl)
  const ports = {
    SMTP_PORT: String(await freePort()),
    MAILBOX_PORT: String(await freePort()),
    BANK_PORT: String(await freePort()),
    RATES_PORT: String(await freePort()),
    MAIL_IN_PORT: process.env.MAIL_IN_PORT ?? String(await freePort()),
  }
  const environment = {
    ...ports,
    STAND_INS_FOLDER: join(dataFolder(), 'stand-ins'),
    BIDDERS: LIVE_BIDDERS.map(one => one.to).join(' '),
    BIDDERS_USUAL: String(LIVE_USUAL),
    DATABASE_URL: databaseUrl,
    PORT: String(port),
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
    SMTP_URL: process.env.SMTP_URL ?? `smtp://127.0.0.1:${ports.SMTP_PORT}`,
    BANK_URL: process.env.BANK_URL ?? `http://127.0.0.1:${ports.BANK_PORT}`,
    RATES_URL: process.env.RATES_URL ?? `http://127.0.0.1:${ports.RATES_PORT}/daily.xml`,
    MAILBOX_URL: `http://127.0.0.1:${ports.MAILBOX_PORT}`,
    PUBLIC_URL: process.env.PUBLIC_URL ?? `http://127.0.0.1:${port}`,
    NODE_ENV: 'production',
  }
  const supervisor = new Supervisor(environment, text => process.stderr.write(`${text}\n`))
  await supervisor.start('stand-ins/main.ts')
  if (!values.empty) await loadIntoEmpty(databaseUrl, environment)
  await openLive(databaseUrl, environment)
  await Promise.all(['server/app/main.ts', 'server/app/worker.ts'].map(script => supervisor.start(script)))
  writeInstance({
    pid: process.pid,
    url: environment.PUBLIC_URL,
    databaseUrl,
    mailboxUrl: environment.MAILBOX_URL,
    privateCluster,
  })
  process.stdout.write(
    `\nIvory Order is at ${environment.PUBLIC_URL}\n${await welcome(databaseUrl, environment.PUBLIC_URL)}Ctrl-C or ./ivory stop ends it.\n`,
  )
  return await untilEnd(supervisor, privateCluster)
}

/** What whoever started it needs to come in: the demo's people, the link that sets an empty house up, or nothing. */
async function welcome(databaseUrl: string, url: string): Promise<string> {
  const db = connect(databaseUrl, 1)
  try {
    if (await isDemo({ trx: db }))
      return 'Sign in with one click as any person of the scenario (their password is kelp-and-krill).\n'
    if (!(await isEmptyHouse({ trx: db }))) return ''
    const link = await firstLink({ trx: db, now: new Date().toISOString() })
    return `Nobody has set this house up yet. Within a day, open ${url}${link}\n`
  } finally {
    await db.destroy()
  }
}

/** Deletes what an earlier start made, and nothing else, when somebody says so. */
async function startOver(yes: boolean): Promise<void> {
  if (process.env.DATABASE_URL)
    throw new Mendable(
      '--fresh does not empty a database that you name yourself: make a new one and name that in DATABASE_URL.',
    )
  const folder = dataFolder()
  const entries = ownEntries(folder)
  if (entries.length === 0) {
    if (existsSync(folder))
      process.stdout.write(`There is nothing in ${folder} that Ivory Order made; nothing is deleted.\n`)
    return
  }
  process.stdout.write(
    `--fresh deletes for good what Ivory Order keeps in ${folder}: its database, its mails and its bank.\n`,
  )
  if (!yes && !(await asksYes('Delete it?'))) throw new Mendable('Nothing was deleted. Say --yes if it shall be.')
  stopCluster(folder, 'immediate')
  for (const path of entries) rmSync(path, { recursive: true, force: true })
  try {
    rmdirSync(folder)
  } catch {
    // there is something else in it, which is not ours
  }
}

async function loadIntoEmpty(databaseUrl: string, environment: Record<string, string>): Promise<void> {
  const db = connect(databaseUrl, 4)
  try {
    if (!(await isEmptyHouse({ trx: db }))) return
    process.stdout.write('Loading the demo scenario …\n')
    await loadDemo(
      {
        db,
        settings: readSettings({ ...process.env, ...environment }),
        clock: () => new Date().toISOString(),
        log: (message, details) => process.stderr.write(`${message}: ${String(details)}\n`),
      },
      { months: HISTORY_MONTHS, tell: text => process.stdout.write(`  ${text}\n`) },
    )
  } finally {
    await db.destroy()
  }
}

/** In the demo an auction goes on: a stand-in bids in it now and then. */
async function openLive(databaseUrl: string, environment: Record<string, string>): Promise<void> {
  const db = connect(databaseUrl, 2)
  try {
    if (!(await isDemo({ trx: db }))) return
    await openLiveAuction({
      db,
      settings: readSettings({ ...process.env, ...environment }),
      clock: () => new Date().toISOString(),
      log: (message, details) => process.stderr.write(`${message}: ${String(details)}\n`),
    })
  } finally {
    await db.destroy()
  }
}

/** Waits for Ctrl-C, ./ivory stop or a process that cannot be kept alive; then ends everything. */
async function untilEnd(supervisor: Supervisor, privateCluster: boolean): Promise<number> {
  const watch = privateCluster ? keepClusterUp(dataFolder(), text => process.stderr.write(`${text}\n`)) : undefined
  const asked = new Promise<undefined>(resolve => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve(undefined))
  })
  const broken = await Promise.race([asked, supervisor.gaveUp])
  clearInterval(watch)
  await supervisor.end()
  if (privateCluster) endPrivateCluster()
  forgetInstance()
  process.stdout.write(
    broken === undefined
      ? 'Ended.\n'
      : `${broken} ended again and again; everything was stopped. Its words above say why; start it again with ./ivory start.\n`,
  )
  return broken === undefined ? 0 : 1
}

await command(start)
process.exit()
