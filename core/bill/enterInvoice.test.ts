import { expect } from 'chai'
import { type EnteredInvoice, type EnteredLine, enterInvoice } from '#core/bill/enterInvoice.ts'
import { minor } from '#core/money/amount.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const line = (changed: Partial<EnteredLine> = {}): EnteredLine => ({ orderLineId: null, description: 'Rope', quantity: '2', unit: 'C62', price: '10', priceBase: '1', taxCategory: 'S', taxRate: '21', ...changed }) // prettier-ignore
const paper = (gross: number, lines: readonly EnteredLine[], changed: Partial<EnteredInvoice> = {}): EnteredInvoice => ({ issueDate: '2026-05-04', dueOn: null, currency: 'EUR', charges: minor(0), gross: minor(gross), lines, ...changed }) // prettier-ignore
const enter = (wanted: EnteredInvoice, order = null as Parameters<typeof enterInvoice>[0]) => enterInvoice(order, wanted, '2026-06-01') // prettier-ignore
const refusals = (wanted: EnteredInvoice, order = null as Parameters<typeof enterInvoice>[0]): string[] => {
  const made = enter(wanted, order)
  return made.ok ? [] : made.reasons.map(reason => `${reason.place ?? ''} ${reason.code}`.trim())
}

describe('an invoice that is typed from paper', () => {
  it('comes to what the paper asks for: lines at their price base, VAT once for each rate, charges at the first', () => {
    const made = enter(paper(5_082, [line(), line({ quantity: '300', price: '7', priceBase: '100', taxCategory: 'AE', taxRate: '0' })], { charges: minor(462), gross: minor(5_079) })) // prettier-ignore
    expect(made.ok && [made.next.net, made.next.tax, made.next.gross, made.next.charges]).to.deep.equal([4_562n, 517n, 5_079n, 462n]) // prettier-ignore
    expect(made.ok && made.next.taxes).to.deep.equal([
      { category: 'S', rate: '21', taxable: '24.62', tax: '5.17' },
      { category: 'AE', rate: '0', taxable: '21.00', tax: '0.00' },
    ])
    expect(made.ok && made.next.lines.map(({ position, net }) => [position, net])).to.deep.equal([[1, 2_000n], [2, 2_100n]]) // prettier-ignore
  })

  it('takes other rounding of a cent for each line and rate to the largest VAT, and no more', () => {
    const taxes = (gross: number) => {
      const made = enter(paper(gross, [line({ taxRate: '9' }), line({ quantity: '3' })]))
      return made.ok ? made.next.taxes.map(tax => tax.tax) : made.reasons.map(reason => [reason.code, reason.details])
    }
    expect(taxes(5_810)).to.deep.equal(['1.80', '6.30'])
    expect(taxes(5_814)).to.deep.equal(['1.80', '6.34'])
    expect(taxes(5_806)).to.deep.equal(['1.80', '6.26'])
    expect(taxes(5_815)).to.deep.equal([['enter.sumsApart', { printed: '58.15', summed: '58.10', currency: 'EUR' }]])
    expect(taxes(5_805)).to.deep.equal([['enter.sumsApart', { printed: '58.05', summed: '58.10', currency: 'EUR' }]])
  })

  it('is of a day that can be, and due no earlier', () => {
    expect(refusals(paper(2_420, [line()], { issueDate: '2026-06-02' }))).to.deep.equal(['issueDate bill.futureDate'])
    expect(refusals(paper(2_420, [line()], { issueDate: '2016-05-23' }))).to.deep.equal(['issueDate enter.tooOld'])
    expect(refusals(paper(2_420, [line()], { issueDate: '2016-05-24' }))).to.deep.equal([])
    expect(refusals(paper(2_420, [line()], { dueOn: '2026-05-03' }))).to.deep.equal(['dueOn enter.dueBefore'])
    expect(refusals(paper(2_420, [line()], { dueOn: '2026-05-04', issueDate: '2026-05-04' }))).to.deep.equal([])
  })

  it('says of each line what cannot be, and refuses what asks for nothing', () => {
    const wrong = [line({ description: ' ' }), line({ quantity: '0' }), line({ price: '-1' }), line({ priceBase: '0' }), line({ taxRate: '101' }), line({ taxCategory: 'Z', taxRate: '1' }), line({ orderLineId: 'other' })] // prettier-ignore
    expect(refusals(paper(1, wrong))).to.deep.equal([
      'lines.0.description enter.noWords',
      'lines.1.quantity line.quantity',
      'lines.2.price order.priceBelowZero',
      'lines.3.priceBase enter.priceBase',
      'lines.4.taxRate bill.taxRate',
      'lines.5.taxRate bill.taxRate',
      'lines.6 bill.foreignLine',
    ])
    expect(refusals(paper(0, [line()]))).to.deep.equal(['bill.notAboveZero'])
    expect(refusals(paper(100, []))).to.deep.equal(['bill.notAboveZero'])
    expect(refusals(paper(100, [line()], { charges: minor(-2_000) }))).to.deep.equal(['charges enter.charges'])
    expect(refusals(paper(2_419, [line()], { charges: minor(-1) }))).to.deep.equal([])
  })

  it('bills lines of the order that was chosen', () => {
    const world = new OrderToPay()
    const order = world.order()
    expect(refusals(paper(2_420, [line({ orderLineId: order.lines[0]!.id })]), order)).to.deep.equal([])
  })
})
