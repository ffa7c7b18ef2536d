import { expect } from 'chai'
import fc from 'fast-check'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { addBusinessHours, businessHoursBetween, instantAt, type WorkHours } from '#core/calendar/hours.ts'

const work = (changed: Partial<WorkHours> = {}): WorkHours => ({
  calendar: PLAIN_CALENDAR,
  zone: 'UTC',
  from: '09:00',
  to: '17:00',
  ...changed,
})
const iso = (day: string, time: string, zone: string): string => new Date(instantAt(day, time, zone)).toISOString()

describe('working hours', () => {
  it('go on in the morning, over the weekend and over holidays', () => {
    expect(addBusinessHours('2026-11-26T15:00:00Z', 1, work())).to.equal('2026-11-26T16:00:00.000Z')
    expect(addBusinessHours('2026-11-26T16:00:00Z', 2, work())).to.equal('2026-11-27T10:00:00.000Z')
    expect(addBusinessHours('2026-11-27T16:00:00Z', 2, work())).to.equal('2026-11-30T10:00:00.000Z')
    const closed = work({ calendar: { restDays: [0, 6], holidays: ['2026-11-30'] } })
    expect(addBusinessHours('2026-11-27T16:00:00Z', 2, closed)).to.equal('2026-12-01T10:00:00.000Z')
  })

  it('begin when work begins, and end with the day exactly', () => {
    expect(addBusinessHours('2026-11-28T23:00:00Z', 1, work())).to.equal('2026-11-30T10:00:00.000Z')
    expect(addBusinessHours('2026-11-26T03:00:00Z', 8, work())).to.equal('2026-11-26T17:00:00.000Z')
    expect(addBusinessHours('2026-11-26T17:00:00Z', 1, work())).to.equal('2026-11-27T10:00:00.000Z')
  })

  it('are those of the clocks where somebody is, also when these change', () => {
    const amsterdam = work({ zone: 'Europe/Amsterdam' })
    expect(addBusinessHours('2026-03-27T15:00:00Z', 2, amsterdam)).to.equal('2026-03-30T08:00:00.000Z')
    expect(addBusinessHours('2026-10-23T14:00:00Z', 2, amsterdam)).to.equal('2026-10-26T09:00:00.000Z')
    expect(addBusinessHours('2026-11-26T00:30:00Z', 1, work({ zone: 'Asia/Tokyo' }))).to.equal(
      '2026-11-26T01:30:00.000Z',
    )
    expect(iso('2026-03-29', '02:30', 'Europe/Amsterdam')).to.equal('2026-03-29T01:30:00.000Z')
    expect(iso('2026-10-25', '02:30', 'Europe/Amsterdam')).to.equal('2026-10-25T00:30:00.000Z')
    expect(iso('2026-07-01', '09:00', 'Europe/Amsterdam')).to.equal('2026-07-01T07:00:00.000Z')
  })

  it('between two moments are counted to the minute', () => {
    expect(businessHoursBetween('2026-11-27T16:00:00Z', '2026-11-30T10:30:00Z', work())).to.equal(2.5)
    expect(businessHoursBetween('2026-11-27T16:00:00Z', '2026-11-27T15:00:00Z', work())).to.equal(0)
    expect(businessHoursBetween('2026-11-28T08:00:00Z', '2026-11-29T20:00:00Z', work())).to.equal(0)
    expect(businessHoursBetween('2026-11-26T08:00:00Z', '2026-11-27T20:00:00Z', work())).to.equal(16)
  })

  it('where nobody ever works, count as they are', () => {
    const never = work({ calendar: { restDays: [0, 1, 2, 3, 4, 5, 6], holidays: [] } })
    expect(addBusinessHours('2026-11-26T15:00:00Z', 3, never)).to.equal('2026-11-26T18:00:00.000Z')
  })

  it('that are added are those that lie between, in any zone', () => {
    const at = fc.integer({ min: Date.UTC(2026, 0, 1) / 60_000, max: Date.UTC(2026, 11, 31) / 60_000 })
    const zones = fc.constantFrom('UTC', 'Europe/Amsterdam', 'America/New_York', 'Asia/Tokyo', 'Australia/Lord_Howe')
    fc.assert(
      fc.property(at, fc.integer({ min: 1, max: 200 }), zones, (minute, hours, zone) => {
        const from = new Date(minute * 60_000).toISOString()
        const end = addBusinessHours(from, hours, work({ zone }))
        expect(businessHoursBetween(from, end, work({ zone }))).to.equal(hours)
        expect(end > from).to.equal(true)
      }),
      { numRuns: 150, seed: 3 },
    )
  })
})
