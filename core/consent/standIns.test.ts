import { expect } from 'chai'
import fc from 'fast-check'
import { reaches } from '#core/acts/actor.ts'
import { type AwayTime, inPlaceOf, isMissing, LONGEST_CHAIN, whyNotAway } from '#core/consent/standIns.ts'
import { minor } from '#core/money/amount.ts'

const time = (personId: string, standInId: string | null, changed: Partial<AwayTime> = {}): AwayTime => ({
  id: `${personId}-${standInId ?? 'nobody'}`,
  personId,
  standInId,
  fromDay: '2026-06-01',
  toDay: '2026-06-10',
  kinds: [],
  amountLimit: null,
  away: true,
  ...changed,
})
const TODAY = '2026-06-05'
const codes = (added: AwayTime, others: readonly AwayTime[] = [], able = (_id: string) => true): string[] =>
  whyNotAway(added, others, able, TODAY).map(one => one.code)

describe('an away time', () => {
  it('is possible with a stand-in or without one, and not when it says nothing', () => {
    expect(codes(time('marit', 'henrik'))).to.deep.equal([])
    expect(codes(time('marit', null))).to.deep.equal([])
    expect(codes(time('marit', null, { away: false }))).to.deep.equal(['away.nothing'])
  })

  it('ends after it begins and is not over, and its limit is not below nothing', () => {
    expect(codes(time('marit', 'henrik', { fromDay: '2026-06-11' }))).to.deep.equal(['away.days'])
    expect(codes(time('marit', 'henrik', { fromDay: '2026-05-01', toDay: '2026-06-04' }))).to.deep.equal(['away.past'])
    expect(codes(time('marit', 'henrik', { toDay: TODAY }))).to.deep.equal([])
    expect(codes(time('marit', 'henrik', { amountLimit: minor(-1) }))).to.deep.equal(['away.limit'])
    expect(codes(time('marit', 'henrik', { amountLimit: minor(0) }))).to.deep.equal([])
  })

  it('never names oneself, nor somebody who cannot', () => {
    expect(codes(time('marit', 'marit'))).to.deep.equal(['away.self'])
    expect(codes(time('marit', 'orla'), [], id => id !== 'orla')).to.deep.equal(['away.cannot'])
  })

  it('makes no circle, directly or through others, on days that they share', () => {
    expect(codes(time('marit', 'henrik'), [time('henrik', 'marit')])).to.deep.equal(['away.circle'])
    const through = [time('henrik', 'tomas'), time('tomas', 'marit')]
    expect(codes(time('marit', 'henrik'), through)).to.deep.equal(['away.circle'])
    const later = time('henrik', 'marit', { fromDay: '2026-06-11', toDay: '2026-06-20' })
    expect(codes(time('marit', 'henrik'), [later])).to.deep.equal([])
    expect(codes(time('marit', 'henrik'), [{ ...later, fromDay: '2026-06-10' }])).to.deep.equal(['away.circle'])
  })

  it('makes no chain longer than two on one day, counted from both its ends', () => {
    expect(codes(time('a', 'b'), [time('b', 'c')])).to.deep.equal([])
    expect(codes(time('a', 'b'), [time('b', 'c'), time('c', 'd')])).to.deep.equal(['away.chain'])
    expect(codes(time('b', 'c'), [time('a', 'b'), time('c', 'd')])).to.deep.equal(['away.chain'])
    expect(codes(time('c', 'd'), [time('a', 'b'), time('b', 'c')])).to.deep.equal(['away.chain'])
    const apart = time('c', 'd', { fromDay: '2026-06-11', toDay: '2026-06-12' })
    expect(codes(time('a', 'b'), [time('b', 'c'), apart])).to.deep.equal([])
  })

  it('is held against the others, not against what it was before', () => {
    expect(codes(time('marit', 'henrik', { id: 'x' }), [time('marit', 'henrik', { id: 'x' })])).to.deep.equal([])
  })
})

describe('in whose place somebody decides', () => {
  const places = (times: readonly AwayTime[], who: string, day = TODAY) =>
    inPlaceOf(times, who, day, 'EUR').map(one => one.id)

  it('counts both edge days', () => {
    const times = [time('marit', 'henrik')]
    expect(['2026-05-31', '2026-06-01', '2026-06-10', '2026-06-11'].map(day => places(times, 'henrik', day)))
      .to.deep //
      .equal([[], ['marit'], ['marit'], []])
    expect(places(times, 'marit')).to.deep.equal([])
  })

  it('is also that of whoever names them through one other, with what both allow', () => {
    const times = [
      time('marit', 'henrik', { kinds: ['approval'], amountLimit: minor(500) }),
      time('henrik', 'tomas', { amountLimit: minor(900) }),
    ]
    expect(inPlaceOf(times, 'tomas', TODAY, 'EUR')).to.deep.equal([
      { id: 'henrik', kinds: null, limit: { amount: minor(900), currency: 'EUR' } },
      { id: 'marit', kinds: ['approval'], limit: { amount: minor(500), currency: 'EUR' } },
    ])
    const apart = [time('marit', 'henrik', { kinds: ['approval'] }), time('henrik', 'tomas', { kinds: ['onboarding'] })]
    expect(places(apart, 'tomas')).to.deep.equal(['henrik'])
    const both = [
      time('marit', 'henrik', { kinds: ['approval', 'onboarding'] }),
      time('henrik', 'tomas', { kinds: ['onboarding'], amountLimit: null }),
    ]
    expect(inPlaceOf(both, 'tomas', TODAY, 'EUR')[1]).to.deep.equal({ id: 'marit', kinds: ['onboarding'], limit: null })
    const open = [time('marit', 'henrik', { amountLimit: null }), time('henrik', 'tomas', { amountLimit: minor(7) })]
    expect(inPlaceOf(open, 'tomas', TODAY, 'EUR')[1]!.limit?.amount).to.equal(minor(7))
  })

  it('reaches as far as its kinds and its limit, in the currency of the limit', () => {
    const limited = { kinds: ['approval'], limit: { amount: minor(500), currency: 'EUR' } }
    const about = { kind: 'approval', amount: minor(500), currency: 'EUR' }
    expect(reaches(limited, about)).to.equal(true)
    expect(reaches(limited, { ...about, amount: minor(501) })).to.equal(false)
    expect(reaches(limited, { ...about, currency: 'USD' })).to.equal(false)
    expect(reaches(limited, { ...about, kind: 'onboarding' })).to.equal(false)
    expect(reaches(limited, { ...about, amount: null })).to.equal(true)
    expect(reaches({ kinds: null, limit: null }, { ...about, amount: minor(10_000) })).to.equal(true)
  })

  it('is missing who is away with nobody for such a thing', () => {
    const about = { kind: 'approval', amount: minor(500) }
    const missing = (one: AwayTime, day = TODAY) => isMissing([one], 'marit', day, about)
    expect(missing(time('marit', null))).to.equal(true)
    expect(missing(time('marit', null), '2026-06-11')).to.equal(false)
    expect(missing(time('marit', 'henrik'))).to.equal(false)
    expect(missing(time('marit', 'henrik', { kinds: ['onboarding'] }))).to.equal(true)
    expect(missing(time('marit', 'henrik', { kinds: ['approval'] }))).to.equal(false)
    expect(missing(time('marit', 'henrik', { amountLimit: minor(499) }))).to.equal(true)
    expect(missing(time('marit', 'henrik', { amountLimit: minor(500) }))).to.equal(false)
    expect(missing(time('marit', 'henrik', { away: false, kinds: ['onboarding'] }))).to.equal(false)
    expect(missing(time('tomas', null))).to.equal(false)
  })

  it('whatever was entered one after the other, nobody decides for themselves, and no way is longer than two', () => {
    const who = fc.constantFrom('a', 'b', 'c', 'd', 'e')
    const day = fc.integer({ min: 1, max: 9 })
    const entered = fc.array(fc.tuple(who, who, day, day), { maxLength: 14, size: 'max' })
    let refused = 0
    fc.assert(
      fc.property(entered, tries => {
        const times: AwayTime[] = []
        for (const [index, [personId, standInId, one, other]] of tries.entries()) {
          const [fromDay, toDay] = [Math.min(one, other), Math.max(one, other)].map(n => `2026-07-0${n}`)
          const next = time(personId, standInId, { id: String(index), fromDay, toDay })
          if (whyNotAway(next, times, () => true, TODAY).length === 0) times.push(next)
          else refused++
        }
        for (let n = 1; n <= 9; n++) {
          const now = times.filter(one => one.fromDay <= `2026-07-0${n}` && `2026-07-0${n}` <= one.toDay)
          for (const id of ['a', 'b', 'c', 'd', 'e']) {
            expect(inPlaceOf(times, id, `2026-07-0${n}`, 'EUR').map(one => one.id)).to.not.include(id)
            const depth = (from: string, left: number): number =>
              left === 0
                ? 0
                : Math.max(
                    0,
                    ...now.filter(one => one.personId === from).map(one => 1 + depth(one.standInId!, left - 1)),
                  )
            expect(depth(id, 6)).to.be.at.most(LONGEST_CHAIN)
          }
        }
      }),
      { numRuns: 200, seed: 11 },
    )
    expect(refused).to.be.above(100)
  })
})
