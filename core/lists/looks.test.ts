import { expect } from 'chai'
import fc from 'fast-check'
import { arrange, changeLook, type ColumnLook, moveLook, NARROWEST, sameLooks, WIDEST } from '#core/lists/looks.ts'

const look = (key: string, change: Partial<ColumnLook> = {}): ColumnLook => ({
  key,
  width: null,
  pinned: false,
  hidden: false,
  ...change,
})
const keys = (looks: readonly ColumnLook[]): string => looks.map(one => one.key).join('')
const looks = fc.array(
  fc.record({
    key: fc.constantFrom(...'abcdefgh'),
    width: fc.option(fc.integer({ min: -10, max: 5000 }), { nil: null }),
    pinned: fc.boolean(),
    hidden: fc.boolean(),
  }),
  { maxLength: 10 },
)

describe('the columns of a list', () => {
  it('stand as they were put, and new ones where the list puts them', () => {
    expect(keys(arrange([look('c'), look('a')], ['a', 'b', 'c']).columns)).to.equal('cab')
    expect(keys(arrange([look('b')], ['a', 'b', 'c']).columns)).to.equal('abc')
    expect(keys(arrange([], ['a', 'b', 'c']).columns)).to.equal('abc')
  })

  it('that are gone are named, once each, and left out', () => {
    const { columns, lost } = arrange([look('old'), look('a'), look('old')], ['a'])
    expect([keys(columns), lost]).to.deep.equal(['a', ['old']])
  })

  it('come first where they are pinned', () => {
    expect(keys(arrange([look('a'), look('b', { pinned: true })], ['a', 'b', 'c']).columns)).to.equal('bac')
  })

  it('are never so narrow or wide that they are lost', () => {
    const widths = arrange(
      [look('a', { width: 1 }), look('b', { width: 9999 }), look('c', { width: 80.4 })],
      [...'abc'],
    )
    expect(widths.columns.map(one => one.width)).to.deep.equal([NARROWEST, WIDEST, 80])
  })

  it('always are all there, each once, one at least to be seen, and arranging again changes nothing', () => {
    fc.assert(
      fc.property(looks, wanted => {
        const { columns } = arrange(wanted, [...'abcde'])
        expect(columns.map(one => one.key).sort()).to.deep.equal([...'abcde'])
        expect(columns.some(one => !one.hidden)).to.equal(true)
        expect(arrange(columns, [...'abcde']).columns).to.deep.equal(columns)
      }),
    )
  })

  it('move among their own kind', () => {
    const start = arrange([look('a', { pinned: true }), look('b', { pinned: true })], [...'abcde']).columns
    expect(keys(moveLook(start, 'c', 1))).to.equal('abdce')
    expect(keys(moveLook(start, 'c', 9))).to.equal('abdec')
    expect(keys(moveLook(start, 'e', -9))).to.equal('abecd')
    expect(keys(moveLook(start, 'a', 3))).to.equal('bacde')
    expect(keys(moveLook(start, 'b', -1))).to.equal('bacde')
    expect(keys(moveLook(start, 'x', 1))).to.equal('abcde')
  })

  it('are changed one at a time', () => {
    const [a, b] = changeLook([look('a'), look('b')], 'b', { width: 90, hidden: true })
    expect([a, b]).to.deep.equal([look('a'), look('b', { width: 90, hidden: true })])
  })

  it('are the same only if everything about them is', () => {
    const one = [look('a'), look('b')]
    expect(sameLooks(one, [look('a'), look('b')])).to.equal(true)
    for (const other of [
      [look('a')],
      [look('b'), look('a')],
      [look('a'), look('b', { width: 50 })],
      [look('a'), look('b', { pinned: true })],
      [look('a'), look('b', { hidden: true })],
    ])
      expect(sameLooks(one, other), JSON.stringify(other)).to.equal(false)
  })
})
