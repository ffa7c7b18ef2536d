import { expect } from 'chai'
import fc from 'fast-check'
import { differences } from '#core/bill/matchInvoice.ts'
import { HOLD_KINDS, standingHolds } from '#core/bill/holds.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { STRICT } from '#core/bill/tolerance.ts'
import { minor } from '#core/money/amount.ts'
import { proven } from '#core/order/measures.ts'
import { isIn } from '#core/states.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

/** What each piece was ordered for, in cents. */
const PRICE = 1_000n
const ACTS = ['receive', 'reverse', 'bill', 'bill', 'clearOne', 'post', 'post', 'creditNote', 'postCredit', 'dispute', 'settle', 'void'] as const // prettier-ignore
interface Try {
  readonly act: (typeof ACTS)[number]
  readonly pieces: number
  readonly price: number
  readonly which: number
}
const tries: fc.Arbitrary<Try[]> = fc.array(
  fc.record({
    act: fc.constantFrom(...ACTS),
    pieces: fc.integer({ min: 1, max: 8 }),
    price: fc.constantFrom(900, 1_000, 1_000, 1_000, 1_010, 1_021, 1_300),
    which: fc.nat(5),
  }),
  { minLength: 10, maxLength: 45, size: 'max' },
)

/** How far each invoice may be dearer by its tolerance, in per cent: none, or two. */
const loose = (which: number): number => (which % 2 === 0 ? 0 : 2)

/** Tries one thing; most of them are refused. */
function attempt(world: OrderToPay, { act, pieces, price, which }: Try): void {
  const at = world.invoices.length === 0 ? -1 : which % world.invoices.length
  const row = world.invoices[at]
  switch (act) {
    case 'receive':
      world.receive([{ line: 1, quantity: String(pieces) }])
      return
    case 'reverse':
      if (world.receipts.length > 0) world.reverse(which % world.receipts.length)
      return
    case 'bill':
      world.bill([{ line: 1, quantity: String(pieces), net: BigInt(price * pieces) }], { tolerances: { ...STRICT, price: { percent: loose(which) === 0 ? null : String(loose(which)), absolute: null } } }) // prettier-ignore
      return
    case 'clearOne': {
      // somebody accepts the first difference only: the others stay
      const hold = row?.holds.find(one => !one.ended && HOLD_KINDS[one.kind].byReason)
      if (hold) Object.assign(hold, { ended: true, cleared: true })
      world.rematch()
      return
    }
    case 'post':
      if (row) world.postInvoice(at)
      return
    case 'void':
      if (row && which === 5) world.voidInvoice(at)
      return
    case 'dispute':
    case 'settle':
      if (row && isIn(INVOICE_GROUPS.waiting, row.state)) row.dispute = act === 'settle' ? null : { id: 'd', version: 1, openedOn: '2026-05-01' } as never // prettier-ignore
      world.rematch()
      return
    case 'creditNote':
      if (row) world.writeCredit(at, { lines: [{ of: 1, way: pieces % 2 === 0 ? 'quantity' : 'price', quantity: '1', priceOff: '0.50' }] }) // prettier-ignore
      return
    case 'postCredit':
      if (world.credits.length > 0) world.postCredit(which % world.credits.length)
      return
  }
}

describe('what is payable', () => {
  it('is never more than what was accepted at agreed prices, tolerance and cleared differences; no hold is passed by', () => {
    let posted = 0
    let cleared = 0
    fc.assert(
      fc.property(tries, history => {
        const world = new OrderToPay()
        world.issue()
        for (const one of history) {
          const before = world.invoices.map(row => row.state)
          attempt(world, one)
          world.invoices.forEach((row, at) => {
            const invoice = world.invoice(at)
            if (isIn(INVOICE_GROUPS.posted, row.state) && !isIn(INVOICE_GROUPS.posted, before[at] ?? 'read')) {
              posted++
              // as it was matched: nothing of it was billed yet
              expect(row.dispute, 'disputed').to.equal(null)
              expect(row.holds.filter(hold => !hold.ended), 'an open hold').to.deep.equal([]) // prettier-ignore
            }
            if (isIn(INVOICE_GROUPS.ready, row.state)) expect(standingHolds(row.holds, differences(invoice)), 'a difference').to.deep.equal([]) // prettier-ignore
          })
          const standing = world.invoices.filter(row => isIn(INVOICE_GROUPS.posted, row.state))
          const credited = world.credits.filter(note => note.state === 'posted').reduce((sum, note) => sum + note.gross, 0n) // prettier-ignore
          const payable = standing.reduce((sum, row) => sum + row.payable, 0n) - credited
          const accepted = BigInt(proven(world.order().lines[0]!)) * PRICE
          const allowed = standing.reduce((sum, row) => {
            const tolerance = row.tolerances.price.percent === null ? 0n : (BigInt(row.lines[0]!.quantity) * PRICE * 2n) / 100n // prettier-ignore
            const accepts = row.holds.filter(hold => hold.cleared).reduce((all, hold) => all + hold.amount, 0n)
            cleared += accepts > 0n ? 1 : 0
            return sum + tolerance + accepts
          }, 0n)
          expect(payable <= accepted + allowed, `${one.act}: ${payable} of ${accepted} and ${allowed}`).to.equal(true)
          expect(world.laws(), one.act).to.deep.equal([])
        }
      }),
      { numRuns: 120, seed: 11 },
    )
    expect(posted).to.be.above(60)
    expect(cleared).to.be.above(10)
  })

  it('is not there while one of two differences stands: clearing one lets no other through', () => {
    const world = new OrderToPay()
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '12', net: 15_600n }], { iban: 'DE89370400440532013000' })
    const kinds = () => world.held(0)
    const all = kinds()
    expect(all).to.include.members(['account', 'price', 'quantity'])
    for (const hold of [...world.invoices[0]!.holds]) {
      expect(world.postInvoice(0).ok).to.equal(false)
      if (!HOLD_KINDS[hold.kind].byReason) continue
      Object.assign(hold, { ended: true, cleared: true })
      world.rematch()
      expect(kinds()).to.deep.equal(all.filter(kind => kind !== hold.kind && kinds().includes(kind)))
    }
    expect(kinds()).to.deep.equal(['proof'])
    expect(world.postInvoice(0).ok).to.equal(false)
  })

  it('of a bill that is dearer within its tolerance is what it asks for, and a cent beyond is held', () => {
    const held = (net: bigint): string[] => {
      const world = new OrderToPay()
      world.issue()
      world.receive([{ line: 1, quantity: '10' }])
      world.bill([{ line: 1, quantity: '10', net }], {
        tolerances: { ...STRICT, price: { percent: '2', absolute: null } },
      })
      return [...world.held(0), String(minor(world.invoices[0]!.payable))]
    }
    expect(held(10_200n)).to.deep.equal(['10200'])
    expect(held(10_201n)).to.deep.equal(['price', '10201'])
  })
})
