import { expect } from 'chai'
import fc from 'fast-check'
import {
  changeKind,
  checkDetails,
  effectiveProof,
  KINDS,
  LINE_KINDS,
  type LineDetails,
  type LineKind,
  moneyShape,
  PROOFS,
  provenBy,
  provenFirst,
  usualProof,
} from '#core/request/kinds.ts'

const line = {
  kind: 'goods' as LineKind,
  quantity: '3',
  unit: 'C62',
  price: '20',
  priceBase: '1',
  itemId: 'item' as string | null,
  offerId: 'offer' as string | null,
  details: { maker: 'Nordhavn' } as LineDetails,
  proof: null,
  description: 'Shaft seals',
  needBy: '2026-12-04',
}
const same = (parts: readonly string[], total: string): boolean =>
  parts.reduce((sum, part) => sum + Number(part), 0) === Number(total)

describe('kinds of line', () => {
  it('say how they are proven: goods are received, work is accepted', () => {
    expect(LINE_KINDS.map(provenBy)).to.deep.equal(['received', 'received', 'accepted', 'accepted', 'accepted'])
    expect(LINE_KINDS.map(usualProof)).to.deep.equal(['count', 'count', 'acceptWork', 'acceptWork', 'acceptWork'])
    expect(PROOFS.filter(provenFirst)).to.deep.equal(['count', 'acceptWork'])
  })

  it('change into each other without losing text, day or money', () => {
    const { line: amount, lost } = changeKind(line, 'goodsByAmount', '60')
    expect(amount).to.deep.include({
      kind: 'goodsByAmount',
      quantity: '60',
      unit: 'M4',
      price: '1',
      itemId: null,
      offerId: null,
      description: 'Shaft seals',
      needBy: '2026-12-04',
      details: {},
    })
    expect(lost).to.deep.equal(['item', 'maker'])
    expect(changeKind(line, 'fixedPriceWork', '60').line).to.deep.include({ quantity: '1', unit: 'E48', price: '60' })
    expect(changeKind(line, 'workByRate', '60').line).to.deep.include({ quantity: '3', unit: 'HUR', price: '20' })
  })

  it('keep the unit of a rate that is one', () => {
    const hours = { ...line, kind: 'workByRate' as LineKind, unit: 'DAY', itemId: null, offerId: null, details: {} }
    expect(changeKind(hours, 'goods', '60').line).to.deep.include({ unit: 'DAY', quantity: '3' })
    expect(changeKind({ ...hours, kind: 'goods' }, 'workByRate', '60').line.unit).to.equal('DAY')
    expect(changeKind(hours, 'workByRate', '60')).to.deep.equal({ line: hours, lost: [] })
  })

  it('lose only fields that had something in them', () => {
    const work = { ...line, kind: 'fixedPriceWork' as LineKind, itemId: null, offerId: null }
    expect(changeKind({ ...work, details: {} }, 'goods', '60').lost).to.deep.equal([])
    expect(changeKind({ ...work, details: { deliverable: 'Report' } }, 'goods', '60').lost).to.deep.equal([
      'deliverable',
    ])
  })

  it('always end up with a unit and a proof that the kind knows', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...LINE_KINDS),
        fc.constantFrom(...LINE_KINDS),
        fc.constantFrom(...PROOFS),
        (from, to, proof) => {
          const start = {
            ...line,
            kind: from,
            unit: KINDS[from].unit,
            proof: KINDS[from].proofs.includes(proof) ? proof : null,
          }
          const { line: changed } = changeKind(start as never, to, '60') as {
            line: typeof line & { proof: string | null }
          }
          expect(changed.proof === null || KINDS[to].proofs.includes(changed.proof as never)).to.equal(true)
          expect(Number(changed.quantity) * Number(changed.price)).to.equal(60)
        },
      ),
    )
  })
})

describe('lines that count money', () => {
  it('are goods by amount and work in instalments; each has one shape', () => {
    const work = { ...line, kind: 'fixedPriceWork' as LineKind, quantity: '1', unit: 'E48', price: '900' }
    const parts = { instalments: [{ title: 'Study', amount: '900', due: '' }] }
    expect(moneyShape(work)).to.equal(work)
    const money = moneyShape({ ...work, details: parts })
    expect(money).to.deep.include({ quantity: '900', unit: 'M4', price: '1' })
    expect(moneyShape(money)).to.equal(money)
    expect(moneyShape({ ...money, details: {} })).to.deep.include({ quantity: '1', unit: 'E48', price: '900' })
  })

  it('have instalments with titles that add up', () => {
    const check = (instalments: LineDetails['instalments']): string[] =>
      checkDetails({ position: 1, kind: 'fixedPriceWork', details: { instalments: instalments! } }, '100', same).map(
        reason => reason.code,
      )
    const one = (amount: string, title = 'Part') => ({ title, amount, due: '' })
    expect(check([one('40'), one('60')])).to.deep.equal([])
    expect(check([one('40'), one('59.99')])).to.deep.equal(['line.instalmentsAdd'])
    expect(check([one('100'), one('0')])).to.deep.equal(['line.instalment'])
    expect(check([one('100', ' ')])).to.deep.equal(['line.instalment'])
    expect(check([one('-40'), one('140')])).to.deep.equal(['line.instalment'])
    expect(check([])).to.deep.equal([])
  })

  it('and a personal fee names its person and how they are taxed', () => {
    const check = (person: LineDetails['person']): string[] =>
      checkDetails({ position: 1, kind: 'personalFee', details: { person: person! } }, '100', same).map(one => one.code)
    expect(check(undefined)).to.deep.equal(['line.feeFor', 'line.taxStatus'])
    expect(check({ name: 'A. Loras', taxStatus: 'selfEmployed', taxNumber: '' })).to.deep.equal([])
  })
})

describe('how a line is proven', () => {
  const sources = { line: null, category: null, supplierBilling: null } as const

  it('follows the line, then the category, then the supplier, then the kind', () => {
    expect(effectiveProof('fixedPriceWork', sources)).to.deep.equal({ proof: 'acceptWork', from: 'kind' })
    const direct = { ...sources, supplierBilling: 'direct' as const }
    expect(effectiveProof('fixedPriceWork', direct)).to.deep.equal({ proof: 'billFirst', from: 'supplier' })
    const category = { ...direct, category: 'none' as const }
    expect(effectiveProof('fixedPriceWork', category)).to.deep.equal({ proof: 'none', from: 'category' })
    expect(effectiveProof('fixedPriceWork', { ...category, line: 'acceptWork' })).to.deep.equal({
      proof: 'acceptWork',
      from: 'line',
    })
  })

  it('passes over what the kind does not know', () => {
    expect(effectiveProof('goods', { ...sources, line: 'acceptWork', supplierBilling: 'direct' })).to.deep.equal({
      proof: 'count',
      from: 'kind',
    })
  })
})
