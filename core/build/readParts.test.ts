import { expect } from 'chai'
import fc from 'fast-check'
import { findColumns, headingField } from '#core/build/listColumns.ts'
import { unitFrom } from '#core/build/listUnits.ts'
import { bestMatches, type MatchItem, matchPart } from '#core/build/matchPart.ts'
import { lineName, type PartLine } from '#core/build/partsList.ts'
import { MOST_PART_LINES, type ReadList, readParts } from '#core/build/readParts.ts'

const grid = (text: string): string[][] =>
  text
    .trim()
    .split('\n')
    .map(row => row.split('|').map(cell => cell.replace(/^ | $/g, '')))
const codes = (list: ReadList): string[] => list.reasons.map(one => one.code)
const read = (text: string): ReadList => readParts(grid(text))
const figures = (list: ReadList): (string | null)[] => list.lines.map(line => line.quantity)

describe('reading a parts list', () => {
  it('finds its columns under titles and two rows of headings, in other languages too', () => {
    const list = read(`
Life-support skid, revision C| | |
| | |
Teilenummer|Bezeichnung|Menge|ME
(ours)| |per build|
SR-12|Seal ring 12 mm|12|Stk.
PI-32|Pipe 32 mm|14,5|m`)
    expect(list.firstRow).to.equal(4)
    expect(list.columns).to.deep.equal({ number: 0, description: 1, quantity: 2, unit: 3 })
    expect(list.lines.map(line => [line.number, line.quantity, line.unit, line.row])).to.deep.equal([
      ['SR-12', '12', 'C62', 5],
      ['PI-32', '14.5', 'MTR', 6],
    ])
    expect(codes(list)).to.deep.equal([])
  })

  it('tells columns by what stands in them where there are no headings', () => {
    const found = findColumns(
      grid('SR-12|Seal ring 12 mm|12|pcs\nPU-6|Circulation pump|1|pcs\nUV-80|UV lamp 80 W|2|pcs'),
    )
    expect(found.columns).to.deep.equal({ unit: 3, description: 1, number: 0, quantity: 2 })
    expect(found.firstRow).to.equal(0)
  })

  it('knows headings whatever their case and marks', () => {
    expect(['Qty. per build', 'Mfr. Part No.', 'Désignation', 'REF-DES', 'Something'].map(headingField)).to.deep.equal(
      ['quantity', 'makerNumber', undefined, 'places', undefined].map((one, at) =>
        at === 2 ? headingField('designation') : one,
      ),
    )
  })

  it('says what it cannot do without', () => {
    expect(
      codes(
        readParts(
          [
            ['Part number', 'Remarks'],
            ['SR-12', 'x'],
          ],
          { number: 0 },
        ),
      ),
    ).to.deep.equal(['parts.noQuantity'])
    expect(
      codes(
        readParts(
          [
            ['Qty', 'Remarks'],
            ['2', 'x'],
          ],
          { quantity: 0 },
        ),
      ),
    ).to.deep.equal(['parts.noName'])
    expect(codes(read('Part number|Qty'))).to.deep.equal(['parts.none'])
    const many = [
      ['Part number', 'Qty'],
      ...Array.from({ length: MOST_PART_LINES + 1 }, (_one, at) => [`P-${at}`, '1']),
    ]
    expect(codes(readParts(many))).to.deep.equal(['parts.tooMany'])
    expect(codes(readParts(many.slice(1), { number: 0, quantity: 1 }, 1))).to.deep.equal([])
  })

  it('reads decimal commas and points as the rest of the column is written, and asks where that does not agree', () => {
    const rows = (...quantities: string[]): ReadList =>
      readParts([['Part number', 'Qty'], ...quantities.map((text, at) => [`P-${at}`, text])])
    expect(figures(rows('1.000,50', '1.000', '2,5'))).to.deep.equal(['1000.50', '1000', '2.5'])
    expect(figures(rows('1,000.50', '1,000', '2.5'))).to.deep.equal(['1000.50', '1000', '2.5'])
    const mixed = rows('1.000,50', '1,000.50', '1,000')
    expect(figures(mixed)).to.deep.equal(['1000.50', '1000.50', null])
    expect(mixed.reasons[0]).to.deep.include({
      code: 'parts.twoFigures',
      details: { row: 4, one: '1000', other: '1.000' },
    })
    expect(figures(rows("1'200", '3 pcs', ' 4 '))).to.deep.equal(['1200', '3', '4'])
    expect(figures(rows('1,000'))).to.deep.equal([null])
  })

  it('leaves lines without a quantity where it is a date, negative, missing or no figure at all', () => {
    const list = read('Part number|Qty\nA-1|2026-03-01\nA-2|-4\nA-3|\nA-4|some\nA-5|DNP\nA-6|0')
    expect(figures(list)).to.deep.equal([null, null, null, null, '0', '0'])
    expect(codes(list)).to.deep.equal(['parts.date', 'parts.figure', 'parts.noFigure', 'parts.figure'])
    expect(list.reasons.every(one => one.level === 'check')).to.equal(true)
  })

  it('leaves out totals, empty rows and headings that come again, and fills what merged cells leave empty', () => {
    const list = read(
      'Part number|Description|Qty|Ref des\nA-1|Valve|2|V1\n||3|V2\nTotal||5|\n|||\nPart number|Description|Qty|Ref des\nA-2|Pump|1|P1',
    )
    expect(list.lines.map(line => [line.number, line.quantity, line.places])).to.deep.equal([
      ['A-1', '2', 'V1'],
      ['A-1', '3', 'V2'],
      ['A-2', '1', 'P1'],
    ])
    expect(list.skipped).to.deep.equal([
      { row: 4, why: 'total' },
      { row: 5, why: 'empty' },
      { row: 6, why: 'heading' },
    ])
    expect(codes(list)).to.deep.equal(['parts.sameAsAbove'])
  })

  it('does not take a part for a total because of its name', () => {
    const list = read(
      'Part number|Description|Qty\nSUM-12|Sump|1\nLB-1|Total|2\n|Total hardness test|3\n|Total parts:|6\nSumme||6',
    )
    expect(list.lines.map(line => line.row)).to.deep.equal([2, 3, 4])
    expect(list.skipped.map(one => one.row)).to.deep.equal([5, 6])
  })

  it('says which units it does not know', () => {
    const list = read('Part number|Qty|Unit\nA-1|2|barrels\nA-2|2|MTR')
    expect(codes(list)).to.deep.equal(['parts.unit'])
    expect(figures(list)).to.deep.equal([null, '2'])
    expect(['Stk.', 'm', 'KGM', 'each', 'roll', 'l', 'x'].map(unitFrom)).to.deep.equal([
      'C62',
      'MTR',
      'KGM',
      'C62',
      'XRO',
      'LTR',
      undefined,
    ])
  })

  it('reads levels as figures, with dots before them, as outline numbers, from blanks and from the number of the assembly', () => {
    const parents = (text: string): (number | null)[] => read(text).lines.map(line => line.parent)
    expect(parents('Level|Part number|Qty\n1|A|1\n2|B|1\n3|C|1\n2|D|1\n1|E|1')).to.deep.equal([null, 0, 1, 0, null])
    expect(parents('Level|Part number|Qty\n1|A|1\n..2|B|1\n.3|C|1')).to.deep.equal([null, 0, 1])
    expect(parents('Level|Part number|Qty\n1|A|1\n1.1|B|1\n1.1.1|C|1\n1.2|D|1')).to.deep.equal([null, 0, 1, 0])
    expect(parents('Description|Qty\nSkid|1\n  Pump set|2\n    Seal ring|3\n  Frame|1')).to.deep.equal([null, 0, 1, 0])
    expect(parents('Assembly|Part number|Qty\n|SKID|1\nSKID|PUMP|2\nPUMP|SEAL|3\nOTHER|X|1')).to.deep.equal([
      null,
      0,
      1,
      null,
    ])
  })

  it('never loses a row: each is a line or is said to be left out', () => {
    const cell = fc.constantFrom('', 'A-1', '2', 'Total', 'm', '1,5', 'Pump', '-')
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 30 }), rows => {
        const list = readParts(
          [['Part number', 'Description', 'Qty'], ...rows],
          { number: 0, description: 1, quantity: 2 },
          1,
        )
        expect(list.lines.length + list.skipped.length).to.equal(rows.length)
        for (const [at, line] of list.lines.entries()) expect(line.parent ?? -1).to.be.below(at)
      }),
    )
  })
})

const item = (with_: Partial<MatchItem> = {}): MatchItem => ({
  id: 'i1',
  number: 'IO-1012',
  name: 'Seal ring 12 mm, EPDM',
  alsoCalled: '',
  maker: 'Ferrolund',
  makerNumber: 'FR-12-E',
  gtin: '',
  unit: 'C62',
  packs: [],
  supplierNumbers: ['88-12'],
  ...with_,
})
const line = (with_: Partial<PartLine> = {}): PartLine => ({
  parent: null,
  number: '',
  maker: '',
  makerNumber: '',
  gtin: '',
  description: '',
  quantity: '1',
  unit: 'C62',
  places: '',
  remarks: '',
  itemId: null,
  ...with_,
})

describe('matching lines to items', () => {
  it('is sure of numbers: ours, the maker’s, a supplier’s, a GTIN, however they are written', () => {
    expect(matchPart(line({ number: 'io 1012' }), item())).to.deep.equal({
      itemId: 'i1',
      likeness: 96,
      reasons: ['number'],
    })
    expect(matchPart(line({ makerNumber: 'FR12E', maker: 'Ferrolund AB' }), item()).reasons).to.deep.equal([
      'makerNumber',
    ])
    expect(matchPart(line({ number: '88-12' }), item()).reasons).to.deep.equal(['supplierNumber'])
    expect(matchPart(line({ gtin: '4006381333931' }), item({ gtin: '4006381333931' })).reasons).to.deep.equal(['gtin'])
    expect(matchPart(line({ gtin: '' }), item()).likeness).to.equal(0)
    expect(bestMatches(line({ number: 'IO-1012' }), [item(), item({ id: 'i2', number: 'X' })]).sure!.itemId).to.equal(
      'i1',
    )
  })

  it('is not sure where the maker or the kind of unit is another', () => {
    expect(matchPart(line({ makerNumber: 'FR-12-E', maker: 'Nordhavn' }), item())).to.deep.include({
      likeness: 71,
      reasons: ['makerNumber', 'otherMaker'],
    })
    expect(matchPart(line({ number: 'IO-1012', unit: 'KGM' }), item())).to.deep.include({
      likeness: 76,
      reasons: ['number', 'otherUnit'],
    })
    expect(bestMatches(line({ number: 'IO-1012', unit: 'KGM' }), [item()])).to.deep.include({ sure: null })
  })

  it('offers what words are alike, and sizes only when they agree', () => {
    const right = matchPart(line({ description: 'Seal ring EPDM 12mm' }), item())
    const wrong = matchPart(line({ description: 'Seal ring EPDM 25 mm' }), item())
    expect(right.reasons).to.deep.equal(['words'])
    expect(right.likeness).to.be.within(70, 89)
    expect(wrong.likeness).to.be.below(right.likeness - 20)
    expect(wrong.reasons).to.include('otherSize')
    expect(matchPart(line({ description: 'O-ring' }), item({ alsoCalled: 'o-ring' })).likeness).to.be.above(80)
    expect(bestMatches(line({ description: 'Blue whale' }), [item()])).to.deep.equal({ sure: null, offered: [] })
  })

  it('leaves it to people where two are as good', () => {
    const twins = [item(), item({ id: 'i2' })]
    const found = bestMatches(line({ makerNumber: 'FR-12-E' }), twins)
    expect([found.sure, found.offered.map(one => one.itemId)]).to.deep.equal([null, ['i1', 'i2']])
  })

  it('calls a line by its words, else by its number', () => {
    expect([
      lineName(line({ description: ' Pump ' })),
      lineName(line({ number: 'P-1' })),
      lineName(line({ makerNumber: 'M' })),
    ]).to.deep.equal(['Pump', 'P-1', 'M'])
  })
})
