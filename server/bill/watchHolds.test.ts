import { expect } from 'chai'
import { ClearHold, ReadInvoice } from '#contract/bill/endpoints.ts'
import { SaveBillingSettings } from '#contract/bill/settings.ts'
import { watchHolds } from '#server/bill/watchHolds.ts'
import { billed, goodsLine, ordered, received } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

describe('a difference that nobody clears', () => {
  const world = useWorld()
  const set = async (remindHours: number, escalateHours: number) => (await world.as('Adaeze')).do(SaveBillingSettings, { body: { postUntouched: false, ruleSets: [], remindHours, escalateHours } }) // prettier-ignore
  /** As if so many days had gone by. */
  const later = (days: number) => watchHolds({ db: world.db, clock: () => new Date(Date.now() + days * 86_400_000).toISOString() }) // prettier-ignore

  it('reminds whose it is, tells those above, who may clear it then, and is silent where the house wants it so', async () => {
    await set(0, 0)
    expect(await later(60)).to.equal(0)
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '6')])
    await received(world, order)
    const { id } = await billed(world, order, { price: '9999' })
    const params = { id }
    const pilar = await world.as('Pilar')
    const adaeze = await world.as('Adaeze')
    const hold = async () => (await adaeze.do(ReadInvoice, { params })).holds.find(one => one.kind === 'price' && one.endedAt === null)! // prettier-ignore
    const clear = async () => adaeze.call(ClearHold, { params: { id, holdId: (await hold()).id }, body: { version: (await adaeze.do(ReadInvoice, { params })).version, reason: 'The price is right.' } }) // prettier-ignore
    expect([(await clear()).codes, (await hold()).mayClear]).to.deep.equal([['bill.holdNotYours'], false])
    await world.db('invoiceHolds').whereNot({ invoiceId: id }).update({ openedAt: '2099-01-01T00:00:00Z' })
    await set(8, 24)
    expect(await later(0)).to.equal(0)
    expect(await later(2)).to.be.above(0)
    const row = async () =>
      (await world
        .db('invoiceHolds')
        .where({ id: (await hold()).id })
        .first())!
    expect([(await row()).remindedAt !== null, (await row()).escalatedAt]).to.deep.equal([true, null])
    expect(await later(2)).to.equal(0)
    expect(await later(9)).to.be.above(0)
    expect((await row()).escalatedAt).not.to.equal(null)
    expect([(await hold()).mayClear, (await hold()).clearers.length > 0]).to.deep.equal([true, true])
    expect((await pilar.do(ReadInvoice, { params })).holds.some(one => one.mayClear)).to.equal(true)
    await sendAll(world)
    const subjects = await world.db('outbox').where({ kind: 'mail', documentId: id }).select<{ subject: string }[]>(world.db.raw(`payload ->> 'subject' as subject`)).then(rows => rows.map(one => one.subject)) // prettier-ignore
    expect(
      subjects.some(one => /still waits for you/.test(one)),
      subjects.join(),
    ).to.equal(true)
    expect(subjects.some(one => /waits too long/.test(one))).to.equal(true)
    expect((await world.db('history').where({ documentId: id, action: 'escalated' })).length).to.equal(1)
    expect((await clear()).codes).not.to.include('bill.holdNotYours')
  })
})
