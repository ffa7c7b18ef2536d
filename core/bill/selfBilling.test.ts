import { expect } from 'chai'
import fc from 'fast-check'
import { billOrder } from '#core/bill/billOrder.ts'
import { selfBilled, selfBilledNumber, selfBilledTax, selfBillsNow, whyNotBillOwn } from '#core/bill/selfBilling.ts'
import { minor } from '#core/money/amount.ts'
import { OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const TAX = { taxCategory: 'S', taxRate: '21' }
const NOBODY: ReadonlyMap<string, string> = new Map()
const order = (received: string, billed = '0', more: object = {}) => {
  const world = new OrderToPay({ lines: [{ price: '20' }] })
  world.issue()
  if (received !== '0') world.receive([{ line: 1, quantity: received }])
  const facts = world.order()
  const lines = facts.lines.map(line => ({ ...line, sums: { ...line.sums, billed } }))
  return { ...facts, lines, ...more }
}
const wanted = (received: string, billed = '0', more: object = {}, charges = 0n) => selfBilled(order(received, billed, more), minor(charges), NOBODY, TAX, TODAY) // prettier-ignore

describe('what we bill ourselves', () => {
  it('is what came and is not billed, at the ordered price, never more than was ordered', () => {
    expect(wanted('4')!.lines.map(one => [one.quantity, one.price])).to.deep.equal([['4', '20']])
    expect(wanted('4', '3')!.lines.map(one => one.quantity)).to.deep.equal(['1'])
    expect(wanted('4', '4')).to.equal(null)
    expect(wanted('0')).to.equal(null)
    expect(wanted('4', '0', { state: 'cancelled' })).to.equal(null)
    expect(wanted('4')).to.include({ revision: 0, issueDate: TODAY, taxCategory: 'S', taxRate: '21' })
  })

  it('is not what bills have that are here and not posted', () => {
    const one = order('4')
    const waits = (quantity: string) => selfBilled(one, minor(0), new Map([[one.lines[0]!.id, quantity]]), TAX, TODAY)
    expect(waits('1')!.lines[0]!.quantity).to.equal('3')
    expect(waits('4')).to.equal(null)
    expect(waits('9')).to.equal(null)
  })

  it('leaves what need not be proven to the supplier', () => {
    const one = order('4')
    expect(selfBilled({ ...one, lines: one.lines.map(line => ({ ...line, proof: 'none' as const })) }, minor(0), NOBODY, TAX, TODAY)).to.equal(null) // prettier-ignore
  })

  it('takes the agreed charges along once', () => {
    expect(wanted('4', '0', { charges: minor(500) })!.freight).to.equal(500n)
    expect(wanted('4', '0', { charges: minor(500) }, 500n)!.freight).to.equal(0n)
    expect(wanted('4', '0', { charges: minor(500) }, 900n)!.freight).to.equal(0n)
  })

  it('is due after each receipt, or once in a month', () => {
    expect(selfBillsNow('perReceipt', TODAY, TODAY)).to.equal(true)
    expect(selfBillsNow('monthly', null, '2026-12-02')).to.equal(true)
    expect(selfBillsNow('monthly', '2026-11-30', '2026-12-01')).to.equal(true)
    expect(selfBillsNow('monthly', '2026-12-01', '2026-12-31')).to.equal(false)
    for (const agreed of ['no', undefined] as const) expect(selfBillsNow(agreed, null, TODAY)).to.equal(false)
  })

  it('charges the highest rate of the supplier’s country, or nothing where its category charges none', () => {
    const rates = [{ country: 'NL', rate: '9' }, { country: 'NL', rate: '21' }, { country: 'DE', rate: '19' }] // prettier-ignore
    expect(selfBilledTax('S', ['NL'], rates)).to.deep.equal({ taxCategory: 'S', taxRate: '21' })
    expect(selfBilledTax('S', ['DE'], rates).taxRate).to.equal('19')
    expect(selfBilledTax('S', ['FR'], rates).taxRate).to.equal('0')
    expect(selfBilledTax('AE', ['NL'], rates)).to.deep.equal({ taxCategory: 'AE', taxRate: '0' })
  })

  it('has numbers in a run for each order, and keeps the supplier from billing the same', () => {
    expect([selfBilledNumber('O-7', 0), selfBilledNumber('O-7', 1)]).to.deep.equal(['SB-O-7-1', 'SB-O-7-2'])
    expect(whyNotBillOwn({ selfBilling: 'monthly' }).map(one => one.code)).to.deep.equal(['bill.weBill'])
    expect([...whyNotBillOwn({}), ...whyNotBillOwn({ selfBilling: 'no' })]).to.deep.equal([])
  })

  it('can always be billed, and after it nothing is left', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 0, max: 12 }), (came, billed) => {
        const facts = order(String(came), String(billed))
        const made = selfBilled(facts, minor(0), NOBODY, TAX, TODAY)
        if (made === null) return
        expect(billOrder(facts, made, TODAY).ok).to.equal(true)
        expect(Number(made.lines[0]!.quantity)).to.equal(Math.min(came, 10) - billed)
      }),
      { numRuns: 80, seed: 2 },
    )
  })
})
