import { expect } from 'chai'
import fc from 'fast-check'
import { type Decision, done } from '#core/acts/decision.ts'
import { Decimal } from '#core/money/decimal.ts'
import { isIn } from '#core/states.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { INVOICE_GROUPS, type InvoiceState } from '#core/bill/states.ts'
import { billed, proven, toReceive, unbilled } from '#core/order/measures.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

/** One thing that somebody tries; most are refused, what is not has to leave the books right. */
interface Try {
  readonly act: (typeof ACTS)[number]
  readonly line: number
  readonly other: number
  readonly quantity: number
  readonly price: number
  readonly which: number
}

const ACTS = [
  'issue',
  'answer',
  'acceptAnswer',
  'refuseAnswer',
  'revise',
  'recharge',
  'receive',
  'receiveBoth',
  'reverse',
  'return',
  'bill',
  'billTwice',
  'billDearer',
  'clear',
  'post',
  'void',
  'reject',
  'credit',
  'creditNote',
  'postCredit',
  'endCredit',
  'cancel',
  'close',
  'reopen',
  'seal',
] as const

const ISSUE: Try = { act: 'issue', line: 1, other: 1, quantity: 1, price: 1, which: 0 }

const tries: fc.Arbitrary<Try[]> = fc.array(
  fc.record({
    act: fc.oneof(
      { weight: 1, arbitrary: fc.constantFrom(...ACTS) },
      {
        weight: 2,
        arbitrary: fc.constantFrom(
          'receive' as const,
          'bill' as const,
          'post' as const,
          'void' as const,
          'reverse' as const,
          'creditNote' as const,
          'postCredit' as const,
        ),
      },
    ),
    line: fc.integer({ min: 1, max: 2 }),
    other: fc.integer({ min: 1, max: 2 }),
    quantity: fc.oneof(fc.integer({ min: 1, max: 400 }), fc.integer({ min: 400, max: 1400 })),
    price: fc.integer({ min: 0, max: 1300 }),
    which: fc.nat(2),
  }),
  { minLength: 12, maxLength: 40, size: 'max' },
)

const SEALED = done(null, { action: 'seal' })

/** Orders of two lines: goods that are counted, and work of each kind of proof; in another currency too. */
const settings = fc.record({
  lines: fc.tuple(
    fc.record({
      quantity: fc.constantFrom('10', '7.5', '3'),
      price: fc.constantFrom('10', '0.335', '33.33'),
      priceBase: fc.constantFrom('1', '100'),
      overReceiptPercent: fc.constantFrom(0, 10),
      splits: fc.constantFrom(
        [{ accountId: 'a1', share: '1' }],
        [
          { accountId: 'a1', share: '1' },
          { accountId: 'a2', share: '2' },
        ],
      ),
    }),
    fc.record({
      kind: fc.constant('workByRate' as const),
      proof: fc.constantFrom('acceptWork' as const, 'billFirst' as const, 'none' as const),
      quantity: fc.constantFrom('8', '1.25'),
      price: fc.constantFrom('85', '12.5'),
    }),
  ),
  charges: fc.constantFrom(0n, 199n),
  currency: fc.constant('USD'),
  rate: fc.constantFrom('1', '0.917'),
})

const hundredths = (units: number): string => new Decimal(units).dividedBy(100).toString()

function attempt(world: OrderToPay, one: Try): Decision<unknown, unknown> | undefined {
  const { line, other, which } = one
  const quantity = hundredths(one.quantity)
  const count = world.invoices.length
  const first = (state: InvoiceState): number => world.invoices.findIndex(invoice => invoice.state === state)
  const now = world.order().lines[line - 1]!
  // mostly what fits, so that histories go far; else anything at all
  const fitting = (whole: string): string =>
    new Decimal(whole).isZero() || which === 0
      ? quantity
      : which === 1
        ? whole
        : new Decimal(whole).dividedBy(2).toString()
  // one that is in the books, else any
  const credited = (): number => (line === 1 && first('cleared') >= 0 ? first('cleared') : which % count)
  switch (one.act) {
    case 'issue':
      return world.issue()
    case 'answer':
      return world.answer()
    case 'acceptAnswer':
      if (world.order().answer === null) world.answer([which === 0 ? { quantity } : { price: hundredths(one.price) }])
      return world.acceptAnswer()
    case 'refuseAnswer':
      if (world.order().answer === null) world.answer([{ quantity }])
      return world.refuseAnswer()
    case 'revise':
      return world.revise([{ line, quantity, price: hundredths(one.price) }])
    case 'recharge':
      return world.revise([], BigInt(one.price))
    case 'receive':
      return world.receive([{ line, quantity: fitting(toReceive(now)) }])
    case 'receiveBoth':
      return world.receive([
        { line: 1, quantity },
        { line: 2, quantity: '1' },
      ])
    case 'reverse':
      return which < world.receipts.length ? world.reverse(which) : undefined
    case 'return':
    case 'credit': {
      // no act posts these today; what can be posted is bounded as such an act would have to bound it
      const most = one.act === 'credit' ? billed(now) : new Decimal(proven(now)).minus(billed(now))
      if (!isIn(ORDER_GROUPS.live, world.order().state) || new Decimal(most).lt(quantity)) return undefined
      world.post(one.act === 'credit' ? 'credited' : 'returned', line, quantity)
      return undefined
    }
    case 'bill':
      world.bill([{ line, quantity: fitting(unbilled(now)) }])
      return undefined
    case 'billTwice':
      world.bill([
        { line, quantity: hundredths(Math.ceil(one.quantity / 2)) },
        { line: other, quantity: hundredths(Math.ceil(one.quantity / 3)) },
      ])
      return undefined
    case 'billDearer':
      world.bill([{ line, quantity, net: BigInt(one.price * 10) }])
      return undefined
    case 'clear':
      if (first('onHold') >= 0) world.clearAll(first('onHold'))
      return undefined
    case 'post':
      return count > 0 ? world.postInvoice(Math.max(0, first('matched'))) : undefined
    case 'void':
      return count > 0 ? world.voidInvoice(Math.max(0, first('cleared'))) : undefined
    case 'reject':
      return which < count ? world.rejectInvoice(which) : undefined
    case 'creditNote':
      if (count === 0) return undefined
      return world.writeCredit(credited(), {
        lines: [{ of: 1, way: one.price % 2 === 0 ? 'quantity' : 'price', quantity: fitting(world.invoices[credited()]!.lines[0]!.quantity), priceOff: hundredths(one.price) }], // prettier-ignore
      })
    case 'postCredit':
    case 'endCredit': {
      const inBooks = (note: (typeof world.credits)[number]): boolean => one.act === 'endCredit' || isIn(INVOICE_GROUPS.posted, world.invoices[note.invoice]!.state) // prettier-ignore
      const at = world.credits.findIndex(note => note.state === (one.act === 'postCredit' || one.price % 2 === 0 ? 'waiting' : 'posted') && inBooks(note)) // prettier-ignore
      if (at < 0) return undefined
      return one.act === 'postCredit' ? world.postCredit(at) : world.endCredit(at, world.credits[at]!.state === 'waiting' ? 'reject' : 'void') // prettier-ignore
    }
    case 'cancel':
      return world.cancel(which % 2 === 0)
    case 'close':
      return world.close()
    case 'reopen':
      if (which === 0) world.close()
      return world.reopen()
    case 'seal':
      if (which === 0 && world.order().state !== 'closed') world.close()
      return world.seal().ok ? SEALED : undefined
  }
}

const accounts = { a1: { allotted: 10_000_000n, level: 'off' }, a2: { allotted: 10_000_000n, level: 'off' } } as const

describe('whatever happens to an order', () => {
  it('leaves the books right: entries re-add, nothing is below nothing, nothing stays where nothing is open', () => {
    const seen = new Map<string, number>()
    fc.assert(
      fc.property(settings, tries, (setting, history) => {
        const world = new OrderToPay({ ...setting, accounts })
        for (const one of [ISSUE, ...history]) {
          const before = world.books()
          const decided = attempt(world, one)
          if (decided?.ok) seen.set(one.act, (seen.get(one.act) ?? 0) + 1)
          if (decided && !decided.ok) {
            expect(world.books(), `${one.act} was refused`).to.equal(before)
            expect(decided.reasons.length).to.be.above(0)
          }
          expect(world.laws(), one.act).to.deep.equal([])
        }
      }),
      { numRuns: 70, seed: 7 },
    )
    for (const act of ['issue', 'answer', 'recharge', 'receive', 'reverse', 'post', 'void', 'close', 'creditNote'])
      expect(seen.get(act) ?? 0, `${act} happened`).to.be.above(3)
    for (const act of [
      'revise',
      'reopen',
      'cancel',
      'acceptAnswer',
      'refuseAnswer',
      'reject',
      'postCredit',
      'endCredit',
    ])
      expect(seen.get(act) ?? 0, `${act} happened`).to.be.above(0)
  })

  it('leaves nothing committed, accrued or reserved on it when it is cancelled or sealed', () => {
    fc.assert(
      fc.property(settings, tries, fc.boolean(), (setting, history, needRemains) => {
        const world = new OrderToPay({ ...setting, accounts })
        for (const one of [ISSUE, ...history]) attempt(world, one)
        if (!world.cancel(needRemains).ok && !(world.close().ok && world.seal().ok)) return
        expect(world.amount('committed')).to.equal(0n)
        expect(world.amount('accrued')).to.equal(0n)
      }),
      { numRuns: 30, seed: 11 },
    )
  })

  it('is taken back by its own undoing: a void undoes a posting, a reversal a receipt, reopening a closing', () => {
    fc.assert(
      fc.property(settings, tries, fc.integer({ min: 1, max: 300 }), (setting, history, units) => {
        const world = new OrderToPay({ ...setting, accounts })
        for (const one of [ISSUE, ...history]) attempt(world, one)
        const before = world.books()
        const posts = world.invoices.findIndex(
          (_, index) => world.invoice(index).state === 'matched' && world.invoice(index).creditedBy.length === 0,
        )
        if (posts >= 0 && world.postInvoice(posts).ok) {
          expect(world.postInvoice(posts).ok, 'posted twice').to.equal(false)
          expect(world.voidInvoice(posts).ok).to.equal(true)
          expect(world.voidInvoice(posts).ok, 'voided twice').to.equal(false)
          expect(world.books()).to.equal(before)
        }
        const counted = world.receive([{ line: 1, quantity: hundredths(units) }])
        if (counted.ok && world.receipts.at(-1)!.state === 'posted') {
          const receipt = world.receipts.length - 1
          expect(world.reverse(receipt).ok).to.equal(true)
          expect(world.reverse(receipt).ok, 'reversed twice').to.equal(false)
          expect(world.books()).to.equal(before)
        }
        if (world.close().ok) {
          expect(world.close().ok, 'closed twice').to.equal(false)
          expect(world.reopen().ok).to.equal(true)
          expect(world.reopen().ok, 'reopened twice').to.equal(false)
          expect(world.books()).to.equal(before)
        }
      }),
      { numRuns: 40, seed: 13 },
    )
  })

  it('never takes an account that stops below nothing by an order, whatever is revised, reopened or answered', () => {
    fc.assert(
      fc.property(settings, tries, fc.integer({ min: 0, max: 20_000 }), (setting, history, room) => {
        const tight = { allotted: BigInt(room), level: 'stop' } as const
        const world = new OrderToPay({ ...setting, accounts: { a1: tight, a2: tight } })
        const left = (): bigint[] =>
          world.accounts().map(({ sums }) => sums.allotted - sums.reserved - sums.committed - sums.spent)
        for (const one of [ISSUE, ...history]) {
          const before = left()
          const decided = attempt(world, one)
          // a void gives back what was spent and takes what is committed again, whatever that is; so do credit notes and their end
          if (!decided?.ok || one.act === 'void' || one.act === 'endCredit' || one.act === 'postCredit') continue
          for (const [index, amount] of left().entries())
            if (amount < before[index]!) expect(amount >= 0n, one.act).to.equal(true)
        }
      }),
      { numRuns: 40, seed: 17 },
    )
  })
})
