import { expect } from 'chai'
import { ReadOrganisation } from '#contract/setup/house.ts'
import { FetchRates, ReadRateService, SaveRateService } from '#contract/setup/rateService.ts'
import { JOBS } from '#server/app/jobs.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('the service of reference rates', () => {
  const world = useWorld()
  const fetchNow = async (settings = {}, id = 'asked'): Promise<void> => {
    await JOBS.fetchRates!({ ...world.jobs, settings: { ...world.jobs.settings, ...settings } }, { id })
  }
  const last = async () => (await (await world.as('Wren')).do(ReadRateService)).last
  const rates = async () => (await (await world.as('Wren')).do(ReadOrganisation)).rates

  it('is fetched on its days only where somebody wants it; what was entered stays', async () => {
    const wren = await world.as('Wren')
    const before = await rates()
    await fetchNow({}, '')
    expect([await last(), (await rates()).length]).to.deep.equal([null, before.length])
    await wren.do(SaveRateService, { body: { daily: true } })
    await Promise.all([fetchNow({}, ''), fetchNow({}, '')])
    expect(await last(), 'of two at once the second finds nothing new').to.deep.include({ taken: 0, fault: null })
    const after = await rates()
    expect(after.length - before.length).to.be.greaterThan(10)
    expect(after).to.deep.include.members(before)
    const isk = after.filter(one => one.currency === 'ISK').at(0)!
    expect(1 / Number(isk.rate), 'units for one euro').to.be.within(140, 152)
    await fetchNow()
    expect((await last())!.taken, 'the same day again').to.equal(0)
  })

  it('says what stood in the way, and is asked again', async () => {
    world.rates.faults.down = true
    await fetchNow()
    expect((await last())!.fault).to.equal('unreachable')
    world.rates.faults.down = false
    world.rates.faults.garbled = true
    await fetchNow()
    expect((await last())!.fault).to.equal('unreadable')
    world.rates.faults.garbled = false
    await fetchNow({ ratesUrl: 'http://127.0.0.1:9/daily.xml' })
    expect((await last())!.fault).to.equal('unreachable')
    await fetchNow({ ratesUrl: '' })
    expect((await last())!.fault).to.equal('notConnected')
    await fetchNow()
    expect((await last())!.fault).to.equal(null)
    expect((await (await world.as('Wren')).do(ReadRateService)).daily, 'what was wished stays').to.equal(true)
  })

  it('is asked by who may set up: a job, once however often it is pressed', async () => {
    expect((await (await world.as('Pilar')).call(FetchRates, {})).status).to.equal(403)
    const wren = await world.as('Wren')
    await wren.do(FetchRates, {})
    await wren.do(FetchRates, {})
    const { rows } = await world.db.raw<{ rows: { payload: { id: string } }[] }>(
      `select payload from graphile_worker._private_jobs where key = 'fetch-rates'`,
    )
    expect(rows.map(row => row.payload)).to.deep.equal([{ id: 'asked' }])
  })
})
