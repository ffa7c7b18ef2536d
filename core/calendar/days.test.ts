import { expect } from 'chai'
import fc from 'fast-check'
import {
  addBusinessDays,
  nextBusinessDay,
  addDays,
  daysBetween,
  endOfMonth,
  isBusinessDay,
  isDay,
  PLAIN_CALENDAR,
  fiscalYearOf,
} from '#core/calendar/days.ts'
import { agreedDueDate, dueDate } from '#core/pay/terms.ts'
import { RuleBroken } from '#core/reasons.ts'

describe('days', () => {
  it('knows which days exist', () => {
    expect(isDay('2028-02-29')).to.equal(true)
    for (const text of ['2026-02-29', '2026-13-01', '2026-00-10', '26-01-01', '2026-1-1', ''])
      expect(isDay(text), text).to.equal(false)
  })

  it('refuses to count from a day that does not exist', () => {
    expect(() => addDays('2026-02-30', 1)).to.throw(RuleBroken, 'calendar.notADay')
  })

  it('counts business days over weekends and holidays; the start does not count', () => {
    expect(addBusinessDays('2026-11-20', 1, PLAIN_CALENDAR)).to.equal('2026-11-23')
    expect(addBusinessDays('2026-12-24', 1, { ...PLAIN_CALENDAR, holidays: ['2026-12-25'] })).to.equal('2026-12-28')
    expect(['2026-12-11', '2026-12-12', '2026-12-13'].map(day => nextBusinessDay(day, PLAIN_CALENDAR))).to.deep.equal([
      '2026-12-11',
      '2026-12-14',
      '2026-12-14',
    ])
    expect(addBusinessDays('2026-11-21', 0, PLAIN_CALENDAR)).to.equal('2026-11-21')
  })

  it('ends on a business day, never earlier than the calendar days', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 4000 }), fc.integer({ min: 1, max: 60 }), (offset, count) => {
        const start = addDays('2020-01-01', offset)
        const end = addBusinessDays(start, count, PLAIN_CALENDAR)
        expect(isBusinessDay(end, PLAIN_CALENDAR)).to.equal(true)
        expect(daysBetween(start, end)).to.be.at.least(count)
      }),
    )
  })

  it('finds the end of a month', () => {
    expect(endOfMonth('2028-02-03')).to.equal('2028-02-29')
    expect(endOfMonth('2026-12-31')).to.equal('2026-12-31')
  })
})

describe('due dates', () => {
  it('count from the invoice, the receipt or the end of the month', () => {
    expect(dueDate({ days: 30, from: 'invoice' }, '2026-02-10', '2026-02-20')).to.equal('2026-03-12')
    expect(dueDate({ days: 14, from: 'receipt' }, '2026-02-10', '2026-02-20')).to.equal('2026-03-06')
    expect(dueDate({ days: 30, from: 'endOfMonth' }, '2026-02-10', null)).to.equal('2026-03-30')
  })

  it('count from the invoice while nothing has come in', () => {
    expect(dueDate({ days: 14, from: 'receipt' }, '2026-02-10', null)).to.equal('2026-02-24')
  })

  it('are never earlier than agreed, whatever is printed', () => {
    expect(agreedDueDate('2026-03-12', '2026-02-12')).to.equal('2026-03-12')
    expect(agreedDueDate('2026-03-12', '2026-04-01')).to.equal('2026-04-01')
    expect(agreedDueDate('2026-03-12', '')).to.equal('2026-03-12')
  })
})

describe('fiscal years', () => {
  it('are named by the year in which they begin', () => {
    expect(['2026-01-01', '2026-12-31'].map(day => fiscalYearOf(day))).to.deep.equal([2026, 2026])
    const days = ['2026-03-31', '2026-04-01', '2026-12-31', '2027-03-31', '2027-04-01']
    expect(days.map(day => fiscalYearOf(day, 4))).to.deep.equal([2025, 2026, 2026, 2026, 2027])
  })
})
