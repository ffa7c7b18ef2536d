import { expect } from 'chai'
import { NUMBERED_KINDS } from '#core/documents/kinds.ts'
import { kindsWithPrefix, numberText, plainRange, readNumbers } from '#core/documents/numbers.ts'

const order = [{ kind: 'order', number: 'O-4001' }]

describe('numbers of documents', () => {
  it('are a prefix and as many digits as are wanted, or as it takes', () => {
    expect(numberText({ prefix: 'PO-', digits: 6 }, '4034')).to.equal('PO-004034')
    expect(numberText({ prefix: 'PO-', digits: 3 }, '4034')).to.equal('PO-4034')
    expect(numberText(plainRange('order'), '7')).to.equal('O-7')
  })

  it('begin with another letter for each kind, so that a number says what it is', () => {
    expect(new Set(NUMBERED_KINDS.map(kind => plainRange(kind).prefix)).size).to.equal(NUMBERED_KINDS.length)
    expect(NUMBERED_KINDS).to.include.members(['requisition', 'order', 'receipt', 'invoice', 'paymentRun', 'supplier'])
    expect(kindsWithPrefix('O-')).to.deep.equal(['order'])
    expect(kindsWithPrefix('PO-')).to.deep.equal([])
  })

  it('are read with or without their hyphen, in small letters too', () => {
    for (const text of ['O-4001', 'o4001', ' o 4001 ', 'O - 4001', 'o004001'])
      expect(readNumbers(text, []), text).to.deep.equal(order)
  })

  it('may be of any kind without their letter', () => {
    expect(readNumbers('4001', []).map(one => one.kind)).to.deep.equal(NUMBERED_KINDS)
    expect(readNumbers('4001', [])).to.deep.include(order[0])
  })

  it('are not read into words, or too few or too many digits', () => {
    for (const text of ['', 'order', 'O-1', 'O-1234567890', 'LONGERST-4001', '40 01 a', 'O--4001', 'O/4001'])
      expect(readNumbers(text, []), text).to.deep.equal([])
  })

  it('are read as the house writes them, and as they were written before', () => {
    const ours = [{ kind: 'order' as const, prefix: 'PO26-', digits: 5 }]
    for (const text of ['PO26-04001', 'po26 4001', 'po2604001'])
      expect(readNumbers(text, ours), text).to.deep.equal([{ kind: 'order', number: 'PO26-04001' }])
    expect(readNumbers('O-4001', ours)).to.deep.equal(order)
  })

  it('are meant as they stand under a beginning that is not used any more', () => {
    expect(readNumbers('po25-004001', [])).to.deep.equal(NUMBERED_KINDS.map(kind => ({ kind, number: 'PO25-004001' })))
  })
})
