import { expect } from 'chai'
import fc from 'fast-check'
import { firstDay, lastDay, monthOf, nextMonth } from '#core/calendar/months.ts'
import { openFrom, type PeriodFacts, whyNotClosePeriod, whyNotReopenPeriod } from '#core/books/periods.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'

const CONTROLLER = actorOf('adaeze', { rights: new Set(['budget.write']) })
const facts = (more: Partial<PeriodFacts> = {}): PeriodFacts => ({ month: '2026-10', today: '2026-11-03', begins: '2026-09', closed: ['2026-09'], faults: [], ...more }) // prettier-ignore
const codes = (more: Partial<PeriodFacts> = {}, actor = CONTROLLER) => whyNotClosePeriod(facts(more), actor).map(one => one.code) // prettier-ignore

describe('a month of the books is closed', () => {
  it('once it is over, those before it are closed, and it re-adds', () => {
    expect(codes()).to.deep.equal([])
    expect(codes({ today: '2026-10-31' })).to.deep.equal(['period.notOver'])
    expect(codes({ today: '2026-11-01' })).to.deep.equal([])
    expect(codes({ closed: [] })).to.deep.equal(['period.earlierFirst'])
    expect(codes({ closed: [], begins: '2026-10' })).to.deep.equal([])
    expect(codes({ closed: [], begins: null })).to.deep.equal([])
    expect(codes({ faults: ['I-1'] })).to.deep.equal(['period.doesNotAdd'])
  })

  it('once only, and not before the books begin', () => {
    expect(codes({ closed: ['2026-09', '2026-10'] })).to.deep.equal(['period.closed'])
    expect(codes({ month: '2026-08', closed: [] })).to.deep.equal(['period.noBooks'])
    expect(codes({ month: '2026-08' })).to.deep.equal(['period.noBooks'])
  })

  it('by whoever keeps the budgets', () => {
    expect(codes({}, actorOf('leonie', { rights: new Set() }))).to.deep.equal(['right.notYours'])
  })

  it('and opened again the last one first, with a reason', () => {
    const why = (month: string, reason = 'a bill was forgotten', closed = ['2026-10', '2026-09']) => whyNotReopenPeriod({ month, closed }, CONTROLLER, reason).map(one => one.code) // prettier-ignore
    expect(why('2026-10')).to.deep.equal([])
    expect(why('2026-09')).to.deep.equal(['period.laterFirst'])
    expect(why('2026-10', ' ')).to.deep.equal(['period.wantsReason'])
    expect(why('2026-11')).to.deep.equal(['period.open'])
    expect(whyNotReopenPeriod({ month: '2026-10', closed: ['2026-10'] }, actorOf('leonie', { rights: new Set() }), 'so it is').map(one => one.code)).to.deep.equal(['right.notYours']) // prettier-ignore
  })

  it('and takes nothing any more: the first open day lies after it, whatever was set beside', () => {
    expect(openFrom([], null)).to.equal(null)
    expect(openFrom([], '2026-05-01')).to.equal('2026-05-01')
    expect(openFrom(['2026-10', '2026-09'], null)).to.equal('2026-11-01')
    expect(openFrom(['2026-10'], '2026-09-01')).to.equal('2026-11-01')
    expect(openFrom(['2026-10'], '2026-11-15')).to.equal('2026-11-15')
    expect(openFrom(['2026-12'], null)).to.equal('2027-01-01')
  })

  it('one after the other: closing goes on as months pass, and never leaves one open between', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 8 }), { maxLength: 30 }), wanted => {
        const all = Array.from({ length: 9 }).reduce<string[]>(months => [...months, nextMonth(months.at(-1)!)], ['2026-01']) // prettier-ignore
        const closed: string[] = []
        for (const index of wanted) {
          const month = all[index]!
          if (codes({ month, closed, begins: '2026-01', today: '2026-12-31' }).length === 0) closed.push(month)
        }
        expect([...closed].sort()).to.deep.equal(all.slice(0, closed.length))
      }),
      { numRuns: 60, seed: 5 },
    )
    expect([monthOf('2026-10-31'), firstDay('2026-10'), lastDay('2026-10')]).to.deep.equal(['2026-10', '2026-10-01', '2026-10-31']) // prettier-ignore
  })
})
