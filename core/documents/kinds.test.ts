import { expect } from 'chai'
import {
  DOCUMENT_KINDS,
  documentKind,
  isDocumentKind,
  NUMBERED_KINDS,
  numberOf,
  PAPER_KINDS,
  readNumber,
} from '#core/documents/kinds.ts'

describe('the list of document kinds', () => {
  it('gives every numbered kind a letter of its own and a place where its numbers come from', () => {
    const letters = NUMBERED_KINDS.map(kind => documentKind(kind).letter)
    expect(new Set(letters).size).to.equal(letters.length)
    for (const kind of NUMBERED_KINDS) expect(documentKind(kind).numbers, kind).to.match(/^[a-z]+_numbers$/)
    for (const kind of DOCUMENT_KINDS)
      expect(documentKind(kind).numbers === '', kind).to.equal(documentKind(kind).letter === '')
  })

  it('says of every kind who sees it: by a right, or because it is theirs', () => {
    for (const kind of DOCUMENT_KINDS) {
      const { right, seenBy } = documentKind(kind)
      expect(right !== null || seenBy.own !== undefined, kind).to.equal(true)
    }
  })

  it('leads every kind to a page', () => {
    for (const kind of DOCUMENT_KINDS) expect(documentKind(kind).path('x'), kind).to.match(/^\/[a-z]/)
    expect(documentKind('receipt').path('an-order')).to.equal('/receive/an-order')
    expect(documentKind('bankMessage').path('m')).to.equal('/pay/bank-messages/m')
  })

  it('lets only those with a supplier move along when records are merged, in states that they have', () => {
    const moving = DOCUMENT_KINDS.filter(kind => documentKind(kind).mergesIn !== null)
    expect(moving).to.deep.equal(['order', 'invoice'])
    for (const kind of moving) expect(documentKind(kind).states).to.include.members([...documentKind(kind).mergesIn!])
  })

  it('hangs papers on documents of the work, not on settings', () => {
    expect(PAPER_KINDS).to.include.members(['requisition', 'order', 'delivery', 'invoice', 'paymentRun', 'supplier'])
    for (const kind of ['house', 'rule', 'person', 'form'] as const) expect(PAPER_KINDS).to.not.include(kind)
  })

  it('asks people for a yes to each purpose of one kind only', () => {
    const purposes = DOCUMENT_KINDS.flatMap(kind => [...documentKind(kind).decisions])
    expect(new Set(purposes).size).to.equal(purposes.length)
    expect(purposes).to.include.members(['approval', 'run', 'recall', 'transfer', 'orderAnswer', 'account', 'merge'])
  })
})

describe('a number as people write it', () => {
  it('is read with or without its hyphen, in small letters too', () => {
    for (const text of ['O-4001', 'o4001', ' o 4001 ', 'O - 4001'])
      expect(readNumber(text)).to.deep.equal({ kinds: ['order'], digits: '4001' })
  })

  it('without its letter may be of any kind', () => {
    expect(readNumber('4001')).to.deep.equal({ kinds: NUMBERED_KINDS, digits: '4001' })
  })

  it('is not read into words, other letters, or too few or too many digits', () => {
    for (const text of ['', 'order', 'X-4001', 'O-1', 'O-1234567890', '40 01 a', 'O--4001'])
      expect(readNumber(text), text).to.equal(undefined)
  })

  it('is written with its letter', () => {
    expect([numberOf('receipt', '7001'), numberOf('budgetTransfer', '301')]).to.deep.equal(['G-7001', 'T-301'])
    for (const kind of NUMBERED_KINDS)
      expect(readNumber(numberOf(kind, '123'))).to.deep.equal({ kinds: [kind], digits: '123' })
  })

  it('names a kind only where there is one', () => {
    expect(['order', 'constructor', '__proto__', 'toString', 'Order'].map(isDocumentKind)).to.deep.equal([
      true,
      false,
      false,
      false,
      false,
    ])
  })
})
