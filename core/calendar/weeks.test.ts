import { expect } from 'chai'
import fc from 'fast-check'
import { addDays, fiscalYearDays, yearGone } from '#core/calendar/days.ts'
import { isoWeek, mondayOf } from '#core/calendar/weeks.ts'

describe('weeks', () => {
  it('begin on Monday and are counted from the one with the first Thursday of the year', () => {
    for (const [day, monday, week] of [
      ['2026-11-27', '2026-11-23', 48],
      ['2026-11-29', '2026-11-23', 48],
      ['2026-11-30', '2026-11-30', 49],
      ['2026-12-31', '2026-12-28', 53],
      ['2027-01-01', '2026-12-28', 53],
      ['2027-01-04', '2027-01-04', 1],
      ['2024-12-30', '2024-12-30', 1],
      ['2023-01-01', '2022-12-26', 52],
    ] as const)
      expect([mondayOf(day), isoWeek(day)], day).to.deep.equal([monday, week])
  })

  it('have seven days of one number each', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 40_000 }), fc.integer({ min: 0, max: 6 }), (days, more) => {
        const monday = mondayOf(addDays('1990-01-01', days))
        expect(mondayOf(addDays(monday, more))).to.equal(monday)
        expect(isoWeek(addDays(monday, more))).to.equal(isoWeek(monday))
        expect([1, isoWeek(monday) + 1]).to.include(isoWeek(addDays(monday, 7)))
      }),
    )
  })

  it('say with which day a fiscal year begins and ends', () => {
    expect(fiscalYearDays(2026)).to.deep.equal(['2026-01-01', '2026-12-31'])
    expect(fiscalYearDays(2027, 3)).to.deep.equal(['2027-03-01', '2028-02-29'])
  })

  it('say how much of the fiscal year has gone', () => {
    expect([yearGone('2026-01-01'), yearGone('2026-07-02'), yearGone('2026-12-31')]).to.deep.equal([0, 50, 100])
    expect([yearGone('2026-04-01', 4), yearGone('2026-09-30', 4), yearGone('2027-03-31', 4)]).to.deep.equal([
      0, 50, 100,
    ])
    expect(yearGone('2028-02-29', 3)).to.equal(100)
  })
})
