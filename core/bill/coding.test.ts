import { expect } from 'chai'
import fc from 'fast-check'
import { likelyPayers, looseLines, orderFor, whyNotCode, writtenLinks } from '#core/bill/coding.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { differences } from '#core/bill/matchInvoice.ts'
import { minor, sumMinor } from '#core/money/amount.ts'
import { ADA, actorOf, OrderToPay } from '#test-helpers/orderToPay.ts'

const A = [{ accountId: 'a', share: '1' }]
/** An invoice over lines that nobody ordered. */
const loose = (
  lines: { quantity: string; net: bigint; words?: string; price?: string }[],
  more: Partial<InvoiceFacts> = {},
): InvoiceFacts => {
  const world = new OrderToPay()
  const one = world.bill(lines.map(({ quantity, net }) => ({ line: 99, quantity, net })))
  return { ...one, lines: one.lines.map((line, at) => ({ ...line, description: lines[at]!.words ?? line.description, price: lines[at]!.price ?? line.price })), ...more } // prettier-ignore
}
const coded = (invoice: InvoiceFacts) => new Map(looseLines(invoice).map(line => [line.id, A]))
const codes = (one: ReturnType<typeof orderFor>) => (one.ok ? [] : one.reasons.map(reason => `${reason.place ?? ''} ${reason.code}`.trim())) // prettier-ignore

describe('a bill that nobody ordered', () => {
  it('gets an order of its lines, each at its own price or its net for its quantity, with who pays', () => {
    const rent = loose([{ quantity: '3', net: 3_000n, price: '10' }, { quantity: '3', net: 1_000n, price: '3.5' }]) // prettier-ignore
    const made = orderFor(rent, null, coded(rent), ADA)
    expect(made.ok && made.next.lines.map(({ price, priceBase, amount, proof, splits }) => [price, priceBase, amount, proof, splits])).to.deep.equal([
      ['10', '1', 3_000n, 'none', A],
      ['10', '3', 1_000n, 'none', A],
    ]) // prettier-ignore
    expect(made.ok && [made.next.direct, made.next.total, made.next.baseTotal, made.next.charges]).to.deep.equal([true, 4_000n, 4_000n, 0n]) // prettier-ignore
  })

  it('takes charges and discounts of the document along where all of it is loose', () => {
    const dear = loose([{ quantity: '1', net: 1_000n, price: '10' }], { charges: minor(250n) })
    const made = orderFor(dear, null, coded(dear), ADA)
    expect(made.ok && [made.next.charges, made.next.total, made.next.chargeItems![0]!.kind]).to.deep.equal([250n, 1_250n, 'other']) // prettier-ignore
    const cheap = { ...dear, charges: minor(-250n) }
    const less = orderFor(cheap, null, coded(cheap), ADA)
    expect(less.ok && [less.next.charges, less.next.total, less.next.chargeItems![0]!.kind, less.next.chargeItems![0]!.amount]).to.deep.equal([-250n, 750n, 'discount', 250n]) // prettier-ignore
  })

  it('is coded once, by the clerk, line by line, while it waits', () => {
    const one = loose([{ quantity: '1', net: 1_000n }])
    expect(codes(orderFor(one, null, new Map(), ADA))).to.deep.equal(['lines.1.splits line.noAccount'])
    expect(codes(orderFor(one, null, new Map([[one.lines[0]!.id, [...A, ...A]]]), ADA))[0]).to.match(
      /^lines\.1\.splits/,
    )
    expect(codes(orderFor(one, { number: 'O-9', state: 'draft', refused: false }, coded(one), ADA))).to.deep.equal([
      'code.there',
    ])
    expect(codes(orderFor(one, { number: 'O-9', state: 'draft', refused: true }, coded(one), ADA))).to.deep.equal([])
    expect(codes(orderFor(one, { number: 'O-9', state: 'cancelled', refused: false }, coded(one), ADA))).to.deep.equal(
      [],
    )
    expect(whyNotCode(one, null, actorOf('x', { rights: new Set() })).map(reason => reason.code)).to.deep.equal(['right.notYours']) // prettier-ignore
    expect(whyNotCode({ ...one, state: 'cleared' }, null, ADA).map(reason => reason.code)).to.deep.equal(['code.nothingLoose']) // prettier-ignore
    const ordered = new OrderToPay()
    ordered.issue()
    expect(whyNotCode(ordered.bill([{ line: 1, quantity: '1' }]), null, ADA)).to.have.length(1)
  })

  it('agrees with the order that was written for it, whatever its quantities and nets', () => {
    const line = fc.record({ quantity: fc.integer({ min: 1, max: 900 }).map(one => (one / 8).toString()), net: fc.bigInt({ min: 1n, max: 10_000_000n }) }) // prettier-ignore
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 6 }), lines => {
        const invoice = loose(lines)
        const made = orderFor(invoice, null, coded(invoice), ADA)
        if (!made.ok) throw new Error('refused')
        const world = new OrderToPay()
        const model = world.order()
        const ordered = made.next.lines.map((one, at) => ({
          ...model.lines[0]!,
          ...one,
          id: `o${at}`,
          position: at + 1,
        }))
        const links = new Map(writtenLinks(invoice, ordered).map(one => [one.lineId, one.orderLineId]))
        expect([...new Set(links.values())]).to.have.length(lines.length)
        const order = { ...model, state: 'acknowledged' as const, lines: ordered, charges: minor(0) }
        const linked = { ...invoice, orders: [order], lines: invoice.lines.map(one => ({ ...one, orderLineId: links.get(one.id)! })) } // prettier-ignore
        expect(differences(linked)).to.deep.equal([])
        expect(sumMinor(ordered.map(one => one.amount))).to.equal(made.next.total)
      }),
      { numRuns: 60, seed: 4 },
    )
  })

  it('has its lines linked by words and money, each once', () => {
    const two = loose([{ quantity: '1', net: 100n, words: 'Rent' }, { quantity: '1', net: 100n, words: 'Rent' }]) // prettier-ignore
    const ordered = [{ id: 'x', description: 'Rent', amount: minor(100) }, { id: 'y', description: 'Rent', amount: minor(100) }] // prettier-ignore
    expect(writtenLinks(two, ordered).map(one => one.orderLineId)).to.deep.equal(['x', 'y'])
    expect(writtenLinks(two, [{ ...ordered[0]!, amount: minor(99) }])).to.deep.equal([])
    expect(writtenLinks(two, ordered.slice(0, 1))).to.have.length(1)
  })

  it('is likely paid by who paid for the same words, figures aside, else for the last one of the supplier', () => {
    const b = [{ accountId: 'b', share: '1' }]
    const before = [{ description: 'Cleaning', splits: b }, { description: 'Rent 10/2026', splits: A }] // prettier-ignore
    expect(likelyPayers({ description: 'RENT 11/2026' }, before)).to.deep.equal({ splits: A, because: 'words' })
    expect(likelyPayers({ description: 'Water' }, before)).to.deep.equal({ splits: b, because: 'supplier' })
    expect(likelyPayers({ description: 'Water' }, [])).to.deep.equal({ splits: [], because: 'nothing' })
  })
})
