import { expect } from 'chai'
import fc from 'fast-check'
import { type Draft, mergeDrafts } from '#core/request/mergeDrafts.ts'

const line = (id: string, quantity = '1', needBy = '2026-12-04') => ({ id, quantity, needBy })
type Lines = Draft<ReturnType<typeof line>>
const base: Lines = { title: 'Salt', reason: '', lines: [line('a'), line('b')] }
const merge = (mine: Partial<Lines>, theirs: Partial<Lines>) =>
  mergeDrafts(base, { ...base, ...mine }, { ...base, ...theirs })

describe('two edits of one draft', () => {
  it('of different fields are both kept', () => {
    const { draft, news } = merge(
      { lines: [line('a', '5'), line('b')] },
      { title: 'Sea salt', lines: [line('a', '1', '2026-12-24'), line('b')] },
    )
    expect(draft).to.deep.equal({ title: 'Sea salt', reason: '', lines: [line('a', '5', '2026-12-24'), line('b')] })
    expect(news.map(one => `${one.kind} ${one.where} ${one.field}`)).to.have.members([
      'theirs a needBy',
      'theirs title title',
    ])
  })

  it('of the same field keep what is typed here, and say so', () => {
    const { draft, news } = merge({ lines: [line('a', '5'), line('b')] }, { lines: [line('a', '7'), line('b')] })
    expect(draft.lines[0]).to.deep.equal(line('a', '5'))
    expect(news).to.deep.equal([{ kind: 'yoursKept', where: 'a', field: 'quantity' }])
  })

  it('that say the same are no news', () => {
    expect(merge({ title: 'X' }, { title: 'X' }).news).to.deep.equal([])
    expect(merge({}, {}).draft).to.deep.equal(base)
  })

  it('bring new lines of both together', () => {
    const { draft } = merge({ lines: [...base.lines, line('mine')] }, { lines: [...base.lines, line('theirs')] })
    expect(draft.lines.map(one => one.id)).to.deep.equal(['a', 'b', 'mine', 'theirs'])
  })

  it('take a line out when the other left it as it was, and keep it when the other changed it', () => {
    expect(merge({}, { lines: [line('a')] }).draft.lines.map(one => one.id)).to.deep.equal(['a'])
    expect(merge({ lines: [line('a')] }, {}).draft.lines.map(one => one.id)).to.deep.equal(['a'])
    const changed = merge({ lines: [line('a'), line('b', '9')] }, { lines: [line('a')] })
    expect(changed.draft.lines.map(one => one.id)).to.deep.equal(['a', 'b'])
    const theyChanged = merge({ lines: [line('a')] }, { lines: [line('a'), line('b', '9')] })
    expect(theyChanged.draft.lines).to.deep.equal([line('a'), line('b', '9')])
    expect(theyChanged.news).to.deep.equal([{ kind: 'youRemoved', where: 'b', field: '' }])
  })

  it('never lose a field that was typed here', () => {
    const some = fc.array(
      fc.record({
        id: fc.constantFrom('a', 'b', 'c', 'd'),
        quantity: fc.constantFrom('1', '2', '3'),
        needBy: fc.constantFrom('x', 'y'),
      }),
      { maxLength: 4 },
    )
    const once = (lines: { id: string; quantity: string; needBy: string }[]) => [
      ...new Map(lines.map(one => [one.id, one])).values(),
    ]
    fc.assert(
      fc.property(some, some, some, (was, here, there) => {
        const [start, mine, theirs] = [was, here, there].map(lines => ({ title: '', reason: '', lines: once(lines) }))
        const { draft } = mergeDrafts(start!, mine!, theirs!)
        for (const own of mine!.lines) {
          const before = start!.lines.find(one => one.id === own.id)
          const after = draft.lines.find(one => one.id === own.id)
          if (!before || before.quantity !== own.quantity) expect(after?.quantity).to.equal(own.quantity)
        }
      }),
    )
  })
})
