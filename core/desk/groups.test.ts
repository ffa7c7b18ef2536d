import { expect } from 'chai'
import fc from 'fast-check'
import { deskGroups } from '#core/desk/groups.ts'
import { LONGEST, whyNotPutOff } from '#core/desk/putOff.ts'
import { addDays } from '#core/calendar/days.ts'

const waiting = fc.record({
  act: fc.constantFrom('decide', 'chase', 'receive'),
  tone: fc.constantFrom('plain' as const, 'attention' as const, 'stop' as const),
  needBy: fc.option(fc.constantFrom('2026-11-20', '2026-12-01'), { nil: null }),
  since: fc.constantFrom('2026-11-01', '2026-11-02'),
})
const item = (act: string, tone: 'plain' | 'stop', needBy: string | null) => ({
  act,
  tone,
  needBy,
  since: '2026-11-01',
})

describe('the groups of the Desk', () => {
  it('stand by what is dearest to leave in each', () => {
    const groups = deskGroups([
      item('receive', 'plain', '2026-11-20'),
      item('chase', 'stop', '2026-12-09'),
      item('decide', 'plain', null),
      item('receive', 'stop', '2026-12-10'),
      item('chase', 'stop', '2026-12-08'),
    ])
    expect(groups.map(group => [group.act, group.items.map(one => one.needBy)])).to.deep.equal([
      ['chase', ['2026-12-08', '2026-12-09']],
      ['receive', ['2026-12-10', '2026-11-20']],
      ['decide', [null]],
    ])
  })

  it('hold everything once, in one group for each thing to do', () => {
    fc.assert(
      fc.property(fc.array(waiting), items => {
        const groups = deskGroups(items)
        expect(groups.flatMap(group => group.items)).to.have.members(items)
        expect(groups.flatMap(group => group.items)).to.have.length(items.length)
        expect(new Set(groups.map(group => group.act)).size).to.equal(groups.length)
        for (const group of groups) expect(new Set(group.items.map(one => one.act)).size).to.equal(1)
      }),
    )
  })

  it('let things be put off until a day to come, not for good', () => {
    const today = '2026-11-27'
    const codes = (day: string): string[] => whyNotPutOff(day, today).map(reason => reason.code)
    expect(codes('2026-11-28')).to.deep.equal([])
    expect(codes(addDays(today, LONGEST))).to.deep.equal([])
    for (const day of [today, '2026-11-26', addDays(today, LONGEST + 1), 'tomorrow', '2026-11-31'])
      expect(codes(day), day).to.deep.equal(['desk.putOffDay'])
    expect(whyNotPutOff(today, today)[0]).to.deep.include({ place: 'until', details: { most: LONGEST } })
  })
})
