import { expect } from 'chai'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import { ReadJob, SeeJob } from '#contract/source/duplicates.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { writing } from '#server/call.ts'
import { runLongJob, startJob, worksLong, type LongWork } from '#server/jobs/longJobs.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { searchDuplicates } from '#server/source/duplicateActs.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('a job that runs long', () => {
  const world = useWorld()
  after(() => worksLong('duplicates', searchDuplicates))

  async function started(work: LongWork): Promise<string> {
    worksLong('duplicates', work)
    const rasmus = (await world.db('people').where('name', 'like', 'Rasmus %').first('id')) as { id: string }
    const setting = await settingOf(world.jobs, rasmus.id)
    // one search at a time: the one before is over
    const { id } = await world.db.transaction(trx => startJob(writing(trx, setting), 'duplicates', { of: 'all' }))
    return id
  }
  const read = async (id: string) => (await world.as('Rasmus')).do(ReadJob, { params: { id } })
  const waiting = async (id: string): Promise<string[]> =>
    (await (await world.as('Rasmus')).do(ReadDesk)).items
      .filter(item => item.path.endsWith(id))
      .map(item => `${item.key}`)
  const run = async (id: string): Promise<unknown> => await runLongJob(world.jobs, id).catch((error: unknown) => error)

  it('computes without holding anything, says how far it is, and writes at the end in one step', async () => {
    let seen: string[] = []
    const id = await started(async (call, params, progress) => {
      expect(params).to.deep.equal({ of: 'all' })
      await progress(3, 10)
      const now = await read(id)
      const { rows } = await world.db.raw<{ rows: unknown[] }>(
        `select 1 from pg_stat_activity where state = 'idle in transaction' and datname = current_database()`,
      )
      seen = [now.state, `${now.done} of ${now.total}`, `${rows.length} transactions open`, call.actor.name]
      return async write => {
        await write.trx('settings').insert({ key: 'made by a job', value: '1' })
        return { compared: 10, found: 0 }
      }
    })
    expect((await read(id)).state).to.equal('waiting')
    await run(id)
    expect(seen).to.deep.equal(['running', '3 of 10', '0 transactions open', 'Rasmus Tielemann'])
    const done = await read(id)
    expect([done.state, done.result, done.failure]).to.deep.equal(['done', { compared: 10, found: 0 }, null])
    expect(await world.db('settings').where({ key: 'made by a job' })).to.have.length(1)
  })

  it('is done once: run again it does nothing', async () => {
    let times = 0
    const id = await started(() => {
      times++
      return Promise.resolve(() => Promise.resolve({}))
    })
    await run(id)
    await run(id)
    expect(times).to.equal(1)
  })

  it('that died in between begins again and leaves nothing half done', async () => {
    let times = 0
    const id = await started(() => {
      times++
      return Promise.resolve(() => Promise.resolve({ times }))
    })
    await world.db('longJobs').where({ id }).update({ state: 'applying', done: 5, total: 10 })
    await run(id)
    expect([(await read(id)).state, (await read(id)).result]).to.deep.equal(['done', { times: 1 }])
  })

  it('that is refused says why to whoever started it; nothing of it is written', async () => {
    const id = await started(() =>
      Promise.resolve(async write => {
        await write.trx('settings').insert({ key: 'half done', value: '1' })
        throw new RuleBroken(stop('import.mapping'))
      }),
    )
    expect(await run(id)).to.equal(undefined)
    const failed = await read(id)
    expect(failed.state).to.equal('failed')
    expect(failed.failure).to.be.a('string').and.not.include('import.mapping')
    expect(await world.db('settings').where({ key: 'half done' })).to.deep.equal([])
  })

  it('that breaks keeps its cause for those who run the program, and says a reference to the others', async () => {
    const id = await started(() => Promise.reject(new Error('the disk is full')))
    expect(await run(id)).to.be.instanceOf(Error)
    const failed = await read(id)
    expect([failed.state, failed.failure!.includes('disk'), failed.failure!.includes(id.slice(0, 8))]).to.deep.equal([
      'failed',
      false,
      true,
    ])
    const row = (await world.db('longJobs').where({ id }).first('cause')) as { cause: string }
    expect(row.cause).to.include('the disk is full').and.include('longJobs')
  })

  it('stands on the Desk of whoever started it until they have seen how it ended', async () => {
    const id = await started(() => Promise.resolve(() => Promise.resolve({})))
    expect(await waiting(id)).to.have.length(1)
    await run(id)
    const [rasmus, pilar] = [await world.as('Rasmus'), await world.as('Pilar')]
    expect(await waiting(id)).to.have.length(1)
    await pilar.call(SeeJob, { params: { id } })
    expect(await waiting(id), 'somebody else looked').to.have.length(1)
    await rasmus.do(SeeJob, { params: { id } })
    expect(await waiting(id)).to.deep.equal([])
  })
})
