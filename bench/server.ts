import { Agent, request as httpRequest } from 'node:http'
import type { IncomingMessage } from 'node:http'
import { type Figure, figure } from '#bench/figures.ts'
import { type Child, startChild } from '#scripts/instance.ts'
import { freePort } from '#scripts/cluster.ts'
import type { World } from '#test-helpers/world.ts'

const pause = (milliseconds: number): Promise<void> => new Promise(resolve => setTimeout(resolve, milliseconds))

interface Server {
  readonly port: number
  readonly child: Child
}
/** A web server in a process of its own, as it runs in earnest. */
async function startServer(world: World, port?: number): Promise<Server> {
  const own = port ?? (await freePort())
  const environment = { DATABASE_URL: world.url, PORT: String(own), LOG_LEVEL: 'silent', NODE_ENV: 'production' }
  return { port: own, child: await startChild('server/app/main.ts', environment) }
}
const stop = ({ child }: Server): Promise<void> =>
  new Promise(resolve => {
    child.process.once('exit', () => resolve())
    child.process.kill('SIGTERM')
  })

interface Sent {
  readonly status: number
  readonly milliseconds: number
  /** Refused before anything was taken: a proxy asks the next server. */
  readonly refused: boolean
}

const agent = new Agent({ keepAlive: true, maxSockets: 400 })
function send(port: number, cookie: string, path: string, body?: unknown): Promise<Sent> {
  const started = performance.now()
  return new Promise(resolve => {
    const done = (status: number, refused = false): void =>
      resolve({ status, refused, milliseconds: performance.now() - started })
    const sent = body === undefined ? undefined : JSON.stringify(body)
    const request = httpRequest(
      {
        port,
        host: '127.0.0.1',
        path: `/api${path}`,
        method: sent === undefined ? 'GET' : 'POST',
        agent,
        headers: {
          cookie,
          ...(sent === undefined
            ? {}
            : { 'content-type': 'application/json', 'x-ivory-order': '1', 'content-length': Buffer.byteLength(sent) }),
        },
      },
      response => {
        response.resume()
        response.once('end', () => done(response.statusCode ?? 0))
        response.once('error', () => done(0))
      },
    )
    request.once('error', (error: NodeJS.ErrnoException) =>
      // a connection that was kept and is closed by now has taken nothing of a reading
      done(
        0,
        error.code === 'ECONNREFUSED' || (error.code === 'ECONNRESET' && request.reusedSocket && sent === undefined),
      ),
    )
    request.end(sent)
  })
}

const READINGS = ['/desk', '/counts', '/orders?view=open&limit=60', '/requisitions?limit=60', '/invoices?view=open&limit=60', '/suppliers?view=all&limit=60'] // prettier-ignore
const TEAM = ['Pilar', 'Rasmus', 'Adaeze', 'Henrik', 'Casimir', 'Marit', 'Wren', 'Leonie']

/** Sessions of so many people, of the roles that read most. */
async function sessions(world: World, count: number): Promise<string[]> {
  const cookies: string[] = []
  for (let index = 0; index < count; index++) cookies.push((await world.as(TEAM[index % TEAM.length]!)).cookie)
  return cookies
}

interface Load {
  readonly readings: number[]
  readonly changes: number[]
  readonly failed: number
}

/** People at work for some seconds: each a reading every two seconds, a change every twenty, and a live stream. */
async function work(port: number, cookies: readonly string[], seconds: number): Promise<Load> {
  const readings: number[] = []
  const changes: number[] = []
  let failed = 0
  const streams = cookies.map(cookie => openStream(port, cookie))
  const until = performance.now() + seconds * 1000
  const person = async (cookie: string, index: number): Promise<void> => {
    await pause((index * 2000) / cookies.length)
    for (let turn = index; performance.now() < until; turn++) {
      const started = performance.now()
      const changing = turn % 10 === 9
      const sent = changing
        ? await send(port, cookie, '/requisitions', { title: `Load ${index}`, reason: '', lines: [] })
        : await send(port, cookie, READINGS[turn % READINGS.length]!)
      // some may not see some lists: turned away is answered
      if (sent.status !== 200 && sent.status !== 403) failed += 1
      else (changing ? changes : readings).push(sent.milliseconds)
      await pause(Math.max(0, 2000 - (performance.now() - started)))
    }
  }
  await Promise.all(cookies.map(person))
  for (const stream of streams) stream.destroy()
  return { readings, changes, failed }
}

function openStream(port: number, cookie: string) {
  const request = httpRequest({
    port,
    host: '127.0.0.1',
    path: '/api/events?topics=desk',
    agent: false,
    headers: { cookie },
  })
  request.on('response', (response: IncomingMessage) => response.resume().on('error', () => undefined))
  request.on('error', () => undefined)
  request.end()
  return request
}

const p95 = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)] ?? 0

/** Answers a second of one reading, as fast as so many readers take them, spread over some servers. */
async function rate(servers: readonly Server[], cookies: readonly string[], seconds: number): Promise<number> {
  let answers = 0
  const until = performance.now() + seconds * 1000
  const reader = async (cookie: string, index: number): Promise<void> => {
    const { port } = servers[index % servers.length]!
    while (performance.now() < until) if ((await send(port, cookie, '/counts')).status === 200) answers += 1
  }
  await Promise.all(cookies.map(reader))
  return answers / seconds
}

/** Two hundred people at work on one server: their readings against 150 ms, their changes against 300, and what two servers answer beside one. */
export async function serverLoad(world: World, _runs: number, small: boolean): Promise<Figure> {
  const cookies = await sessions(world, small ? 20 : 200)
  const one = await startServer(world)
  await work(one.port, cookies, small ? 2 : 6)
  const load = await work(one.port, cookies, small ? 3 : 30)
  const readers = cookies.slice(0, 50)
  const alone = await rate([one], readers, small ? 1 : 5)
  const other = await startServer(world)
  await rate([one, other], readers, 1)
  const both = await rate([one, other], readers, small ? 1 : 5)
  await Promise.all([stop(one), stop(other)])
  const changes = p95(load.changes)
  const read = figure('server.load', p95(load.readings), 150, 1)
  return {
    ...read,
    ok: read.ok && changes <= 300 && load.failed === 0,
    note: `${load.readings.length} readings, ${load.changes.length} changes (p95 ${Math.round(changes)} ms), ${load.failed} failed; counts a second: one server ${Math.round(alone)}, two ${Math.round(both)} (${(both / alone).toFixed(2)}×, with the database and the readers on the same machine)`,
  }
}

/** How long the event loop of a server is held under the mixed load: p99 as the process itself measures it, against 20 ms. */
export async function eventLoop(world: World, _runs: number, small: boolean): Promise<Figure> {
  const cookies = await sessions(world, small ? 10 : 100)
  const server = await startServer(world)
  await work(server.port, cookies, small ? 2 : 4)
  const readLag = async (): Promise<number> => {
    const text = await (await fetch(`http://127.0.0.1:${server.port}/metrics`)).text()
    return Number(/^ivory_nodejs_eventloop_lag_p99_seconds (\S+)/m.exec(text)?.[1]) * 1000
  }
  // reading it begins a new time of measuring
  await readLag()
  await work(server.port, cookies, small ? 2 : 15)
  const lag = await readLag()
  await stop(server)
  // the measure counts from one look to the next, and looks every 10 ms
  return { ...figure('server.event-loop', Math.max(0, lag - 10), 20, 1), note: `${cookies.length} people` }
}

/** Requests that fail while one of two servers restarts; whoever is refused by one is sent to the other, as a proxy does. */
export async function serverRestart(world: World, _runs: number, small: boolean): Promise<Figure> {
  const cookies = await sessions(world, 20)
  const servers = [await startServer(world), await startServer(world)]
  let answered = 0
  let failed = 0
  let over = false
  const person = async (cookie: string, index: number): Promise<void> => {
    for (let turn = index; !over; turn++) {
      const ports = [servers[turn % 2]!.port, servers[(turn + 1) % 2]!.port]
      let sent = await send(ports[0]!, cookie, READINGS[turn % READINGS.length]!)
      if (sent.refused) sent = await send(ports[1]!, cookie, READINGS[turn % READINGS.length]!)
      if (sent.status === 200 || sent.status === 403) answered += 1
      else failed += 1
      await pause(20)
    }
  }
  const people = cookies.map(person)
  await pause(1000)
  const restarts = small ? 1 : 3
  for (let restart = 0; restart < restarts; restart++) {
    const leaving = servers[restart % 2]!
    await stop(leaving)
    servers[restart % 2] = await startServer(world, leaving.port)
    await pause(500)
  }
  over = true
  await Promise.all(people)
  await Promise.all(servers.map(stop))
  return {
    ...figure('server.restart', failed, 1, 0, 'failed'),
    note: `${answered} answered while ${restarts} servers were restarted`,
  }
}
