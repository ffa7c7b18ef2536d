import { expect } from 'chai'
import fc from 'fast-check'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import {
  answerCount,
  countStock,
  differencesOf,
  holdingKey,
  issueStock,
  type Lot,
  lotKey,
  moveStock,
  type StockEntry,
  type StockFacts,
  sumStock,
  takeOut,
  type Wanted,
  whyNotTake,
  worthOf,
} from '#core/receive/stock.ts'
import type { Consent } from '#core/consent/consent.ts'
import { ADA, actorOf, NOBODY } from '#test-helpers/orderToPay.ts'

const lot = (changed: Partial<Lot> = {}): Lot => ({ itemId: 'bolt', placeId: 'quay', bin: 'B1', batch: '', ...changed })
const came = (quantity: string, value: bigint, changed: Partial<Lot> = {}): StockEntry => ({ ...lot(changed), kind: 'received', quantity, value: minor(value) }) // prettier-ignore
const factsOf = (entries: readonly StockEntry[], reserved: Record<string, string> = {}): StockFacts => ({ ...sumStock(entries), reserved: new Map(Object.entries(reserved)) }) // prettier-ignore
/** Ten bolts for 10.00 in two bins. */
const TEN = [came('6', 600n), came('4', 400n, { bin: 'B2' })]
const HELD = holdingKey(lot())
const want = (quantity: string, changed: Partial<Lot> = {}): Wanted => ({ ...lot(changed), quantity })
const codes = (
  decided: { ok: true } | { ok: false; reasons: readonly { code: string; place?: string }[] },
): string[] => (decided.ok ? [] : decided.reasons.map(one => [one.code, one.place].filter(Boolean).join(' ')))
const open: Consent = {
  id: 'c',
  purpose: 'stockCount',
  documentKind: 'stockMove',
  documentId: 'k',
  askedBy: 'yuki',
  state: 'open',
  amount: null,
  currency: null,
  steps: [
    { id: 's', stage: 1, state: 'open', asked: [{ kind: 'right', right: 'delivery.receive', costCentre: null }], notBy: ['yuki'], label: 'K-1', who: '' }, // prettier-ignore
  ],
}

describe('stock', () => {
  it('is the sum of its entries by lot, and by item and site with what it is worth', () => {
    const { lots, holdings } = sumStock([...TEN, came('1', 7n, { placeId: 'works' })])
    expect([lots.get(lotKey(lot())), lots.get(lotKey(lot({ bin: 'B2' })))]).to.deep.equal(['6', '4'])
    expect(holdings.get(HELD)).to.deep.equal({ quantity: '10', value: 1000n })
    expect(holdings.get('bolt works')).to.deep.equal({ quantity: '1', value: 7n })
  })

  it('is worth its average cost, and all of it all that is left', () => {
    expect(worthOf({ quantity: '3', value: minor(1000n) }, '1')).to.equal(333n)
    expect(worthOf({ quantity: '3', value: minor(1000n) }, '2')).to.equal(667n)
    expect(worthOf({ quantity: '3', value: minor(1000n) }, '3.0')).to.equal(1000n)
    expect(worthOf({ quantity: '0', value: minor(0n) }, '5')).to.equal(0n)
  })

  it('gives no more than lies in a lot, over all that is asked for at once', () => {
    const facts = factsOf(TEN)
    const against = (...wanted: Wanted[]): string[] => whyNotTake(facts, wanted).map(one => `${one.code} ${one.place ?? ''}`.trim()) // prettier-ignore
    expect(against(want('6'))).to.deep.equal([])
    expect(against(want('6.000001'))).to.deep.equal(['stock.notThere lines.0.quantity'])
    expect(against(want('4'), want('2'))).to.deep.equal([])
    expect(against(want('4'), want('3'))).to.deep.equal(['stock.notThere lines.0.quantity', 'stock.notThere lines.1.quantity']) // prettier-ignore
    expect(against(want('1', { batch: 'L7' }))).to.deep.equal(['stock.notThere lines.0.quantity'])
    for (const quantity of ['0', '-1', 'x', '1.1234567']) expect(against(want(quantity)), quantity).to.deep.equal(['stock.quantity lines.0.quantity']) // prettier-ignore
    expect(against()).to.deep.equal(['stock.nothing'])
    const [short] = whyNotTake(facts, [want('9')])
    expect(short!.details).to.deep.equal({ there: '6' })
  })

  it('leaves what is set apart for others', () => {
    const facts = factsOf(TEN, { [HELD]: '5' })
    expect(whyNotTake(facts, [want('5')])).to.deep.equal([])
    const [one] = whyNotTake(facts, [want('4'), want('2', { bin: 'B2' })])
    expect([one!.code, one!.details, one!.place]).to.deep.equal(['stock.reserved', { reserved: '5', left: '4' }, 'lines.0.quantity']) // prettier-ignore
  })

  it('is handed out to somebody at average cost, one after the other, so that the values re-add', () => {
    const facts = factsOf([came('3', 1000n)])
    const out = takeOut(facts, [want('1'), want('1'), want('1')], 'issued')
    expect(out.map(one => [one.quantity, one.value])).to.deep.equal([['-1', -333n], ['-1', -334n], ['-1', -333n]]) // prettier-ignore
    const done = issueStock(factsOf(TEN), [want('2')], 'LS-210', ADA)
    expect(done.ok && [done.next.entries.map(one => one.kind), done.did]).to.deep.equal([
      ['issued'],
      { action: 'stockIssued', changes: { to: 'LS-210', lines: 1 }, reason: null },
    ])
    expect(codes(issueStock(factsOf(TEN), [want('2')], ' ', ADA))).to.deep.equal(['stock.forWhom to'])
    expect(codes(issueStock(factsOf(TEN), [want('2')], 'LS-210', NOBODY))).to.deep.equal(['right.notYours'])
    expect(codes(issueStock(factsOf(TEN), [want('7')], 'LS-210', ADA))).to.deep.equal(['stock.notThere lines.0.quantity']) // prettier-ignore
  })

  it('moves with its cost, never to where it lies; what is set apart may move within its site', () => {
    const facts = factsOf(TEN, { [HELD]: '10' })
    const move = (toPlaceId: string, toBin: string, who = ADA) =>
      moveStock(facts, [{ ...want('2'), toPlaceId, toBin }], who)
    const within = move('quay', 'B9')
    expect(within.ok && within.next.entries.map(one => [one.placeId, one.bin, one.quantity, one.value, one.kind])).to.deep.equal([['quay', 'B1', '-2', -200n, 'moved'], ['quay', 'B9', '2', 200n, 'moved']]) // prettier-ignore
    expect(codes(move('quay', 'B1'))).to.deep.equal(['stock.sameBin lines.0.toBin'])
    expect(codes(move('works', 'B1'))).to.deep.equal(['stock.reserved lines.0.quantity'])
    expect(move('quay', 'B9', NOBODY).ok).to.equal(false)
    expect(moveStock(factsOf(TEN), [{ ...want('2'), toPlaceId: 'works', toBin: 'B1' }], ADA).ok).to.equal(true)
  })

  it('that is counted as it is known is booked at once; a difference waits for somebody else', () => {
    const facts = factsOf(TEN)
    const same = countStock(facts, [{ ...lot(), found: '6' }], ADA)
    expect(same.ok && [same.next.asks, same.next.differences, same.did.action]).to.deep.equal([
      null,
      [],
      'stockCounted',
    ])
    const less = countStock(facts, [{ ...lot(), found: '5' }], ADA)
    expect(less.ok && [less.next.asks?.purpose, less.next.entries, less.did.action]).to.deep.equal(['stockCount', [], 'stockAsked']) // prettier-ignore
    expect(codes(countStock(facts, [], ADA))).to.deep.equal(['stock.nothing'])
    expect(codes(countStock(facts, [{ ...lot(), found: '1' }, { ...lot(), found: '2' }], ADA))).to.deep.equal(['stock.lotTwice']) // prettier-ignore
    expect(codes(countStock(facts, [{ ...lot(), found: '-1' }], ADA))).to.deep.equal(['stock.quantity lines.0.found'])
    expect(countStock(facts, [{ ...lot(), found: '0' }], ADA).ok).to.equal(true)
    expect(codes(countStock(facts, [{ ...lot(), found: '6' }], NOBODY))).to.deep.equal(['right.notYours'])
  })

  it('differs by quantity and by worth at average cost; what was not known is worth what the item costs there', () => {
    const found = [{ ...lot(), found: '5' }, { ...lot({ bin: 'B2' }), found: '6' }, { ...lot({ bin: 'B3' }), found: '1' }] // prettier-ignore
    expect(differencesOf(factsOf(TEN), found).map(one => [one.known, one.difference, one.value])).to.deep.equal([['6', '-1', -100n], ['4', '2', 200n], ['0', '1', 100n]]) // prettier-ignore
    expect(differencesOf(factsOf([]), [{ ...lot(), found: '3' }])[0]!.value).to.equal(0n)
    // one after the other: once all is gone, nothing is worth nothing
    const gone = differencesOf(factsOf([came('3', 1000n), came('1', 0n, { bin: 'B2' })]), [{ ...lot(), found: '0' }, { ...lot({ bin: 'B2' }), found: '0' }]) // prettier-ignore
    expect(gone.map(one => one.value)).to.deep.equal([-750n, -250n])
  })

  it('is booked as it is when somebody else says yes, and never when they say no', () => {
    const found = [{ ...lot(), found: '5' }]
    const answer = (how: 'approve' | 'reject', reason = 'One was lost.', who = ADA) => answerCount(factsOf(TEN), found, open, who, how, reason) // prettier-ignore
    const yes = answer('approve')
    expect(yes.ok && [yes.next.state, yes.next.entries.map(one => [one.kind, one.quantity, one.value]), yes.did.action]).to.deep.equal(['posted', [['counted', '-1', -100n]], 'stockCounted']) // prettier-ignore
    const no = answer('reject')
    expect(no.ok && [no.next.state, no.next.entries, no.did.action]).to.deep.equal(['refused', [], 'stockRefused'])
    expect(codes(answer('approve', ' '))).to.deep.equal(['stock.whyDiffers reason'])
    expect(answer('approve', 'So.', actorOf('yuki')).ok).to.equal(false)
    expect(answerCount(factsOf(TEN), found, null, ADA, 'approve', 'So.').ok).to.equal(false)
  })

  it('re-adds whatever is taken, moved and counted, and is worth nothing once nothing is there', () => {
    const steps = fc.array(fc.tuple(fc.constantFrom('issue', 'move', 'count'), fc.integer({ min: 0, max: 12 }), fc.constantFrom('B1', 'B2')), { maxLength: 12 }) // prettier-ignore
    fc.assert(
      fc.property(fc.bigInt(0n, 100_000n), steps, (value, done) => {
        const entries: StockEntry[] = [came('7', value), came('5', value / 3n, { bin: 'B2' })]
        for (const [how, quantity, bin] of done) {
          const facts = factsOf(entries)
          const amount = String(quantity)
          const decided =
            how === 'issue'
              ? issueStock(facts, [want(amount, { bin })], 'x', ADA)
              : how === 'move'
                ? moveStock(facts, [{ ...want(amount, { bin }), toPlaceId: 'works', toBin: 'W' }], ADA)
                : answerCount(facts, [{ ...lot({ bin }), found: amount }], open, ADA, 'approve', 'So.')
          if (decided.ok) entries.push(...decided.next.entries)
        }
        const { lots, holdings } = sumStock(entries)
        return (
          [...lots.values()].every(quantity => new Decimal(quantity).gte(0)) &&
          [...holdings.values()].every(
            one => one.value >= 0n && (!new Decimal(one.quantity).isZero() || one.value === 0n),
          )
        )
      }),
    )
  })
})
