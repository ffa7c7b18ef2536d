import { expect } from 'chai'
import { isDay } from '#core/calendar/days.ts'
import { type AskedColumn, whyNotAsk } from '#core/lists/conditions.ts'
import { groupCondition, groups, readGroups } from '#core/lists/groups.ts'

const COLUMNS: readonly AskedColumn[] = [
  { key: 'supplier', type: 'words' },
  { key: 'buyer', type: 'person' },
  { key: 'needBy', type: 'date' },
  { key: 'amount', type: 'figure' },
  { key: 'state', type: 'choice' },
]

describe('groups of a list', () => {
  it('are made of two columns at most, each once, and never of figures', () => {
    expect(readGroups('supplier', COLUMNS)).to.deep.equal(['supplier'])
    expect(readGroups('needBy,supplier', COLUMNS)).to.deep.equal(['needBy', 'supplier'])
    expect(readGroups('supplier,supplier,state,buyer', COLUMNS)).to.deep.equal(['supplier', 'state'])
    expect(readGroups('amount,gone,__proto__,buyer', COLUMNS)).to.deep.equal(['buyer'])
    expect(readGroups('', COLUMNS)).to.deep.equal([])
    expect(COLUMNS.filter(groups).map(one => one.key)).to.deep.equal(['supplier', 'buyer', 'needBy', 'state'])
  })

  it('are opened by asking for their value, a month by its first and last day', () => {
    expect(groupCondition(COLUMNS[0]!, 'Nordhavn, Pumps')).to.deep.equal({
      column: 'supplier',
      operator: 'is',
      values: ['Nordhavn, Pumps'],
    })
    for (const [month, last] of [
      ['2026-02', '2026-02-28'],
      ['2028-02', '2028-02-29'],
      ['2026-09', '2026-09-30'],
      ['2026-11', '2026-11-30'],
      ['2026-12', '2026-12-31'],
    ] as const)
      expect(groupCondition(COLUMNS[2]!, month)?.values).to.deep.equal([`${month}-01`, last])
    expect(isDay(groupCondition(COLUMNS[2]!, '2026-08')!.values[1]!)).to.equal(true)
  })

  it('of what is empty are asked for as empty, except choices, which always have a value', () => {
    expect(groupCondition(COLUMNS[1]!, null)).to.deep.equal({ column: 'buyer', operator: 'empty', values: [] })
    expect(groupCondition(COLUMNS[2]!, null)?.operator).to.equal('empty')
    expect(groupCondition(COLUMNS[4]!, null)).to.equal(undefined)
  })

  it('can always be asked for', () => {
    for (const column of COLUMNS.filter(groups))
      for (const value of [column.type === 'date' ? '2027-01' : 'a', null]) {
        const condition = groupCondition(column, value)
        if (condition) expect(whyNotAsk(condition, column.type), `${column.key} ${value}`).to.deep.equal([])
      }
  })
})
