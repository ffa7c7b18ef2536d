import { type ChildProcess } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { rebuild } from '#server/app/rebuild.ts'
import { wire } from '#server/app/wiring.ts'
import { connect } from '#server/database/connect.ts'
import { migrate, pendingMigrations } from '#server/database/migrate.ts'
import {
  createDatabase,
  dataFolder,
  freePort,
  Mendable,
  spawnScript,
  startCluster,
  stopCluster,
} from '#scripts/cluster.ts'

/** What a running instance writes down, so that a later command finds it. */
export interface Instance {
  readonly pid: number
  readonly url: string
  readonly databaseUrl: string
  readonly mailboxUrl: string
  readonly privateCluster: boolean
}

const file = (): string => join(dataFolder(), 'instance.json')

const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0)
    return true
  } catch {
    return false
  }
}

/** The instance that runs now; one that crashed does not count. */
export function runningInstance(): Instance | undefined {
  if (!existsSync(file())) return undefined
  const kept = JSON.parse(readFileSync(file(), 'utf8')) as Instance
  return alive(kept.pid) ? kept : undefined
}

export function writeInstance(instance: Instance): void {
  mkdirSync(dataFolder(), { recursive: true })
  writeFileSync(file(), JSON.stringify(instance, null, 2), { mode: 0o600 })
}

export const forgetInstance = (): void => rmSync(file(), { force: true })

/** The database of this checkout: the one that DATABASE_URL names, or a private cluster's, which is started. Nothing in it is changed. */
export async function openDatabase(): Promise<{ url: string; privateCluster: boolean }> {
  const given = process.env.DATABASE_URL
  const url = given ?? (await createDatabase(await startCluster(dataFolder()), 'ivory'))
  await withDatabase(url, async db => {
    await db.raw('select 1').catch((error: Error) => {
      throw new Mendable(
        `The PostgreSQL in DATABASE_URL cannot be reached (${error.message.split('\n')[0]}): check the address, name and password.`,
      )
    })
  })
  return { url, privateCluster: given === undefined }
}

/** Brings a database up to this version: its tables, and what is kept beside documents where a migration asks for it. */
export const bringUpToDate = (url: string): Promise<void> =>
  withDatabase(url, async db => {
    await migrate(db, url)
    wire()
    await rebuild({ db, clock: () => new Date().toISOString() })
  })

/** Refuses a database that this version has still to bring up to date. */
export const needUpToDate = (url: string): Promise<void> =>
  withDatabase(url, async db => {
    const pending = await pendingMigrations(db)
    if (pending.length > 0)
      throw new Mendable(
        `The database is of an earlier version (${pending.length} migrations to come, the first is ${pending[0]}): ./ivory migrate brings it up to date.`,
      )
  })

async function withDatabase<T>(url: string, work: (db: ReturnType<typeof connect>) => Promise<T>): Promise<T> {
  const db = connect(url, 2)
  try {
    return await work(db)
  } finally {
    await db.destroy()
  }
}

export const endPrivateCluster = (): void => stopCluster(dataFolder())

export interface Child {
  readonly process: ChildProcess
  readonly told: Record<string, unknown>
}

/** Starts one of our processes and waits until it says that it is ready. */
export function startChild(script: string, environment: Record<string, string>): Promise<Child> {
  const child = spawnScript(script, environment)
  return new Promise((resolve, reject) => {
    child.once('message', told => resolve({ process: child, told: told as Record<string, unknown> }))
    child.once('exit', code => reject(new Error(`${script} ended with ${code} before it was ready.`)))
  })
}

/** A port that is free now: the wanted one, or a sentence about it. */
export async function wantedPort(port: number): Promise<number> {
  try {
    return await freePort(port)
  } catch {
    throw new Mendable(`Port ${port} is taken by another program: stop that, or start with --port and another number.`)
  }
}
