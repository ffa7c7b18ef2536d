import { expect } from 'chai'
import fc from 'fast-check'
import { addDays } from '#core/calendar/days.ts'
import { ages, asked, daysAhead, percentOf, series, sumBars, weeksAhead } from '#core/glances/series.ts'
import { readConditions } from '#core/lists/conditions.ts'

const TODAY = '2026-11-27'

describe('what falls into days and weeks', () => {
  it('is late before today, then week by week by its number, then later', () => {
    expect(weeksAhead(TODAY, 2)).to.deep.equal([
      { key: 'late', from: null, to: '2026-11-26' },
      { key: '48', from: TODAY, to: '2026-11-29' },
      { key: '49', from: '2026-11-30', to: '2026-12-06' },
      { key: 'later', from: '2026-12-07', to: null },
    ])
    expect(daysAhead(TODAY, 2).map(span => [span.key, span.from, span.to])).to.deep.equal([
      ['late', null, '2026-11-26'],
      [TODAY, TODAY, TODAY],
      ['2026-11-28', '2026-11-28', '2026-11-28'],
      ['later', '2026-11-29', null],
    ])
  })

  it('falls into one stretch each, whatever its day', () => {
    for (const spans of [weeksAhead(TODAY, 8), daysAhead(TODAY, 14), ages(TODAY)])
      fc.assert(
        fc.property(fc.integer({ min: -400, max: 400 }), days => {
          const bars = series([{ day: addDays(TODAY, days), amount: 7n, part: 3n }], spans)
          expect(bars.filter(bar => bar.amount === 7n && bar.part === 3n)).to.have.length(1)
          expect(bars.reduce((sum, bar) => sum + bar.amount, 0n)).to.equal(7n)
        }),
      )
  })

  it('adds up, leaves out what has no day, and never waits for less than nothing', () => {
    const bars = series(
      [
        { day: TODAY, amount: 100n, part: 40n },
        { day: TODAY, amount: 50n, part: 80n },
        { day: TODAY, amount: -20n, part: 5n },
        { day: TODAY, amount: 10n, part: -5n },
        { day: null, amount: 900n, part: 0n },
      ],
      daysAhead(TODAY, 1),
    )
    expect(bars.map(bar => [bar.amount, bar.part])).to.deep.equal([
      [0n, 0n],
      [160n, 90n],
      [0n, 0n],
    ])
  })

  it('ages from new to old without a gap', () => {
    const days = [0, 1, 2, 3, 4, 7, 8, 90].map(days => addDays(TODAY, -days))
    const keys = days.map(day => series([{ day, amount: 1n, part: 0n }], ages(TODAY)).find(bar => bar.amount)?.key)
    expect(keys).to.deep.equal(['fresh', 'fresh', 'days', 'days', 'week', 'week', 'longer', 'longer'])
  })

  it('opens the list behind it with a condition that can be asked', () => {
    for (const span of weeksAhead(TODAY, 2)) {
      const { conditions, lost } = readConditions(asked('needBy', span), [{ key: 'needBy', type: 'date' }])
      expect([conditions.length, lost]).to.deep.equal([1, []])
      expect(conditions[0]?.[0]?.values).to.deep.equal([span.from ?? '', span.to ?? ''])
    }
  })

  it('comes to sums and whole per cent', () => {
    expect(sumBars(series([{ day: TODAY, amount: 5n, part: 0n }], daysAhead(TODAY, 2)))).to.equal(5n)
    expect([percentOf(2, 3), percentOf(1, 3), percentOf(1, 200), percentOf(0, 0), percentOf(7, 7)]).to.deep.equal([
      67, 33, 1, 0, 100,
    ])
  })
})
