import { type ChildProcess } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Knex } from 'knex'
import { rebuild } from '#server/app/rebuild.ts'
import { wire } from '#server/app/wiring.ts'
import { connect } from '#server/database/connect.ts'
import { migrate } from '#server/database/migrate.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
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

/** Whether nobody has an account yet, but the one that jobs act under. */
export const isEmptyHouse = async (db: Knex): Promise<boolean> =>
  (await db('people').whereNot({ id: SYSTEM_PERSON }).first('id')) === undefined

/** The database of this checkout: the one that DATABASE_URL names, or a private cluster's. Brings it up to date. */
export async function openDatabase(): Promise<{ url: string; privateCluster: boolean }> {
  const given = process.env.DATABASE_URL
  const url = given ?? (await createDatabase(await startCluster(dataFolder()), 'ivory'))
  const db = connect(url, 2)
  try {
    await db.raw('select 1').catch((error: Error) => {
      throw new Mendable(
        `The PostgreSQL in DATABASE_URL cannot be reached (${error.message.split('\n')[0]}): check the address, name and password.`,
      )
    })
    await migrate(db, url)
    wire()
    await rebuild({ db, clock: () => new Date().toISOString() })
  } finally {
    await db.destroy()
  }
  return { url, privateCluster: given === undefined }
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
