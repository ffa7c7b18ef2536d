import { expect } from 'chai'
import { whatBills } from '#core/bill/whatBills.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

type Line = Parameters<typeof whatBills>[0]
const [first] = new OrderToPay().order().lines
const line = (sums: Partial<Line['sums']>, changed: Partial<Line> = {}): Line => ({ ...first!, kind: 'goods', proof: 'count', quantity: '10', inspects: false, unit: 'C62', place: 'Fennick\nDock 2', ...changed, sums: { ...first!.sums, received: '0', accepted: '0', billed: '0', returned: '0', credited: '0', ...sums } }) // prettier-ignore
const told = (one: Line, waiting?: string): string => {
  const { open, ready, why } = whatBills(one, waiting)
  return `${ready} of ${open} ${why ? [why.code, why.details.left, why.details.place].filter(Boolean).join(' ') : ''}`.trim()
}

describe('what a supplier can bill', () => {
  it('is what came in and is not billed; the rest waits for its receipt', () => {
    expect(told(line({}))).to.equal('0 of 10 billing.receive 10 Fennick')
    expect(told(line({ received: '4' }))).to.equal('4 of 10 billing.receiveRest 6 Fennick')
    expect(told(line({ received: '4', billed: '3' }))).to.equal('1 of 7 billing.receiveRest 6 Fennick')
    expect(told(line({ received: '10', billed: '3' }))).to.equal('7 of 7')
    expect(told(line({ received: '12', billed: '3' }))).to.equal('7 of 7')
    expect(told(line({ received: '4', billed: '1' }), '2')).to.equal('1 of 7 billing.receiveRest 6 Fennick')
    expect(told(line({ received: '10' }), '10')).to.equal('0 of 0 billing.all')
    expect(told(line({ received: '10' }), '11')).to.equal('0 of 0 billing.all')
  })

  it('waits for the inspection of what is inspected, and for the acceptance of work', () => {
    expect(told(line({ received: '6', accepted: '2' }, { inspects: true }))).to.equal(
      '2 of 10 billing.inspect 8 Fennick',
    )
    expect(told(line({ received: '6', accepted: '6' }, { inspects: true }))).to.equal(
      '6 of 10 billing.receiveRest 4 Fennick',
    )
    expect(told(line({ accepted: '3' }, { kind: 'fixedPriceWork', proof: 'acceptWork' }))).to.equal('3 of 10 billing.accept 7 Fennick') // prettier-ignore
  })

  it('is all where nothing has to be proven first, and nothing of what is billed or cancelled', () => {
    expect(told(line({}, { proof: 'none' }))).to.equal('10 of 10')
    expect(told(line({}, { matchLevel: '2' }))).to.equal('10 of 10')
    expect(told(line({ received: '10', billed: '10' }))).to.equal('0 of 0 billing.all')
    expect(told(line({}, { quantity: '0' }))).to.equal('0 of 0 billing.cancelled')
  })
})
