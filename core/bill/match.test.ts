import { expect } from 'chai'
import fc from 'fast-check'
import {
  type BilledLine,
  matchCharges,
  matchLine,
  normalNumber,
  type OrderFacts,
  STRICT,
  type ToleranceProfile,
  within,
} from '#core/bill/match.ts'
import { minor } from '#core/money/amount.ts'
import { checkReceipt, checkReversal } from '#core/receive/receipt.ts'
import { payableReasons } from '#core/pay/states.ts'

const order: OrderFacts = {
  ordered: '10',
  price: '20',
  priceBase: '1',
  unit: 'C62',
  proven: '10',
  alreadyBilled: '0',
  proof: 'received',
}
const bill = (changed: Partial<BilledLine> = {}, facts: Partial<OrderFacts> = {}, profile: ToleranceProfile = STRICT) =>
  matchLine(
    { position: 1, quantity: '10', unit: 'C62', net: minor(20000), order: { ...order, ...facts }, ...changed },
    profile,
    'EUR',
  )

describe('three-way match', () => {
  it('clears what agrees with order and receipt', () => {
    expect(bill()).to.deep.equal([])
  })

  it('names a dearer price in money, for the buyer', () => {
    expect(bill({ net: minor(21000) })).to.deep.equal([
      { position: 1, kind: 'price', quantity: '0', amount: 1000n, clearedBy: 'buyer' },
    ])
  })

  it('never holds under-billing', () => {
    expect(bill({ net: minor(15000) })).to.deep.equal([])
    expect(bill({ quantity: '4', net: minor(8000) })).to.deep.equal([])
  })

  it('holds what came in later, for the receiver, and work for the requester', () => {
    expect(bill({}, { proven: '6' })).to.deep.equal([
      { position: 1, kind: 'proof', quantity: '4', amount: 8000n, clearedBy: 'receiver' },
    ])
    expect(bill({}, { proven: '0', proof: 'accepted' })[0]!.clearedBy).to.equal('requester')
  })

  it('holds more than was ordered, counting what was billed before', () => {
    expect(bill({}, { alreadyBilled: '3', proven: '13' })).to.deep.equal([
      { position: 1, kind: 'quantity', quantity: '3', amount: 6000n, clearedBy: 'buyer' },
    ])
  })

  it('holds another unit and a line that belongs to no order', () => {
    expect(bill({ unit: 'KGM' })[0]!.kind).to.equal('unit')
    expect(bill({ order: null })[0]).to.deep.include({ kind: 'noOrderLine', clearedBy: 'invoiceClerk' })
  })

  it('takes line allowances into the price', () => {
    expect(bill({ net: minor(19000) }, { price: '19' })).to.deep.equal([])
  })

  it('uses the price base quantity of the order', () => {
    expect(
      bill(
        { quantity: '1000', net: minor(31900) },
        { ordered: '1000', proven: '1000', price: '31.9', priceBase: '100' },
      ),
    ).to.deep.equal([])
  })

  it('lets a difference pass only if it is within every tolerance that is set', () => {
    const both = { ...STRICT, price: { percent: '2', absolute: '300' } }
    expect(bill({ net: minor(20300) }, {}, both)).to.deep.equal([])
    expect(bill({ net: minor(20301) }, {}, both)).to.have.length(1)
    expect(within('401', '20000', { percent: '2', absolute: null })).to.equal(false)
    expect(within('1', '20000', { percent: null, absolute: null })).to.equal(false)
  })

  it('compares charges with what the order agreed', () => {
    expect(matchCharges(minor(5000), minor(5000), STRICT)).to.deep.equal([])
    expect(matchCharges(minor(5001), minor(5000), STRICT)[0]).to.deep.include({ kind: 'charges', amount: 1n })
    expect(matchCharges(minor(-500), minor(0), STRICT)).to.deep.equal([])
  })

  it('is clear whenever nothing is above order, price and receipt', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1000 }), fc.integer({ min: 1, max: 1000 }), (ordered, billed) => {
        const quantity = Math.min(ordered, billed)
        expect(
          bill(
            { quantity: String(quantity), net: minor(quantity * 2000) },
            { ordered: String(ordered), proven: String(ordered) },
          ),
        ).to.deep.equal([])
      }),
    )
  })
})

describe('invoice numbers', () => {
  it('compare without case, spaces, punctuation and leading zeros', () => {
    for (const number of ['INV-0042/A', 'inv 42 a', 'Inv.042-A', 'INV42A'])
      expect(normalNumber(number), number).to.equal('INV42A')
    expect(normalNumber('100')).to.equal('100')
    expect(normalNumber('2026-001')).to.not.equal(normalNumber('2026-010'))
  })
})

describe('receiving', () => {
  const count = (quantity: string, alreadyReceived = '0', overTolerancePercent = 5) =>
    checkReceipt({ position: 2, quantity, ordered: '100', alreadyReceived, overTolerancePercent })

  it('takes up to what was ordered without a word', () => {
    expect(count('100')).to.deep.equal([])
    expect(count('60', '40')).to.deep.equal([])
  })

  it('wants a reason within the tolerance and stops above it', () => {
    expect(count('5', '100')[0]).to.deep.include({ code: 'receive.over', level: 'check' })
    expect(count('5.000001', '100')[0]).to.deep.include({ code: 'receive.overTolerance', level: 'stop' })
    expect(count('1', '100', 0)[0]!.level).to.equal('stop')
  })

  it('refuses counts that are no quantity', () => {
    for (const quantity of ['0', '-3', 'x', '']) expect(count(quantity)[0]!.code).to.equal('receive.quantity')
  })

  it('never goes back below what is billed', () => {
    expect(checkReversal({ quantity: '4', received: '10', billed: '6' })).to.deep.equal([])
    expect(checkReversal({ quantity: '5', received: '10', billed: '6' })[0]!.code).to.equal('receive.alreadyBilled')
  })
})

describe('what can be paid', () => {
  it('needs an account that a second person has checked', () => {
    expect(payableReasons({ number: 'I-1', bankAccount: { state: 'proven' }, refusedWith: null })).to.deep.equal([])
    expect(payableReasons({ number: 'I-1', bankAccount: { state: 'unproven' }, refusedWith: null })[0]!.code).to.equal(
      'pay.unproven',
    )
    expect(payableReasons({ number: 'I-1', bankAccount: null, refusedWith: null })[0]!.code).to.equal('pay.noAccount')
  })

  it('never goes again to an account that the bank refused, but may after want of money', () => {
    const refused = (refusedWith: string) =>
      payableReasons({ number: 'I-1', bankAccount: { state: 'proven' }, refusedWith }).map(reason => reason.code)
    expect(refused('AC04')).to.deep.equal(['pay.refusedBefore'])
    expect(refused('AM04')).to.deep.equal([])
  })
})
