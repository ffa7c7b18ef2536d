import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { deliveryActions } from '#core/receive/actions.ts'
import type { Counted } from '#core/receive/counts.ts'
import { receiveDelivery, whyNotReceiveAll } from '#core/receive/receiveDelivery.ts'
import { reverseReceipt } from '#core/receive/reverseReceipt.ts'
import { ADA, actorOf, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const codes = (decided: Decision<unknown, unknown>): string[] =>
  decided.ok ? [] : decided.reasons.map(({ code, place }) => [code, place].filter(Boolean).join(' '))

function issued(setting: ConstructorParameters<typeof OrderToPay>[0] = {}): OrderToPay {
  const world = new OrderToPay(setting)
  world.issue()
  return world
}
const counted = (lines: Counted['lines'], changed: Partial<Counted> = {}): Counted => ({
  receivedOn: TODAY,
  checkReason: '',
  lines,
  ...changed,
})
const receive = (world: OrderToPay, count: Counted, actor = ADA) => receiveDelivery(world.order(), count, actor, TODAY)

describe('receiving', () => {
  it('counts in up to what was ordered, and accrues it at the ordered price', () => {
    const world = issued()
    const decided = world.receive([{ line: 1, quantity: '4' }])
    expect(decided.ok && decided.did).to.deep.include({
      action: 'received',
      changes: { lines: [{ position: 1, quantity: '4', unit: 'C62' }] },
    })
    expect([world.amount('accrued'), world.amount('committed')]).to.deep.equal([4_000n, 10_000n])
    world.receive([{ line: 1, quantity: '6' }], '')
    expect(world.amount('accrued')).to.equal(10_000n)
  })

  it('accepts work as accepted and goods as received', () => {
    const world = issued({ lines: [{}, { kind: 'workByRate', proof: 'acceptWork' }] })
    world.receive([
      { line: 1, quantity: '1' },
      { line: 2, quantity: '2' },
    ])
    expect(world.order().lines.map(line => [line.sums.received, line.sums.accepted])).to.deep.equal([
      ['1', '0'],
      ['0', '2'],
    ])
  })

  it('wants a reason for more than was ordered, up to the tolerance, and a second person above it', () => {
    const world = issued({ lines: [{ quantity: '100', overReceiptPercent: 5 }] })
    const count = (quantity: string, checkReason = '') =>
      codes(receive(world, counted([{ lineId: 'line1', quantity }], { checkReason })))
    expect(count('100')).to.deep.equal([])
    expect(count('105')).to.deep.equal(['receive.wantsReason checkReason', 'receive.over lines.1.quantity'])
    expect(count('105', 'Kept as stock.')).to.deep.equal([])
    expect(count('105.000001')).to.deep.equal(['receive.wantsReason checkReason', 'receive.overAsked lines.1.quantity'])
    const over = receive(world, counted([{ lineId: 'line1', quantity: '106' }]))
    expect(!over.ok && over.reasons[1]!.details).to.deep.equal({
      ordered: '100',
      received: '106',
      over: '6',
      percent: 5,
    })
    const asked = receive(world, counted([{ lineId: 'line1', quantity: '106' }], { checkReason: 'Kept as stock.' }))
    expect(asked.ok && [asked.next.state, asked.quantity, asked.budget]).to.deep.equal(['asked', [], []])
    expect(asked.ok && asked.next.asks?.steps[0]!.notBy).to.deep.equal(['ada'])
  })

  it('takes no count that is none, no line twice, none of another order, nothing from tomorrow', () => {
    const world = issued()
    for (const quantity of ['0', '-3', 'x', ''])
      expect(codes(receive(world, counted([{ lineId: 'line1', quantity }])))).to.deep.equal([
        'receive.quantity lines.1.quantity',
      ])
    const one = { lineId: 'line1', quantity: '1' }
    expect(codes(receive(world, counted([one, one])))).to.deep.equal(['receive.lineTwice'])
    expect(codes(receive(world, counted([{ ...one, lineId: 'line9' }])))).to.deep.equal(['receive.foreignLine lines.0'])
    expect(codes(receive(world, counted([])))).to.deep.equal(['receive.nothingCounted'])
    expect(codes(receive(world, counted([one], { receivedOn: '2026-06-02' })))).to.deep.equal([
      'receive.future receivedOn',
    ])
    expect(codes(receive(world, counted([one], { receivedOn: TODAY })))).to.deep.equal([])
  })

  it('is for receivers, work for whoever asked, and what is not proven for nobody', () => {
    const world = issued({
      lines: [
        {},
        { kind: 'workByRate', proof: 'acceptWork' },
        { kind: 'fixedPriceWork', proof: 'none', quantity: '1' },
      ],
    })
    const by = (line: number, actor = ADA) =>
      codes(receive(world, counted([{ lineId: `line${line}`, quantity: '1' }]), actor))
    expect(by(1, NOBODY)).to.deep.equal(['receive.goodsByReceiver'])
    expect(by(2, actorOf('bo'))).to.deep.equal(['receive.workByRequester'])
    expect(by(2, actorOf('ada', { rights: new Set() }))).to.deep.equal([])
    expect(by(3)).to.deep.equal(['receive.notProven'])
  })

  it('only what the supplier owes comes in', () => {
    const world = issued()
    world.close()
    expect(codes(world.receive([{ line: 1, quantity: '1' }]))).to.deep.equal(['receive.notOpen'])
    expect(codes(new OrderToPay().receive([{ line: 1, quantity: '1' }]))).to.deep.equal(['receive.notOpen'])
  })

  it('all at once is possible where one line is mine, and not when all is in', () => {
    const world = issued({ lines: [{}, { kind: 'workByRate', proof: 'acceptWork', requesterId: 'bo' }] })
    const all = (actor = ADA) => whyNotReceiveAll(world.order(), actor).map(reason => reason.code)
    expect(all()).to.deep.equal([])
    expect(all(actorOf('bo', { rights: new Set() }))).to.deep.equal([])
    expect(all(NOBODY)).to.deep.equal(['receive.goodsByReceiver'])
    world.receive([{ line: 1, quantity: '10' }])
    expect(all()).to.deep.equal(['receive.workByRequester'])
    expect(deliveryActions(world.order(), ADA)).to.deep.include({
      action: 'receiveAll',
      primary: true,
      reasons: whyNotReceiveAll(world.order(), ADA),
    })
    world.post('returned', 1, '0')
    world.close()
    expect(all()).to.deep.equal(['receive.notOpen'])
    const full = issued()
    full.receive([{ line: 1, quantity: '10' }])
    expect(whyNotReceiveAll(full.order(), ADA).map(reason => reason.code)).to.deep.equal(['receive.nothingOpen'])
  })
})

describe('taking a receipt back', () => {
  it('is done by counter-entries that name what they reverse, once', () => {
    const world = issued({ lines: [{}, { kind: 'workByRate', proof: 'acceptWork' }] })
    const before = world.books()
    world.receive([
      { line: 1, quantity: '4' },
      { line: 2, quantity: '2' },
    ])
    const back = world.reverse(0)
    expect(back.ok && back.quantity).to.deep.equal([
      { lineId: 'line1', kind: 'received', quantity: '-4', reversesId: world.receipts[0]!.entries[0]!.id },
      { lineId: 'line2', kind: 'accepted', quantity: '-2', reversesId: world.receipts[0]!.entries[1]!.id },
    ])
    expect(back.ok && back.did).to.deep.include({ action: 'receiptReversed', reason: 'Miscounted.' })
    expect(world.books()).to.equal(before)
    expect(codes(world.reverse(0))).to.deep.equal(['receive.reversedAlready'])
  })

  it('also after it is billed: the last bill that it proved waits again, nothing stays spent that nobody proved', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    world.receive([{ line: 1, quantity: '6' }])
    world.bill([{ line: 1, quantity: '6' }])
    world.postInvoice(0)
    world.bill([{ line: 1, quantity: '4' }])
    world.postInvoice(1)
    const back = world.reverse(0)
    expect(back.ok && back.did.changes).to.deep.include({ unproven: 1 })
    expect(world.invoices.map(one => one.state)).to.deep.equal(['cleared', 'onHold'])
    expect(world.held(1)).to.deep.equal(['proof'])
    expect([world.amount('spent'), world.laws()]).to.deep.equal([6_000n, []])
    world.receive([{ line: 1, quantity: '4' }])
    expect(world.invoices[1]!.state).to.equal('matched')
    const first = issued({ lines: [{ kind: 'workByRate', proof: 'billFirst' }] })
    first.bill([{ line: 1, quantity: '6' }])
    expect(first.held(0)).to.deep.equal(['proof'])
    first.receive([{ line: 1, quantity: '6' }])
    first.postInvoice(0)
    expect(codes(first.reverse(0))).to.deep.equal([])
    expect(first.invoices[0]!.state).to.equal('onHold')
  })

  it('never goes below nothing where something of it went back', () => {
    const world = issued({ lines: [{ kind: 'workByRate', proof: 'billFirst' }] })
    world.receive([{ line: 1, quantity: '4' }])
    world.post('returned', 1, '1')
    expect(codes(world.reverse(0))).to.deep.equal(['receive.goneBack'])
  })

  it('wants a reason, a live order, and a receiver or whoever counted', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    const receipt = world.receipts[0]!
    const order = world.order()
    expect(codes(reverseReceipt(receipt, order, ADA, ' no '))).to.deep.equal(['receive.whyReversed reason'])
    expect(codes(reverseReceipt(receipt, order, NOBODY, 'Miscounted.'))).to.deep.equal(['right.notYours'])
    const own = actorOf('ada', { rights: new Set() })
    expect(codes(reverseReceipt(receipt, order, own, 'Miscounted.'))).to.deep.equal([])
    expect(codes(reverseReceipt(receipt, order, actorOf('yuki'), 'Miscounted.'))).to.deep.equal([])
    world.close()
    expect(codes(world.reverse(0))).to.deep.equal(['receive.notOpen'])
  })
})
