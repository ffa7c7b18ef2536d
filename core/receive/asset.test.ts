import { expect } from 'chai'
import fc from 'fast-check'
import {
  type AssetAround,
  type AssetEntry,
  type AssetFacts,
  disposeAsset,
  firstEntry,
  missing,
  tellAsset,
} from '#core/receive/asset.ts'
import { fittingDay } from '#core/receive/months.ts'
import { MOST_SERIALS, readSerials, twice } from '#core/receive/serials.ts'
import { nextTag, numberIn, rangeOfTag, type TagRange, tagText, whyNotTag } from '#core/receive/tags.ts'
import { ADA, NOBODY } from '#test-helpers/orderToPay.ts'

const SAT: TagRange = { code: 'SAT', prefix: 'Sat-', digits: 6, from: 4401, to: 9999 }
const LAB: TagRange = { code: 'LAB', prefix: 'LAB-', digits: 4, from: 1, to: 2 }
const RANGES = [SAT, LAB]
const codes = (reasons: readonly { code: string; place?: string }[]): string[] => reasons.map(one => [one.code, one.place].filter(Boolean).join(' ')) // prettier-ignore
const empty: AssetEntry = { tag: '', serial: '', description: 'Regulator', placeId: null, bin: '', personId: null, warrantyTo: null, serviceMonths: 0, parentId: null, note: '' } // prettier-ignore
const asset = (changed: Partial<AssetFacts> = {}): AssetFacts => ({ id: 'a', number: 'Y-1', state: 'unfinished', entry: empty, needsSerial: true, tagRange: '', receivedOn: '2026-06-01', ...changed }) // prettier-ignore
const around = (changed: Partial<AssetAround> = {}): AssetAround => ({ ranges: RANGES, tagOf: null, serialOf: null, above: [], ...changed }) // prettier-ignore
const tell = (entry: Partial<AssetEntry>, facts = asset(), beside = around(), who = ADA) => tellAsset(facts, { ...facts.entry, ...entry }, beside, who) // prettier-ignore

describe('tags', () => {
  it('are numbers of a range, with noughts before them, whatever their letters', () => {
    expect(tagText(SAT, 4418)).to.equal('Sat-004418')
    expect([numberIn(SAT, ' sat-004418 '), numberIn(SAT, 'SAT-004401'), numberIn(SAT, 'SAT-009999')]).to.deep.equal([4418, 4401, 9999]) // prettier-ignore
    for (const tag of [
      'SAT-004400',
      'SAT-010000',
      'SAT-4418',
      'SAT-0004418',
      'LAB-004418',
      'SAT-00441x',
      'SAT-',
      'SAT-0044180000000',
      '',
    ])
      expect(numberIn(SAT, tag), tag).to.equal(null)
    expect([rangeOfTag(RANGES, 'lab-0002')?.code, rangeOfTag(RANGES, 'lab-0003')]).to.deep.equal(['LAB', null])
    expect(numberIn({ ...LAB, to: 20_000 }, 'LAB-12345')).to.equal(12345)
  })

  it('follow each other until the range is used up', () => {
    expect([nextTag(SAT, null), nextTag(SAT, 4401), nextTag(SAT, 17), nextTag(SAT, 9998), nextTag(SAT, 9999)]).to.deep.equal(['Sat-004401', 'Sat-004402', 'Sat-004401', 'Sat-009999', null]) // prettier-ignore
    fc.assert(
      fc.property(fc.integer({ min: 4400, max: 9998 }), last => numberIn(SAT, nextTag(SAT, last)!) === last + 1),
    )
  })

  it('are refused where they are of no range, of another than the kind takes, or on another piece', () => {
    expect(codes(whyNotTag('X-1', '', RANGES, null))).to.deep.equal(['asset.tagOfNone tag'])
    expect(codes(whyNotTag('LAB-0001', 'SAT', RANGES, null))).to.deep.equal(['asset.tagOfOther tag'])
    expect(codes(whyNotTag('LAB-0001', 'LAB', RANGES, 'Y-7'))).to.deep.equal(['asset.tagUsed tag'])
    expect([whyNotTag('LAB-0001', '', RANGES, null), whyNotTag('LAB-0001', 'LAB', RANGES, null)]).to.deep.equal([
      [],
      [],
    ])
  })
})

describe('a piece', () => {
  it('waits until its tag is told, and its serial number where it has to be', () => {
    expect(codes(missing(asset(), empty))).to.deep.equal(['asset.needsTag tag', 'asset.needsSerial serial'])
    expect(codes(missing(asset({ needsSerial: false }), { tag: ' ', serial: '' }))).to.deep.equal([
      'asset.needsTag tag',
    ])
    const half = tell({ tag: 'sat-004418 ' })
    expect(half.ok && [half.next.state, half.next.entry.tag, codes(half.next.missing), half.did.action]).to.deep.equal(['unfinished', 'SAT-004418', ['asset.needsSerial serial'], 'changed']) // prettier-ignore
    const whole = tell({ tag: 'SAT-004418', serial: ' B7 ' })
    expect(whole.ok && [whole.next.state, whole.next.entry.serial, whole.did.action, whole.did.changes]).to.deep.equal(['inUse', 'B7', 'finished', { before: { tag: '', serial: '' }, after: { tag: 'SAT-004418', serial: ' B7 ' } }]) // prettier-ignore
  })

  it('that is finished keeps what it needs, and can be told anew', () => {
    const inUse = asset({ state: 'inUse', entry: { ...empty, tag: 'SAT-004418', serial: 'B7' } })
    const emptied = tell({ serial: '' }, inUse)
    expect(!emptied.ok && codes(emptied.reasons)).to.deep.equal(['asset.needsSerial serial'])
    const moved = tell({ bin: 'Shelf' }, inUse)
    expect(moved.ok && [moved.next.state, moved.did.action, moved.did.changes]).to.deep.equal(['inUse', 'changed', { before: { bin: '' }, after: { bin: 'Shelf' } }]) // prettier-ignore
  })

  it('takes no serial number that is used, is no part of itself, and is told by who receives', () => {
    const against = (...given: Parameters<typeof tell>) => { const told = tell(...given); return told.ok ? [] : codes(told.reasons) } // prettier-ignore
    expect(against({ serial: 'B7' }, asset(), around({ serialOf: 'Y-2' }))).to.deep.equal(['asset.serialUsed serial'])
    expect(against({ serial: ' ' }, asset(), around({ serialOf: 'Y-2' }))).to.deep.equal([])
    expect(against({ tag: 'SAT-004418' }, asset(), around({ tagOf: 'Y-2' }))).to.deep.equal(['asset.tagUsed tag'])
    expect(against({ parentId: 'a' })).to.deep.equal(['asset.partOfItself parentId'])
    expect(against({ parentId: 'b' }, asset(), around({ above: ['b', 'a'] }))).to.deep.equal(['asset.partOfItself parentId']) // prettier-ignore
    expect(against({ parentId: 'b' }, asset(), around({ above: ['b', 'c'] }))).to.deep.equal([])
    expect(against({}, asset(), around(), NOBODY)).to.deep.equal(['right.notYours'])
    for (const state of ['returned', 'disposed', 'voided'] as const) expect(tell({}, asset({ state })).ok, state).to.equal(false) // prettier-ignore
  })

  it('is no longer used with a reason, once it was', () => {
    const done = disposeAsset(asset({ state: 'inUse' }), ADA, 'Scrapped.')
    expect(done.ok && [done.next.state, done.did.reason]).to.deep.equal(['disposed', 'Scrapped.'])
    expect(disposeAsset(asset({ state: 'inUse' }), ADA, '').ok).to.equal(false)
    expect(disposeAsset(asset({ state: 'inUse' }), NOBODY, 'Scrapped.').ok).to.equal(false)
    expect(disposeAsset(asset(), ADA, 'Scrapped.').ok).to.equal(false)
  })

  it('starts with what its receipt and its kind say of it', () => {
    const from = { description: 'Regulator', placeId: 'quay', bin: 'B1', serial: 'S1', receivedOn: '2026-01-31' }
    const entry = firstEntry(from, { warrantyMonths: 25, serviceMonths: 12 })
    expect([entry.warrantyTo, entry.serviceMonths, entry.serial, entry.tag, entry.bin]).to.deep.equal(['2028-02-29', 12, 'S1', '', 'B1']) // prettier-ignore
    expect(firstEntry(from, { warrantyMonths: 0, serviceMonths: 0 }).warrantyTo).to.equal(null)
  })
})

describe('months later', () => {
  it('is the same day, or the last of a month that has no such day', () => {
    expect(['2026-01-31', '2026-01-30', '2026-03-15', '2026-12-31'].map(day => fittingDay(day, 1))).to.deep.equal(['2026-02-28', '2026-02-28', '2026-04-15', '2027-01-31']) // prettier-ignore
    expect([fittingDay('2026-11-30', 3), fittingDay('2026-01-28', 1), fittingDay('2026-05-31', 12)]).to.deep.equal(['2027-02-28', '2026-02-28', '2027-05-31']) // prettier-ignore
  })
})

describe('serial numbers', () => {
  const read = (text: string) => { const { serials, reasons } = readSerials(text); return [serials, codes(reasons)] } // prettier-ignore
  it('are read by line, tab, comma and semicolon, and as a range with its noughts', () => {
    expect(read('A1\nB2\t C3 ,D4;;E5\r\n')).to.deep.equal([['A1', 'B2', 'C3', 'D4', 'E5'], []])
    expect(read('A-0098..A-0101')).to.deep.equal([['A-0098', 'A-0099', 'A-0100', 'A-0101'], []])
    for (const range of ['A-9..11', 'A-9…11', 'A-9–11', 'A-9 ... 11']) expect(read(range)[0], range).to.have.length.greaterThan(0) // prettier-ignore
    expect(read('A-9..11')[0]).to.deep.equal(['A-9', 'A-10', 'A-11'])
    expect(read('7..7')).to.deep.equal([['7'], []])
  })

  it('are refused where a range runs backwards or has two beginnings, where one is too long, twice, or there are too many', () => {
    expect(read('A-9..A-8')).to.deep.equal([[], ['serial.range']])
    expect(read('A-1..B-3')).to.deep.equal([[], ['serial.range']])
    expect(read('X'.repeat(40))[1]).to.deep.equal([])
    expect(read('X'.repeat(41))).to.deep.equal([[], ['serial.tooLong']])
    expect(read(`${'X'.repeat(39)}1..5`)[1]).to.deep.equal([])
    expect(read(`${'X'.repeat(39)}1..10`)[1]).to.deep.equal(['serial.range'])
    expect(read('A1\nA1\nB2\nB2\nA1')[1]).to.deep.equal(['serial.twice'])
    expect(twice(['a', 'b', 'b', 'a', 'a'])[0]!.details).to.deep.equal({ serial: 'b', count: 2 })
    expect(readSerials(`1..${MOST_SERIALS}`).serials).to.have.length(MOST_SERIALS)
    expect(read(`1..${MOST_SERIALS + 1}`)).to.deep.equal([[], ['serial.tooMany']])
    expect(readSerials(`1..${MOST_SERIALS}\nX1`).reasons.map(one => one.code)).to.deep.equal(['serial.tooMany'])
  })
})
