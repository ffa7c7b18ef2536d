import { expect } from 'chai'
import fc from 'fast-check'
import {
  typeLoaded,
  asTable,
  decimals,
  fitRoom,
  fitWidths,
  onPoint,
  seats,
  stepOf,
  type TableColumn,
} from '#web/shared/table/table.ts'

interface Row {
  name: string
  sum: string
  currency: string
}
const COLUMNS: readonly TableColumn<Row>[] = [
  { key: 'name', label: 'Name', text: row => row.name, wide: true },
  { key: 'sum', label: 'Sum', figure: true, text: row => row.sum, unit: row => row.currency },
]
const rows: readonly Row[] = [
  { name: 'Nordhavn\tPumpeverk', sum: '18200.5', currency: 'EUR' },
  { name: 'Toshima', sum: '578000', currency: 'JPY' },
]
const measure = (text: string): number => text.length * 7

describe('a table', () => {
  it('is shown in another type where its own does not come', async () => {
    const kept = Object.getOwnPropertyDescriptor(globalThis, 'document')
    Object.defineProperty(globalThis, 'document', { value: { fonts: { load: () => Promise.reject(new Error('A network error occurred.')) } }, configurable: true }) // prettier-ignore
    try {
      expect(await typeLoaded()).to.deep.equal([])
    } finally {
      if (kept) Object.defineProperty(globalThis, 'document', kept)
      else Reflect.deleteProperty(globalThis, 'document')
    }
  })

  it('sets figures under each other by their point', () => {
    expect(onPoint('18200.5', 2)).to.deep.equal({ shown: '18\u00a0200.5', after: '0' })
    expect(onPoint('578000', 2)).to.deep.equal({ shown: '578\u00a0000', after: '.00' })
    expect(onPoint('12.345', 2)).to.deep.equal({ shown: '12.345', after: '' })
    expect(onPoint('7', 0)).to.deep.equal({ shown: '7', after: '' })
    expect(onPoint('12 kg', 2)).to.deep.equal({ shown: '12 kg', after: '' })
    expect([decimals('1.250'), decimals('12'), decimals('')]).to.deep.equal([3, 0, 0])
  })

  it('is copied with its heads, units beside their figures, one cell each whatever stands in it', () => {
    expect(asTable(COLUMNS, rows)).to.equal('Name\tSum\t\nNordhavn Pumpeverk\t18200.5\tEUR\nToshima\t578000\tJPY')
  })

  it('is as wide as what is in it, with room for what stands under the point, within limits', () => {
    const widths = fitWidths(COLUMNS, rows, measure)
    expect(widths.get('sum')).to.equal(Math.round(measure('578 000.0 JPY') * 1.06 + 16))
    expect(fitWidths(COLUMNS, [{ ...rows[0]!, name: 'x'.repeat(500) }], measure).get('name')).to.equal(300)
    expect(fitWidths(COLUMNS, [], measure).get('name')).to.equal(52)
  })

  it('draws the lines in sight and some beyond; each keeps its seat until the line is out of sight', () => {
    expect(seats(stepOf(0), 4, 3)).to.deep.equal([0, 1, 2])
    fc.assert(
      fc.property(
        fc.nat(500),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 1, max: 600 }),
        (top, sight, count) => {
          const at = Math.min(top, Math.max(0, count - sight))
          const drawn = seats(stepOf(at), sight, count)
          const inSight = Array.from({ length: Math.min(sight + 1, count - at) }, (_, index) => at + index)
          expect(drawn).to.include.members(inSight)
          expect(new Set(drawn).size).to.equal(drawn.length)
          expect(drawn.every(index => index >= 0 && index < count)).to.equal(true)
          const next = seats(stepOf(Math.min(at + 4, count)), sight, count)
          expect(next).to.have.length(drawn.length)
          const moved = next.filter((index, seat) => index !== drawn[seat])
          expect(moved.filter(index => drawn.includes(index))).to.deep.equal([])
          expect(moved.length).to.be.at.most(4)
        },
      ),
    )
    expect([stepOf(8), stepOf(9), stepOf(11), stepOf(12)]).to.deep.equal([-4, -4, -4, 0])
  })

  const column = (key: string, width: number, more = {}) => ({
    key,
    width,
    sized: false,
    figure: false,
    wide: false,
    ...more,
  })
  it('gives what room is left to the column that can use it', () => {
    const widths = fitRoom([column('a', 100), column('b', 100, { wide: true })], 350)
    expect([...widths]).to.deep.equal([
      ['a', 100],
      ['b', 250],
    ])
    expect(fitRoom([column('a', 100), column('b', 100, { wide: true, sized: true })], 350).get('a')).to.equal(250)
  })

  it('takes what is missing from the widest texts, never from figures or from what somebody has sized', () => {
    const columns = [
      column('a', 300),
      column('b', 200),
      column('c', 90, { figure: true }),
      column('d', 260, { sized: true }),
    ]
    const widths = fitRoom(columns, 700)
    expect([widths.get('c'), widths.get('d')]).to.deep.equal([90, 260])
    expect([widths.get('a'), widths.get('b')]).to.deep.equal([175, 175])
  })

  it('scrolls where cutting would leave nothing to read', () => {
    expect([...fitRoom([column('a', 300), column('b', 300)], 150).values()]).to.deep.equal([300, 300])
  })

  it('always ends, fills the room where it can, and never widens what is cut', () => {
    const one = fc.record({
      width: fc.integer({ min: 56, max: 300 }),
      sized: fc.boolean(),
      figure: fc.boolean(),
      wide: fc.boolean(),
    })
    fc.assert(
      fc.property(fc.array(one, { maxLength: 12 }), fc.integer({ min: 0, max: 2000 }), (some, room) => {
        const columns = some.map((each, index) => ({ ...each, key: String(index) }))
        const widths = fitRoom(columns, room)
        const sum = [...widths.values()].reduce((all, width) => all + width, 0)
        const before = columns.reduce((all, each) => all + each.width, 0)
        for (const each of columns) if (each.sized) expect(widths.get(each.key)).to.equal(each.width)
        if (before > room) expect(sum).to.be.at.most(before)
        if (sum < before) expect(sum).to.be.within(room, room)
      }),
    )
  })
})
