import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { inTransaction } from '#server/jobs/parts.ts'
import { post } from '#server/outbox/post.ts'
import { type Sender, type Senders, sendOutgoing, sweepOutbox } from '#server/outbox/send.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('what leaves the house', () => {
  const world = useWorld()

  async function put(key = randomUUID()): Promise<string> {
    const document = { kind: 'order' as const, id: randomUUID() }
    const payload = { to: 'a@b.example', subject: 'S', text: 'T' }
    await inTransaction(world.jobs, call => post(call, { kind: 'mail', key, payload, document }))
    return ((await world.db('outbox').where({ key }).first('id')) as { id: string }).id
  }
  const row = async (id: string) => (await world.db('outbox').where({ id }).first())!
  const senders = (mail: Sender): Senders => ({ mail, bankFile: mail })
  /** Sends with what is given, and says what it threw. */
  const send = async (id: string, mail: Sender): Promise<unknown> =>
    await sendOutgoing(world.jobs, senders(mail), id).catch((error: unknown) => error)
  const waits = (milliseconds: number): Promise<void> => new Promise(resolve => setTimeout(resolve, milliseconds))
  const jobs = async (id: string): Promise<number> =>
    (await world.db.raw<{ rows: unknown[] }>(`select 1 from graphile_worker.jobs where key = ?`, [id])).rows.length

  it('is put in once for each key, together with the job that sends it, or not at all', async () => {
    const key = randomUUID()
    const id = await put(key)
    expect(await put(key)).to.equal(id)
    expect([(await world.db('outbox').where({ key })).length, await jobs(id)]).to.deep.equal([1, 1])
    const lost = randomUUID()
    await inTransaction(world.jobs, async call => {
      await post(call, {
        kind: 'mail',
        key: lost,
        payload: { to: 'a@b.example', subject: 'S', text: 'T' },
        document: { kind: 'order', id: randomUUID() },
      })
      throw new Error('changed my mind')
    }).catch(() => undefined)
    expect(await world.db('outbox').where({ key: lost })).to.deep.equal([])
  })

  it('is sent once by two workers at once, and holds nothing while it is under way', async () => {
    const id = await put()
    let sent = 0
    const slow: Sender = {
      before: () =>
        Promise.resolve(async () => {
          sent++
          await waits(200)
          // nobody waits for a row while something is on the line
          await world.db('outbox').where({ id }).update({ lastError: 'looked at' })
        }),
    }
    await Promise.all([send(id, slow), send(id, slow)])
    expect([sent, (await row(id)).state, (await row(id)).attempts]).to.deep.equal([1, 'sent', 1])
    expect(await send(id, slow)).to.equal(undefined)
    expect(sent, 'sent is sent').to.equal(1)
  })

  it('that fails waits with why, for people and with its cause, and goes out at the next try', async () => {
    const id = await put()
    const broken: Sender = {
      before: () =>
        Promise.resolve(() =>
          Promise.reject(new Error('The mail server is away.', { cause: new Error('ECONNREFUSED 127.0.0.1:9') })),
        ),
    }
    expect(await send(id, broken)).to.be.instanceOf(Error)
    const failed = await row(id)
    expect([failed.state, failed.lastError, failed.attemptedAt]).to.deep.equal([
      'waiting',
      'The mail server is away.',
      null,
    ])
    expect(failed.failure).to.include('caused by').and.include('ECONNREFUSED')
    await send(id, { before: () => Promise.resolve(() => Promise.resolve()) })
    const now = await row(id)
    expect([now.state, now.attempts, now.lastError, now.failure]).to.deep.equal(['sent', 2, null, null])
  })

  it('that the receiver refuses for good is not tried again, and what follows from that is done', async () => {
    const id = await put()
    let followed = ''
    await send(id, {
      before: () => Promise.resolve(() => Promise.reject(new Error('550 no such mailbox'))),
      refused: (_call, _row, error) => {
        followed = (error as Error).message
        return Promise.resolve(true)
      },
    })
    expect([followed, (await row(id)).state, (await row(id)).lastError]).to.deep.equal([
      '550 no such mailbox',
      'failed',
      '550 no such mailbox',
    ])
  })

  it('that must not leave any more does not', async () => {
    const id = await put()
    await send(id, { before: () => Promise.resolve(undefined) })
    expect([(await row(id)).state, (await row(id)).lastError]).to.deep.equal(['failed', 'withdrawn'])
  })

  it('what has left is settled in the same step as what follows from it', async () => {
    const id = await put()
    const error = await send(id, {
      before: () => Promise.resolve(() => Promise.resolve()),
      after: () => Promise.reject(new Error('could not be settled')),
    })
    expect((error as Error).message).to.equal('could not be settled')
    expect((await row(id)).state, 'it is told again, under the same key').to.equal('waiting')
  })

  it('of a worker that died is left alone while it may still be under way, then sent by another', async () => {
    const id = await put()
    const good: Sender = { before: () => Promise.resolve(() => Promise.resolve()) }
    await world.db('outbox').where({ id }).update({ attemptedAt: new Date().toISOString() })
    await send(id, good)
    expect((await row(id)).state).to.equal('waiting')
    await world
      .db('outbox')
      .where({ id })
      .update({ attemptedAt: new Date(Date.now() - 61_000).toISOString() })
    await send(id, good)
    expect((await row(id)).state).to.equal('sent')
  })

  it('that lost its job is found by the sweep, what is new or sent is not touched', async () => {
    const [lost, fresh, gone] = [await put(), await put(), await put()]
    await world.db.raw(`delete from graphile_worker._private_jobs`)
    await world.db('outbox').whereIn('id', [lost, gone]).update({ createdAt: '2026-01-01' })
    await world.db('outbox').where({ id: gone }).update({ state: 'sent' })
    await sweepOutbox(world.jobs)
    expect([await jobs(lost), await jobs(fresh), await jobs(gone)]).to.deep.equal([1, 0, 0])
    await sweepOutbox(world.jobs)
    expect(await jobs(lost), 'once').to.equal(1)
  })
})
