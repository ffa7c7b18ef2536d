import { expect } from 'chai'
import { RuleBroken } from '#core/reasons.ts'
import { readHolidays } from '#server/formats/icalendar.ts'

const file = (...events: readonly string[][]): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//made up//EN',
    ...events.flatMap((lines, index) => ['BEGIN:VEVENT', `UID:${index}`, ...lines, 'END:VEVENT']),
    'END:VCALENDAR',
  ].join('\r\n')
const read = (...events: readonly string[][]) => readHolidays(file(...events), '2026-01-01', '2027-12-31')
const code = (work: () => unknown): string => {
  try {
    work()
    return ''
  } catch (error) {
    return error instanceof RuleBroken ? error.reasons[0]!.code : String(error)
  }
}

describe('holidays from an iCalendar file', () => {
  it('are single days, several days up to the day before the end, and days of an hour', () => {
    expect(
      read(
        ['DTSTART;VALUE=DATE:20261225', 'DTEND;VALUE=DATE:20261227', 'SUMMARY:Christmas'],
        ['DTSTART;VALUE=DATE:20260501', 'SUMMARY:Labour Day'],
        ['DTSTART:20261231T120000Z', 'DTEND:20261231T180000Z', 'SUMMARY:Half a day'],
      ),
    ).to.deep.equal([
      { day: '2026-05-01', name: 'Labour Day' },
      { day: '2026-12-25', name: 'Christmas' },
      { day: '2026-12-26', name: 'Christmas' },
      { day: '2026-12-31', name: 'Half a day' },
    ])
  })

  it('return year by year, within the years that are asked for', () => {
    expect(
      read(['DTSTART;VALUE=DATE:20200517', 'RRULE:FREQ=YEARLY', 'SUMMARY:17 May']).map(one => one.day),
    ).to.deep.equal(['2026-05-17', '2027-05-17'])
  })

  it('that would never end do end', () => {
    const days = read(
      ['DTSTART:20260101T000000Z', 'RRULE:FREQ=SECONDLY', 'SUMMARY:Tick'],
      ['DTSTART;VALUE=DATE:20260201', 'DTEND;VALUE=DATE:20990101', 'SUMMARY:For ever'],
    )
    expect(days.filter(one => one.name === 'Tick')).to.have.length(1)
    expect(days.filter(one => one.name === 'For ever')).to.have.length(31)
  })

  it('are refused where there are none, or it is no calendar', () => {
    expect(code(() => read(['DTSTART;VALUE=DATE:19990101', 'SUMMARY:Long ago']))).to.equal('calendar.nothing')
    expect(code(() => readHolidays('hello', '2026-01-01', '2026-12-31'))).to.equal('calendar.unreadable')
    expect(code(() => readHolidays('', '2026-01-01', '2026-12-31'))).to.not.equal('')
    const many = Array.from({ length: 2001 }, () => ['DTSTART;VALUE=DATE:20260101', 'SUMMARY:x'])
    expect(code(() => read(...many))).to.equal('calendar.tooMany')
  })
})
