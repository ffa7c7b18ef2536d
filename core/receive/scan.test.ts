import { expect } from 'chai'
import fc from 'fast-check'
import { gs1CheckDigit } from '#core/text/gs1.ts'
import { meant, readScan } from '#core/receive/scan.ts'
import { readSerials } from '#core/receive/serials.ts'

const GTIN = '04006381333931'
const SSCC = `34012345000000001${gs1CheckDigit('34012345000000001')}`
const GS = '\u001d'
const codes = (text: string): string[] => readScan(text, '2026-06-01').reasons.map(reason => reason.code)

describe('a scan', () => {
  it('is a GTIN, a shipping container, or a number of somebody’s own', () => {
    expect(readScan('4006381333931').gtin).to.equal(GTIN)
    expect(readScan('96385074').gtin).to.equal('00000096385074')
    expect(readScan(SSCC).sscc).to.equal(SSCC)
    expect(readScan(`00${SSCC}`).sscc).to.equal(SSCC)
    expect(readScan(`01${GTIN}`).gtin).to.equal(GTIN)
    expect(readScan(' O-4055 ')).to.deep.equal({ text: 'o-4055', reasons: [] })
    expect(readScan('12345')).to.deep.equal({ text: '12345', reasons: [] })
  })

  it('with a wrong check digit is refused, never taken for a number of ours', () => {
    expect(codes('4006381333932')).to.deep.equal(['scan.checkDigit'])
    expect(readScan('4006381333932').gtin).to.equal(undefined)
    expect(codes('(01)04006381333932(10)L7')).to.deep.equal(['scan.checkDigit'])
    expect(codes(`(00)${SSCC.slice(0, 17)}${SSCC.endsWith('1') ? '2' : '1'}`)).to.deep.equal(['scan.checkDigit'])
  })

  it('of a GS1 symbol says item, batch, date and serial in one, however it is written', () => {
    const wanted = { gtin: GTIN, batch: 'L7', bestBefore: '2027-03-31', serial: 'S9' }
    for (const text of [
      `(01)${GTIN}(10)L7(17)270331(21)S9`,
      `]C101${GTIN}17270331${'10'}L7${GS}21S9`,
      `]d201${GTIN}10L7${GS}1727033121S9`,
      `01${GTIN}10L7${GS}1727033121S9`,
    ])
      expect(readScan(text, '2026-06-01'), text).to.deep.include({ ...wanted, reasons: [] })
    expect(readScan(`(02)${GTIN}(37)0012(400)O-4055`)).to.deep.include({ gtin: GTIN, count: '12', order: 'O-4055' })
    expect(readScan(`]C101${GTIN}3103001250${'10'}L7`, '2026-06-01')).to.deep.include({ gtin: GTIN, batch: 'L7' })
  })

  it('reads dates by the century that is near, and day 00 as the end of the month', () => {
    const day = (six: string, today = '2026-06-01') => readScan(`(15)${six}`, today).bestBefore
    expect([day('270200'), day('280200'), day('751231'), day('760101'), day('990101')]).to.deep.equal([
      '2027-02-28',
      '2028-02-29',
      '2075-12-31',
      '1976-01-01',
      '1999-01-01',
    ])
    expect(day('010101', '2099-01-01')).to.equal('2101-01-01')
    expect(codes('(15)271301')).to.deep.equal(['scan.date'])
    expect(codes('(15)270230')).to.deep.equal(['scan.date'])
  })

  it('that is cut off, too long or unknown says so', () => {
    expect(codes('(01)0400638')).to.deep.equal(['scan.cutOff'])
    expect(codes(`(10)${'x'.repeat(21)}`)).to.deep.equal(['scan.cutOff'])
    expect(codes('(21)')).to.deep.equal(['scan.cutOff'])
    expect(codes(`]C101${GTIN}99x`)).to.deep.equal(['scan.unknown'])
  })

  it('never fails, whatever is typed', () => {
    fc.assert(fc.property(fc.string({ maxLength: 60 }), text => readScan(text).text === text.trim().toLowerCase()))
    fc.assert(fc.property(fc.string({ maxLength: 60 }), text => Array.isArray(readScan(`]C1${text}`).reasons)))
  })
})

describe('what a scan means', () => {
  const line = (changed: object) => ({
    order: 'O-1',
    supplier: 'Brightwater',
    description: 'Dive set',
    item: 'DS-1',
    supplierItem: '',
    makerNumber: '',
    gtins: [] as string[],
    tracking: [] as string[],
    ssccs: [] as string[],
    ...changed,
  })
  const lines = [
    line({ gtins: ['4006381333931'], tracking: ['1Z9'] }),
    line({ order: 'O-2', item: 'DS-12', description: 'Dive knife', gtins: ['4006381333931'], ssccs: [SSCC] }),
    line({ order: 'O-12', item: 'X', description: 'Mug', supplierItem: 'BW-7', makerNumber: 'M-7' }),
  ]
  const orders = (text: string): string[] => meant(readScan(text), lines).map(one => one.order)

  it('is a line by any of its numbers, else all lines that have the words', () => {
    for (const [text, wanted] of [
      ['o-1', ['O-1']],
      ['DS-1', ['O-1']],
      ['bw-7', ['O-12']],
      ['m-7', ['O-12']],
      ['1z9', ['O-1']],
      [SSCC, ['O-2']],
      ['dive', ['O-1', 'O-2']],
      ['brightwater', ['O-1', 'O-2', 'O-12']],
      ['(400)O-2', ['O-2']],
      ['nothing', []],
      ['', []],
    ] as const)
      expect(orders(text), text).to.deep.equal(wanted)
  })

  it('is every line with the barcode, also where that means two items', () => {
    expect(orders('4006381333931')).to.deep.equal(['O-1', 'O-2'])
    expect(orders('96385074')).to.deep.equal([])
  })
})

describe('serial numbers', () => {
  const read = (text: string) => {
    const { serials, reasons } = readSerials(text)
    return [serials, reasons.map(reason => reason.code)]
  }

  it('are told by line, comma or range, ranges with their leading noughts', () => {
    expect(read('A-0098..A-0101\nB7, C8;D9\t E1 ')).to.deep.equal([
      ['A-0098', 'A-0099', 'A-0100', 'A-0101', 'B7', 'C8', 'D9', 'E1'],
      [],
    ])
    expect(read('A-0098 – 0100')).to.deep.equal([['A-0098', 'A-0099', 'A-0100'], []])
    expect(read(' \n ,')).to.deep.equal([[], []])
  })

  it('refuse a range that runs backwards or has two beginnings, one that is too long, and one that stands twice', () => {
    expect(read('A5..A3')).to.deep.equal([[], ['serial.range']])
    expect(read('A5..B7')).to.deep.equal([[], ['serial.range']])
    expect(read('x'.repeat(41))[1]).to.deep.equal(['serial.tooLong'])
    expect(read('x'.repeat(40))[1]).to.deep.equal([])
    expect(read('A1, A2, A1, A2')[1]).to.deep.equal(['serial.twice'])
    expect(readSerials('A1, A2, A1').reasons[0]!.details).to.deep.equal({ serial: 'A1', count: 1 })
  })

  it('are at most ten thousand, pasted or as a range', () => {
    const many = Array.from({ length: 10_000 }, (_, index) => `S${index}`).join('\n')
    expect(readSerials(many).serials).to.have.length(10_000)
    expect(readSerials(many).reasons).to.deep.equal([])
    expect(read(`${many}\nS10000`)[1]).to.deep.equal(['serial.tooMany'])
    expect(read('S1..S999999999999')[1]).to.deep.equal(['serial.tooMany'])
  })
})
