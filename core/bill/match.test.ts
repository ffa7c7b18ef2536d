import { expect } from 'chai'
import fc from 'fast-check'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { clearHold, whyNotClear } from '#core/bill/clearHold.ts'
import {
  HOLD_KIND_CODES,
  HOLD_KINDS,
  type Hold,
  holdOf,
  type KeptHold,
  reconcileHolds,
  standingHolds,
} from '#core/bill/holds.ts'
import { inOrderedUnit } from '#core/bill/inOrderedUnit.ts'
import { normalNumber } from '#core/bill/invoiceNumber.ts'
import { isAddressedTo, matchCharges, matchParties, matchTax, matchTotals, matchTwin } from '#core/bill/matchHead.ts'
import { differences, matchInvoice } from '#core/bill/matchInvoice.ts'
import { type MatchedAgainst, matchLine } from '#core/bill/matchLine.ts'
import { STRICT, type Tolerance, type ToleranceProfile, within } from '#core/bill/tolerance.ts'
import { minor } from '#core/money/amount.ts'
import { ADA, actorOf, HOUSE, OrderToPay } from '#test-helpers/orderToPay.ts'

/** An order line of ten at 20.00 of which ten are in, as the ledgers have it. */
const ordered = new OrderToPay({ lines: [{ price: '20' }] })
ordered.issue()
const LINE = ordered.order().lines[0]!

const against = (changed: Partial<typeof LINE> = {}, sums: Partial<typeof LINE.sums> = {}): MatchedAgainst => ({
  order: { state: 'issued', currency: 'EUR' },
  line: { ...LINE, ...changed, sums: { ...LINE.sums, received: '10', ...sums } },
  sameInvoice: '0',
})
const billedLine = (changed: Partial<Parameters<typeof matchLine>[0]> = {}) => ({
  position: 1,
  quantity: '10',
  unit: 'C62',
  net: minor(20_000),
  ...changed,
})
const bill = (
  changed: Parameters<typeof billedLine>[0] = {},
  facts: MatchedAgainst | null = against(),
  profile: ToleranceProfile = STRICT,
): Hold[] => matchLine(billedLine(changed), facts, profile, 'EUR')

describe('three-way match of a line', () => {
  it('clears what agrees with order and receipt', () => {
    expect(bill()).to.deep.equal([])
  })

  it('names a dearer price in money, for the buyer', () => {
    expect(bill({ net: minor(21_000) })).to.deep.equal([
      { position: 1, kind: 'price', quantity: '0', amount: 1000n, clearedBy: 'buyer' },
    ])
  })

  it('never holds under-billing', () => {
    expect(bill({ net: minor(15_000) })).to.deep.equal([])
    expect(bill({ quantity: '4', net: minor(8_000) })).to.deep.equal([])
  })

  it('holds what came in later, for the receiver, and work for whoever asked', () => {
    expect(bill({}, against({}, { received: '6' }))).to.deep.equal([
      { position: 1, kind: 'proof', quantity: '4', amount: 8000n, clearedBy: 'receiver' },
    ])
    const work = against({ kind: 'workByRate', proof: 'acceptWork' }, { received: '0', accepted: '0' })
    expect(bill({}, work)[0]!.clearedBy).to.equal('requester')
    expect(bill({}, against({ proof: 'none' }, { received: '0' }))).to.deep.equal([])
    expect(bill({}, against({ kind: 'goodsByAmount', proof: 'billFirst' }, { received: '0' }))).to.deep.equal([])
    expect(bill({}, against({ kind: 'workByRate', proof: 'billFirst' }, { received: '0' }))).to.have.length(1)
  })

  it('holds more than was ordered and more than is proven each for itself', () => {
    expect(bill({ quantity: '11', net: minor(22_000) }, against({}, { received: '0' }))).to.deep.equal([
      { position: 1, kind: 'quantity', quantity: '1', amount: 2000n, clearedBy: 'buyer' },
      { position: 1, kind: 'proof', quantity: '11', amount: 22_000n, clearedBy: 'receiver' },
    ])
  })

  it('counts what was billed before, net of credits, and earlier lines of the same invoice', () => {
    const excess = [{ position: 1, kind: 'quantity', quantity: '3', amount: 6000n, clearedBy: 'buyer' }]
    expect(bill({}, against({}, { billed: '3', received: '13' }))).to.deep.equal(excess)
    expect(bill({}, against({}, { billed: '9', credited: '6', received: '13' }))).to.deep.equal(excess)
    expect(bill({}, { ...against({}, { received: '13' }), sameInvoice: '3' })).to.deep.equal(excess)
    expect(bill({}, against({}, { billed: '30', received: '40' }))[0]!.quantity).to.equal('10')
  })

  it('counts what is proven net of what went back', () => {
    expect(bill({}, against({}, { returned: '2' }))).to.deep.equal([
      { position: 1, kind: 'proof', quantity: '2', amount: 4000n, clearedBy: 'receiver' },
    ])
  })

  it('holds another unit, another currency, an order that ended and a line that belongs to none, whole', () => {
    const whole = (kind: Hold['kind'], quantity = '10') => [
      { position: 1, kind, quantity, amount: 20_000n, clearedBy: 'invoiceClerk' },
    ]
    expect(bill({ unit: 'KGM' })).to.deep.equal(whole('unit'))
    expect(bill({}, { ...against(), order: { state: 'issued', currency: 'NOK' } })).to.deep.equal(
      whole('currency', '0'),
    )
    for (const state of ['cancelled', 'sealed', 'draft'] as const)
      expect(bill({}, { ...against(), order: { state, currency: 'EUR' } })).to.deep.equal(whole('orderEnded'))
    expect(bill({}, { ...against(), order: { state: 'closed', currency: 'EUR' } })).to.deep.equal([])
    expect(bill({}, null)).to.deep.equal(whole('noOrderLine'))
  })

  it('takes allowances on the line into the price, and the price base of the order', () => {
    expect(bill({ net: minor(19_000) }, against({ price: '19' }))).to.deep.equal([])
    const hundreds = against({ quantity: '1000', price: '31.9', priceBase: '100' }, { received: '1000' })
    expect(bill({ quantity: '1000', net: minor(31_900) }, hundreds)).to.deep.equal([])
    expect(bill({ quantity: '1000', net: minor(31_901) }, hundreds)[0]).to.deep.include({ kind: 'price', amount: 1n })
  })

  it('lets nothing that came be billed by no tolerance, however wide', () => {
    const wide = { ...STRICT, quantity: { percent: '100', absolute: '100', combine: 'stricter' } as const }
    expect(bill({ quantity: '5', net: minor(10_000) }, against({}, { received: '0' }), wide)[0]!.kind).to.equal('proof')
    expect(
      bill({ quantity: '5', net: minor(10_000) }, against({}, { received: '1' }), {
        ...STRICT,
        quantity: { ...wide.quantity, combine: 'looser' },
      }),
    ).to.deep.equal([])
  })

  it('is clear whenever nothing is above order, price and receipt', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1000 }), fc.integer({ min: 1, max: 1000 }), (of, asked) => {
        const quantity = Math.min(of, asked)
        const facts = against({ quantity: String(of) }, { received: String(of) })
        expect(bill({ quantity: String(quantity), net: minor(quantity * 2000) }, facts)).to.deep.equal([])
      }),
    )
  })
})

describe('tolerances', () => {
  const limit = (percent: string | null, absolute: string | null): Tolerance => ({ percent, absolute })
  const looser = (percent: string | null, absolute: string | null): Tolerance => ({
    percent,
    absolute,
    combine: 'looser',
  })

  it('let a difference pass only if it is within every limit that is set, exactly at it too', () => {
    expect(within('2', '100', limit('2', null))).to.equal(true)
    expect(within('2.000001', '100', limit('2', null))).to.equal(false)
    expect(within('3', '100', limit(null, '3'))).to.equal(true)
    expect(within('3', '100', limit('2', '3'))).to.equal(false)
    expect(within('3', '100', looser('2', '3'))).to.equal(true)
    expect(within('4', '100', looser('2', '3'))).to.equal(false)
  })

  it('let nothing above pass where no limit is set, and anything below always', () => {
    expect(within('0.01', '100', limit(null, null))).to.equal(false)
    expect(within('0.01', '100', looser(null, null))).to.equal(false)
    expect(within('0', '100', limit(null, null))).to.equal(true)
    expect(within('-5', '100', limit('0', '0'))).to.equal(true)
  })

  it('an absolute price limit is for each price unit of the order', () => {
    const profile = { ...STRICT, price: limit(null, '0.3') }
    expect(bill({ net: minor(20_300) }, against(), profile)).to.deep.equal([])
    expect(bill({ net: minor(20_301) }, against(), profile)).to.have.length(1)
    const hundreds = against({ quantity: '1000', price: '20', priceBase: '100' }, { received: '1000' })
    expect(bill({ quantity: '1000', net: minor(20_300) }, hundreds, profile)).to.deep.equal([])
    expect(bill({ quantity: '1000', net: minor(20_301) }, hundreds, profile)).to.have.length(1)
  })

  it('of a price hold what is below the agreement only where both ways are said', () => {
    const up = { ...STRICT, price: limit('5', null) }
    const both = { ...STRICT, price: { ...limit('5', null), both: true } }
    expect(bill({ net: minor(18_000) }, against(), up)).to.deep.equal([])
    expect(bill({ net: minor(18_000) }, against(), both)).to.deep.equal([holdOf('below', 1, 2000n)])
    expect(bill({ net: minor(19_000) }, against(), both)).to.deep.equal([])
    expect(bill({ net: minor(21_001) }, against(), both)).to.deep.equal([holdOf('price', 1, 1001n)])
  })

  it('of what a line costs in all add up price and quantity, and are not judged where nothing is set', () => {
    const loose = { ...STRICT, price: limit('10', null), quantity: limit('20', null) }
    const facts = against({}, { received: '12' })
    const dear = { quantity: '12', net: minor(25_200) }
    expect(bill(dear, facts, loose)).to.deep.equal([])
    // twelve at 21.00 where ten at 20.00 were left: 52.00 more
    expect(bill(dear, facts, { ...loose, amount: limit(null, '52') })).to.deep.equal([])
    expect(bill(dear, facts, { ...loose, amount: limit(null, '51.99') })).to.deep.equal([holdOf('amount', 1, 5200n)])
    expect(bill(dear, { ...facts, sameInvoice: '10' }, { ...STRICT, amount: limit(null, '0') }).map(hold => [hold.kind, hold.amount])).to.deep.include(['amount', 25_200n]) // prettier-ignore
  })

  it('a supplier whose bills are held against the order only waits for no receipt, work still does', () => {
    const nothing = { received: '0' }
    expect(bill({}, against({ matchLevel: '3' }, nothing))[0]!.kind).to.equal('proof')
    expect(bill({}, against({ matchLevel: '2' }, nothing))).to.deep.equal([])
    expect(bill({ quantity: '11', net: minor(22_000) }, against({ matchLevel: '2' }, nothing)).map(hold => hold.kind)).to.deep.equal(['quantity']) // prettier-ignore
    const work = against({ kind: 'workByRate', proof: 'acceptWork', matchLevel: '2' }, nothing)
    expect(bill({}, work)[0]!.kind).to.equal('proof')
  })
})

/** An invoice over ten pieces that are in, with its head changed. */
function invoice(changed: Partial<InvoiceFacts> = {}): InvoiceFacts {
  const world = new OrderToPay()
  world.issue()
  world.receive([{ line: 1, quantity: '10' }])
  return { ...world.bill([{ line: 1, quantity: '10' }]), ...changed }
}

describe('match of what an invoice asks beyond its lines', () => {
  it('charges are held above what the orders agreed and nobody billed yet', () => {
    const charges = (asked: bigint, agreed: bigint, before = 0n, profile = STRICT) =>
      matchCharges(
        invoice({
          charges: minor(asked),
          chargesBilled: minor(before),
          orders: [{ ...ordered.order(), charges: minor(agreed) }],
          tolerances: profile,
        }),
      )
    expect(charges(5000n, 5000n)).to.deep.equal([])
    expect(charges(5001n, 5000n)).to.deep.equal([holdOf('charges', null, 1n)])
    expect(charges(3000n, 5000n, 2000n)).to.deep.equal([])
    expect(charges(3000n, 5000n, 2001n)).to.deep.equal([holdOf('charges', null, 1n)])
    expect(charges(1n, 5000n, 9000n)).to.deep.equal([holdOf('charges', null, 1n)])
    expect(charges(-500n, 0n)).to.deep.equal([])
    const even = { ...STRICT, freight: { percent: '10', absolute: null, both: true } }
    expect(charges(4500n, 5000n, 0n, even)).to.deep.equal([])
    expect(charges(4499n, 5000n, 0n, even)).to.deep.equal([holdOf('below', null, 501n)])
    const loose = { ...STRICT, freight: { percent: '10', absolute: null } }
    expect(charges(5500n, 5000n, 0n, loose)).to.deep.equal([])
    expect(charges(5501n, 5000n, 0n, loose)).to.have.length(1)
  })

  const rates = [
    { country: 'NL', rate: '21' },
    { country: 'NL', rate: '9' },
    { country: 'DE', rate: '19' },
  ]
  const taxed = (taxes: InvoiceFacts['taxes'], tax: bigint, changed: Partial<InvoiceFacts> = {}) =>
    matchTax(invoice({ taxes, tax: minor(tax), taxRates: rates, sellerCountries: ['NL'], ...changed }))
  const vat = (rate: string, tax: string, category = 'S', taxable = '100.00') => ({ category, rate, taxable, tax })

  it('tax is base × a rate that is charged where the seller or we are', () => {
    expect(taxed([vat('21', '21.00')], 2100n)).to.deep.equal([])
    expect(taxed([vat('21', '21.00'), vat('9.0', '9.00')], 3000n)).to.deep.equal([])
    expect(taxed([vat('900', '900.00')], 90_000n)).to.deep.equal([holdOf('tax', null, 90_000n)])
    expect(taxed([vat('100', '100.00')], 10_000n)).to.deep.equal([holdOf('tax', null, 10_000n)])
    expect(taxed([vat('19', '19.00')], 1900n)).to.deep.equal([holdOf('tax', null, 1900n)])
    expect(taxed([vat('19', '19.00')], 1900n, { sellerCountries: ['DE'] })).to.deep.equal([])
    expect(taxed([vat('21', '21.00')], 2100n, { sellerCountries: ['DE'] })).to.deep.equal([])
  })

  it('tax that is more or less than its rate, or than its parts, is held', () => {
    expect(taxed([vat('21', '31.00')], 3100n)).to.deep.equal([holdOf('tax', null, 1000n)])
    expect(taxed([vat('21', '11.00')], 1100n)).to.deep.equal([holdOf('tax', null, 1000n)])
    expect(taxed([vat('21', '21.00')], 5000n)).to.deep.equal([holdOf('tax', null, 2900n)])
    expect(taxed([], 0n)).to.deep.equal([])
    const cent = { ...STRICT, tax: { percent: '50', absolute: '0.01' } }
    expect(taxed([vat('21', '21.01')], 2101n, { tolerances: cent })).to.deep.equal([])
    expect(taxed([vat('21', '21.02')], 2102n, { tolerances: cent })).to.have.length(1)
  })

  it('categories without VAT charge none', () => {
    for (const category of ['Z', 'E', 'AE', 'K', 'G', 'O'])
      expect(taxed([vat('0', '0.00', category)], 0n), category).to.deep.equal([])
    expect(taxed([vat('21', '21.00', 'AE')], 2100n)).to.deep.equal([holdOf('tax', null, 2100n)])
    expect(taxed([vat('21', '', 'AE')], 0n)).to.deep.equal([holdOf('tax', null, 2100n)])
  })

  const totals = (changed: Record<string, bigint>) => {
    const { gross, tax, ...rest } = { net: 10_000n, tax: 2_100n, gross: 12_100n, prepaid: 0n, rounding: 0n, ...changed }
    const figures = { ...rest, tax, gross, payable: gross - rest.prepaid + rest.rounding, ...changed }
    return matchTotals(
      invoice(Object.fromEntries(Object.entries(figures).map(([key, value]) => [key, minor(value)])) as never),
    ).map(({ kind, amount }) => `${kind} ${amount}`)
  }

  it('what is asked beyond net and tax is held, what is asked less is not', () => {
    expect(totals({})).to.deep.equal([])
    expect(totals({ gross: 12_101n })).to.deep.equal(['gross 1'])
    expect(totals({ gross: 12_099n })).to.deep.equal([])
    expect(totals({ payable: 12_150n })).to.deep.equal(['gross 50'])
    expect(totals({ payable: 12_050n })).to.deep.equal([])
    expect(totals({ gross: 12_101n, payable: 12_103n })).to.deep.equal(['gross 3'])
  })

  it('rounding of a whole unit and a prepayment below nothing are money on top', () => {
    expect(totals({ rounding: 99n })).to.deep.equal([])
    expect(totals({ rounding: 100n })).to.deep.equal(['rounding 100'])
    expect(totals({ rounding: 5_000_000n })).to.deep.equal(['rounding 5000000'])
    expect(totals({ rounding: -500n })).to.deep.equal([])
    expect(totals({ prepaid: -1n })).to.deep.equal(['prepaid 1'])
    expect(totals({ prepaid: 12_100n })).to.deep.equal([])
    const yen = { net: minor(100), gross: minor(100), tax: minor(0), rounding: minor(1), payable: minor(101) }
    expect(matchTotals(invoice({ ...yen, currency: 'JPY' }))).to.deep.equal([holdOf('rounding', null, 1n)])
  })

  const party = { name: 'Ivory House B.V.', country: 'NL', vatId: '', registrationId: '', endpointId: '' }

  it('is addressed to us by VAT number, else by the name without its legal form', () => {
    expect(isAddressedTo({ ...party, vatId: 'NL 0012.34567.B01' }, HOUSE)).to.equal(true)
    expect(isAddressedTo({ ...party, vatId: 'NL009999999B01' }, HOUSE)).to.equal(false)
    expect(isAddressedTo(party, HOUSE)).to.equal(true)
    expect(isAddressedTo({ ...party, name: 'Ebony House B.V.' }, HOUSE)).to.equal(false)
    expect(isAddressedTo({ ...party, name: 'Anybody' }, { ...HOUSE, name: '' })).to.equal(true)
    expect(isAddressedTo({ ...party, vatId: 'NL1' }, { ...HOUSE, vat: '' })).to.equal(true)
    expect(matchParties(invoice({ buyer: party }))).to.deep.equal([])
    expect(matchParties(invoice({ buyer: { ...party, name: 'Ebony House' } }))).to.deep.equal([
      holdOf('addressee', null, 10_000n),
    ])
  })

  it('asks to be paid to an account of the supplier, where it names one', () => {
    const iban = 'NL91ABNA0417164300'
    expect(matchParties(invoice({ iban, accounts: ['NL91 ABNA 0417 1643 00'] }))).to.deep.equal([])
    expect(matchParties(invoice({ iban, accounts: ['DE89370400440532013000'] }))).to.deep.equal([
      holdOf('account', null, 10_000n),
    ])
    expect(matchParties(invoice({ iban, accounts: [] }))).to.have.length(1)
    expect(matchParties(invoice({ iban: '', accounts: [] }))).to.deep.equal([])
  })

  it('looks twice at the same amount near in time', () => {
    expect(matchTwin(invoice())).to.deep.equal([])
    expect(matchTwin(invoice({ twin: 'I-7' }))).to.deep.equal([holdOf('nearDuplicate', null, 10_000n)])
  })

  it('all of it counts, each difference for itself', () => {
    const wrong = invoice({ twin: 'I-7', prepaid: minor(-5), rounding: minor(500), charges: minor(70), iban: 'XX' })
    expect(differences(wrong).map(hold => hold.kind)).to.deep.equal([
      'charges',
      'rounding',
      'prepaid',
      'account',
      'nearDuplicate',
    ])
  })
})

describe('holds', () => {
  const kept = (changed: Partial<KeptHold> = {}): KeptHold => ({
    ...holdOf('price', 1, 1000n),
    escalated: false,
    id: 'h1',
    ended: false,
    cleared: false,
    asked: null,
    ...changed,
  })

  it('name who clears each of them', () => {
    const by = (kind: Hold['kind']): string => HOLD_KINDS[kind].clearedBy
    expect(HOLD_KIND_CODES.filter(kind => HOLD_KINDS[kind].byReason).map(kind => `${kind} ${by(kind)}`)).to.deep.equal([
      'price buyer',
      'below buyer',
      'amount buyer',
      'early buyer',
      'quantity buyer',
      'charges buyer',
      'tax financeController',
      'rounding financeController',
      'prepaid financeController',
      'addressee invoiceClerk',
      'account treasurer',
      'nearDuplicate invoiceClerk',
    ])
    expect(by('proof')).to.equal('receiver')
  })

  it('stay cleared as long as the difference is no larger', () => {
    const cleared = kept({ ended: true, cleared: true, quantity: '2' })
    const now = (amount: bigint, quantity = '2', position = 1) => [holdOf('price', position, amount, quantity)]
    expect(standingHolds([cleared], now(1000n))).to.deep.equal([])
    expect(standingHolds([cleared], now(999n, '1'))).to.deep.equal([])
    expect(standingHolds([cleared], now(1001n))).to.have.length(1)
    expect(standingHolds([cleared], now(1000n, '3'))).to.have.length(1)
    expect(standingHolds([cleared], now(1000n, '2', 2))).to.have.length(1)
    expect(standingHolds([kept({ ended: true })], now(1000n))).to.have.length(1)
  })

  it('open when a difference is new, end when its cause is gone, stay otherwise', () => {
    const same = holdOf('price', 1, 1000n)
    expect(reconcileHolds([kept()], [same])).to.deep.equal({ open: [], end: [] })
    expect(reconcileHolds([kept()], [])).to.deep.equal({ open: [], end: ['h1'] })
    expect(reconcileHolds([], [same])).to.deep.equal({ open: [same], end: [] })
    expect(reconcileHolds([kept({ ended: true, cleared: true })], [same])).to.deep.equal({ open: [], end: [] })
    const larger = holdOf('price', 1, 2000n)
    expect(reconcileHolds([kept()], [larger])).to.deep.equal({ open: [larger], end: ['h1'] })
  })

  it('are cleared with a reason by the role they name, while the invoice waits; no other goes with one', () => {
    const world = new OrderToPay()
    world.issue()
    world.bill([{ line: 1, quantity: '11', net: 12_000n }])
    expect(world.held(0)).to.deep.equal(['price', 'proof', 'quantity'])
    const facts = world.invoice(0)
    const id = (kind: string): string => facts.holds.find(hold => hold.kind === kind)!.id
    const codes = (holdId: string, actor = ADA, reason = 'It is agreed.') => {
      const decided = clearHold(facts, holdId, actor, reason)
      return decided.ok ? [] : decided.reasons.map(one => one.code)
    }
    expect(codes(id('price'), ADA, '')).to.deep.equal(['bill.wantsReason'])
    expect(codes(id('price'), actorOf('x', { roles: ['receiver'] }))).to.deep.equal(['bill.holdNotYours'])
    expect(codes(id('proof'))).to.deep.equal(['bill.clearOtherwise.proof'])
    expect(codes('no such')).to.deep.equal(['bill.holdEnded'])
    expect(whyNotClear({ state: 'cleared' }, facts.holds[0]!, ADA).map(one => one.code)).to.deep.equal([
      'bill.holdEnded',
    ])
    expect(whyNotClear(facts, { ...facts.holds[0]!, ended: true }, ADA)).to.have.length(1)
    const decided = clearHold(facts, id('price'), ADA, 'It is agreed.')
    expect(decided.ok && decided.next).to.deep.equal({
      state: 'onHold',
      holds: { open: [], end: [] },
      clears: { holdId: id('price'), reason: 'It is agreed.' },
    })
    expect(decided.ok && decided.did).to.deep.include({ action: 'holdCleared', reason: 'It is agreed.' })
  })

  it('the last one that is cleared makes the invoice agree', () => {
    const world = new OrderToPay()
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    const facts = world.bill([{ line: 1, quantity: '10', net: 10_001n }])
    const decided = clearHold(facts, facts.holds[0]!.id, ADA, 'A cent.')
    expect(decided.ok && decided.next.state).to.equal('matched')
  })

  it('are not touched on an invoice that is posted or over', () => {
    const facts = invoice({ state: 'cleared', twin: 'I-7' })
    expect(matchInvoice(facts)).to.deep.equal({ state: 'cleared', holds: { open: [], end: [] }, standing: [] })
  })
})

describe('a billed quantity in the ordered unit', () => {
  const item = { unit: 'C62', packs: [{ unit: 'BX', holds: '100' }] }

  it('is converted by the packs of the item: two boxes of a hundred are two hundred pieces', () => {
    expect(inOrderedUnit({ quantity: '2', unit: 'BX', priceBase: '1' }, 'C62', item)).to.deep.equal({
      quantity: '200',
      unit: 'C62',
      priceBase: '100',
    })
    expect(inOrderedUnit({ quantity: '200', unit: 'C62', priceBase: '100' }, 'BX', item)).to.deep.equal({
      quantity: '2',
      unit: 'BX',
      priceBase: '1',
    })
  })

  it('is converted by the factors of Recommendation 20, without an item too', () => {
    expect(inOrderedUnit({ quantity: '1.5', unit: 'TNE', priceBase: '1' }, 'KGM', null)).to.deep.include({
      quantity: '1500',
      priceBase: '1000',
    })
  })

  it('stays as it was billed where it does not convert, or not exactly', () => {
    const box = { quantity: '2', unit: 'BX', priceBase: '1' }
    expect(inOrderedUnit(box, 'C62', null)).to.equal(box)
    expect(inOrderedUnit({ ...box, unit: 'C62' }, 'C62', item)).to.deep.equal({ ...box, unit: 'C62' })
    const three = { quantity: '1', unit: 'C62', priceBase: '1' }
    expect(inOrderedUnit(three, 'BX', { unit: 'C62', packs: [{ unit: 'BX', holds: '3' }] })).to.equal(three)
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
