import { execFile } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { expect } from 'chai'
import type { Knex } from 'knex'
import { createDatabase, dropDatabase, ROOT } from '#scripts/cluster.ts'
import { startWebServer } from '#server/app/webServer.ts'
import { connect } from '#server/database/connect.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { freeDead } from '#server/jobs/beats.ts'
import { failLost } from '#server/jobs/longJobs.ts'
import { startWorker } from '#server/jobs/worker.ts'
import { goodsLine, ordered, received } from '#test-helpers/steps.ts'
import { testCluster, useWorld } from '#test-helpers/world.ts'

const run = promisify(execFile)
const ivory = (command: string, args: readonly string[], environment: Record<string, string>) =>
  run(process.execPath, ['--import', 'tsx', `scripts/${command}.ts`, ...args], {
    cwd: ROOT,
    env: { ...process.env, ...environment },
  })
const pause = (milliseconds: number): Promise<void> => new Promise(resolve => setTimeout(resolve, milliseconds))

describe('what a supervisor and a monitor ask', () => {
  const world = useWorld()
  const ask = async (path: string, headers: Record<string, string> = {}) => {
    const response = await fetch(`${world.address}${path}`, { headers })
    return { status: response.status, text: await response.text() }
  }

  it('health says that the process answers; ready that it can work, with a worker alive in the last minute', async () => {
    expect(await ask('/health')).to.deep.equal({ status: 200, text: '{"alive":true}' })
    const without = await ask('/ready')
    expect([without.status, JSON.parse(without.text)]).to.deep.equal([
      503,
      { serving: true, database: true, migrations: true, worker: false },
    ])
    const worker = await startWorker(world.jobs, { nothing: () => Promise.resolve() }, '', { beat: 200 })
    expect((await ask('/ready')).status).to.equal(200)
    expect(await world.db('workerBeats').select('hands')).to.have.length(1)
    await worker.stop()
    expect((await ask('/ready')).status).to.equal(503)
    await world.db('workerBeats').insert({
      id: randomUUID(),
      hands: [],
      startedAt: new Date().toISOString(),
      at: new Date(Date.now() - 61_000).toISOString(),
    })
    expect((await ask('/ready')).status, 'a minute ago').to.equal(503)
    await world.db('workerBeats').delete()
  })

  it('metrics are Prometheus’s text for the machine itself, and for nobody who comes through a proxy', async () => {
    await world.as('Pilar')
    const { status, text } = await ask('/metrics')
    expect(status).to.equal(200)
    expect(text).to.match(/^ivory_request_seconds_count\{act="session.signInDemo",status="200"\} [1-9]/m)
    expect(text).to.match(/^ivory_outbox_waiting \d+$/m)
    expect((await ask('/metrics', { 'x-forwarded-for': '198.51.100.7' })).status).to.equal(404)
    expect((await ask('/metrics', { 'x-forwarded-for': '198.51.100.7', authorization: 'Bearer ' })).status).to.equal(
      404,
    )
  })

  it('behind a proxy with TLS browsers are told to stay with it, cookies are secure, and the reader’s own address counts', async () => {
    const settings = {
      ...world.jobs.settings,
      databaseUrl: world.url,
      port: 0,
      publicUrl: 'https://house.example',
      trustProxy: '1',
      metricsToken: 'let-me-see',
    }
    const running = await startWebServer(settings)
    try {
      const at = `http://127.0.0.1:${running.port}`
      const page = await fetch(`${at}/api/session`)
      expect(page.headers.get('strict-transport-security')).to.match(/^max-age=31536000/)
      const person = (await world.db('people').where('name', 'like', 'Pilar %').first('id'))!
      const entered = await fetch(`${at}/api/session/demo`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-ivory-order': '1', 'x-forwarded-for': '198.51.100.7' },
        body: JSON.stringify({ personId: person.id }),
      })
      expect(entered.headers.getSetCookie()[0]).to.match(/HttpOnly; SameSite=Strict;.*; Secure$/)
      expect(await world.db('sessions').where({ network: '198.51.100.7' }).select('id')).to.have.length(1)
      const seen = (authorization: string) =>
        fetch(`${at}/metrics`, { headers: { authorization, 'x-forwarded-for': '198.51.100.7' } })
      expect([(await seen('Bearer let-me-see')).status, (await seen('Bearer guess')).status]).to.deep.equal([200, 404])
    } finally {
      await running.stop()
    }
  })

  it('a server that leaves answers what is under way, takes nothing new, and says so', async () => {
    const running = await startWebServer({ ...world.jobs.settings, databaseUrl: world.url, port: 0 })
    const at = `http://127.0.0.1:${running.port}`
    const { cookie } = await world.as('Joren')
    const held = await world.db.transaction()
    await held.raw('lock table requisitions in exclusive mode')
    const slow = fetch(`${at}/api/requisitions`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json', 'x-ivory-order': '1' },
      body: JSON.stringify({ title: 'Slow', reason: '', lines: [] }),
    })
    await pause(300)
    const stopped = running.stop()
    await pause(100)
    const refused = await fetch(`${at}/health`).then(
      () => 'taken',
      () => 'refused',
    )
    await held.rollback()
    expect([(await slow).status, refused]).to.deep.equal([200, 'refused'])
    await stopped
  })
})

describe('a worker that dies', () => {
  const world = useWorld()

  it('leaves what it had in hand to others within a minute, and never for good', async () => {
    await world.db.raw(`select graphile_worker.add_job('tidyUp', job_key => 'held', max_attempts => 3)`)
    await world.db.raw(
      `update graphile_worker._private_jobs set locked_at = now(), locked_by = 'worker-dead', attempts = 1 where key = 'held'`,
    )
    const beat = (age: number) =>
      world.db('workerBeats').insert({
        id: randomUUID(),
        hands: ['worker-dead'],
        startedAt: new Date().toISOString(),
        at: new Date(Date.now() - age).toISOString(),
      })
    const locked = async () =>
      (
        await world.db.raw<{ rows: { by: string | null }[] }>(
          `select locked_by as by from graphile_worker.jobs where key = 'held'`,
        )
      ).rows[0]!.by
    await beat(30_000)
    expect([await freeDead(world.jobs), await locked()], 'silent for half a minute').to.deep.equal([0, 'worker-dead'])
    await world.db('workerBeats').delete()
    await beat(45_000)
    expect([await freeDead(world.jobs), await locked()]).to.deep.equal([1, null])
    await world.db.raw(
      `select graphile_worker.complete_jobs(array(select id from graphile_worker.jobs where key = 'held'))`,
    )
  })

  it('each time with the same long job: whoever started it is told that nothing was done', async () => {
    const { id: byId } = (await world.db('people').where('name', 'like', 'Pilar %').first('id'))!
    const job = (id: string, kind: 'duplicates' | 'supplierImport') =>
      world.db('longJobs').insert({
        id,
        kind,
        state: 'running',
        params: '{}' as never,
        byId,
        createdAt: new Date(Date.now() - 120_000).toISOString(),
      })
    const [lost, alive] = [randomUUID(), randomUUID()]
    await job(lost, 'duplicates')
    await world.db.raw(
      `select graphile_worker.add_job('runLongJob', json_build_object('id', ?::text), job_key => ?, max_attempts => 3)`,
      [alive, alive],
    )
    await job(alive, 'supplierImport')
    await failLost(world.jobs)
    const states = new Map(
      (await world.db('longJobs').whereIn('id', [lost, alive]).select('id', 'state', 'failure')).map(row => [
        row.id,
        row,
      ]),
    )
    expect(states.get(alive)!.state).to.equal('running')
    expect(states.get(lost)).to.deep.include({ state: 'failed' })
    expect(states.get(lost)!.failure).to.include('Nothing of it was written')
    await world.db.raw(
      `select graphile_worker.complete_jobs(array(select id from graphile_worker.jobs where key = ?))`,
      [alive],
    )
    await world.db('longJobs').whereIn('id', [lost, alive]).delete()
  })
})

describe('a backup', () => {
  const world = useWorld()
  const folder = mkdtempSync(join(tmpdir(), 'ivory-backup-'))
  after(() => rmSync(folder, { recursive: true, force: true }))

  it('is taken while people work, brought back elsewhere, and its books re-add to the same', async function () {
    this.timeout(360_000)
    let over = false
    const working = (async () => {
      for (let turn = 0; !over; turn++)
        await received(world, await ordered(world, [await goodsLine(world, 'PS-1200', String(turn + 1))]))
    })()
    await pause(1000)
    const file = join(folder, 'house.dump')
    const taken = await ivory('backup', [file], { DATABASE_URL: world.url })
    over = true
    await working
    expect(taken.stdout).to.include('kB. It holds personal data')
    const again = await ivory('backup', [file], { DATABASE_URL: world.url }).catch((error: { stderr: string }) => error)
    expect(again.stderr).to.include('is there already')

    const cluster = await testCluster()
    const name = `restored_${randomUUID().slice(0, 8)}`
    const url = await createDatabase(cluster, name)
    const restored = await ivory('restore', [file], { DATABASE_URL: url })
    expect(restored.stdout).to.match(/^Restored: [1-9]\d* quantity entries, [1-9]\d* budget entries, no differences\./)
    const db = connect(url, 2)
    try {
      expect((await auditDatabase(db)).differences).to.deep.equal([])
      const entries = async (one: Knex) =>
        Number((await one.raw<{ rows: { n: number }[] }>('select count(*)::int as n from quantity_entries')).rows[0]!.n)
      expect(await entries(db)).to.be.within(300, await entries(world.db))
      const refused = await ivory('restore', [file], { DATABASE_URL: url }).catch((error: { stderr: string }) => error)
      expect(refused.stderr).to.include('never writes over it')
    } finally {
      await db.destroy()
      await dropDatabase(cluster, name)
    }
  })
})
