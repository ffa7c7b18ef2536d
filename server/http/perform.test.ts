import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Read, RefusedAndKept, type Setting, type Write } from '#server/call.ts'
import { perform } from '#server/http/perform.ts'
import { direct, glances, reads, type Route, type Told, writes } from '#server/http/route.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { useWorld } from '#test-helpers/world.ts'

const Answer = z.strictObject({ text: z.string() })
const ReadIt = defineEndpoint({ name: 'it.read', method: 'get', path: '/it', permission: 'anyone', response: Answer })
const AskIt = defineEndpoint({
  name: 'it.ask',
  method: 'post',
  path: '/it/ask',
  permission: 'anyone',
  safe: true,
  response: Answer,
})
const DoIt = defineEndpoint({ name: 'it.do', method: 'post', path: '/it', permission: 'anyone', response: Answer })
const DoOther = defineEndpoint({ name: 'it.other', method: 'post', path: '/o', permission: 'anyone', response: Answer })

const TOLD = {} as Told
const NOTHING = { params: {}, query: {}, body: {} }

describe('the way of a request', () => {
  const world = useWorld()
  let setting: Setting
  before(async () => {
    setting = await settingOf(world.jobs)
  })

  /** Carries a route out; what it answered or why it did not. */
  async function done(route: Route, key?: string, input: object = {}): Promise<{ answer?: unknown; error?: unknown }> {
    let answer: unknown
    try {
      await perform(world.db, route, setting, { ...NOTHING, ...input }, TOLD, key, {
        begun: () => false,
        send: async given => {
          answer = await Promise.resolve(given)
        },
      })
      return { answer }
    } catch (error) {
      return { error }
    }
  }
  const codes = (error: unknown): string[] => (error as RuleBroken).reasons.map(reason => reason.code)
  const put = (call: Read, text: string): Promise<unknown> =>
    call.trx('settings').insert({ key: text, value: JSON.stringify(text) })
  const kept = async (text: string): Promise<boolean> =>
    (await world.db('settings').where({ key: text }).first('key')) !== undefined

  it('a reading sees one snapshot, and can neither write nor lock', async () => {
    const name = randomUUID()
    const seen = await done(
      reads(ReadIt, async call => {
        const count = async (): Promise<number> =>
          Number(((await call.trx('settings').where({ key: name }).count({ n: '*' })) as { n: string }[])[0]!.n)
        const before = await count()
        await world.db('settings').insert({ key: name, value: '1' })
        return { text: `${before} ${await count()}` }
      }),
    )
    expect(seen.answer).to.deep.equal({ text: '0 0' })
    expect(await kept(name)).to.equal(true)
    await world.db('settings').where({ key: name }).delete()

    const refused = await done(reads(ReadIt, async call => ({ text: String(await put(call, randomUUID())) })))
    expect((refused.error as { code: string }).code, 'read-only').to.equal('25006')
    const locking = await done(
      reads(ReadIt, async call => ({ text: String(await call.trx('orders').forUpdate().first('id')) })),
    )
    expect((locking.error as { code: string }).code, 'read-only').to.equal('25006')
  })

  it('a reading is sent while its snapshot is open, what is changed when it is committed', async () => {
    const name = randomUUID()
    let seenAtSending: boolean | undefined
    await perform(
      world.db,
      writes(DoIt, async call => {
        await put(call, name)
        return { text: 'put' }
      }),
      setting,
      NOTHING,
      TOLD,
      undefined,
      {
        begun: () => false,
        send: async () => {
          seenAtSending = await kept(name)
        },
      },
    )
    expect(seenAtSending).to.equal(true)
    await world.db('settings').where({ key: name }).delete()
  })

  it('an endpoint is bound as its contract says: what reads, and what changes something', () => {
    const answer = (): Promise<{ text: string }> => Promise.resolve({ text: '' })
    expect(() => writes(ReadIt, answer)).to.throw(/bound as writing/)
    expect(() => reads(DoIt, answer)).to.throw(/bound as reading/)
    expect(() => glances(DoIt, answer)).to.throw(/bound as glance/)
    expect(() => writes(AskIt, answer)).to.throw(/bound as writing/)
    expect(reads(AskIt, answer).mode).to.equal('reading')
    expect(direct(DoIt, answer).mode).to.equal('direct')
  })

  it('a reading that needs a body writes no key', async () => {
    const key = randomUUID()
    expect(
      (
        await done(
          reads(AskIt, () => Promise.resolve({ text: 'a' })),
          key,
        )
      ).answer,
    ).to.deep.equal({ text: 'a' })
    expect(await world.db('requestKeys').where({ key })).to.deep.equal([])
  })

  it('a change that fails leaves nothing, and its key can be used again', async () => {
    const [name, key] = [randomUUID(), randomUUID()]
    const failing = writes(DoIt, async call => {
      await put(call, name)
      throw new RuleBroken(stop('order.openInvoices'))
    })
    expect(codes((await done(failing, key)).error)).to.deep.equal(['order.openInvoices'])
    expect([await kept(name), (await world.db('requestKeys').where({ key })).length]).to.deep.equal([false, 0])
    const good = writes(DoIt, () => Promise.resolve({ text: 'good' }))
    expect((await done(good, key)).answer).to.deep.equal({ text: 'good' })
  })

  it('a refusal of which something is kept is committed and still refused; its key can be used again', async () => {
    const [name, key] = [randomUUID(), randomUUID()]
    const holding = writes(DoIt, async call => {
      await put(call, name)
      throw new RefusedAndKept(stop('bill.heldUp'))
    })
    expect(codes((await done(holding, key)).error)).to.deep.equal(['bill.heldUp'])
    expect([await kept(name), (await world.db('requestKeys').where({ key })).length]).to.deep.equal([true, 0])
    await world.db('settings').where({ key: name }).delete()
  })

  it('a change with a key is done once, whoever asks again gets the same answer; another content is refused', async () => {
    const key = randomUUID()
    let times = 0
    const counting = writes(DoIt, () => Promise.resolve({ text: `time ${++times}` }))
    const first = await done(counting, key, { body: { a: 1 } })
    expect((await done(counting, key, { body: { a: 1 } })).answer).to.deep.equal(first.answer)
    expect(codes((await done(counting, key, { body: { a: 2 } })).error)).to.deep.equal(['request.keyReused'])
    const other = writes(DoOther, () => Promise.resolve({ text: 'other' }))
    expect(codes((await done(other, key, { body: { a: 1 } })).error)).to.deep.equal(['request.keyReused'])
    expect(times).to.equal(1)
  })

  it('of two at once with one key the second waits and gets the answer of the first', async () => {
    const key = randomUUID()
    let times = 0
    const slow = writes(DoIt, async (call: Write) => {
      times++
      await call.trx.raw('select pg_sleep(0.2)')
      return { text: `time ${times}` }
    })
    const both = await Promise.all([done(slow, key), done(slow, key)])
    expect(both.map(one => one.answer)).to.deep.equal([{ text: 'time 1' }, { text: 'time 1' }])
    expect(times).to.equal(1)
  })

  it('an answer that breaks the contract is a fault of ours, and nothing of its change is kept', async () => {
    const name = randomUUID()
    const wrong = writes(DoIt, async call => {
      await put(call, name)
      return { text: 7 } as never
    })
    const { error } = await done(wrong)
    expect((error as Error).message).to.match(/answer of it\.do breaks its contract/)
    expect(error).to.not.be.instanceOf(RuleBroken)
    expect(await kept(name)).to.equal(false)
  })

  it('a deadlock is tried again, and the work is then done once', async () => {
    const names = [randomUUID(), randomUUID()].sort()
    for (const name of names) await world.db('settings').insert({ key: name, value: '0' })
    const crossing = (own: string, other: string): Route =>
      writes(DoIt, async call => {
        await call
          .trx('settings')
          .where({ key: own })
          .update({ value: call.trx.raw(`to_jsonb((value #>> '{}')::int + 1)`) })
        await call.trx.raw('select pg_sleep(0.3)')
        await call
          .trx('settings')
          .where({ key: other })
          .update({ value: call.trx.raw(`to_jsonb((value #>> '{}')::int + 1)`) })
        return { text: 'both' }
      })
    const outcomes = await Promise.all([
      done(crossing(names[0]!, names[1]!), randomUUID()),
      done(crossing(names[1]!, names[0]!), randomUUID()),
    ])
    expect(outcomes.map(one => one.answer)).to.deep.equal([{ text: 'both' }, { text: 'both' }])
    const values = (await world.db('settings').whereIn('key', names).pluck('value')) as number[]
    expect(values.map(Number)).to.deep.equal([2, 2])
    await world.db('settings').whereIn('key', names).delete()
  })

  it('once an answer has begun to leave, nothing is tried again', async () => {
    let times = 0
    const breaking = reads(ReadIt, () => {
      times++
      return Promise.reject(Object.assign(new Error('gone'), { code: '40001' }))
    })
    const error: unknown = await perform(world.db, breaking, setting, NOTHING, TOLD, undefined, {
      begun: () => true,
      send: () => Promise.resolve(),
    }).catch((fault: unknown) => fault)
    expect([(error as Error).message, times]).to.deep.equal(['gone', 1])
  })
})
