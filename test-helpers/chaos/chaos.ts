import { randomUUID } from 'node:crypto'
import { mkdirSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Knex } from 'knex'
import { ApproveRun, ProposeRun } from '#contract/pay/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { type Cluster, createDatabase, dropDatabase, freePort, restartCluster } from '#scripts/cluster.ts'
import { type Child, startChild } from '#scripts/instance.ts'
import { connect } from '#server/database/connect.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { type Done, stubbornly, type Stubborn } from '#test-helpers/chaos/stubborn.ts'
import { type Dice, dice } from '#test-helpers/fuzz/dice.ts'
import {
  account,
  approved,
  billed,
  draftedFrom,
  goodsLine,
  issuedFrom,
  posted,
  received,
  today,
} from '#test-helpers/steps.ts'
import { demoTemplate, testCluster, type World } from '#test-helpers/world.ts'

export interface ChaosOptions {
  readonly seed: number
  readonly folder: string
  /** Goes on until so many kills, or so long. */
  readonly goOn: (kills: number) => boolean
  readonly tell?: (text: string) => void
}
export interface ChaosOutcome {
  readonly kills: Readonly<Record<string, number>>
  /** Threads that were carried through from a request to a posted invoice. */
  readonly threads: number
  readonly done: number
  /** What was lost or doubled, in words. */
  readonly wrong: readonly string[]
}

const WEB = 'server/app/main.ts'
const WORKER = 'server/app/worker.ts'
const OUTSIDE = 'stand-ins/main.ts'
/** Milliseconds between two kills: between these two. */
const PAUSE = [700, 2600] as const
const pause = (milliseconds: number): Promise<void> => new Promise(resolve => setTimeout(resolve, milliseconds))

/** Ten people at work, while what they work with is killed at random; then everything is brought up, drained and counted. */
export async function chaos(options: ChaosOptions): Promise<ChaosOutcome> {
  const cluster = await testCluster()
  const name = `chaos_${randomUUID().slice(0, 8)}`
  const url = await createDatabase(cluster, name, await demoTemplate())
  const house = await openHouse(cluster, url, options.folder)
  const chance = dice(options.seed)
  const done: Done[] = []
  const kills: Record<string, number> = {}
  let begun = 0
  let threads = 0
  let over = false
  try {
    const before = await counted(house.db)
    const people = new Map<string, Promise<Stubborn>>()
    const world = { ...house.world, as: (who: string) => known(people, who, () => house.signIn(who, done)) }
    const workers = Array.from({ length: 9 }, async () => {
      while (!over) if (await oneThread(world, begun++)) threads += 1
    })
    const treasury = (async () => {
      while (!over) await oneRun(world).catch(() => pause(500))
    })()
    while (options.goOn(sum(kills))) {
      await pause(PAUSE[0] + chance.below(PAUSE[1] - PAUSE[0]))
      const victim = await house.kill(chance)
      kills[victim] = (kills[victim] ?? 0) + 1
      options.tell?.(`${sum(kills)} killed, last: ${victim}; ${threads} threads carried through`)
    }
    over = true
    await Promise.all([...workers, treasury])
    await house.drain()
    return { kills, threads, done: done.length, wrong: await accounts(house.db, before, done, options.folder) }
  } finally {
    over = true
    await house.close()
    await dropDatabase(cluster, name)
  }
}

const sum = (kills: Readonly<Record<string, number>>): number => Object.values(kills).reduce((all, one) => all + one, 0)

async function known<T>(all: Map<string, Promise<T>>, who: string, make: () => Promise<T>): Promise<T> {
  const there = all.get(who) ?? make()
  all.set(who, there)
  return await there
}

interface House {
  readonly db: Knex
  readonly world: World
  readonly signIn: (who: string, done: Done[]) => Promise<Stubborn>
  /** Kills one thing and brings it up again; says which. */
  readonly kill: (chance: Dice) => Promise<string>
  /** Waits until nothing is under way any more. */
  readonly drain: () => Promise<void>
  readonly close: () => Promise<void>
}

/** Web server, worker, mail and bank as processes of their own, each on an address that it keeps. */
async function openHouse(cluster: Cluster, databaseUrl: string, folder: string): Promise<House> {
  const ports = { web: await freePort(), smtp: await freePort(), mailbox: await freePort(), bank: await freePort() }
  mkdirSync(folder, { recursive: true })
  const environment = {
    DATABASE_URL: databaseUrl,
    PORT: String(ports.web),
    SMTP_PORT: String(ports.smtp),
    MAILBOX_PORT: String(ports.mailbox),
    BANK_PORT: String(ports.bank),
    SMTP_URL: `smtp://127.0.0.1:${ports.smtp}`,
    BANK_URL: `http://127.0.0.1:${ports.bank}`,
    MAILBOX_URL: `http://127.0.0.1:${ports.mailbox}`,
    STAND_INS_FOLDER: folder,
    LOG_LEVEL: 'silent',
  }
  const children = new Map<string, Child>()
  const up = async (script: string): Promise<void> => {
    for (let tries = 0; ; tries++)
      try {
        children.set(script, await startChild(script, environment))
        return
      } catch (error) {
        if (tries === 20) throw error
        await pause(500)
      }
  }
  for (const script of [OUTSIDE, WEB, WORKER]) await up(script)
  const db = connect(databaseUrl, 6)
  const address = `http://127.0.0.1:${ports.web}`
  return {
    db,
    world: { address, url: databaseUrl, db, cluster } as World,
    signIn: async (who, done) => await stubbornly(address, await personId(db, who), done),
    kill: async chance => {
      const victim = chance.of([WEB, WEB, WORKER, WORKER, OUTSIDE, 'database'])
      if (victim === 'database') restartCluster(cluster)
      else {
        children.get(victim)!.process.kill('SIGKILL')
        await pause(chance.below(400))
        await up(victim)
      }
      return victim
    },
    drain: () => drained(db),
    close: async () => {
      for (const child of children.values()) child.process.kill('SIGKILL')
      await db.destroy()
    },
  }
}

async function personId(db: Knex, who: string): Promise<string> {
  const company = who.startsWith('at ') ? who.slice(3) : undefined
  for (;;)
    try {
      const query = db('people').leftJoin('suppliers', 'suppliers.id', 'people.supplierId').where('people.active', true)
      const row = await (
        company ? query.where('suppliers.name', company) : query.where('people.name', 'like', `${who} %`)
      ).first<{ id: string } | undefined>('people.id')
      if (!row) throw new Error(`Nobody in the demo is called ${who}.`)
      return row.id
    } catch (error) {
      if (error instanceof Error && error.message.startsWith('Nobody')) throw error
      await pause(200)
    }
}

/** Another one for each thread: two bills of one amount on one day would be held as the same bill. */
const quantityOf = (index: number): string => String(1 + ((index * 37) % 997) / 10)

/** From a request to a posted invoice; one that is broken off on our side of the database (the test reads it too) is left as it is. */
async function oneThread(world: World, index: number): Promise<boolean> {
  try {
    const line = await goodsLine(world, 'PS-1200', quantityOf(index), {
      splits: [{ accountId: await account(world, 'LS-210', '6210'), share: '1' }],
    })
    const requisition = await approved(world, [line], 'While everything falls')
    const order = await issuedFrom(world, await draftedFrom(world, requisition))
    await received(world, order)
    const { id } = await billed(world, order)
    await posted(world, id)
    return true
  } catch {
    await pause(100)
    return false
  }
}

async function oneRun(world: World): Promise<void> {
  const until = addDays(today(), 60)
  const proposed = await (
    await world.as('Casimir')
  ).call(ProposeRun, { body: { dueUntil: until, executeOn: today() } as never })
  const { id, version } = proposed.body
  if (proposed.status === 200 && id)
    await (await world.as('Adaeze')).call(ApproveRun, { params: { id }, body: { version } as never })
  await pause(1500)
}

/** Milliseconds that everything has to come to rest after the last kill. */
const REST = 120_000

/** Until the outbox is empty, the bank's answers are taken, and nothing that was handed to a dead worker is left with it. */
async function drained(db: Knex): Promise<void> {
  const until = Date.now() + REST
  for (;;) {
    await db.raw(`select graphile_worker.add_job('sweepOutbox'), graphile_worker.add_job('fetchBankAnswers')`)
    await pause(2000)
    const waiting = await howMany(db('outbox').where({ state: 'waiting' }))
    const open = await howMany(db('payments').where({ state: 'sent' }))
    if (waiting === 0 && open === 0) return
    if (Date.now() > until)
      throw new Error(`After two minutes ${waiting} still wait to leave, ${open} payments for their answer.`)
  }
}

/** What each of these acts makes one row of. */
const MADE = {
  'requisition.create': 'requisitions',
  'delivery.receive': 'receipts',
  'supplierPages.invoice': 'invoices',
  'run.propose': 'paymentRuns',
} as const
type Made = (typeof MADE)[keyof typeof MADE]

async function howMany(rows: Knex.QueryBuilder): Promise<number> {
  const [row] = (await rows.count('* as n')) as { n: bigint }[]
  return Number(row!.n)
}

async function counted(db: Knex): Promise<Record<Made, number>> {
  const counts = {} as Record<Made, number>
  for (const rows of Object.values(MADE))
    counts[rows] = Number(
      (
        await db(rows as string)
          .count('* as n')
          .first<{ n: bigint }>()
      ).n,
    )
  return counts
}

/** Holds what people were told against what is there: nothing lost, nothing twice, mails and payments once, and the books re-add. */
async function accounts(
  db: Knex,
  before: Readonly<Record<Made, number>>,
  done: readonly Done[],
  folder: string,
): Promise<string[]> {
  const wrong: string[] = []
  const after = await counted(db)
  for (const [act, rows] of Object.entries(MADE)) {
    const said = done.filter(one => one.act === act).map(one => one.id)
    if (new Set(said).size !== said.length) wrong.push(`${act} answered with one document twice`)
    if (after[rows] - before[rows] !== said.length)
      wrong.push(`${act} was said to be done ${said.length} times, and made ${after[rows] - before[rows]} ${rows}`)
  }
  const { differences } = await auditDatabase(db)
  wrong.push(...differences.map(one => `${one.check}: ${one.document}: expected ${one.expected}, found ${one.found}`))
  const mails = readdirSync(join(folder, 'mail')).filter(file => file.endsWith('.eml')).length
  const sent = await howMany(db('outbox').where({ state: 'sent', kind: 'mail' }).where('sentAt', '>', started(db)))
  if (mails !== sent) wrong.push(`${sent} mails were sent, and ${mails} are there`)
  const paid = bankBook(folder)
  const twice = paid.filter((one, index) => paid.indexOf(one) !== index)
  if (twice.length > 0) wrong.push(`paid twice: ${twice.join(', ')}`)
  return wrong
}

/** When this house was opened: what left before went to another mail server. */
const started = (db: Knex): Knex.Raw => db.raw('(select min(created_at) from request_keys)')

/** Every payment that the bank has booked, by its end-to-end identification. */
const bankBook = (folder: string): string[] =>
  readdirSync(join(folder, 'bank', 'answers'))
    .filter(file => file.endsWith('-STATEMENT.xml'))
    .flatMap(file => [...readFileSync(join(folder, 'bank', 'answers', file), 'utf8').matchAll(/<EndToEndId>([^<]*)</g)])
    .map(([, id = '']) => id)
