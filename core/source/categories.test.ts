import { expect } from 'chai'
import { asBranches, type Branch, type Hanging, whyNotHang } from '#core/source/categories.ts'

const TREE: readonly Hanging[] = [
  { name: 'Technology', parent: null },
  { name: 'Pumps', parent: 'Technology' },
  { name: 'Seals', parent: 'Pumps' },
  { name: 'Food', parent: null },
]
const codes = (name: string, parent: string | null): string[] => whyNotHang(name, parent, TREE).map(one => one.code)

describe('categories', () => {
  it('hang under any other, or under nothing, but never in a circle', () => {
    expect(codes('Food', 'Seals')).to.deep.equal([])
    expect(codes('Seals', null)).to.deep.equal([])
    expect(codes('Brine', 'Food'), 'a new one').to.deep.equal([])
    expect(codes('Pumps', 'Pumps')).to.deep.equal(['category.circle'])
    expect(codes('Technology', 'Seals')).to.deep.equal(['category.circle'])
    expect(codes('Pumps', 'Machines')).to.deep.equal(['category.noParent'])
    const round = [
      { name: 'a', parent: 'b' },
      { name: 'b', parent: 'a' },
    ]
    expect(whyNotHang('c', 'a', round), 'what is wrong already ends too').to.deep.equal([])
  })

  it('are shown as they hang, by name', () => {
    const names = (branches: readonly Branch<Hanging>[]): unknown =>
      branches.map(branch => [branch.one.name, names(branch.children)])
    expect(names(asBranches([...TREE, { name: 'Lost', parent: 'Gone' }]))).to.deep.equal([
      ['Food', []],
      ['Lost', []],
      ['Technology', [['Pumps', [['Seals', []]]]]],
    ])
  })
})
