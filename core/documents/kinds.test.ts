import { expect } from 'chai'
import { DOCUMENT_KINDS, documentKind, isDocumentKind, NUMBERED_KINDS, PAPER_KINDS } from '#core/documents/kinds.ts'

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
    expect(moving).to.deep.equal(['agreement', 'order', 'invoice', 'creditNote'])
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

describe('a kind of document', () => {
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
