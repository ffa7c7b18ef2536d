import { expect } from 'chai'
import type { DespatchText } from '#core/formats/ublDespatch.ts'
import { gs1CheckDigit } from '#core/text/gs1.ts'
import { RuleBroken } from '#core/reasons.ts'
import {
  type DespatchEntry,
  type DespatchFacts,
  type DespatchLine,
  openDespatch,
  sendDespatch,
  whyNotDespatch,
  withdrawDespatch,
  writeDespatch,
} from '#core/receive/despatch.ts'
import { readDespatchFile } from '#core/receive/despatchFile.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const line = (changed: Partial<DespatchLine> = {}): DespatchLine => ({ lineId: 'line1', quantity: '4', batch: '', bestBefore: null, serials: [], package: null, ...changed }) // prettier-ignore
const entry = (changed: Partial<DespatchEntry> = {}): DespatchEntry => ({ number: 'LS-1', despatchedOn: '2026-06-01', arrivesOn: '2026-06-03', carrier: '', tracking: '', note: '', packages: [], lines: [line()], ...changed }) // prettier-ignore
const facts = (changed: Partial<DespatchFacts> = {}): DespatchFacts => ({ number: 'D-1', state: 'draft', announced: [], ...changed }) // prettier-ignore
function issued() {
  const world = new OrderToPay({ lines: [{}, { kind: 'workByRate' }, { kind: 'goodsByAmount' }] })
  world.issue()
  return world.order()
}
const despatched = (quantity: string, received = '0') => {
  const order = issued()
  return { ...order, lines: order.lines.map(one => (one.id === 'line1' ? { ...one, sums: { ...one.sums, despatched: quantity, received } } : one)) } // prettier-ignore
}
const codes = (reasons: readonly { code: string; place?: string }[]): string[] => reasons.map(one => [one.code, one.place].filter(Boolean).join(' ')) // prettier-ignore
const against = (changed: Partial<DespatchEntry>, order = issued(), before: DespatchLine[] = []) => codes(whyNotDespatch(order, entry(changed), before)) // prettier-ignore
const HEAD = '34012345000000001'
const SSCC = HEAD + gs1CheckDigit(HEAD)
const box = (changed: object = {}) => ({ kind: 'CT' as const, sscc: SSCC, weight: '12.5', size: '', ...changed })

describe('what a supplier announces', () => {
  it('is goods of the order, some of them, arriving no sooner than they leave', () => {
    expect(against({})).to.deep.equal([])
    expect(against({ lines: [] })).to.deep.equal(['despatch.nothing'])
    expect([against({ arrivesOn: '2026-05-31' }), against({ arrivesOn: '2026-06-01' })]).to.deep.equal([['despatch.arrivesEarly arrivesOn'], []]) // prettier-ignore
    for (const lineId of ['line2', 'line9']) expect(against({ lines: [line({ lineId })] }), lineId).to.deep.equal(['despatch.foreignLine lines.0.quantity']) // prettier-ignore
    for (const quantity of ['0', '-1', 'x', '1.1234567']) expect(against({ lines: [line({ quantity })] }), quantity).to.deep.equal(['despatch.quantity lines.0.quantity']) // prettier-ignore
  })

  it('is in packages that are there, with a right SSCC and a weight, each or neither', () => {
    expect(against({ packages: [box(), box({ sscc: '', weight: '' })], lines: [line({ package: 1 })] })).to.deep.equal(
      [],
    )
    expect(against({ packages: [box({ sscc: '340123450000000001', weight: '0' })] })).to.deep.equal(['despatch.sscc packages.0.sscc', 'despatch.weight packages.0.weight']) // prettier-ignore
    expect(against({ packages: [box({ weight: 'heavy' })] })).to.deep.equal(['despatch.weight packages.0.weight'])
    expect(against({ packages: [box()], lines: [line({ package: 1 })] })).to.deep.equal(['despatch.noPackage lines.0.quantity']) // prettier-ignore
  })

  it('has no more serial numbers than pieces, and none twice', () => {
    expect(against({ lines: [line({ quantity: '2', serials: ['A', 'B'] })] })).to.deep.equal([])
    expect(against({ lines: [line({ quantity: '1', serials: ['A', 'B'] })] })).to.deep.equal(['despatch.tooManySerials lines.0.quantity']) // prettier-ignore
    expect(against({ lines: [line({ quantity: '2', serials: ['a1', 'A1'] })] })).to.deep.equal(['despatch.serialTwice'])
  })

  it('is no more than was ordered, over all that stands, less what is being corrected', () => {
    expect(against({ lines: [line({ quantity: '6' }), line({ quantity: '4', batch: 'L2' })] })).to.deep.equal([])
    expect(against({ lines: [line({ quantity: '6' }), line({ quantity: '5' })] })).to.deep.equal(['despatch.tooMuch lines.0.quantity']) // prettier-ignore
    expect(against({ lines: [line({ quantity: '7' })] }, despatched('4'))).to.deep.equal(['despatch.tooMuch lines.0.quantity']) // prettier-ignore
    expect(against({ lines: [line({ quantity: '7' })] }, despatched('4'), [line()])).to.deep.equal([])
    const [reason] = whyNotDespatch(despatched('4'), entry({ lines: [line({ quantity: '7' })] }))
    expect(reason!.details).to.deep.equal({ line: 1, ordered: '10', announced: '11' })
  })

  it('is announced, corrected by the difference, and taken back; the ledger follows', () => {
    const first = sendDespatch(
      issued(),
      0,
      facts(),
      entry({ lines: [line({ quantity: '1' }), line({ quantity: '3' })] }),
    )
    expect(first.ok && [first.next.state, first.did.action, first.quantity.map(one => `${one.kind} ${one.quantity}`)]).to.deep.equal(['sent', 'announced', ['despatched 4']]) // prettier-ignore
    const again = sendDespatch(despatched('4'), 0, facts({ state: 'sent', announced: [line()] }), entry({ lines: [line({ quantity: '6' })] })) // prettier-ignore
    expect(again.ok && [again.did.action, again.quantity.map(one => one.quantity)]).to.deep.equal(['corrected', ['-4', '6']]) // prettier-ignore
    const back = withdrawDespatch(despatched('4'), facts({ state: 'sent', announced: [line()] }))
    expect(back.ok && [back.next.state, back.quantity.map(one => one.quantity)]).to.deep.equal(['withdrawn', ['-4']])
    expect(sendDespatch(issued(), 7, facts(), entry()).ok, 'of another revision').to.equal(false)
    for (const state of ['received', 'withdrawn'] as const) {
      expect(sendDespatch(issued(), 0, facts({ state }), entry()).ok, state).to.equal(false)
      expect(withdrawDespatch(issued(), facts({ state })).ok, state).to.equal(false)
    }
    const kept = writeDespatch(facts(), entry())
    expect(kept.ok && kept.next.state).to.equal('draft')
    expect(writeDespatch(facts({ state: 'sent' }), entry()).ok).to.equal(false)
  })

  it('begins with all that is open: neither announced nor in, and goods that are counted', () => {
    expect(openDespatch(issued()).map(one => [one.lineId, one.quantity])).to.deep.equal([['line1', '10']])
    expect(openDespatch(despatched('4', '6')).map(one => one.quantity)).to.deep.equal(['4'])
    expect(openDespatch(despatched('7', '6')).map(one => one.quantity)).to.deep.equal(['3'])
    expect(openDespatch(despatched('10'))).to.deep.equal([])
  })
})

describe('the file of a despatch', () => {
  const text = (changed: Partial<DespatchText> = {}): DespatchText => ({ number: 'LS-1', orderNumber: 'O-1', issueDate: '2026-06-01', arrivesOn: '2026-06-03', carrier: 'Norsped', tracking: 'N-1', note: '', packages: [], lines: [], ...changed }) // prettier-ignore
  const row = (changed: Partial<DespatchText['lines'][number]> = {}) => ({ orderLine: '1', quantity: '4', unit: 'C62', batch: 'L1', bestBefore: '2027-01-31', serials: ['S1'], sellerItem: '', ...changed }) // prettier-ignore
  const read = (changed: Partial<DespatchText>) => readDespatchFile(issued(), text(changed), '2026-06-02')

  it('fills the form by the positions of the order, with what it says of each', () => {
    const { entry: filled, left } = read({ lines: [row(), row({ orderLine: ' 3 ', unit: '', bestBefore: 'soon' })] })
    expect(left).to.deep.equal([])
    expect(filled.lines.map(one => [one.lineId, one.quantity, one.batch, one.bestBefore])).to.deep.equal([['line1', '4', 'L1', '2027-01-31'], ['line3', '4', 'L1', null]]) // prettier-ignore
    expect([filled.number, filled.despatchedOn, filled.arrivesOn, filled.carrier]).to.deep.equal(['LS-1', '2026-06-01', '2026-06-03', 'Norsped']) // prettier-ignore
  })

  it('leaves lines that are none of the order, in another unit, or no figure, and says which', () => {
    const { entry: filled, left } = read({ lines: [row({ orderLine: '7' }), row({ unit: 'KGM' }), row({ quantity: 'many' }), row()] }) // prettier-ignore
    expect(filled.lines).to.have.length(1)
    expect(left.map(one => [one.row, one.reason.code])).to.deep.equal([[1, 'despatch.noLine'], [2, 'despatch.unit'], [3, 'despatch.quantity']]) // prettier-ignore
  })

  it('is refused for another order, and cuts what is longer than fits', () => {
    expect(() => read({ orderNumber: 'O-2' })).to.throw(RuleBroken)
    expect(read({ orderNumber: 'O-1/2' }).entry.number).to.equal('LS-1')
    const long = 'x'.repeat(2000)
    const { entry: cut } = read({ number: long, carrier: long, tracking: long, note: long, issueDate: '', arrivesOn: '', packages: [{ kind: 'ZZ', sscc: long, weight: 'w' }, { kind: 'CT', sscc: SSCC, weight: '3' }], lines: [row({ batch: long, serials: [long] })] }) // prettier-ignore
    expect([cut.number.length, cut.carrier.length, cut.tracking.length, cut.note.length, cut.lines[0]!.batch.length, cut.lines[0]!.serials[0]!.length]).to.deep.equal([40, 200, 80, 1000, 40, 40]) // prettier-ignore
    expect(cut.packages.map(one => [one.kind, one.sscc.length, one.weight])).to.deep.equal([['PK', 20, ''], ['CT', 18, '3']]) // prettier-ignore
    expect([cut.despatchedOn, cut.arrivesOn]).to.deep.equal(['2026-06-02', '2026-06-02'])
  })
})
