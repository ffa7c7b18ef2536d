import { expect } from 'chai'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { calendarOf, houseEntries, workPlace } from '#core/setup/calendarOf.ts'
import type { Entry, Values } from '#core/setup/registers.ts'

const entry = (values: Values, open = true): Entry => ({ values, open })

describe('the calendar of a place', () => {
  const calendars = [
    entry({ code: 'HOUSE', name: 'The house', restDays: 'SU SA' }),
    entry({ code: 'SHOP', name: 'Shop', restDays: '' }),
    entry({ code: 'OLD', name: 'Old', restDays: 'SU' }, false),
  ]
  const holidays = [
    entry({ calendar: 'HOUSE', day: '2026-12-26', name: 'Second' }),
    entry({ calendar: 'HOUSE', day: '2026-12-25', name: 'First' }),
    entry({ calendar: 'HOUSE', day: '2026-05-05', name: 'No more' }, false),
    entry({ calendar: 'SHOP', day: '2026-01-01', name: 'New year' }),
  ]

  it('has its own rest days and open holidays, in order', () => {
    expect(calendarOf('HOUSE', calendars, holidays)).to.deep.equal({
      restDays: [0, 6],
      holidays: ['2026-12-25', '2026-12-26'],
    })
    expect(calendarOf('SHOP', calendars, holidays)).to.deep.equal({ restDays: [], holidays: ['2026-01-01'] })
  })

  it('is none where it is closed or was never entered', () => {
    expect(calendarOf('OLD', calendars, holidays)).to.equal(undefined)
    expect(calendarOf('NO', calendars, holidays)).to.equal(undefined)
  })

  it('of the house is entered as it was given', () => {
    const given = { restDays: [0, 5], holidays: ['2026-12-25'] }
    const { calendars: own, holidays: days } = houseEntries(given)
    expect(
      calendarOf(
        'HOUSE',
        own.map(one => entry(one)),
        days.map(one => entry(one)),
      ),
    ).to.deep.equal(given)
  })

  it('counts for those who work there, with its clocks; else the house’s days on their own clocks', () => {
    const sites = [
      entry({ code: 'QUAY', name: 'Quay', zone: 'Europe/Oslo', calendar: 'SHOP' }),
      entry({ code: 'GONE', name: 'Gone', zone: 'Asia/Tokyo', calendar: 'SHOP' }, false),
      entry({ code: 'BARE', name: 'Bare', zone: 'Europe/Lisbon', calendar: 'OLD' }),
    ]
    const at = (site: string | null) => workPlace({ site, zone: 'Europe/Amsterdam' }, sites, calendars, holidays)
    const house = calendarOf('HOUSE', calendars, holidays)
    expect(at('QUAY')).to.deep.equal({ calendar: { restDays: [], holidays: ['2026-01-01'] }, zone: 'Europe/Oslo' })
    for (const one of [null, 'GONE', 'NEVER'])
      expect(at(one)).to.deep.equal({ calendar: house, zone: 'Europe/Amsterdam' })
    expect(at('BARE')).to.deep.equal({ calendar: house, zone: 'Europe/Lisbon' })
    expect(workPlace({ site: null, zone: 'UTC' }, sites, [], []).calendar).to.equal(PLAIN_CALENDAR)
  })
})
