import { expect } from 'chai'
import { compareRevisions, plainDifferences, responseDepartures, type RevisionLine } from '#core/order/revision.ts'

const line = (lineId: string, changed: Partial<RevisionLine> = {}): RevisionLine => ({
  lineId,
  position: Number(lineId),
  description: 'Pump',
  quantity: '8',
  unit: 'C62',
  price: '2190',
  priceBase: '1',
  amount: '17520.00',
  needBy: '2026-12-04',
  ...changed,
})

describe('revisions', () => {
  it('are kept for all without what they say of a personal fee', () => {
    const differences = compareRevisions(
      [line('1'), line('2')],
      [line('1', { description: 'For Alma', quantity: '6' }), line('2', { description: 'Salt' })],
    )
    const kept = plainDifferences(differences, [
      { id: '1', kind: 'personalFee' },
      { id: '2', kind: 'goods' },
    ])
    expect(kept[0]!.fields.map(one => [one.field, one.after])).to.deep.equal([
      ['description', 'A personal fee'],
      ['quantity', '6'],
    ])
    expect(kept[0]!.fields[0]!.before).to.equal('A personal fee')
    expect(kept[1]).to.deep.equal(differences[1])
  })

  it('read as differences, field by field', () => {
    expect(
      compareRevisions([line('1'), line('2')], [line('1', { quantity: '6', needBy: '2026-12-19' }), line('2')]),
    ).to.deep.equal([
      {
        lineId: '1',
        position: 1,
        kind: 'changed',
        fields: [
          { field: 'quantity', before: '8', after: '6' },
          { field: 'needBy', before: '2026-12-04', after: '2026-12-19' },
        ],
      },
    ])
  })

  it('do not differ by the way a figure is written', () => {
    expect(compareRevisions([line('1')], [line('1', { quantity: '8.0', price: '2190.000' })])).to.deep.equal([])
  })

  it('name lines that came or went', () => {
    expect(
      compareRevisions([line('1'), line('2')], [line('2'), line('3')]).map(one => [one.lineId, one.kind]),
    ).to.deep.equal([
      ['3', 'added'],
      ['1', 'removed'],
    ])
  })
})

describe('a supplier’s answer', () => {
  it('in full has no departures; an earlier date is none either', () => {
    expect(
      responseDepartures([line('1')], [{ lineId: '1', quantity: '8', price: '2190.00', date: '2026-12-01' }]),
    ).to.deep.equal([])
  })

  it('departs by quantity, price or a later date', () => {
    const [departure] = responseDepartures(
      [line('1')],
      [{ lineId: '1', quantity: '6', price: '2200', date: '2026-12-19' }],
    )
    expect(departure!.fields.map(field => field.field)).to.deep.equal(['quantity', 'price', 'needBy'])
  })
})
