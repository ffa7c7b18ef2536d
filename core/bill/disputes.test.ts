import { expect } from 'chai'
import type { DisputeFacts } from '#core/bill/disputeFacts.ts'
import { agreeInDispute, disputeDesk, dropDispute, MOST_LETTERS, openDispute, sayInDispute, sideOf, whyNotAgree, whyNotDispute } from '#core/bill/disputes.ts' // prettier-ignore
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { differences, matchInvoice } from '#core/bill/matchInvoice.ts'
import { whyNotPost } from '#core/bill/postInvoice.ts'
import { whyNotPay } from '#core/pay/payable.ts'
import { ADA as SOMEBODY, actorOf, OrderToPay } from '#test-helpers/orderToPay.ts'
import { payable } from '#test-helpers/runs.ts'

const ADA = { ...SOMEBODY, rights: new Set([...SOMEBODY.rights, 'hold.clear']) }
const OPEN: DisputeFacts = { id: 'd', openedBy: 'ada', proposed: null, lastBy: 'house', lastAt: '2026-07-01' }
const invoice = (more: Partial<InvoiceFacts> = {}): InvoiceFacts => {
  const world = new OrderToPay()
  world.issue()
  world.receive([{ line: 1, quantity: '10' }])
  return { ...world.bill([{ line: 1, quantity: '10' }]), ...more }
}
const SUPPLIER = actorOf('pia', { supplierId: invoice().supplierId, rights: new Set(['supplierPages.bill']) })
const JOREN = actorOf('joren', { rights: new Set() })
const codes = (one: { ok: boolean; reasons?: readonly { code: string }[] }) => (one.ok ? [] : one.reasons!.map(reason => reason.code)) // prettier-ignore
const proposed = (by: 'house' | 'supplier', outcome: 'payAll' | 'creditNote' | 'newInvoice' = 'creditNote') => invoice({ dispute: { ...OPEN, proposed: { outcome, by } } }) // prettier-ignore

describe('an invoice that is disputed', () => {
  it('is held over all of it, and neither posted nor paid', () => {
    const held = invoice({ dispute: OPEN })
    expect(differences(held).map(hold => [hold.kind, hold.amount])).to.deep.equal([['dispute', held.payable]])
    expect(matchInvoice(held).state).to.equal('onHold')
    expect(whyNotPost({ ...held, state: 'onHold' }, ADA).map(reason => reason.code)).to.include('bill.heldUp')
    expect(whyNotPay({ ...payable(), disputed: true }).map(reason => reason.code)).to.deep.equal(['pay.disputed'])
    expect(whyNotPay(payable())).to.deep.equal([])
  })

  it('is so by whoever clears differences, with words, once, while it stands', () => {
    const opened = openDispute(invoice(), ADA, 'Twelve boxes are missing.')
    expect(opened.ok && [opened.next.state, opened.next.holds!.open[0]!.kind, opened.next.said!.side]).to.deep.equal(['onHold', 'dispute', 'house']) // prettier-ignore
    expect(opened.ok && opened.says.map(one => [one.template, one.details.said])).to.deep.equal([['invoice.disputed', 'Twelve boxes are missing.']]) // prettier-ignore
    expect(codes(openDispute(invoice(), ADA, ' '))).to.deep.equal(['dispute.wantsWords'])
    expect(codes(openDispute(invoice(), ADA, 'x'.repeat(MOST_LETTERS + 1)))).to.deep.equal(['dispute.long'])
    expect(codes(openDispute(invoice({ dispute: OPEN }), ADA, 'Once more.'))).to.deep.equal(['dispute.there'])
    expect(codes(openDispute(invoice(), JOREN, 'Why so dear?'))).to.deep.equal(['right.notYours'])
    for (const state of ['rejected', 'voided'] as const)
      expect(whyNotDispute(invoice({ state }), ADA)).to.have.length(1)
    expect(whyNotDispute(invoice({ state: 'scheduled' }), ADA).map(reason => reason.code)).to.deep.equal(['dispute.onItsWay']) // prettier-ignore
    expect(whyNotDispute(invoice({ state: 'cleared' }), ADA)).to.deep.equal([])
  })

  it('is talked about by both sides; the supplier hears by mail, we on the Desk', () => {
    const open = invoice({ dispute: OPEN })
    expect([sideOf(open, ADA), sideOf(open, SUPPLIER)]).to.deep.equal(['house', 'supplier'])
    const ours = sayInDispute(open, ADA, 'And the freight?', null)
    expect(ours.ok && [ours.says.length, ours.next.said!.side, ours.next.state]).to.deep.equal([1, 'house', open.state])
    const theirs = sayInDispute(open, SUPPLIER, 'We credit it.', 'creditNote')
    expect(theirs.ok && [theirs.says, theirs.next.said]).to.deep.equal([[], { side: 'supplier', text: 'We credit it.', outcome: 'creditNote' }]) // prettier-ignore
    expect(codes(sayInDispute(open, JOREN, 'Me, too.', null))).to.deep.equal(['right.notYours'])
    expect(codes(sayInDispute(invoice(), SUPPLIER, 'Hello?', null))).to.deep.equal(['dispute.ended'])
    expect(codes(sayInDispute(open, actorOf('other', { supplierId: 'other', rights: new Set() }), 'Hm.', null).valueOf() as never)).to.deep.equal(['right.notYours']) // prettier-ignore
    const common = { amount: null, currency: null, needBy: null, notFor: [], from: null, path: '', details: {} }
    expect(disputeDesk(OPEN, common)).to.deep.equal([])
    expect(disputeDesk({ ...OPEN, lastBy: 'supplier' }, common)[0]).to.include({ key: 'dispute', since: '2026-07-01' })
    expect(disputeDesk(null, common)).to.deep.equal([])
  })

  it('ends by what one side proposed and the other agrees to, never by oneself', () => {
    expect(whyNotAgree(invoice({ dispute: OPEN }), ADA).map(reason => reason.code)).to.deep.equal(['dispute.nothingProposed']) // prettier-ignore
    expect(whyNotAgree(invoice(), ADA).map(reason => reason.code)).to.deep.equal(['dispute.ended'])
    expect(codes(agreeInDispute(proposed('house'), ADA))).to.deep.equal(['dispute.ownProposal'])
    expect(codes(agreeInDispute(proposed('supplier'), SUPPLIER))).to.deep.equal(['dispute.ownProposal'])
    const agreed = agreeInDispute(proposed('house'), SUPPLIER)
    expect(agreed.ok && [agreed.next.state, agreed.next.dispute, agreed.says[0]!.template]).to.deep.equal(['matched', { state: 'agreed', outcome: 'creditNote' }, 'invoice.agreed.creditNote']) // prettier-ignore
    expect(codes(agreeInDispute(proposed('supplier'), JOREN))).to.deep.equal(['right.notYours'])
  })

  it('goes back when another is agreed, unless it is in the books; other differences stay', () => {
    const back = agreeInDispute(proposed('supplier', 'newInvoice'), ADA)
    expect(back.ok && back.next.state).to.equal('rejected')
    const posted = agreeInDispute({ ...proposed('supplier', 'newInvoice'), state: 'cleared' }, ADA)
    expect(posted.ok && posted.next.state).to.equal('cleared')
    const world = new OrderToPay()
    world.issue()
    const early = { ...world.bill([{ line: 1, quantity: '10' }]), dispute: { ...OPEN, proposed: { outcome: 'payAll' as const, by: 'supplier' as const } } } // prettier-ignore
    const agreed = agreeInDispute(early, ADA)
    expect(agreed.ok && [agreed.next.state, matchInvoice({ ...early, dispute: null }).standing.map(hold => hold.kind)]).to.deep.equal(['onHold', ['proof']]) // prettier-ignore
  })

  it('is dropped by us with a reason that the supplier reads', () => {
    const dropped = dropDispute(invoice({ dispute: OPEN }), ADA, 'We found the boxes.')
    expect(dropped.ok && [dropped.next.state, dropped.next.dispute.state, dropped.says[0]!.details.said]).to.deep.equal(['matched', 'dropped', 'We found the boxes.']) // prettier-ignore
    expect(codes(dropDispute(invoice({ dispute: OPEN }), ADA, ''))).to.deep.equal(['bill.wantsReason'])
    expect(codes(dropDispute(invoice(), ADA, 'We found them.'))).to.deep.equal(['dispute.ended'])
    expect(codes(dropDispute(invoice({ dispute: OPEN }), SUPPLIER, 'Enough of it.'))).to.deep.equal(['right.notYours'])
  })
})
