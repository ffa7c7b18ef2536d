import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { ChangeAwardPlan, ReadAwardPlan, RecheckAwardPlan, StopAwardPlan } from '#contract/award/plans.ts'
import { ProposeAward } from '#contract/source/comparing.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import { answers, eventSent, kindWith, lineBody, sheetOf } from '#test-helpers/events.ts'
import { useWorld } from '#test-helpers/world.ts'

const NORD = 'Nordhavn Pumpeverk'
const SEE = 'Seefelder Pumpen GmbH'
const ACQUA = 'Acquanera Impianti S.r.l.'
const NO_TERMS = { suppliers: {}, bids: {}, bundles: [], quantities: {} }

describe('award plans of events', function () {
  this.timeout(120_000)
  const world = useWorld()
  const lead = () => world.as('Rasmus')

  /** An event that three answered: two lines, each with another who is cheapest. */
  async function answered(settings = {}): Promise<string> {
    const kind = await kindWith(world, { pricing: 'components', components: [{ key: 'f', name: 'Freight', basis: 'perLot', kind: 'freight' }], ...settings }) // prettier-ignore
    const id = await eventSent(world, kind, [NORD, SEE, ACQUA], body => ({
      lines: ['Pump', 'Valve'].map(description => lineBody(body.lots[0]!.id, { description, quantity: '10' })),
    }))
    const { lots } = (await sheetOf(world, id)).body
    for (const [name, prices, freight] of [[NORD, ['10', '22'], '5'], [SEE, ['12', '20'], '40'], [ACQUA, ['11', '21'], '8']] as const) // prettier-ignore
      expect((await answers(await world.as(`at ${name}`), id, prices, { lump: { [lots[0]!.id]: { f: freight } } })).status).to.equal(200) // prettier-ignore
    return id
  }
  const read = async (id: string, who = 'Rasmus') => (await world.as(who)).do(ReadAwardPlan, { params: { id } })
  const compute = async (id: string): Promise<void> => {
    const [run] = await world.db('awardPlanRuns').where({ eventId: id }).orderBy('at', 'desc').limit(1)
    await runLongJob(world.jobs, run!.jobId)
  }
  const wish = (what: object, changed = {}) => ({ id: randomUUID(), must: true, worth: '', worthIn: 'amount', what, ...changed }) as never // prettier-ignore
  const change = async (id: string, version: number, wishes: never[] = [], terms: object = NO_TERMS) => (await lead()).call(ChangeAwardPlan, { params: { id }, body: { version, wishes, terms: terms as never } }) // prettier-ignore
  /** Freight and rates differ by currency: the row by its key. */
  const row = async (id: string, key: string) => (await read(id)).run!.outcome!.rows.find(one => one.key === key)!

  it('are computed from the answers at landed cost, kept whole, and come to the same cent again', async () => {
    const id = await answered()
    expect(await read(id)).to.deep.include({ version: 0, run: null, before: null, mayPlan: true, mayPropose: false })
    expect((await change(id, 0)).status).to.equal(200)
    expect((await read(id)).run).to.deep.include({ state: 'waiting', outcome: null })
    await compute(id)
    const { run, lines, suppliers } = await read(id)
    expect(run).to.deep.include({ state: 'done', outdated: false, by: 'Rasmus Tielemann' })
    expect([lines.length, suppliers.length]).to.deep.equal([2, 3])
    const best = await row(id, 'best')
    expect(best.shares).to.have.length(2)
    expect(Number(best.cost)).to.be.at.most(Number((await row(id, 'byHand')).cost))
    const { plans } = await (await lead()).do(RecheckAwardPlan, { params: { id } })
    expect(plans.map(one => [one.key, one.same])).to.deep.equal(run!.outcome!.rows.map(one => [one.key, true]))
  })

  it('follow a wish, say what it costs, and what the change did', async () => {
    const id = await answered()
    await change(id, 0)
    await compute(id)
    const free = await row(id, 'best')
    const out = free.shares[0]!.supplierId
    expect((await change(id, 1, [wish({ kind: 'without', supplierId: out })])).status).to.equal(200)
    await compute(id)
    const { run, before, wishes } = await read(id)
    expect(run!.outcome!.rows[0]!.shares.map(one => one.supplierId)).to.not.include(out)
    const [price] = run!.outcome!.prices
    expect(Number(price!.price)).to.be.closeTo(Number(run!.outcome!.rows[0]!.cost) - Number(free.cost), 0.001)
    expect(before!.cost).to.equal(free.cost)
    expect(wishes).to.have.length(1)
    expect(run!.outcome!.why.map(one => one.because)).to.include('wish')
  })

  it('tell contradictions, and what has no plan', async () => {
    const id = await answered()
    const { suppliers } = await read(id)
    const all = suppliers.map(one => wish({ kind: 'without', supplierId: one.id }))
    await change(id, 0, all)
    await compute(id)
    const { conflict, rows } = (await read(id)).run!.outcome!
    expect(conflict!.wishIds).to.have.length(3)
    expect(conflict!.easing.every(one => one.cost !== null)).to.equal(true)
    expect(rows.map(one => one.key)).to.not.include('best')
  })

  it('count what the team adds, and are outdated when answers change', async () => {
    const id = await answered()
    const { suppliers } = await read(id)
    const see = suppliers.find(one => one.name === SEE)!.id
    await change(id, 0, [], { ...NO_TERMS, suppliers: { [see]: { charge: '', rebates: [{ from: '10', percent: '60' }], rebateOn: 'everything' } } }) // prettier-ignore
    await compute(id)
    expect((await row(id, 'best')).suppliers.map(one => one.supplierId)).to.deep.equal([see])
    expect((await answers(await world.as(`at ${NORD}`), id, ['9', '9'])).status).to.equal(200)
    expect((await read(id)).run!.outdated).to.equal(true)
  })

  it('go into the award with their reason', async () => {
    const id = await answered()
    await change(id, 0)
    await compute(id)
    await world
      .db('events')
      .where({ id })
      .update({ endsAt: new Date(Date.now() - 1000).toISOString() })
    await watchEvents(world.jobs)
    const { eventVersion, mayPropose } = await read(id)
    expect(mayPropose).to.equal(true)
    const { shares } = await row(id, 'best')
    expect((await (await lead()).call(ProposeAward, { params: { id }, body: { version: eventVersion, shares, reason: 'Award plan: the cheapest of all.' } })).status).to.equal(200) // prettier-ignore
    expect(['awarded', 'deciding']).to.include((await sheetOf(world, id)).state)
    expect((await read(id)).mayPropose).to.equal(false)
  })

  it('are refused from a stale page, stopped when asked, and computed again after a crash', async () => {
    const id = await answered()
    await change(id, 0)
    expect((await change(id, 0)).codes).to.deep.equal(['plan.changed'])
    expect(await (await lead()).do(StopAwardPlan, { params: { id } })).to.deep.equal({ stopped: true })
    await world.db('longJobs').where({ kind: 'awardPlan', state: 'waiting' }).update({ state: 'running' })
    await compute(id)
    const { run } = await read(id)
    expect([run!.state, run!.outcome!.rows.map(one => one.key).includes('best')]).to.deep.equal(['done', true])
    expect(await (await lead()).do(StopAwardPlan, { params: { id } })).to.deep.equal({ stopped: false })
  })

  it('are nobody’s who may not see the event, and nothing of a sealed one before its end', async () => {
    const id = await answered({ sealed: true })
    const plan = await read(id)
    expect(plan.reasons.map(one => one.code)).to.deep.equal(['compare.sealed'])
    expect([plan.bids, plan.suppliers, plan.lines, plan.run]).to.deep.equal([[], [], [], null])
    expect((await change(id, 0)).codes).to.deep.equal(['compare.sealed'])
    const open = await answered()
    for (const who of ['Ines', `at ${NORD}`]) expect((await (await world.as(who)).call(ReadAwardPlan, { params: { id: open } })).status, who).to.be.oneOf([403, 404]) // prettier-ignore
    expect((await (await world.as('Adaeze')).call(ChangeAwardPlan, { params: { id: open }, body: { version: 0, wishes: [], terms: NO_TERMS } })).status).to.equal(403) // prettier-ignore
    expect((await read(open, 'Adaeze')).mayPlan).to.equal(false)
  })

  it('refuse figures that nobody means', async () => {
    const id = await answered()
    const { lines, suppliers } = await read(id)
    for (const what of [
      { kind: 'mostSuppliers', count: 0 },
      { kind: 'shareLine', lineIds: [lines[0]!.id], most: '140' },
      { kind: 'deliveredWithin', days: -1 },
      { kind: 'twoSuppliers', lineIds: [] },
      { kind: 'share', whom: { kind: 'country', country: 'Nowhere' }, in: 'percent', least: '1', most: '' },
    ])
      // prettier-ignore
      expect((await change(id, 0, [wish(what)])).status, JSON.stringify(what)).to.equal(400)
    const rebate = { [suppliers[0]!.id]: { charge: '', rebates: [{ from: '10', percent: '140' }], rebateOn: 'everything' } } // prettier-ignore
    expect((await change(id, 0, [], { ...NO_TERMS, suppliers: rebate })).status).to.equal(400)
    expect((await change(id, 0, [], { ...NO_TERMS, bids: { 'a b': { unitCost: '-1', capacity: '', tiers: [], tierPrices: 'allUnits' } } })).status).to.equal(400) // prettier-ignore
  })
})
