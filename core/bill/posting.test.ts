import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { invoiceActions } from '#core/bill/actions.ts'
import { type BilledByHand, billOrder } from '#core/bill/billOrder.ts'
import { invoiceDesk } from '#core/bill/desk.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { invoiceLaws } from '#core/bill/laws.ts'
import { linkLine } from '#core/bill/linkLine.ts'
import { rejectInvoice } from '#core/bill/rejectInvoice.ts'
import { spentValues } from '#core/bill/spent.ts'
import { takeInvoice } from '#core/bill/takeInvoice.ts'
import { minor } from '#core/money/amount.ts'
import { ADA, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const codes = (decided: Decision<unknown, unknown>): string[] =>
  decided.ok ? [] : decided.reasons.map(reason => reason.code)

function received(setting: ConstructorParameters<typeof OrderToPay>[0] = {}, quantity = '10'): OrderToPay {
  const world = new OrderToPay(setting)
  world.issue()
  world.receive([{ line: 1, quantity }])
  return world
}

describe('posting an invoice', () => {
  it('bills, frees commitment and accrual at the ordered price and spends at the billed one', () => {
    const world = received()
    world.bill([{ line: 1, quantity: '4', net: 3_900n }])
    const decided = world.postInvoice(0)
    expect(decided.ok && decided.next.posts).to.deep.equal({ dueOn: '2026-07-01' })
    expect(decided.ok && decided.did).to.deep.include({
      action: 'posted',
      changes: { payable: '39.00', dueOn: '2026-07-01' },
    })
    expect([world.amount('committed'), world.amount('accrued'), world.amount('spent')]).to.deep.equal([
      6_000n,
      6_000n,
      3_900n,
    ])
    expect(world.order().lines[0]!.sums.billed).to.equal('4')
  })

  it('several lines on one order line release no more than was committed and accrued', () => {
    const world = received()
    world.bill([
      { line: 1, quantity: '5' },
      { line: 1, quantity: '5' },
    ])
    expect(world.held(0)).to.deep.equal([])
    world.postInvoice(0)
    expect([world.amount('committed'), world.amount('accrued')]).to.deep.equal([0n, 0n])
    expect(world.laws()).to.deep.equal([])
    const over = received()
    over.bill([
      { line: 1, quantity: '6' },
      { line: 1, quantity: '5' },
    ])
    expect(over.held(0)).to.deep.equal(['proof', 'quantity'])
    expect(over.invoice(0).holds.map(hold => `${hold.kind} ${hold.position} ${hold.quantity}`)).to.deep.equal([
      'quantity 2 1',
      'proof 2 1',
    ])
  })

  it('goods that never came are not posted, whatever else is cleared', () => {
    const world = new OrderToPay()
    world.issue()
    world.bill([{ line: 1, quantity: '11' }])
    expect(world.held(0)).to.deep.equal(['proof', 'quantity'])
    world.clearAll(0)
    expect(world.held(0)).to.deep.equal(['proof'])
    expect(codes(world.postInvoice(0))).to.deep.equal(['bill.heldUp'])
    world.receive([{ line: 1, quantity: '10' }])
    expect(world.held(0)).to.deep.equal(['proof'])
  })

  it('two that agree on one open quantity: the second shows its holds, kept although posting is refused', () => {
    const world = received()
    world.bill([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '10' }])
    expect([world.held(0), world.held(1)]).to.deep.equal([[], []])
    const second = world.invoice(1)
    world.postInvoice(0)
    // matched anew after every act; and where that had not been, posting would find and keep them
    expect(world.held(1)).to.deep.equal(['proof', 'quantity'])
    expect(codes(world.postInvoice(1))).to.deep.equal(['bill.heldUp'])
    const late = new OrderToPay()
    late.issue()
    late.receive([{ line: 1, quantity: '10' }])
    late.bill([{ line: 1, quantity: '10' }])
    late.post('returned', 1, '1')
    late.invoices[0]!.state = 'matched'
    late.invoices[0]!.holds = []
    const refused = late.postInvoice(0)
    expect(codes(refused)).to.deep.equal(['bill.heldUpNow'])
    expect(!refused.ok && refused.keep!.state).to.equal('onHold')
    expect(!refused.ok && refused.keep!.holds.open.map(hold => hold.kind)).to.deep.equal(['proof'])
    expect(!refused.ok && refused.reasons[0]!.clearedBy).to.deep.equal(['receiver'])
    expect(second.state).to.equal('matched')
  })

  it('of an order that is cancelled or sealed is held', () => {
    const world = new OrderToPay()
    world.issue()
    world.bill([{ line: 1, quantity: '10' }])
    world.cancel()
    expect(world.held(0)).to.deep.equal(['orderEnded'])
    expect(codes(world.postInvoice(0))).to.deep.equal(['bill.heldUp'])
  })

  it('is refused where what is billed above the ordered price overdraws an account that stops', () => {
    const accounts = { a1: { allotted: 10_000n, level: 'stop' } } as const
    const world = received({ accounts })
    world.bill([{ line: 1, quantity: '10', net: 10_001n }])
    world.clearAll(0)
    expect(codes(world.postInvoice(0))).to.deep.equal(['budget.over'])
    world.rejectInvoice(0)
    world.bill([{ line: 1, quantity: '10', net: 10_000n }])
    expect(codes(world.postInvoice(1))).to.deep.equal([])
  })

  it('is done once, by a clerk, and never while it is held', () => {
    const world = received()
    world.bill([{ line: 1, quantity: '10' }])
    const post = invoiceActions(world.invoice(0), NOBODY).find(one => one.action === 'post')!
    expect(post.reasons.map(reason => reason.code)).to.deep.equal(['right.notYours'])
    world.postInvoice(0)
    expect(codes(world.postInvoice(0))).to.deep.equal(['state.notNow'])
  })

  it('shares what is charged beside the lines by their size, in the base currency', () => {
    const figures = { net: minor(10_100n), currency: 'EUR', rate: '1', base: 'EUR' }
    const lines = (...nets: bigint[]) => nets.map(net => ({ net: minor(net) }))
    expect(spentValues({ ...figures, lines: lines(2_000n, 8_000n) })).to.deep.equal([2_020n, 8_080n])
    expect(spentValues({ ...figures, lines: lines(0n, 0n) })).to.deep.equal([5_050n, 5_050n])
    expect(spentValues({ ...figures, lines: lines(-100n, 9_900n) })).to.deep.equal([-97n, 10_197n])
    expect(spentValues({ ...figures, net: minor(10_000n), lines: lines(2_000n, 8_000n) })).to.deep.equal([
      2_000n,
      8_000n,
    ])
    const kroner = { net: minor(1_001n), currency: 'NOK', rate: '0.085', base: 'EUR' }
    expect(spentValues({ ...kroner, lines: lines(500n, 501n) })).to.deep.equal([43n, 42n])
  })
})

describe('taking a posted invoice back', () => {
  it('leaves the books as they were before, and what happened since stands', () => {
    const world = received()
    world.bill([{ line: 1, quantity: '4' }])
    const before = world.books()
    world.postInvoice(0)
    const voided = world.voidInvoice(0)
    expect(voided.ok && voided.quantity[0]).to.deep.include({ kind: 'billed', quantity: '-4', lineId: 'line1' })
    expect(voided.ok && voided.quantity[0]!.reversesId).to.match(/^q/)
    expect(world.books()).to.equal(before)
    expect(world.invoice(0).state).to.equal('voided')
    world.bill([{ line: 1, quantity: '4' }])
    world.postInvoice(1)
    world.revise([{ line: 1, price: '8' }])
    world.voidInvoice(1)
    expect([world.amount('committed'), world.amount('accrued'), world.amount('spent')]).to.deep.equal([
      8_000n,
      8_000n,
      0n,
    ])
  })

  it('wants a reason, and is refused while a run has it or before it is posted', () => {
    const world = received()
    world.bill([{ line: 1, quantity: '4' }])
    expect(codes(world.voidInvoice(0))).to.deep.equal(['state.notNow'])
    world.postInvoice(0)
    world.invoices[0]!.state = 'scheduled'
    expect(codes(world.voidInvoice(0))).to.deep.equal(['bill.inRun'])
    world.invoices[0]!.state = 'paid'
    expect(codes(world.voidInvoice(0))).to.deep.equal(['state.notNow'])
  })
})

describe('taking an invoice in', () => {
  it('matches it at once and says what it found', () => {
    const world = new OrderToPay()
    world.issue()
    const facts = world.bill([{ line: 1, quantity: '10' }])
    const taken = takeInvoice(facts, null, 'upload')
    expect(taken.ok && taken.next.state).to.equal('onHold')
    expect(taken.ok && taken.next.holds!.open.map(hold => hold.kind)).to.deep.equal(['proof'])
    expect(taken.ok && taken.did.changes).to.deep.equal({
      supplierNumber: 'N-1',
      payable: '100.00',
      source: 'upload',
      holds: [{ kind: 'proof', position: 1, quantity: '10' }],
    })
  })

  it('is refused where it asks for nothing, has no lines, or is here already', () => {
    const world = received()
    const facts = world.bill([{ line: 1, quantity: '10' }])
    for (const payable of [0n, -1n])
      expect(codes(takeInvoice({ ...facts, payable: minor(payable) }, null, ''))).to.deep.equal(['bill.notAboveZero'])
    expect(codes(takeInvoice({ ...facts, lines: [] }, null, ''))).to.deep.equal(['bill.notAboveZero'])
    expect(codes(takeInvoice(facts, { number: 'I-9' }, ''))).to.deep.equal(['bill.duplicate'])
  })
})

describe('rejecting and linking', () => {
  it('a rejected one ends its holds and stands in no ledger', () => {
    const world = new OrderToPay()
    world.issue()
    const facts = world.bill([{ line: 1, quantity: '10' }])
    expect(codes(rejectInvoice(facts, ADA, ''))).to.deep.equal(['bill.wantsReason'])
    expect(codes(rejectInvoice(facts, NOBODY, 'Wrong.'))).to.deep.equal(['right.notYours'])
    world.rejectInvoice(0)
    expect(world.held(0)).to.deep.equal([])
    expect(codes(world.rejectInvoice(0))).to.deep.equal(['state.notNow'])
    expect(world.laws()).to.deep.equal([])
  })

  it('a line is linked to an order line, in its unit, and matched again', () => {
    const world = received()
    world.bill([{ line: 9, quantity: '2', net: 4_000n }])
    expect(world.held(0)).to.deep.equal(['noOrderLine'])
    const facts: InvoiceFacts = {
      ...world.invoice(0),
      lines: world.invoice(0).lines.map(line => ({ ...line, unit: 'BX' })),
    }
    const item = { unit: 'C62', packs: [{ unit: 'BX', holds: '2' }] }
    const linked = linkLine(facts, 'bill1.1', world.order(), 'line1', item, ADA)
    expect(linked.ok && linked.next).to.deep.equal({
      state: 'matched',
      holds: { open: [], end: [facts.holds[0]!.id] },
      links: { lineId: 'bill1.1', orderLineId: 'line1', quantity: '4', unit: 'C62', priceBase: '2' },
    })
    expect(linked.ok && linked.did).to.deep.include({
      action: 'linked',
      changes: { line: 1, order: 'O-1', orderLine: 1 },
    })
    expect(linkLine(facts, 'bill1.1', world.order(), 'line1', null, ADA)).to.have.nested.property(
      'next.state',
      'onHold',
    )
  })

  it('not to another supplier’s order, one that has ended, a line that is not there, or once it is posted', () => {
    const world = received()
    const facts = world.bill([{ line: 9, quantity: '2' }])
    const order = world.order()
    const link = (changed: Partial<typeof order>, line = 'line1', from = facts, actor = ADA) =>
      codes(linkLine(from, 'bill1.1', { ...order, ...changed }, line, null, actor))
    expect(link({ supplierId: 'other' })).to.deep.equal(['bill.otherSupplier'])
    expect(link({ state: 'sealed' })).to.deep.equal(['bill.orderEnded'])
    expect(link({ state: 'closed' })).to.deep.equal([])
    expect(link({}, 'line7')).to.deep.equal(['bill.foreignLine'])
    expect(link({}, 'line1', { ...facts, state: 'paid' })).to.deep.equal(['state.notNow'])
    expect(link({}, 'line1', facts, NOBODY)).to.deep.equal(['right.notYours'])
  })
})

describe('an invoice made from an order', () => {
  const world = received({ lines: [{ price: '31.9', priceBase: '100', quantity: '1000' }, {}] }, '1000')
  const wanted = (changed: Partial<BilledByHand> = {}): BilledByHand => ({
    revision: 0,
    issueDate: TODAY,
    freight: minor(500n),
    taxCategory: 'S',
    taxRate: '21',
    lines: [
      { lineId: 'line1', quantity: '50', price: '31.9' },
      { lineId: 'line2', quantity: '0', price: '10' },
    ],
    ...changed,
  })
  const refusedWith = (changed: Partial<BilledByHand>): string[] => {
    const decided = billOrder(world.order(), wanted(changed), TODAY)
    return decided.ok ? [] : decided.reasons.map(({ code, place }) => [code, place].filter(Boolean).join(' '))
  }

  it('has the lines that bill something, freight as a charge, and tax rounded once', () => {
    const made = billOrder(world.order(), wanted(), TODAY)
    expect(made.ok && made.next).to.deep.include({ net: 2_095n, charges: 500n, tax: 440n, gross: 2_535n })
    expect(made.ok && made.next.lines).to.have.length(1)
    expect(made.ok && made.next.lines[0]).to.deep.include({ position: 1, net: 1_595n, unit: 'C62', priceBase: '100' })
    expect(made.ok && made.next.taxes).to.deep.equal([{ category: 'S', rate: '21', taxable: '20.95', tax: '4.40' }])
  })

  it('is refused with the place of each fault', () => {
    expect(refusedWith({})).to.deep.equal([])
    expect(refusedWith({ revision: 1 })).to.deep.equal(['order.superseded'])
    expect(refusedWith({ issueDate: '2026-06-02' })).to.deep.equal(['bill.futureDate issueDate'])
    for (const taxRate of ['-1', '100.01', '900'])
      expect(refusedWith({ taxRate })).to.deep.equal(['bill.taxRate taxRate'])
    expect(refusedWith({ taxRate: '100' })).to.deep.equal([])
    expect(refusedWith({ freight: minor(-1n) })).to.deep.equal(['order.charges freight'])
    const off = { ...world.order(), charges: minor(-50n) }
    const with50 = (freight: bigint) => billOrder(off, wanted({ freight: minor(freight) }), TODAY)
    expect([with50(-50n).ok, with50(-51n).ok]).to.deep.equal([true, false])
    expect(refusedWith({ lines: [{ lineId: 'line1', quantity: '0', price: '1' }] })).to.deep.equal([
      'bill.notAboveZero',
    ])
    expect(refusedWith({ lines: [{ lineId: 'other', quantity: '1', price: '1' }] })).to.deep.equal([
      'bill.foreignLine lines.0',
    ])
    expect(refusedWith({ lines: [{ lineId: 'line1', quantity: '-1', price: '-1' }] })).to.deep.equal([
      'line.quantity lines.0.quantity',
      'order.priceBelowZero lines.0.price',
    ])
    expect(refusedWith({ lines: [{ lineId: 'line1', quantity: '1', price: '0' }] })).to.deep.equal([])
  })
})

describe('what can be done with an invoice, and what waits because of it', () => {
  const waits = {
    receivedAt: '2026-06-01T08:00:00Z',
    postedAt: null,
    changedAt: '2026-06-03T08:00:00Z',
    failedWith: null,
  }
  const world = received()
  world.bill([{ line: 1, quantity: '10', net: 12_000n }], { twin: 'I-0' })
  const facts = world.invoice(0)

  it('is offered by its state', () => {
    const offered = (state: InvoiceFacts['state']) =>
      invoiceActions({ ...facts, state }, ADA).map(
        one => `${one.action} ${one.reasons.map(reason => reason.code).join()}`,
      )
    expect(offered('onHold')).to.deep.equal(['post bill.heldUp', 'reject '])
    expect(offered('matched')).to.deep.equal(['post ', 'reject '])
    expect(offered('cleared')).to.deep.equal(['void '])
    expect(offered('scheduled')).to.deep.equal(['void bill.inRun'])
    for (const state of ['paid', 'rejected', 'voided'] as const) expect(offered(state)).to.deep.equal([])
    expect(invoiceActions(facts, ADA)[0]!.primary).to.equal(true)
  })

  it('a held one waits for each role that can clear something, by its first difference', () => {
    const entries = invoiceDesk({ ...facts, ...waits })
    expect(
      entries.map(one => `${one.key} ${one.audiences.join()} ${one.amount} ${one.details['extra']}`),
    ).to.deep.equal(['hold role:buyer 2000 price', 'hold role:invoiceClerk 12000 nearDuplicate'])
    const proof = facts.holds.map(hold => ({ ...hold, kind: 'proof' as const, clearedBy: 'receiver' as const }))
    expect(invoiceDesk({ ...facts, ...waits, holds: proof })).to.deep.equal([])
    const mixed = [
      { ...facts.holds[0]!, kind: 'unit' as const, clearedBy: 'buyer' as const },
      { ...facts.holds[0]!, amount: minor(7n) },
    ]
    expect(invoiceDesk({ ...facts, ...waits, holds: mixed })[0]).to.deep.include({ amount: 7n })
  })

  it('one that agrees waits to be posted, a posted one to be paid from its day, one that failed to be looked at', () => {
    const keys = (state: InvoiceFacts['state'], changed: Partial<typeof waits & { dueOn: string }> = {}) =>
      invoiceDesk({ ...facts, ...waits, state, dueOn: '2026-07-01', ...changed }).map(
        one => `${one.key} ${one.audiences.join()} ${one.from} ${one.tone} ${one.since}`,
      )
    expect(keys('matched')).to.deep.equal(['post right:invoice.write null plain 2026-06-01T08:00:00Z'])
    expect(keys('cleared')).to.deep.equal(['due right:payment.propose 2026-07-01 plain 2026-06-01T08:00:00Z'])
    expect(keys('cleared', { postedAt: '2026-06-02T08:00:00Z' } as never)[0]).to.match(/2026-06-02/)
    expect(keys('cleared', { failedWith: 'AC04' } as never)).to.deep.equal([
      'refused right:payment.propose null stop 2026-06-03T08:00:00Z',
    ])
    expect(keys('scheduled')).to.deep.equal([])
  })
})

describe('the laws of invoices', () => {
  it('speak where the ledgers have more or less of it than its lines, or its holds are not those of now', () => {
    const world = received()
    world.bill([{ line: 1, quantity: '4' }])
    world.postInvoice(0)
    const facts = world.invoice(0)
    const laws = (changed: Partial<InvoiceFacts>) => invoiceLaws({ ...facts, ...changed }).map(one => one.law)
    expect(laws({})).to.deep.equal([])
    expect(laws({ posted: { quantities: [], spent: [] } })).to.deep.equal(['billedByInvoice', 'spentByInvoice'])
    expect(laws({ state: 'voided' })).to.deep.equal(['billedByInvoice', 'spentByInvoice'])
    expect(
      laws({ posted: { ...facts.posted, spent: [{ ...facts.posted.spent[0]!, amount: minor(1n) }] } }),
    ).to.deep.equal(['spentByInvoice'])
    const waiting = received()
    waiting.bill([{ line: 1, quantity: '4' }], { twin: 'I-0' })
    const held = waiting.invoice(0)
    expect(invoiceLaws({ ...held, state: 'matched', holds: [] }).map(one => one.law)).to.deep.equal([
      'matchedState',
      'missingHold',
    ])
    expect(invoiceLaws({ ...held, twin: null }).map(one => one.law)).to.deep.equal(['matchedState', 'endedHold'])
  })
})
