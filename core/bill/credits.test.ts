import { expect } from 'chai'
import type { CreditedInvoice, CreditFacts, CreditFigures } from '#core/bill/creditFacts.ts'
import { lessCredits } from '#core/bill/lessCredits.ts'
import { creditTakenBack, endCredit, postCredit, whyNotPostCredit } from '#core/bill/postCredit.ts'
import { proofGone, unprovenLines } from '#core/bill/proofGone.ts'
import { readCredit } from '#core/bill/readCredit.ts'
import { type OpenCredit, type OpenInvoice, setOff } from '#core/bill/setOff.ts'
import { chargesLeft, grossLeft, leftOf, type WantedCredit, whyBeyond, writeCredit } from '#core/bill/writeCredit.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { minor } from '#core/money/amount.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'
import { ADA, actorOf, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const line = (position: number, changed: Partial<CreditedInvoice['lines'][number]> = {}) => ({ id: `l${position}`, position, orderLineId: null, description: `Part ${position}`, quantity: '10', unit: 'C62', price: '10', priceBase: '1', net: minor(10_000), taxCategory: 'S', taxRate: '21', ...changed }) // prettier-ignore
/** Two lines of 100.00 at 21 and 9 per cent, and freight of 10.00 that is taxed at 21. */
const invoice = (changed: Partial<CreditedInvoice> = {}): CreditedInvoice => ({
  id: 'i', number: 'I-1', supplierNumber: 'N-1', state: 'cleared', currency: 'EUR', rate: '1', base: 'EUR', issueDate: '2026-05-01', charges: minor(1_000), tax: minor(3_210), gross: minor(24_210),
  taxes: [{ category: 'S', rate: '21', taxable: '110.00', tax: '23.10' }, { category: 'S', rate: '9', taxable: '100.00', tax: '9.00' }],
  lines: [line(1), line(2, { taxRate: '9.00' })], credited: [], ...changed,
}) // prettier-ignore
type Wish = WantedCredit['lines'][number]
const pieces = (of: number, quantity: string): Wish => ({ of, way: 'quantity', quantity, priceOff: '0' })
const off = (of: number, quantity: string, priceOff: string): Wish => ({ of, way: 'price', quantity, priceOff })
const write = (lines: readonly Wish[], charges = 0, of = invoice(), changed: Partial<WantedCredit> = {}) => writeCredit(of, { number: 'C-1', issueDate: TODAY, charges: minor(charges), lines, ...changed }, TODAY) // prettier-ignore
const made = (...said: Parameters<typeof write>): CreditFigures => {
  const written = write(...said)
  if (!written.ok) throw new Error(written.reasons.map(reason => reason.code).join())
  return written.next
}
const refused = (...said: Parameters<typeof write>): string[] => {
  const written = write(...said)
  return written.ok ? [] : written.reasons.map(reason => `${reason.place ?? ''} ${reason.code}`.trim())
}
const sums = ({ net, tax, gross, taxes }: CreditFigures) => [net, tax, gross, taxes.map(one => `${one.rate}: ${one.taxable} ${one.tax}`)] // prettier-ignore

describe('a credit note', () => {
  it('gives back pieces in proportion, or so much for each, with the tax of each rate', () => {
    expect(sums(made([pieces(1, '3')]))).to.deep.equal([3_000n, 630n, 3_630n, ['21: 30.00 6.30']])
    expect(sums(made([off(2, '10', '0.55')]))).to.deep.equal([550n, 50n, 600n, ['9: 5.50 0.50']])
    expect(sums(made([pieces(1, '1'), pieces(2, '1')], 1_000))).to.deep.equal([3_000n, 510n, 3_510n, ['21: 20.00 4.20', '9: 10.00 0.90']]) // prettier-ignore
    expect(made([pieces(1, '0'), off(2, '4', '1')]).lines.map(one => [one.position, one.of, one.way, one.quantity, one.price, one.net])).to.deep.equal([[1, 2, 'price', '4', '1', 400n]]) // prettier-ignore
    expect(made([off(1, '300', '2.50')], 0, invoice({ lines: [line(1, { quantity: '1000', priceBase: '100' }), line(2)] })).net).to.equal(750n) // prettier-ignore
  })

  it('takes all that is left with the last piece, cents of rounding included', () => {
    const odd = invoice({ lines: [line(1, { quantity: '3', net: minor(10_000) }), line(2, { taxRate: '9' })] })
    const first = made([pieces(1, '1')], 0, odd)
    const second = made([pieces(1, '1')], 0, { ...odd, credited: [first] })
    const third = made([pieces(1, '1')], 1_000, { ...odd, credited: [first, second] })
    expect([first, second, third].map(one => [one.net, one.tax])).to.deep.equal([[3_333n, 700n], [3_333n, 700n], [4_334n, 910n]]) // prettier-ignore
    expect(leftOf({ credited: [first, second] }, odd.lines[0]!)).to.deep.equal({ quantity: '1', net: minor(3_334) })
    expect(leftOf({ credited: [first, second, third] }, odd.lines[0]!)).to.deep.equal({ quantity: '0', net: minor(0) })
    expect(leftOf({ credited: [made([off(1, '2', '1')])] }, line(1))).to.deep.equal({ quantity: '10', net: minor(9_800) }) // prettier-ignore
    expect([chargesLeft({ ...odd, credited: [third] }), chargesLeft({ charges: minor(-5), credited: [] }), grossLeft({ ...odd, credited: [first] })]).to.deep.equal([0n, 0n, 20_177n]) // prettier-ignore
  })

  it('takes no more than is left of a line, the charges, the tax or the whole', () => {
    expect(refused([pieces(1, '10.1')])).to.deep.equal(['lines.0.quantity credit.aboveQuantity'])
    expect(refused([off(1, '10.1', '1')])).to.deep.equal(['lines.0.quantity credit.aboveQuantity'])
    expect(refused([off(1, '10', '10.01')])).to.deep.equal(['lines.0.quantity credit.aboveNet'])
    expect(refused([off(1, '10', '10')])).to.deep.equal([])
    expect(refused([], 1_001)).to.deep.equal(['charges credit.aboveCharges'])
    expect(refused([pieces(1, '1'), off(1, '1', '1')])).to.deep.equal(['credit.lineTwice'])
    expect(refused([pieces(1, '10'), pieces(2, '10')], 1_000)).to.deep.equal([])
    expect(refused([pieces(1, '10')], 0, invoice({ gross: minor(12_099) }))).to.deep.equal(['credit.aboveInvoice'])
    expect(refused([pieces(1, '10')], 0, invoice({ gross: minor(12_100) }))).to.deep.equal([])
    expect(whyBeyond(invoice({ lines: [line(2)] }), made([pieces(1, '1')])).map(one => one.code)).to.deep.equal(['credit.foreignLine']) // prettier-ignore
    const short = invoice({ taxes: [{ category: 'S', rate: '21', taxable: '110.00', tax: '5.00' }, { category: 'S', rate: '9', taxable: '100.00', tax: '9.00' }] }) // prettier-ignore
    expect(made([pieces(1, '9')], 0, short).tax).to.equal(500n)
  })

  it('shares charges by where they were taxed, and evenly where nothing says so', () => {
    expect(made([], 1_000).taxes.map(one => [one.rate, one.taxable])).to.deep.equal([['21', '10.00']])
    const untold = invoice({ taxes: [{ category: 'S', rate: '21', taxable: '100.00', tax: '21.00' }, { category: 'S', rate: '9', taxable: '100.00', tax: '9.00' }] }) // prettier-ignore
    expect(made([], 1_000, untold).taxes.map(one => [one.rate, one.taxable])).to.deep.equal([['21', '5.00'], ['9', '5.00']]) // prettier-ignore
  })

  it('says what is wrong with what is written, at its place', () => {
    expect(refused([])).to.deep.equal(['credit.nothing'])
    expect(refused([pieces(1, '0')])).to.deep.equal(['credit.nothing'])
    expect(refused([pieces(1, '1')], -1)).to.deep.equal(['charges credit.belowZero'])
    expect(refused([pieces(3, '1'), pieces(1, '-1'), off(2, '1', '0'), pieces(1, 'x')])).to.deep.equal(['lines.0 credit.foreignLine', 'lines.1.quantity line.quantity', 'lines.2.priceOff credit.priceOff', 'lines.3.quantity line.quantity']) // prettier-ignore
    expect(refused([pieces(1, '1')], 0, invoice({ lines: [line(1, { net: minor(0) })] }))).to.deep.equal(['lines.0 credit.nothingBilled']) // prettier-ignore
    expect(refused([pieces(1, '1')], 0, invoice({ state: 'rejected' }))).to.deep.equal(['credit.invoiceEnded'])
    const at = (issueDate: string, number = 'C-1') => refused([pieces(1, '1')], 0, invoice(), { issueDate, number })
    expect([at('2026-06-02'), at('2026-04-30'), at('2026-05-01'), at(TODAY)]).to.deep.equal([['issueDate bill.futureDate'], ['issueDate credit.beforeInvoice'], [], []]) // prettier-ignore
    expect([at(TODAY, 'n'.repeat(60)), at(TODAY, 'n'.repeat(61))]).to.deep.equal([[], ['number credit.numberLong']])
  })

  it('is in the base currency what all of them together are, rounded once', () => {
    const dollars = invoice({ currency: 'USD', rate: '0.335', lines: [line(1), line(2, { taxRate: '9' })] })
    const first = made([off(1, '1', '0.01')], 0, dollars)
    const second = made([off(1, '1', '0.01')], 0, { ...dollars, credited: [first] })
    const third = made([off(1, '1', '0.01')], 0, { ...dollars, credited: [first, second] })
    expect([first.baseNet, second.baseNet, third.baseNet]).to.deep.equal([0n, 1n, 0n])
  })
})

describe('a credit note that is read', () => {
  const parts = { ...readEInvoice(invoiceXml()) }
  const text = (lines: { name: string; quantity: string; price: string; net: string; unit?: string; rate?: string; base?: string }[], net: string, tax: string, gross: string) => ({
    ...parts, currency: 'EUR', totals: { ...parts.totals, net, tax, gross }, taxes: [{ ...parts.taxes[0]!, category: 'S', rate: '21', taxable: net, tax }],
    lines: lines.map(one => ({ ...parts.lines[0]!, category: 'S', rate: one.rate ?? '21', unit: one.unit ?? 'C62', priceBase: one.base ?? '', name: one.name, quantity: one.quantity, price: one.price, net: one.net })),
  }) // prettier-ignore
  const read = (said: ReturnType<typeof text>, of = invoice()) => {
    const decided = readCredit(of, said)
    return decided.ok ? decided.next.lines.map(one => `${one.of} ${one.way} ${one.quantity} ${one.unit} ${one.net}`) : decided.reasons.map(reason => reason.code) // prettier-ignore
  }

  it('takes from the line that says the same, by quantity at its price and by price at another', () => {
    expect(read(text([{ name: 'PART  1', quantity: '2', price: '10.00', net: '20.00' }], '20.00', '4.20', '24.20'))).to.deep.equal(['1 quantity 2 C62 2000']) // prettier-ignore
    expect(read(text([{ name: 'Part 1', quantity: '10', price: '0.50', net: '5.00' }], '5.00', '1.05', '6.05'))).to.deep.equal(['1 price 10 C62 500']) // prettier-ignore
    expect(read(text([{ name: 'Part 1', quantity: '2', price: '1000', net: '20.00', base: '100' }], '20.00', '4.20', '24.20'))).to.deep.equal(['1 quantity 2 C62 2000']) // prettier-ignore
    expect(read(text([{ name: 'Part 1', quantity: '1', price: '20', net: '20.00', unit: 'PA' }], '20.00', '4.20', '24.20'))).to.deep.equal(['1 quantity 2 C62 2000']) // prettier-ignore
    expect(read(text([{ name: 'Other', quantity: '1', price: '10', net: '10.00' }], '10.00', '2.10', '12.10'))).to.deep.equal(['credit.lineNotFound']) // prettier-ignore
    expect(read(text([{ name: 'Other', quantity: '1', price: '10', net: '10.00' }], '10.00', '2.10', '12.10'), invoice({ lines: [line(1)] }))).to.deep.equal(['1 quantity 1 C62 1000']) // prettier-ignore
  })

  it('of several that say the same takes the one at its rate and price, with enough left', () => {
    const same = [line(1, { description: 'Rope', taxRate: '9' }), line(2, { description: 'Rope', price: '9' }), line(3, { description: 'Rope', quantity: '1', net: minor(1_000) }), line(4, { description: 'Rope' })] // prettier-ignore
    const of = invoice({ lines: same, gross: minor(99_999) })
    expect(read(text([{ name: 'Rope', quantity: '2', price: '10', net: '20.00' }], '20.00', '4.20', '24.20'), of)).to.deep.equal(['4 quantity 2 C62 2000']) // prettier-ignore
    expect(read(text([{ name: 'Rope', quantity: '2', price: '9', net: '18.00' }], '18.00', '3.78', '21.78'), of)).to.deep.equal(['2 quantity 2 C62 1800']) // prettier-ignore
    expect(read(text([{ name: 'Rope', quantity: '1', price: '10', net: '10.00', rate: '9' }], '10.00', '0.90', '10.90'), of)).to.deep.equal(['1 quantity 1 C62 1000']) // prettier-ignore
    const twice = text([{ name: 'Rope', quantity: '1', price: '10', net: '10.00' }, { name: 'Rope', quantity: '1', price: '10', net: '10.00' }], '20.00', '4.20', '24.20') // prettier-ignore
    expect(read(twice, of)).to.deep.equal(['3 quantity 1 C62 1000', '4 quantity 1 C62 1000'])
  })

  it('keeps its own figures: charges beside the lines, sums that have to agree, its currency', () => {
    const one = { name: 'Part 1', quantity: '1', price: '10', net: '10.00' }
    const decided = readCredit(invoice(), text([one], '15.00', '3.15', '18.15'))
    expect(decided.ok && [decided.next.charges, decided.next.net, decided.next.tax, decided.next.gross]).to.deep.equal([500n, 1_500n, 315n, 1_815n]) // prettier-ignore
    expect(read(text([one], '10.00', '2.10', '12.11'))).to.deep.equal(['credit.totals'])
    expect(read(text([one], '9.00', '1.89', '10.89'))).to.deep.equal(['credit.belowZero'])
    expect(read({ ...text([one], '10.00', '2.10', '12.10'), currency: 'USD' })).to.deep.equal(['credit.currency'])
    expect(read(text([{ ...one, quantity: '11', net: '110.00' }], '110.00', '23.10', '133.10'))).to.deep.equal(['credit.aboveQuantity']) // prettier-ignore
  })
})

describe('a credit note in the books', () => {
  function credited(lines: readonly Wish[] = [pieces(1, '2')]): OrderToPay {
    const world = new OrderToPay()
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '10' }])
    world.postInvoice(0)
    world.writeCredit(0, { lines })
    return world
  }
  const codes = (decided: { ok: boolean; reasons?: readonly { code: string }[] }): string[] => (decided.ok ? [] : decided.reasons!.map(one => one.code)) // prettier-ignore

  it('takes pieces out of what is billed and gives the accounts back, and its end restores both', () => {
    const world = credited()
    const before = [world.order().lines[0]!.sums.billed, world.amount('spent')]
    expect(world.postCredit(0).ok).to.equal(true)
    expect([world.order().lines[0]!.sums.credited, world.amount('spent')]).to.deep.equal(['2', (before[1] as bigint) * 8n / 10n]) // prettier-ignore
    const taken = creditTakenBack(world.credit(0))
    expect(taken.quantity.map(one => [one.kind, one.quantity])).to.deep.equal([['credited', '-2']])
    expect(world.endCredit(0, 'void').ok).to.equal(true)
    expect([world.order().lines[0]!.sums.credited, world.amount('spent')]).to.deep.equal(['0', before[1]])
    expect(world.laws()).to.deep.equal([])
    const cheaper = credited([off(1, '10', '1')])
    expect(cheaper.postCredit(0).ok).to.equal(true)
    expect([cheaper.order().lines[0]!.sums.credited, cheaper.amount('spent')]).to.deep.equal(['0', (before[1] as bigint) - 1_000n]) // prettier-ignore
  })

  it('of charges alone gives them back to all lines of its invoice by their size, and bills no piece less', () => {
    const world = new OrderToPay({ charges: 600n })
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '10' }], { charges: minor(600), taxes: [{ category: 'S', rate: '0', taxable: '106.00', tax: '0.00' }] }) // prettier-ignore
    expect(world.postInvoice(0).ok).to.equal(true)
    const spent = world.amount('spent')
    world.writeCredit(0, { charges: minor(250) })
    expect(world.postCredit(0).ok).to.equal(true)
    expect([world.amount('spent'), world.order().lines[0]!.sums.credited]).to.deep.equal([spent - 250n, '0'])
    expect(world.laws()).to.deep.equal([])
  })

  it('is posted by a clerk, once, after its invoice, and never for pieces that are billed no more', () => {
    const world = credited()
    const credit = world.credit(0)
    const at = (state: CreditFacts['state'], of: CreditFacts['invoice']['state']): string[] => whyNotPostCredit({ ...credit, state, invoice: { ...credit.invoice, state: of } }, ADA).map(one => one.code) // prettier-ignore
    expect(codes(postCredit(credit, NOBODY))).to.include('right.notYours')
    expect([at('waiting', 'cleared'), at('waiting', 'matched'), at('posted', 'cleared').length]).to.deep.equal([[], ['credit.invoiceFirst'], 1]) // prettier-ignore
    const gone = credit.orders.map(order => ({ ...order, lines: order.lines.map(one => ({ ...one, sums: { ...one.sums, credited: '9' } })) })) // prettier-ignore
    expect(codes(postCredit({ ...credit, orders: gone }, ADA))).to.deep.equal(['credit.aboveBilled'])
    const enough = credit.orders.map(order => ({ ...order, lines: order.lines.map(one => ({ ...one, sums: { ...one.sums, credited: '8' } })) })) // prettier-ignore
    expect(codes(postCredit({ ...credit, orders: enough }, ADA))).to.deep.equal([])
    expect(codes(postCredit({ ...credit, charges: minor(1), lines: credit.lines }, ADA))).to.deep.equal(['credit.aboveCharges']) // prettier-ignore
  })

  it('is ended by who may: withdrawn by its writer, rejected while it waits, voided while no payment has it', () => {
    const credit = credited().credit(0)
    const theirs = actorOf('kim', { supplierId: credit.supplierId, rights: new Set(), roles: [] })
    const end = (how: 'reject' | 'withdraw' | 'void', by = ADA, changed: Partial<CreditFacts> = {}, reason = 'Wrong one.'): string[] => codes(endCredit({ ...credit, ...changed }, how, by, reason)) // prettier-ignore
    expect([end('withdraw', theirs, {}, ''), end('withdraw'), end('withdraw', actorOf('x', { supplierId: 'other' }))]).to.deep.equal([[], ['credit.theirs'], ['credit.theirs']]) // prettier-ignore
    expect([end('withdraw', ADA, { issuer: 'house' }), end('withdraw', theirs, { issuer: 'house' }).length]).to.deep.equal([[], 1]) // prettier-ignore
    expect([end('reject'), end('reject', ADA, {}, ' '), end('reject', NOBODY).length]).to.deep.equal([[], ['bill.wantsReason'], 1]) // prettier-ignore
    expect([end('void', ADA, { state: 'posted' }), end('void', ADA, { state: 'posted', setOffPaid: minor(1) }), end('void').length]).to.deep.equal([[], ['credit.setOff'], 1]) // prettier-ignore
    const done = endCredit({ ...credit, state: 'posted' }, 'void', ADA, 'Wrong one.')
    expect(done.ok && done.next.state).to.equal('voided')
  })

  it('that waits is taken off its invoice before that is matched', () => {
    const world = new OrderToPay()
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    const bill = world.bill(
      [
        { line: 1, quantity: '10' },
        { line: 2, quantity: '1' },
      ],
      { charges: minor(500) },
    )
    expect(lessCredits(bill)).to.equal(bill)
    const credit: CreditFigures = { ...made([pieces(1, '3'), off(2, '1', '0.10')], 200), lines: [{ ...made([pieces(1, '3')]).lines[0]!, net: minor(3_000) }, { ...made([off(2, '1', '0.10')]).lines[0]!, position: 2 }] } // prettier-ignore
    const less = lessCredits({ ...bill, credits: [credit] })
    expect([less.charges, ...less.lines.map(one => `${one.quantity} ${one.net}`)]).to.deep.equal([300n, `7 ${bill.lines[0]!.net - 3_000n}`, `1 ${bill.lines[1]!.net - 10n}`]) // prettier-ignore
    expect(lessCredits({ ...bill, credits: [{ ...credit, lines: [] }] }).lines[0]).to.equal(bill.lines[0])
  })

  it('whose proof is gone waits again, or says so once a payment has it', () => {
    const world = credited()
    const kept = world.invoice(0)
    const orders = kept.orders.map(order => ({ ...order, lines: order.lines.map(one => ({ ...one, sums: { ...one.sums, received: '9' } })) })) // prettier-ignore
    expect(unprovenLines(kept)).to.deep.equal([])
    const bill = { ...kept, orders }
    expect(unprovenLines(bill).map(one => one.position)).to.deep.equal([1])
    expect(unprovenLines({ ...bill, lines: [] })).to.deep.equal([])
    const unposted = proofGone(bill)
    expect([unposted.next.state, unposted.did.action, unposted.quantity.map(one => one.quantity)]).to.deep.equal(['read', 'unposted', ['-10']]) // prettier-ignore
    const paid = proofGone({ ...bill, state: 'paid' })
    expect([paid.next.state, paid.did.action, paid.quantity]).to.deep.equal(['paid', 'proofGone', []])
  })
})

describe('setting off', () => {
  const credit = (id: string, open: number, invoiceId: string, issueDate = '2026-01-01'): OpenCredit => ({ id, open: minor(open), invoiceId, issueDate }) // prettier-ignore
  const due = (id: string, open: number, dueOn = '2026-02-01'): OpenInvoice => ({ id, open: minor(open), dueOn })
  const told = (credits: OpenCredit[], invoices: OpenInvoice[]): string[] => setOff(credits, invoices).map(one => `${one.creditId} ${one.invoiceId} ${one.amount}`) // prettier-ignore

  it('takes each credit off its own invoice first, then the oldest off what is due first', () => {
    expect(told([credit('c', 3_000, 'i1')], [due('i2', 5_000, '2026-01-15'), due('i1', 2_000)])).to.deep.equal(['c i1 2000', 'c i2 1000']) // prettier-ignore
    expect(told([credit('new', 100, 'x', '2026-01-02'), credit('old', 100, 'x')], [due('late', 500, '2026-03-01'), due('soon', 150)])).to.deep.equal(['old soon 100', 'new soon 50', 'new late 50']) // prettier-ignore
    expect(told([credit('b', 100, 'x'), credit('a', 100, 'x')], [due('j', 60), due('i', 60)])).to.deep.equal(['a i 60', 'a j 40', 'b j 20']) // prettier-ignore
    expect(told([credit('a', 0, 'i'), credit('b', 10, 'i')], [due('i', 0)])).to.deep.equal([])
  })
})
