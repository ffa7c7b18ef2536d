import { expect } from 'chai'
import { ANY_TIME, mailTiming } from '#core/people/mailTiming.ts'

const NL = 'Europe/Amsterdam'
const quiet = (quietFrom: string, quietTo: string) => ({ when: 'atOnce' as const, quietFrom, quietTo })
const at = (wish: Parameters<typeof mailTiming>[0], now: string, zone = NL) => mailTiming(wish, now, zone)?.at

describe('when somebody is written to', () => {
  it('is at once, where they say nothing', () => {
    expect(mailTiming(ANY_TIME, '2026-11-30T23:10:00.000Z', NL)).to.deep.equal({
      at: '2026-11-30T23:10:00.000Z',
      together: false,
    })
  })

  it('is never, where they want no mail', () => {
    expect(mailTiming({ ...ANY_TIME, when: 'never' }, '2026-11-30T10:00:00.000Z', NL)).to.equal(undefined)
  })

  it('is the next morning by their own clock, all together, where they want one a day', () => {
    const daily = { ...ANY_TIME, when: 'daily' as const }
    expect(mailTiming(daily, '2026-11-30T10:00:00.000Z', NL)).to.deep.equal({
      at: '2026-12-01T06:00:00.000Z',
      together: true,
    })
    expect(at(daily, '2026-07-30T04:59:00.000Z')).to.equal('2026-07-30T05:00:00.000Z')
    expect(at(daily, '2026-07-30T05:00:00.000Z')).to.equal('2026-07-31T05:00:00.000Z')
    expect(at(daily, '2026-11-30T10:00:00.000Z', 'Asia/Kolkata')).to.equal('2026-12-01T01:30:00.000Z')
    expect(at({ ...daily, quietFrom: '20:00', quietTo: '08:30' }, '2026-11-30T10:00:00.000Z')).to.equal(
      '2026-12-01T07:30:00.000Z',
    )
    expect(at({ ...daily, quietFrom: '', quietTo: '08:30' }, '2026-11-30T10:00:00.000Z')).to.equal(
      '2026-12-01T06:00:00.000Z',
    )
  })

  it('is the end of the quiet hours within them, also over midnight', () => {
    const night = quiet('20:00', '07:00')
    expect(at(night, '2026-11-30T19:00:00.000Z')).to.equal('2026-12-01T06:00:00.000Z')
    expect(at(night, '2026-11-30T18:59:00.000Z')).to.equal('2026-11-30T18:59:00.000Z')
    expect(at(night, '2026-12-01T05:59:00.000Z')).to.equal('2026-12-01T06:00:00.000Z')
    expect(at(night, '2026-12-01T06:00:00.000Z')).to.equal('2026-12-01T06:00:00.000Z')
    const noon = quiet('12:00', '13:30')
    expect(at(noon, '2026-11-30T11:00:00.000Z')).to.equal('2026-11-30T12:30:00.000Z')
    expect(at(noon, '2026-11-30T12:30:00.000Z')).to.equal('2026-11-30T12:30:00.000Z')
    expect(at(noon, '2026-11-30T10:59:00.000Z')).to.equal('2026-11-30T10:59:00.000Z')
    expect(at(quiet('20:00', ''), '2026-11-30T19:30:00.000Z')).to.equal('2026-11-30T19:30:00.000Z')
  })

  it('comes also in the night in which the clocks change', () => {
    expect(at(quiet('00:00', '02:30'), '2026-03-28T23:30:00.000Z')).to.equal('2026-03-30T00:30:00.000Z')
  })
})
