import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { changeLines } from '#core/order/changeLines.ts'
import { orderDesk } from '#core/order/desk.ts'
import { isPastPromise, missing } from '#core/order/chaseOrder.ts'
import { wantsAWord } from '#core/order/following.ts'
import { keptFigures, keptLaws } from '#core/order/laws.ts'
import { isLate, neededNext, nextPromised, nextWanted, receiveExtent } from '#core/order/measures.ts'
import { asWanted, compareRevisions, revisionLines } from '#core/order/revision.ts'
import { OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const JUNE = { quantity: '4', date: '2026-06-10', addressId: null, place: '' }
const JULY = { quantity: '6', date: '2026-07-20', addressId: 'hall', place: 'Hall' }
const codes = (decision: Decision<unknown>): string[] => (decision.ok ? [] : decision.reasons.map(one => one.code))

/** An issued order of ten and ten, the first in two deliveries. */
function scheduled(): OrderToPay {
  const world = new OrderToPay({ lines: [{}, {}] })
  world.issue()
  expect(codes(world.revise([{ line: 1, schedule: [JULY, JUNE] }]))).to.deep.equal([])
  return world
}
const line = (world: OrderToPay) => world.order().lines[0]!
const late = (world: OrderToPay, today: string): boolean => {
  const order = world.order()
  return isLate({ ...order, receiveExtent: receiveExtent(order.lines) }, today)
}

describe('an order whose lines come in several deliveries', () => {
  it('is needed by the first of them', () => {
    const world = scheduled()
    expect([line(world).needBy, world.order().needBy]).to.deep.equal(['2026-06-10', '2026-06-10'])
    expect(line(world).schedule).to.deep.equal([JUNE, JULY])
    expect(world.laws()).to.deep.equal([])
  })

  it('is refused where they are not the line, with the place of it', () => {
    const world = scheduled()
    expect(codes(world.revise([{ line: 1, schedule: [JUNE] }]))).to.deep.equal(['order.schedule.sum'])
    expect(codes(world.revise([{ line: 1, quantity: '4', schedule: [JUNE] }]))).to.deep.equal([])
    expect([line(world).schedule, line(world).needBy]).to.deep.equal([[], JUNE.date])
  })

  it('takes the place of a single delivery for the line', () => {
    const world = scheduled()
    world.revise([{ line: 1, schedule: [{ ...JULY, quantity: '10' }] }])
    expect(line(world)).to.deep.include({ schedule: [], addressId: 'hall', place: 'Hall', needBy: JULY.date })
  })

  it('keeps its deliveries when quantity or day change without a word about them', () => {
    const world = scheduled()
    world.revise([{ line: 1, quantity: '7', needBy: '2026-06-12' }])
    expect(line(world).schedule.map(one => [one.quantity, one.date])).to.deep.equal([['4', '2026-06-12'], ['3', '2026-07-22']]) // prettier-ignore
    world.revise([{ line: 1, quantity: '0' }])
    expect(line(world).schedule).to.deep.equal([])
  })

  it('shows another schedule, or another place, as one difference', () => {
    const world = new OrderToPay({ lines: [{}, {}] })
    world.issue()
    const before = revisionLines(world.order())
    world.revise([
      { line: 1, schedule: [JUNE, JULY] },
      { line: 2, addressId: 'hall', place: 'Hall' },
    ])
    const differences = compareRevisions(before, revisionLines(world.order()))
    expect(differences.map(one => one.fields)).to.deep.equal([
      [{ field: 'schedule', before: '', after: '4 2026-06-10\n6 2026-07-20 Hall' }],
      [{ field: 'place', before: '', after: 'Hall' }],
    ])
    // revisions of old did not keep the place
    const old = before.map(({ place: _place, ...one }) => one)
    expect(compareRevisions(old, revisionLines(world.order())).map(one => one.position)).to.deep.equal([1])
  })

  it('goes to another place of its supplier only where that is said', () => {
    const world = scheduled()
    const to = (more: object) => changeLines(world.order(), { ...world.wanted(), ...more }).order
    expect(to({}).location).to.equal('Pumpegata 1')
    expect(to({ locationId: null, location: 'Elsewhere' }).location).to.equal('Pumpegata 1')
    expect([to({ locationId: 'two', location: 'Works two' }).locationId, to({ locationId: 'two', location: 'Works two' }).location]).to.deep.equal(['two', 'Works two']) // prettier-ignore
    expect(to({ locationId: 'two' }).location).to.equal('')
  })

  it('is late by the delivery that is missing, not by what has come', () => {
    const world = scheduled()
    expect([late(world, '2026-06-10'), late(world, '2026-06-11')]).to.deep.equal([false, true])
    world.receive([{ line: 1, quantity: '4' }])
    expect([nextWanted(line(world)), world.order().needBy, late(world, '2026-06-30')]).to.deep.equal([JULY.date, '2026-07-01', false]) // prettier-ignore
    world.receive([{ line: 2, quantity: '10' }])
    expect([neededNext(world.order().lines), late(world, '2026-07-20'), late(world, '2026-07-21')]).to.deep.equal([JULY.date, false, true]) // prettier-ignore
    world.receive([{ line: 1, quantity: '6' }])
    expect([nextWanted(line(world)), world.order().needBy]).to.deep.equal([null, JUNE.date])
    expect(keptFigures(world.order()).needBy).to.equal(JUNE.date)
  })

  it('keeps the next needed day beside the order, and the audit sees where it is another', () => {
    const order = scheduled().order()
    const kept = keptFigures(order)
    expect(keptLaws(order, kept)).to.deep.equal([])
    expect(keptLaws(order, { ...kept, needBy: '2026-07-01' })[0]).to.include({ law: 'neededNext' })
  })

  it('is answered delivery by delivery, as wanted or otherwise', () => {
    const world = scheduled()
    const asked = revisionLines(world.order()).map(one => asWanted(one, TODAY))
    expect(asked[0]).to.deep.include({ date: JULY.date, parts: [{ quantity: '4', date: JUNE.date }, { quantity: '6', date: JULY.date }] }) // prettier-ignore
    world.answer(asked)
    expect([world.order().state, line(world).promisedDate, line(world).promisedParts.length]).to.deep.equal(['acknowledged', JULY.date, 2]) // prettier-ignore
    expect(nextPromised(line(world))).to.equal(JUNE.date)
    world.receive([{ line: 1, quantity: '4' }])
    expect(nextPromised(line(world))).to.equal(JULY.date)
    expect([isPastPromise(world.order(), '2026-07-01'), isPastPromise(world.order(), '2026-07-21')]).to.deep.equal([false, true]) // prettier-ignore
    expect(missing(world.order(), '2026-07-01')).to.equal(null)
  })

  it('departs where one delivery comes later, though the last is in time', () => {
    const world = scheduled()
    const parts = [{ quantity: '2', date: JUNE.date }, { quantity: '8', date: JULY.date }] // prettier-ignore
    world.answer([{ date: JULY.date, parts }])
    expect(world.order().answer).not.to.equal(null)
    world.acceptAnswer()
    expect(line(world).promisedParts).to.deep.equal(parts)
    const order = { ...world.order(), issuedAt: `${TODAY}T08:00:00Z` }
    const words = (today: string) => wantsAWord({ order, agreed: new Map(), supplierReasons: [] }, today).map(one => one.code) // prettier-ignore
    expect(words(TODAY)).to.deep.equal(['follow.laterThanNeeded'])
  })

  it('takes one day for the whole line as all of it by then', () => {
    const world = scheduled()
    world.answer([{ date: JUNE.date }])
    expect([world.order().state, line(world).promisedDate, line(world).promisedParts]).to.deep.equal(['acknowledged', JUNE.date, []]) // prettier-ignore
  })

  it('refuses answers whose days and quantities do not agree', () => {
    const world = scheduled()
    const answer = (date: string, ...parts: [string, string][]) => codes(world.answer([{ date, parts: parts.map(([quantity, day]) => ({ quantity, date: day })) }])) // prettier-ignore
    expect(answer(JULY.date, ['4', JUNE.date], ['5', JULY.date])).to.deep.equal(['order.schedule.sum'])
    expect(answer(JUNE.date, ['4', JUNE.date], ['6', JULY.date])).to.deep.equal(['order.schedule.lastDay'])
    expect(answer(JULY.date, ['4', '2026-02-30'], ['6', JULY.date])).to.deep.equal(['order.schedule.day'])
    expect(answer('2026-02-30')).to.deep.equal(['order.schedule.day'])
    expect(answer(JULY.date, ['4', JUNE.date], ['6', JULY.date])).to.deep.equal([])
  })

  it('waits on the Desk for the delivery that is missing', () => {
    const world = scheduled()
    world.receive([{ line: 1, quantity: '4' }])
    const entry = orderDesk({ ...world.order(), createdAt: `${TODAY}T08:00:00Z`, place: '' }).find(
      one => one.key === 'late',
    )
    expect([entry?.from, entry?.needBy]).to.deep.equal(['2026-07-02', '2026-07-01'])
  })
})
