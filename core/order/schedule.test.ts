import { expect } from 'chai'
import fc from 'fast-check'
import {
  delivered,
  dueBy,
  evenly,
  fallsBehind,
  firstOpenDay,
  fitted,
  followed,
  MOST_DELIVERIES,
  runningTotals,
  scheduleText,
  shifted,
  whyNotSchedule,
} from '#core/order/schedule.ts'

const on = (quantity: string, date: string, place = '') => ({ quantity, date, addressId: place || null, place })
const MAY = on('4', '2026-05-04')
const JUNE = on('6', '2026-06-01')
const line = { kind: 'goods', position: 2, quantity: '10' }
const codes = (deliveries: Parameters<typeof whyNotSchedule>[1], of = line) =>
  whyNotSchedule(of, deliveries).map(reason => reason.code)

describe('a line that comes in several deliveries', () => {
  it('is cut into what adds up to it', () => {
    expect(codes([MAY, JUNE])).to.deep.equal([])
    expect(codes([])).to.deep.equal([])
    const [sum] = whyNotSchedule(line, [MAY, { ...JUNE, quantity: '5.5' }])
    expect([sum!.code, sum!.details, sum!.place]).to.deep.equal(['order.schedule.sum', { sum: '9.5', quantity: '10' }, 'lines.2.schedule']) // prettier-ignore
  })

  it('has a real day and more than nothing in each', () => {
    expect(codes([MAY, { ...JUNE, date: '2026-06-31' }])).to.deep.equal(['order.schedule.day'])
    expect(codes([{ ...MAY, quantity: '0' }, JUNE])).to.deep.equal(['order.schedule.quantity'])
    expect(codes([{ ...MAY, quantity: '1e1' }])).to.deep.equal(['order.schedule.quantity'])
  })

  it('may come to two places on one day, but not twice to one', () => {
    expect(codes([MAY, { ...JUNE, date: MAY.date }])).to.deep.equal(['order.schedule.twice'])
    expect(codes([MAY, on('6', MAY.date, 'Hall')])).to.deep.equal([])
  })

  it('is of goods, in at most sixty', () => {
    expect(codes([MAY, JUNE], { ...line, kind: 'fixedPriceWork' })).to.deep.equal(['order.schedule.goodsOnly'])
    const many = Array.from({ length: MOST_DELIVERIES + 1 }, (_, at) => on('1', '2026-05-04', `place ${at}`))
    expect(codes(many, { ...line, quantity: '61' })).to.deep.equal(['order.schedule.tooMany'])
    expect(codes(many.slice(1), { ...line, quantity: '60' })).to.deep.equal([])
  })

  it('loses from the end, and gains at the end, when its quantity changes', () => {
    expect(fitted([JUNE, MAY], '5')).to.deep.equal([MAY, { ...JUNE, quantity: '1' }])
    expect(fitted([MAY, JUNE], '4')).to.deep.equal([MAY])
    expect(fitted([MAY, JUNE], '12.5')).to.deep.equal([MAY, { ...JUNE, quantity: '8.5' }])
    expect(fitted([MAY, JUNE], '0')).to.deep.equal([])
  })

  it('adds up whatever quantity it is fitted to', () => {
    const quantity = fc.integer({ min: 1, max: 1e6 }).map(value => String(value / 1000))
    fc.assert(
      fc.property(fc.array(quantity, { minLength: 1, maxLength: 8 }), quantity, (parts, wanted) => {
        const all = parts.map((part, at) => on(part, `2026-05-${String(10 + at)}`))
        expect(delivered(fitted(all, wanted))).to.equal(wanted)
      }),
    )
  })

  it('keeps the days between its deliveries when the first is moved', () => {
    expect(shifted([MAY, JUNE], '2026-05-11').map(one => one.date)).to.deep.equal(['2026-05-11', '2026-06-08'])
    expect(shifted([JUNE, MAY], '2026-05-01').map(one => one.date)).to.deep.equal(['2026-05-29', '2026-05-01'])
    expect(shifted([], '2026-05-01')).to.deep.equal([])
  })

  it('is next due on the day of the first that is not covered', () => {
    const days = ['0', '3.999', '4', '9', '10', '11'].map(done => firstOpenDay([JUNE, MAY], done))
    expect(days).to.deep.equal([MAY.date, MAY.date, JUNE.date, JUNE.date, null, null])
    expect(dueBy([MAY, JUNE], '2026-05-31').toString()).to.equal('4')
    expect(dueBy([MAY, JUNE], JUNE.date).toString()).to.equal('10')
  })

  it('is to be there in running totals', () => {
    expect(runningTotals([JUNE, MAY])).to.deep.equal([{ date: MAY.date, quantity: '4' }, { date: JUNE.date, quantity: '10' }]) // prettier-ignore
    expect(runningTotals([])).to.deep.equal([])
  })

  it('falls behind where less is promised by a day than wanted', () => {
    const wanted = [MAY, JUNE]
    expect(fallsBehind(wanted, [on('10', MAY.date)])).to.equal(null)
    expect(fallsBehind(wanted, [on('3', MAY.date), on('7', JUNE.date)])).to.equal(MAY.date)
    expect(fallsBehind(wanted, [on('4', MAY.date), on('6', '2026-06-02')])).to.equal(JUNE.date)
    // less is promised, but in time
    expect(fallsBehind(wanted, [on('4', MAY.date), on('2', JUNE.date)])).to.equal(null)
    expect(fallsBehind([JUNE], [on('6', '2026-06-02')])).to.equal(JUNE.date)
  })

  it('is followed delivery by delivery: what comes counts for the earliest', () => {
    const promised = [on('4', '2026-05-06'), on('5', '2026-06-01')]
    expect(followed([JUNE, MAY], promised, '5')).to.deep.equal([
      { quantity: '4', date: MAY.date, place: '', open: '0', promised: '2026-05-06' },
      { quantity: '6', date: JUNE.date, place: '', open: '5', promised: null },
    ])
    expect(followed([MAY], [], '0')[0]).to.include({ open: '4', promised: null })
  })

  it('is compared as a text, however it was written', () => {
    expect(scheduleText([on('6.0', JUNE.date, 'Hall'), MAY])).to.equal('4 2026-05-04\n6 2026-06-01 Hall')
  })

  it('is cut evenly, whole where the quantity is', () => {
    expect(evenly('10', 3)).to.deep.equal(['4', '3', '3'])
    expect(evenly('9', 3)).to.deep.equal(['3', '3', '3'])
    expect(evenly('1', 3)).to.deep.equal(['0.333333', '0.333333', '0.333334'])
    expect(evenly('2.5', 2)).to.deep.equal(['1.25', '1.25'])
  })
})
