import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import type { Knex } from 'knex'
import type { BodyOf, Endpoint, ParamsOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { UploadFile } from '#contract/files/endpoints.ts'
import { SignInDemo } from '#contract/people/endpoints.ts'
import { loadDemo } from '#demo/load.ts'
import { type Cluster, createDatabase, dropDatabase, throwAwayCluster } from '#scripts/cluster.ts'
import type { Settings } from '#server/configuration.ts'
import { connect } from '#server/database/connect.ts'
import { migrate } from '#server/database/migrate.ts'
import { senders } from '#server/app/jobs.ts'
import { type Running, startWebServer } from '#server/app/webServer.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import type { JobParts } from '#server/jobs/parts.ts'
import { MAIL_PREFIX } from '#server/consent/ways.ts'
import { startMailIn } from '#server/mail/mailIn.ts'
import { readAnswer } from '#server/decide/replyActs.ts'
import { sendOutgoing } from '#server/outbox/send.ts'
import { type Bank, startBank } from '#stand-ins/bank.ts'
import { type MailServer, startMailServer } from '#stand-ins/mailServer.ts'
import { type RateService, startRates } from '#stand-ins/rates.ts'

let cluster: (Cluster & { end: () => void }) | undefined
let template: Promise<string> | undefined
const TEMPLATE = 'template_demo'

/** The variable that names a cluster which the run of all tests has made, with the demo in it. */
export const SHARED_CLUSTER = 'IVORY_TEST_CLUSTER'

function sharedCluster(): Cluster | undefined {
  const given = process.env[SHARED_CLUSTER]
  if (!given) return undefined
  const { folder, port, url, adminUrl } = JSON.parse(given) as Record<'folder' | 'url' | 'adminUrl', string> & {
    port: number
  }
  return { folder, port, url: name => url.replace('%', name), adminUrl: name => adminUrl.replace('%', name) }
}

/** One throw-away cluster for the whole run, ended with the process; or the one that the run of all tests shares. */
export async function testCluster(): Promise<Cluster> {
  const shared = sharedCluster()
  if (shared) return shared
  if (!cluster) {
    cluster = await throwAwayCluster()
    process.once('exit', () => cluster?.end())
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => process.exit(1))
  }
  return cluster
}

/** Ends the throw-away cluster before the process does. */
export const endCluster = (): void => {
  cluster?.end()
  cluster = undefined
}

const settingsFor = (databaseUrl: string, mail?: MailServer, bank?: Bank, rates?: RateService): Settings => ({
  databaseUrl,
  host: '127.0.0.1',
  port: 0,
  trustProxy: 'loopback',
  metricsToken: '',
  singleSignOn: null,
  smtpUrl: `smtp://127.0.0.1:${mail?.smtpPort ?? 9}`,
  bankUrl: `http://127.0.0.1:${bank?.port ?? 9}`,
  mailInPort: 0,
  ratesUrl: rates ? `http://127.0.0.1:${rates.port}/daily.xml` : '',
  mailboxUrl: `http://127.0.0.1:${mail?.httpPort ?? 9}`,
  mailFrom: 'purchasing@saltmere.example',
  publicUrl: '',
})

/** What jobs need; a failure of theirs is a failure of the test that waits for it. */
const partsFor = (db: Knex, settings: Settings): JobParts => ({
  db,
  settings,
  clock: () => new Date().toISOString(),
  log: () => undefined,
})

/** The database that copies are made of: the demo scenario, loaded once. */
export function demoTemplate(): Promise<string> {
  if (sharedCluster()) return Promise.resolve(TEMPLATE)
  return (template ??= (async () => {
    const url = await createDatabase(await testCluster(), TEMPLATE)
    const db = connect(url, 4)
    const folder = mkdtempSync(join(tmpdir(), 'ivory-bank-'))
    const bank = await startBank(folder, 0)
    try {
      await migrate(db, url)
      await loadDemo(partsFor(db, settingsFor(url, undefined, bank)))
      await db.raw(`update outbox set state = 'sent'; delete from graphile_worker._private_jobs`)
    } finally {
      await bank.stop()
      await db.destroy()
      rmSync(folder, { recursive: true, force: true })
    }
    return TEMPLATE
  })())
}

/** What pg says when a query is given to a connection that still answers another one. */
const parallel: string[] = []
process.on('warning', warning => {
  if (/already executing a query/.test(warning.message)) parallel.push(warning.message)
})

export interface Answer<T> {
  readonly status: number
  readonly body: T
  readonly reasons: readonly ReasonJson[]
  readonly codes: readonly string[]
}

/** A person's session against the running server. */
export class Client {
  constructor(
    private readonly address: string,
    readonly cookie: string,
  ) {}

  async call<E extends Endpoint>(
    endpoint: E,
    input: {
      params?: ParamsOf<E>
      query?: QueryOf<E>
      body?: BodyOf<E>
      key?: string
      headers?: Record<string, string>
    } = {},
  ): Promise<Answer<ResponseOf<E>>> {
    const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) =>
      encodeURIComponent(String((input.params as Record<string, unknown> | undefined)?.[name])),
    )
    const search = new URLSearchParams(
      Object.entries((input.query ?? {}) as Record<string, unknown>).map(([name, value]) => [name, String(value)]),
    ).toString()
    const headers: Record<string, string> = {
      cookie: this.cookie,
      'content-type': 'application/json',
      'x-ivory-order': '1',
      ...(input.key ? { 'idempotency-key': input.key } : {}),
      ...input.headers,
    }
    const response = await fetch(`${this.address}/api${path}${search ? `?${search}` : ''}`, {
      method: endpoint.method.toUpperCase(),
      headers,
      body: endpoint.method === 'get' ? null : JSON.stringify(input.body ?? {}),
    })
    const body = (
      endpoint.answers === 'file' ? { text: await response.text() } : await response.json()
    ) as ResponseOf<E> & { reasons?: ReasonJson[] }
    return {
      status: response.status,
      body,
      reasons: body.reasons ?? [],
      codes: (body.reasons ?? []).map(reason => reason.code),
    }
  }

  /** The bytes of an endpoint that answers with a file. */
  async bytes(endpoint: Endpoint, params: Record<string, string>, query: Record<string, string>): Promise<Buffer> {
    const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name]!))
    const search = new URLSearchParams(query).toString()
    const response = await fetch(`${this.address}/api${path}?${search}`, { headers: { cookie: this.cookie } })
    expect(response.status, endpoint.name).to.equal(200)
    return Buffer.from(await response.arrayBuffer())
  }

  /** Calls and expects that it works. */
  async do<E extends Endpoint>(endpoint: E, input: Parameters<Client['call']>[1] = {}): Promise<ResponseOf<E>> {
    const answer = await this.call(endpoint, input as never)
    expect(answer.status, `${endpoint.name}: ${JSON.stringify(answer.body).slice(0, 600)}`).to.equal(200)
    return answer.body as ResponseOf<E>
  }

  /** The text of an endpoint that answers with a file. */
  async text<E extends Endpoint>(endpoint: E, input: Parameters<Client['call']>[1] = {}): Promise<string> {
    return ((await this.do<Endpoint>(endpoint, input)) as { text: string }).text
  }

  async upload(
    name: string,
    bytes: Buffer | string,
    path = UploadFile.path,
  ): Promise<Answer<ResponseOf<typeof UploadFile>>> {
    const form = new FormData()
    form.append('file', new Blob([typeof bytes === 'string' ? bytes : new Uint8Array(bytes)]), name)
    const response = await fetch(`${this.address}/api${path}`, {
      method: 'POST',
      headers: { cookie: this.cookie, 'x-ivory-order': '1' },
      body: form,
    })
    const body = (await response.json()) as ResponseOf<typeof UploadFile> & { reasons?: ReasonJson[] }
    return {
      status: response.status,
      body,
      reasons: body.reasons ?? [],
      codes: (body.reasons ?? []).map(reason => reason.code),
    }
  }
}

export interface World {
  readonly address: string
  readonly url: string
  readonly db: Knex
  readonly mail: MailServer
  readonly bank: Bank
  readonly rates: RateService
  readonly jobs: JobParts
  readonly cluster: Cluster
  /** A person of the demo by first name, or `at <company>` for a supplier's. */
  readonly as: (who: string) => Promise<Client>
  /** Ends the web server and starts it again where it was, as an update of the program does. */
  readonly restart: () => Promise<void>
}

/** Sends one thing of the outbox, as the worker would. */
export const send = (world: World, id: string): Promise<void> => sendOutgoing(world.jobs, senders, id)

/** Sends everything that waits in the outbox, as the worker would. */
export async function sendAll(world: World): Promise<void> {
  const waiting = await world.db('outbox').where({ state: 'waiting' }).orderBy('createdAt').select('id')
  for (const row of waiting) await send(world, row.id)
}

/** Reads every answer that came in by mail, as the worker would; waits until there is one. */
export async function readAnswers(world: World): Promise<string[]> {
  for (let tries = 0; tries < 100; tries++) {
    const rows = await world.db('mailsIn').where({ outcome: null }).orderBy('receivedAt').select('id')
    for (const { id } of rows) await readAnswer(world.jobs, id)
    if (rows.length > 0)
      return (
        await world
          .db('mailsIn')
          .whereIn(
            'id',
            rows.map(row => row.id),
          )
          .select('outcome')
      ).map(row => row.outcome!)
    await new Promise(resolve => setTimeout(resolve, 50))
  }
  throw new Error('No answer came in by mail.')
}

/** Opens a copy of the demo, or a house that nobody has set up, with a web server on a free port and stand-ins; `close` ends and drops all of it. */
export async function openWorld(
  name: string,
  folder: string,
  empty = false,
): Promise<{ world: World; close: () => Promise<void> }> {
  const cluster = await testCluster()
  const url = await createDatabase(cluster, name, empty ? undefined : await demoTemplate())
  const db = connect(url, 6)
  if (empty) await migrate(db, url)
  const mailIn = await startMailIn(partsFor(db, settingsFor(url)), MAIL_PREFIX, 0)
  const mail = await startMailServer(join(folder, 'mail'), { smtp: 0, http: 0, onwards: mailIn.port })
  const bank = await startBank(join(folder, 'bank'), 0)
  const rates = await startRates(0)
  const settings = settingsFor(url, mail, bank, rates)
  let running: Running = await startWebServer(settings)
  const world: World = {
    cluster,
    url,
    db,
    mail,
    bank,
    rates,
    address: `http://127.0.0.1:${running.port}`,
    jobs: partsFor(db, settings),
    as: who => signIn(world, who),
    restart: async () => {
      const { port } = running
      await running.stop()
      running = await startWebServer({ ...settings, port })
    },
  }
  const close = async (): Promise<void> => {
    await running.stop()
    await mail.stop()
    await mailIn.stop()
    await bank.stop()
    await rates.stop()
    await db.destroy()
    await dropDatabase(cluster, name)
  }
  return { world, close }
}

/**
 * A world of its own for a block of tests: a copy of the demo database, a web server on a free port and stand-ins. After every test the
 * books are re-added.
 */
export function useWorld(empty = false): World {
  const world = {} as { -readonly [K in keyof World]: World[K] }
  const folder = mkdtempSync(join(tmpdir(), 'ivory-world-'))
  let close = (): Promise<void> => Promise.resolve()

  before(async function () {
    this.timeout(300_000)
    const opened = await openWorld(`world_${randomUUID().slice(0, 8)}`, folder, empty)
    close = opened.close
    Object.assign(world, opened.world)
  })

  afterEach('the books re-add', async () => {
    expect((await auditDatabase(world.db)).differences).to.deep.equal([])
  })

  after('no two queries were given to one connection at once', async () => {
    expect(parallel).to.deep.equal([])
    await close()
    rmSync(folder, { recursive: true, force: true })
  })
  return world
}

async function signIn(world: World, who: string): Promise<Client> {
  const company = who.startsWith('at ') ? who.slice(3) : undefined
  const query = world
    .db('people')
    .leftJoin('suppliers', 'suppliers.id', 'people.supplierId')
    .where('people.active', true)
  const person = await (
    company ? query.where('suppliers.name', company) : query.where('people.name', 'like', `${who} %`)
  ).first<{ id: string } | undefined>('people.id')
  if (!person) throw new Error(`Nobody in the demo is called ${who}.`)
  const response = await fetch(`${world.address}/api${SignInDemo.path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-ivory-order': '1' },
    body: JSON.stringify({ personId: person.id }),
  })
  return new Client(world.address, response.headers.getSetCookie()[0]!.split(';')[0]!)
}
