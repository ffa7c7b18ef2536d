import { expect } from 'chai'
import { type DutiesDone, separation, timeByDecider } from '#core/decide/separation.ts'

describe('separation of duties', () => {
  const purchase = (id: string, by: Partial<DutiesDone['by']>): DutiesDone => ({
    id,
    by: { requested: [], decided: [], received: [], paid: [], ...by },
  })
  it('finds whoever did two things about one purchase, in the order of the work', () => {
    expect(
      separation([
        purchase('one', { requested: ['a'], decided: ['b'], received: ['c'], paid: ['d', 'e'] }),
        purchase('two', { requested: ['a'], decided: ['b'], received: ['a'], paid: ['b', 'a'] }),
        purchase('three', { paid: ['a', 'a'] }),
      ]),
    ).to.deep.equal([
      { id: 'two', personId: 'a', duties: ['requested', 'received', 'paid'] },
      { id: 'two', personId: 'b', duties: ['decided', 'paid'] },
    ])
    expect(separation([])).to.deep.equal([])
  })
})

describe('where time goes', () => {
  it('is counted by who decided, with the middle one and all together', () => {
    const hours = (decider: string, ...all: number[]) => all.map(one => ({ decider, hours: one }))
    expect(
      timeByDecider([...hours('Marit', 1, 3, 10), ...hours('Tomas', 2, 4.5), ...hours('Henrik', 20)]),
    ).to.deep.equal([
      { decider: 'Henrik', count: 1, median: 20, total: 20 },
      { decider: 'Marit', count: 3, median: 3, total: 14 },
      { decider: 'Tomas', count: 2, median: 3.3, total: 7 },
    ])
    expect(timeByDecider([...hours('b', 2), ...hours('a', 2)]).map(one => one.decider)).to.deep.equal(['a', 'b'])
    expect(timeByDecider([])).to.deep.equal([])
  })
})
