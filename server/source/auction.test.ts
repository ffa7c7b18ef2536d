import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { ActOnDay, BidBehalf, PlaceBid, ReadAskedDay, ReadDay, RemoveBid } from '#contract/source/day.ts'
import { CompareEvent, ProposeAward } from '#contract/source/comparing.ts'
import { ReadEventLog, RecordConsent, SuspendSupplier } from '#contract/source/events.ts'
import type { EventKind } from '#core/source/eventKind.ts'
import { NEW_KIND } from '#core/source/eventKind.ts'
import { LIVE_BIDDERS, LIVE_USUAL, openLiveAuction } from '#demo/liveAuction.ts'
import { senders } from '#server/app/jobs.ts'
import { sendOutgoing } from '#server/outbox/send.ts'
import { startBidder } from '#stand-ins/bidder.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import { eventSent, inDays, kindWith, lineBody, sheetOf } from '#test-helpers/events.ts'
import { type Client, useWorld } from '#test-helpers/world.ts'

const NORD = 'Nordhavn Pumpeverk'
const SEE = 'Seefelder Pumpen GmbH'
const ACQUA = 'Acquanera Impianti S.r.l.'
const AUCTION: Partial<EventKind> = { format: 'auction', partQuantity: false, alternatives: false }

describe('a reverse auction', () => {
  const world = useWorld()
  /** An auction of one lot of ten pumps that somebody has just opened. */
  async function opened(changed: Partial<EventKind> = {}, open = true) {
    const kindId = await kindWith(world, { ...AUCTION, ...changed })
    const id = await eventSent(world, kindId, [NORD, SEE, ACQUA], body => ({ opensAt: inDays(1), endsAt: null, lines: [lineBody(body.lots[0]!.id, { reference: '20' })] })) // prettier-ignore
    const { body } = await sheetOf(world, id)
    const [lot] = body.lots
    const [line] = body.lines
    const lead = await world.as('Rasmus')
    if (open) await lead.do(ActOnDay, { params: { id }, body: { act: 'start', lotId: null, bySeconds: 0, reason: '' } })
    const bid = (who: Client, price: string, bidId = randomUUID()) =>
      who.call(PlaceBid, { params: { id }, body: { bidId, lotId: lot!.id, prices: { [line!.id]: price } } })
    const day = () => lead.do(ReadDay, { params: { id } })
    const act = (name: 'start' | 'pause' | 'resume' | 'extend' | 'end', bySeconds = 0, reason = 'Because.') => lead.call(ActOnDay, { params: { id }, body: { act: name, lotId: lot!.id, bySeconds, reason } }) // prettier-ignore
    return { id, lead, lotId: lot!.id, lineId: line!.id, bid, day, act, nord: await world.as(`at ${NORD}`), see: await world.as(`at ${SEE}`), acqua: await world.as(`at ${ACQUA}`) } // prettier-ignore
  }

  it('takes bids from its opening on, says at once whether and why not, and never one twice', async () => {
    const { id, bid, nord, see, day, act } = await opened({}, false)
    expect((await bid(nord, '19')).codes).to.deep.equal(['bid.planned'])
    await act('start')
    const bidId = randomUUID()
    expect((await bid(nord, '19', bidId)).body).to.deep.include({ total: '190.00', place: 1 })
    expect((await bid(nord, '19', bidId)).status).to.equal(200)
    expect((await bid(see, '18.5')).status).to.equal(200)
    const { lots } = await day()
    expect(lots[0]!.bids.filter(one => one.total === '190.00')).to.have.lengthOf(1)
    expect((await bid(nord, '0')).codes).to.deep.equal(['bid.aboveZero', 'bid.lineAboveZero'])
    expect((await bid(nord, '-1')).codes).to.deep.equal(['bid.aboveZero', 'bid.lineAboveZero'])
    expect((await bid(nord, '999999999999')).codes).to.deep.equal(['bid.tooLarge'])
    expect((await bid(nord, '1.1234567')).status).to.equal(400)
    expect((await world.as('Pilar').then(pilar => bid(pilar, '1'))).status).to.equal(403)
    const seen = await see.do(ReadAskedDay, { params: { id } })
    expect(seen.lots[0]!.place).to.equal(1)
  })

  it('counts a bid at the opening and none at the end, whoever notices; equal ones by who came first', async () => {
    const { id, bid, nord, see, lotId, day } = await opened()
    await bid(nord, '19')
    await bid(see, '19')
    expect((await day()).lots[0]!.standing.map(one => one.place)).to.deep.equal([1, 2])
    // its time is over although nobody has said so
    const log = await world.db('eventLog').where({ eventId: id, action: 'opened' }).first('details', 'sequence')
    expect(log!.details).to.include.keys('at', 'endsAt')
    const ended = await (await world.as('Rasmus')).call(ActOnDay, { params: { id }, body: { act: 'end', lotId, bySeconds: 0, reason: 'All in.' } }) // prettier-ignore
    expect(ended.status).to.equal(200)
    const [late, later] = await Promise.all([bid(nord, '1'), bid(see, '1')])
    expect([late.codes, later.codes]).to.deep.equal([['event.overAsk'], ['event.overAsk']])
    expect((await sheetOf(world, id)).state).to.equal('over')
  })

  it('moves its end by late bids that change the lead, at most so often; refused ones move nothing', async () => {
    const { bid, nord, see, day } = await opened({ lot: { ...NEW_KIND.lot, minutes: 1, extension: { withinSeconds: 120, bySeconds: 60, from: 'end', places: 1, most: 2 } } }) // prettier-ignore
    const first = (await day()).lots[0]!.endsAt!
    await bid(nord, '19')
    const second = (await day()).lots[0]!
    expect(Date.parse(second.endsAt!) - Date.parse(first)).to.equal(60_000)
    expect((await bid(see, '0')).status).to.not.equal(200)
    await bid(see, '19.5')
    expect((await day()).lots[0]!.extensions).to.equal(1)
    await bid(see, '18')
    await bid(nord, '17')
    const { extensions, endsAt } = (await day()).lots[0]!
    expect([extensions, Date.parse(endsAt!) - Date.parse(first)]).to.deep.equal([2, 120_000])
  })

  it('stands while it is paused, goes on with what was left, and its ledger re-adds', async () => {
    const { bid, nord, day, act, id } = await opened()
    await bid(nord, '19')
    expect((await act('pause', 0, '')).codes).to.deep.equal(['event.reason'])
    await act('pause')
    expect((await bid(nord, '18')).codes).to.deep.equal(['bid.paused'])
    const { left, phase } = (await day()).lots[0]!
    expect(phase).to.equal('paused')
    await act('extend', 300)
    expect((await day()).lots[0]!.left).to.equal(left! + 300_000)
    expect((await act('start')).codes).to.deep.equal(['day.paused'])
    await act('resume')
    const now = await day()
    expect(Date.parse(now.lots[0]!.endsAt!) - Date.parse(now.serverTime)).to.be.within(left! + 299_000, left! + 300_000)
    expect((await world.db('events').where({ id }).first('endsAt'))!.endsAt).to.equal(now.lots[0]!.endsAt)
    expect((await bid(nord, '18')).status).to.equal(200)
  })

  it('lets a bid be taken out with a reason, and a supplier suspended; both at once by two of us', async () => {
    const { id, bid, nord, see, acqua, day, lead } = await opened()
    await bid(nord, '19')
    await bid(see, '18')
    await bid(see, '3')
    await bid(acqua, '17')
    const wrong = (await day()).lots[0]!.bids.find(one => one.total === '30.00')!
    const sheet = await sheetOf(world, id)
    const one = sheet.invited.find(other => other.name === ACQUA)!
    const pilar = await world.as('Pilar')
    const [removed, suspended] = await Promise.all([
      lead.call(RemoveBid, { params: { id, bidId: wrong.id }, body: { reason: 'Typed wrongly.' } }),
      pilar.call(SuspendSupplier, { params: { id, invitedId: one.id }, body: { version: sheet.version, lift: false, reason: 'Against the terms.' } }), // prettier-ignore
    ])
    expect([removed.status, suspended.status]).to.deep.equal([200, 200])
    const { standing, endsAt } = (await day()).lots[0]!
    expect(standing.map(other => other.total)).to.deep.equal(['180.00', '190.00'])
    expect((await bid(acqua, '1')).codes).to.deep.equal(['bid.suspended'])
    expect((await lead.call(RemoveBid, { params: { id, bidId: wrong.id }, body: { reason: 'Once more.' } })).codes).to.deep.equal(['day.bidOut']) // prettier-ignore
    const again = await sheetOf(world, id)
    await pilar.do(SuspendSupplier, { params: { id, invitedId: one.id }, body: { version: again.version, lift: true, reason: 'Cleared up.' } }) // prettier-ignore
    expect((await day()).lots[0]!.standing.map(other => other.total)).to.deep.equal(['170.00', '180.00', '190.00'])
    expect((await day()).lots[0]!.endsAt).to.equal(endsAt)
  })

  it('takes a bid on behalf only with consent, marked in the standing', async () => {
    const { id, lotId, lineId, day, lead } = await opened()
    const sheet = await sheetOf(world, id)
    const params = { id, invitedId: sheet.invited.find(other => other.name === SEE)!.id }
    const body = { bidId: randomUUID(), lotId, prices: { [lineId]: '15' } }
    expect((await lead.call(BidBehalf, { params, body })).codes).to.deep.equal(['behalf.consent'])
    await lead.do(RecordConsent, { params, body: { version: sheet.version, who: 'Lorenz', on: '2026-01-02', how: 'mail', note: '', fileId: null } }) // prettier-ignore
    await lead.do(BidBehalf, { params, body })
    expect((await day()).lots[0]!.bids[0]).to.deep.include({ total: '150.00', onBehalf: true })
  })

  it('shows suppliers what its rules show and nothing else, and our side nothing of a sealed one', async () => {
    const shows = { place: true, best: false, bidders: false }
    const { id, bid, nord, see } = await opened({ lot: { ...NEW_KIND.lot, shows } })
    await bid(nord, '13.37')
    await bid(see, '12')
    const seen = await see.do(ReadAskedDay, { params: { id } })
    expect(JSON.stringify(seen)).to.not.match(/133\.70|Nordhavn/)
    expect(seen.lots[0]).to.deep.include({ place: 1, best: null, bidders: null })
    const sealed = await opened({ sealed: true })
    await sealed.bid(sealed.nord, '13.37')
    const hidden = JSON.stringify([await sealed.day(), await sealed.lead.do(ReadEventLog, { params: { id: sealed.id }, query: {} }), await world.db('eventLog').where({ eventId: sealed.id })]) // prettier-ignore
    expect(hidden).to.not.match(/133\.70|13370|13\.37/)
    await sealed.act('end')
    expect(JSON.stringify(await sealed.day())).to.match(/133\.70/)
  })

  it('stays in order under a burst, and is the same after a restart', async () => {
    const { id, bid, nord, see, acqua, day } = await opened({ lot: { ...NEW_KIND.lot, extension: null } })
    const clients = [nord, see, acqua]
    const prices = Array.from({ length: 60 }, (_one, index) => String(200 - index))
    const taken = await Promise.all(prices.map((price, index) => bid(clients[index % 3]!, price)))
    expect(taken.every(one => one.status === 200)).to.equal(true)
    const before = (await day()).lots[0]!
    expect(before.bids).to.have.lengthOf(60)
    const rows = await world.db('eventLog').where({ eventId: id }).orderBy('sequence').select('sequence', 'at')
    expect(rows.map(row => row.sequence)).to.deep.equal(rows.map((_row, index) => index + 1))
    expect(rows.every((row, index) => index === 0 || row.at >= rows[index - 1]!.at)).to.equal(true)
    // another process reads the log from its beginning: a version that nobody has seen yet
    await world.db('events').where({ id }).increment('version', 1)
    const after = (await day()).lots[0]!
    expect(after.standing).to.deep.equal(before.standing)
    expect(after.bids).to.deep.equal(before.bids)
    expect((await auditDatabase(world.db)).differences).to.deep.equal([])
  })

  it('of the demo is opened once at a start, and a stand-in bids in it by the link of its mail', async () => {
    const jobs = { ...world.jobs, settings: { ...world.jobs.settings, publicUrl: world.address } }
    expect(await openLiveAuction(jobs)).to.equal(true)
    expect(await openLiveAuction(jobs)).to.equal(false)
    for (const row of await world.db('outbox').where({ state: 'waiting' }).orderBy('createdAt').select('id'))
      await sendOutgoing(jobs, senders, row.id)
    const bidders = LIVE_BIDDERS.map((one, index) => startBidder({ mailbox: `http://127.0.0.1:${world.mail.httpPort}`, to: one.to, usual: LIVE_USUAL * (1 + index / 50), wait: () => 100 })) // prettier-ignore
    try {
      for (let tries = 0; tries < 100 && bidders.some(one => one.taken() < 2); tries++) await new Promise(resolve => setTimeout(resolve, 100)) // prettier-ignore
    } finally {
      for (const one of bidders) one.stop()
    }
    expect(bidders.map(one => one.taken() >= 2)).to.deep.equal([true, true])
    const live = await world.db('events').where('title', 'like', '%live').first('id')
    const { lots, suppliers } = await (await world.as('Rasmus')).do(ReadDay, { params: { id: live!.id } })
    expect(lots[0]!.standing).to.have.lengthOf(2)
    expect(suppliers.filter(one => one.present)).to.have.lengthOf(2)
    await new Promise(resolve => setTimeout(resolve, 300))
  })

  it('opens by the clock, ends by the clock, and is compared and awarded by the bids that stand', async () => {
    const { id, bid, nord, see, lead, lotId, lineId } = await opened({}, false)
    const opensAt = new Date(Date.now() - 1000).toISOString()
    await world.db('events').where({ id }).update({ opensAt, endsAt: new Date(Date.parse(opensAt) + 30 * 60_000).toISOString() }) // prettier-ignore
    expect((await bid(nord, '19')).status).to.equal(200)
    const entry = await world.db('eventLog').where({ eventId: id, action: 'opened' }).first('details')
    expect(entry!.details.at).to.equal(opensAt)
    await bid(see, '18')
    await lead.do(ActOnDay, { params: { id }, body: { act: 'end', lotId, bySeconds: 0, reason: 'All in.' } })
    await watchEvents(world.jobs)
    const comparison = await lead.do(CompareEvent, { params: { id } })
    const best = comparison.suppliers.findIndex(one => one.name === SEE)
    expect(comparison.lines[0]!.cells[best]).to.deep.include({ best: true, price: '180.00', priceBase: '10' })
    const shares = [{ lineId, supplierId: comparison.suppliers[best]!.supplierId, quantity: '10' }]
    const proposed = await lead.do(ProposeAward, { params: { id }, body: { version: (await sheetOf(world, id)).version, shares, reason: '' } }) // prettier-ignore
    expect(proposed.id).to.equal(id)
    expect((await sheetOf(world, id)).award).to.deep.include({ cost: '180.00', above: '0.00' })
  })
})
