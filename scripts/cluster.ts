import { execFileSync, spawn, spawnSync } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import {
  accessSync,
  chmodSync,
  chownSync,
  constants,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statfsSync,
  writeFileSync,
} from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)))
const isRoot = process.getuid?.() === 0

/** A fault that a person can mend; its message is one sentence that says what to do. */
export class Mendable extends Error {}

export interface Cluster {
  readonly folder: string
  readonly port: number
  /** As the application: the owner of its databases and of nothing else. */
  readonly url: (database: string) => string
  /** As the superuser, who makes databases and ends them. */
  readonly adminUrl: (database: string) => string
}

/** What we put into a data folder. Nothing else in it is ever touched; the first says that we made it. */
const MARK = 'made-by-ivory-order'
const OURS = [MARK, 'postgres', 'password', 'application-password', 'port', 'instance.json', 'stand-ins'] as const
const APPLICATION = 'ivory_app'

/**
 * Where this checkout keeps what it makes. As root PostgreSQL runs as `postgres`, who may not be able to enter the checkout, so
 * the folder then lies under /var/lib, named by the checkout's path; an ordinary user keeps it in the checkout.
 */
export function dataFolder(): string {
  if (process.env.IVORY_DATA) return process.env.IVORY_DATA
  return isRoot
    ? join('/var/lib/ivory-order', createHash('sha256').update(ROOT).digest('hex').slice(0, 12))
    : join(ROOT, '.ivory')
}

/** The newest PostgreSQL on the machine, 15 or later; its folder of programs. */
export function findPostgres(): string | undefined {
  const base = '/usr/lib/postgresql'
  const versions = existsSync(base)
    ? readdirSync(base).filter(
        name => /^\d+$/.test(name) && Number(name) >= 15 && existsSync(join(base, name, 'bin/initdb')),
      )
    : []
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0]
  if (newest) return join(base, newest, 'bin')
  const found = spawnSync('sh', ['-c', 'command -v initdb'], { encoding: 'utf8' }).stdout.trim()
  return found ? dirname(found) : undefined
}

/** Installs Debian packages that are missing; only root can. */
export function ensurePackages(missing: readonly string[]): void {
  if (missing.length === 0) return
  if (!isRoot || spawnSync('sh', ['-c', 'command -v apt-get']).status !== 0)
    throw new Mendable(
      `${missing.join(' and ')} is missing: install it with "sudo apt-get install ${missing.join(' ')}" and start again${missing.includes('postgresql') ? ', or name a PostgreSQL in DATABASE_URL' : ''}.`,
    )
  process.stdout.write(`Installing ${missing.join(', ')} …\n`)
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env: environment })
  const policy = '/etc/postgresql-common/createcluster.conf'
  if (missing.includes('postgresql') && !existsSync(policy)) {
    mkdirSync(dirname(policy), { recursive: true })
    writeFileSync(policy, 'create_main_cluster = false\n')
  }
  const done = spawnSync(
    'apt-get',
    ['install', '-y', '-qq', '--no-install-recommends', '-o', 'Dpkg::Options::=--force-confold', ...missing],
    {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: environment,
      encoding: 'utf8',
    },
  )
  if (done.status !== 0)
    throw new Mendable(
      `${missing.join(' and ')} could not be installed (${(done.stderr ?? '').trim().split('\n').at(-1)}): install it by hand, or name a PostgreSQL in DATABASE_URL.`,
    )
}

export function ensurePostgres(): string {
  let programs = findPostgres()
  if (!programs) {
    ensurePackages(['postgresql'])
    programs = findPostgres()
  }
  if (!programs)
    throw new Mendable(
      'No PostgreSQL 15 or later is to be had here: install the package postgresql, or name one in DATABASE_URL.',
    )
  return programs
}

const owner = (): { uid: number; gid: number } | undefined =>
  isRoot
    ? {
        uid: Number(execFileSync('id', ['-u', 'postgres'], { encoding: 'utf8' })),
        gid: Number(execFileSync('id', ['-g', 'postgres'], { encoding: 'utf8' })),
      }
    : undefined

function runAs(program: string, args: readonly string[], environment: Record<string, string> = {}): string {
  const who = owner()
  const done = spawnSync(program, args, {
    encoding: 'utf8',
    cwd: '/',
    env: { PATH: process.env.PATH ?? '/usr/bin:/bin', LC_ALL: 'C.UTF-8', ...environment },
    ...who,
  })
  if (done.status !== 0)
    throw new Error(
      `${program} ended with ${done.status}: ${(done.stderr || done.stdout || String(done.error ?? '')).trim()}`,
    )
  return done.stdout
}

/** A port on loopback that nobody listens on. */
export function freePort(wanted = 0): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', reject)
    probe.listen(wanted, '127.0.0.1', () => {
      const address = probe.address()
      probe.close(() => (typeof address === 'object' && address ? resolve(address.port) : reject(new Error('no port'))))
    })
  })
}

/** Makes (once) and starts a private, password-protected cluster on loopback, without touching any other. */
export async function startCluster(folder: string, options: { throwAway?: boolean } = {}): Promise<Cluster> {
  const programs = ensurePostgres()
  const data = join(folder, 'postgres')
  requireSpace(folder)
  const passwordFile = join(folder, 'password')
  if (!existsSync(join(data, 'PG_VERSION')) || !existsSync(passwordFile))
    initialise(programs, folder, data, passwordFile)
  const port = runningPort(data) ?? (await launch(programs, folder, data, options.throwAway ?? false))
  const address = (name: string, file: string) => (database: string) =>
    `postgres://${name}:${secret(folder, file)}@127.0.0.1:${port}/${database}`
  const cluster = {
    folder,
    port,
    url: address(APPLICATION, 'application-password'),
    adminUrl: address('ivory', 'password'),
  }
  await ensureApplicationRole(cluster)
  return cluster
}

/** A password that is made once and that only we can read. */
function secret(folder: string, name: string): string {
  const path = join(folder, name)
  if (!existsSync(path)) {
    writeFileSync(path, randomBytes(24).toString('hex'), { mode: 0o600 })
    const who = owner()
    if (who) chownSync(path, who.uid, who.gid)
  }
  return readFileSync(path, 'utf8').trim()
}

/** The program does not work as superuser: what it is made to do by others stays within its own databases. */
async function ensureApplicationRole(cluster: Cluster): Promise<void> {
  const password = secret(cluster.folder, 'application-password')
  await asAdmin(cluster, 'postgres', async client => {
    const known = await client.query('select 1 from pg_roles where rolname = $1', [APPLICATION])
    const options = `login nosuperuser nocreatedb nocreaterole password '${password}'`
    await client.query(`${known.rowCount === 0 ? 'create' : 'alter'} role ${APPLICATION} ${options}`)
  })
}

async function asAdmin<T>(cluster: Cluster, database: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: cluster.adminUrl(database) })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

function requireSpace(folder: string): void {
  let existing = folder
  while (!existsSync(existing)) existing = dirname(existing)
  try {
    accessSync(existing, constants.W_OK)
  } catch {
    throw new Mendable(`The folder ${existing} cannot be written to: set IVORY_DATA to one that can.`)
  }
  const disk = statfsSync(existing)
  if (disk.bavail * disk.bsize < 300 * 1024 * 1024)
    throw new Mendable(
      `Less than 300 MB are free at ${existing}: make room, or set IVORY_DATA to a folder on another disk.`,
    )
}

function initialise(programs: string, folder: string, data: string, passwordFile: string): void {
  rmSync(data, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const who = owner()
  if (who) chownSync(folder, who.uid, who.gid)
  rmSync(passwordFile, { force: true })
  secret(folder, 'password')
  writeFileSync(join(folder, MARK), 'Ivory Order made what is in here; ./ivory start --fresh deletes it.\n')
  runAs(join(programs, 'initdb'), [
    '-D',
    data,
    '-U',
    'ivory',
    '--auth=scram-sha-256',
    `--pwfile=${passwordFile}`,
    '-E',
    'UTF8',
    '--locale=C.UTF-8',
    '--no-instructions',
    '--no-sync',
  ])
  chmodSync(folder, 0o711)
}

/** The port on which a folder's server listens, chosen once, so that what connects to it finds it again. */
async function ownPort(folder: string): Promise<number> {
  const file = join(folder, 'port')
  const kept = existsSync(file) ? Number(readFileSync(file, 'utf8')) : undefined
  if (kept !== undefined)
    return await freePort(kept).catch(() => {
      throw new Mendable(
        `Port ${kept}, on which the database in ${folder} listens, is taken by another program: stop that, or write another number into ${file}.`,
      )
    })
  const port = await freePort()
  writeFileSync(file, `${port}\n`, { mode: 0o600 })
  return port
}

/** The port of a server that really runs on this data folder; a pid file left by a crash does not count. */
function runningPort(data: string): number | undefined {
  const file = join(data, 'postmaster.pid')
  if (!existsSync(file)) return undefined
  const [pid, , , port] = readFileSync(file, 'utf8').split('\n')
  try {
    process.kill(Number(pid), 0)
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('postgres') ? Number(port) : undefined
  } catch {
    return undefined
  }
}

async function launch(programs: string, folder: string, data: string, throwAway: boolean): Promise<number> {
  for (let attempt = 1; ; attempt++) {
    const port = throwAway ? await freePort() : await ownPort(folder)
    const settings = [
      `-p ${port}`,
      '-c listen_addresses=127.0.0.1',
      "-c unix_socket_directories=''",
      '-c max_connections=80',
      '-c shared_buffers=512MB',
      '-c jit=off',
      throwAway ? '-c fsync=off -c full_page_writes=off -c max_wal_size=4GB' : '',
    ]
    try {
      runAs(join(programs, 'pg_ctl'), [
        '-D',
        data,
        '-l',
        join(data, 'server.log'),
        '-w',
        '-t',
        '60',
        '-o',
        settings.join(' '),
        'start',
      ])
      return port
    } catch (error) {
      if (attempt === 3)
        throw new Mendable(
          `PostgreSQL does not start; its own words are in ${join(folder, 'postgres', 'server.log')}.`,
          { cause: error },
        )
    }
  }
}

export function stopCluster(folder: string, mode: 'fast' | 'immediate' = 'fast'): void {
  const programs = findPostgres()
  const data = join(folder, 'postgres')
  if (programs && existsSync(join(data, 'postmaster.pid'))) {
    try {
      runAs(join(programs, 'pg_ctl'), ['-D', data, '-m', mode, '-w', 'stop'])
    } catch {
      // A pid file without a server: nothing to stop.
    }
  }
}

/** Stops and starts the server again on the same port, as a restart under load does. */
export function restartCluster(cluster: Cluster): void {
  const programs = ensurePostgres()
  const data = join(cluster.folder, 'postgres')
  runAs(join(programs, 'pg_ctl'), ['-D', data, '-l', join(data, 'server.log'), '-m', 'immediate', '-w', 'restart'])
}

/** A throw-away cluster in the temporary folder; `end` removes it. */
export async function throwAwayCluster(): Promise<Cluster & { end: () => void }> {
  const folder = join(tmpdir(), `ivory-${process.pid}-${randomBytes(4).toString('hex')}`)
  const cluster = await startCluster(folder, { throwAway: true })
  const end = (): void => {
    stopCluster(folder, 'immediate')
    rmSync(folder, { recursive: true, force: true })
  }
  return { ...cluster, end }
}

/** Makes a database that belongs to the application, unless it is there. */
export async function createDatabase(cluster: Cluster, name: string, template?: string): Promise<string> {
  const made = await asAdmin(cluster, 'postgres', async client => {
    const known = await client.query('select 1 from pg_database where datname = $1', [name])
    if (known.rowCount !== 0) return false
    await client.query(
      `create database "${name}" owner ${APPLICATION}${template ? ` template "${template}" strategy file_copy` : ''}`,
    )
    await client.query(`revoke connect on database "${name}" from public`)
    return true
  })
  if (!made) await asAdmin(cluster, name, takeOver)
  return cluster.url(name)
}

/** What an earlier version made as superuser is given to the application. */
async function takeOver(client: pg.Client): Promise<void> {
  await client.query(`
    do $$
    declare one record;
    begin
      if (select pg_get_userbyid(datdba) from pg_database where datname = current_database()) = '${APPLICATION}' then return; end if;
      execute format('alter database %I owner to ${APPLICATION}', current_database());
      for one in select nspname from pg_namespace where nspname in ('public', 'graphile_worker') loop
        execute format('alter schema %I owner to ${APPLICATION}', one.nspname);
      end loop;
      for one in select c.oid::regclass as name, c.relkind from pg_class c join pg_namespace n on n.oid = c.relnamespace
        where n.nspname in ('public', 'graphile_worker') and c.relkind in ('r', 'p', 'v', 'S')
          and not exists (select 1 from pg_depend d where d.objid = c.oid and d.deptype in ('i', 'e', 'a') and (c.relkind = 'S' or d.deptype = 'e')) loop
        execute format('alter %s %s owner to ${APPLICATION}', case one.relkind when 'v' then 'view' when 'S' then 'sequence' else 'table' end, one.name);
      end loop;
      for one in select p.oid::regprocedure as name from pg_proc p join pg_namespace n on n.oid = p.pronamespace
        where n.nspname in ('public', 'graphile_worker') and not exists (select 1 from pg_depend d where d.objid = p.oid and d.deptype = 'e') loop
        execute format('alter routine %s owner to ${APPLICATION}', one.name);
      end loop;
      for one in select t.oid::regtype as name from pg_type t join pg_namespace n on n.oid = t.typnamespace
        where n.nspname in ('public', 'graphile_worker') and t.typtype in ('e', 'd') or (t.typtype = 'c' and n.nspname = 'graphile_worker' and exists (select 1 from pg_class c where c.oid = t.typrelid and c.relkind = 'c')) loop
        execute format('alter type %s owner to ${APPLICATION}', one.name);
      end loop;
    end $$`)
}

export const dropDatabase = (cluster: Cluster, name: string): Promise<unknown> =>
  asAdmin(cluster, 'postgres', client => client.query(`drop database if exists "${name}" with (force)`))

/** What of a data folder `--fresh` would delete: whatever we have put into it, or nothing where there is nothing of ours. */
export function ownEntries(folder: string): string[] {
  if (!existsSync(join(folder, MARK)) && !existsSync(join(folder, 'postgres', 'PG_VERSION'))) return []
  return OURS.map(name => join(folder, name)).filter(path => existsSync(path))
}

export const spawnScript = (file: string, environment: Record<string, string>): ReturnType<typeof spawn> =>
  spawn(process.execPath, ['--import', 'tsx', join(ROOT, file)], {
    cwd: ROOT,
    env: { ...process.env, ...environment },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  })

/** Milliseconds between two looks at a private database server that should run. */
const LOOK = 2000

/** Starts the private database server again when it died; what was committed is there. */
export function keepClusterUp(folder: string, tell: (text: string) => void): NodeJS.Timeout {
  let starting = false
  return setInterval(() => {
    if (starting || runningPort(join(folder, 'postgres')) !== undefined) return
    starting = true
    tell('The database server ended by itself; it is started again.')
    startCluster(folder)
      .catch((error: unknown) => tell(error instanceof Error ? error.message : String(error)))
      .finally(() => {
        starting = false
      })
  }, LOOK)
}

/** A program of PostgreSQL, such as pg_dump, against a database; its password goes through the environment, never on the command line. */
export function runTool(name: 'pg_dump' | 'pg_restore', url: string, args: readonly string[]): void {
  const { username, password, hostname, port, pathname } = new URL(url)
  const done = spawnSync(join(ensurePostgres(), name), [...args, '--no-password'], {
    encoding: 'utf8',
    env: {
      PATH: process.env.PATH ?? '/usr/bin:/bin',
      LC_ALL: 'C.UTF-8',
      PGUSER: decodeURIComponent(username),
      PGPASSWORD: decodeURIComponent(password),
      PGHOST: hostname,
      PGPORT: port || '5432',
      PGDATABASE: decodeURIComponent(pathname.slice(1)),
    },
  })
  if (done.status !== 0)
    throw new Mendable(`${name} could not do it: ${(done.stderr || String(done.error ?? '')).trim().split('\n')[0]}`)
}
