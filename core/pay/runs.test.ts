import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { runActions } from '#core/pay/actions.ts'
import { approveRun, whyNotApprove } from '#core/pay/approveRun.ts'
import { bankDesk } from '#core/pay/desk.ts'
import { paymentLaws } from '#core/pay/laws.ts'
import { whyNotLeave, whyNotPay } from '#core/pay/payable.ts'
import { checkExecution, proposeRun } from '#core/pay/proposeRun.ts'
import { askRecall, recallRun } from '#core/pay/recallRun.ts'
import { leaveRun, sendRun } from '#core/pay/sendRun.ts'
import { settleItem } from '#core/pay/settleItem.ts'
import type { RunState } from '#core/pay/states.ts'
import { isAnswered } from '#core/pay/takeBankMessage.ts'
import { withdrawRun } from '#core/pay/withdrawRun.ts'
import { minor } from '#core/money/amount.ts'
import { ADA, actorOf, NOBODY, TODAY } from '#test-helpers/orderToPay.ts'
import { payable, payment, recallAsked, run } from '#test-helpers/runs.ts'

const BO = actorOf('bo')
const codes = (decided: Decision<unknown, unknown>): string[] =>
  decided.ok ? [] : decided.reasons.map(reason => reason.code)

describe('what can be paid', () => {
  const why = (changed: Parameters<typeof payable>[0]): string[] => whyNotPay(payable(changed)).map(one => one.code)
  const account = payable().account!

  it('is what is owed to a supplier whose account a second person has checked', () => {
    expect(why({})).to.deep.equal([])
    expect(why({ account: { ...account, state: 'unproven' } })).to.deep.equal(['pay.unproven'])
    expect(why({ account: null })).to.deep.equal(['pay.noAccount'])
    expect(why({ account: { ...account, state: 'closed' } })).to.deep.equal(['pay.noAccount'])
    expect(why({ amount: minor(0) })).to.deep.equal(['pay.nothingToPay'])
    expect(why({ amount: minor(1) })).to.deep.equal([])
  })

  it('never goes to a supplier that is barred or closed', () => {
    expect(why({ supplierState: 'barred' })).to.deep.equal(['pay.supplier.barred'])
    expect(why({ supplierState: 'closed' })).to.deep.equal(['pay.supplier.closed'])
    for (const supplierState of ['active', 'paused']) expect(why({ supplierState })).to.deep.equal([])
  })

  it('never goes again to an account that the bank refused, but may after want of money', () => {
    expect(why({ refusedWith: 'AC04' })).to.deep.equal(['pay.refusedBefore'])
    expect(why({ refusedWith: 'AM04' })).to.deep.equal([])
  })

  it('is paid by the file only where credit transfer is the way', () => {
    expect(why({ method: 'creditTransfer' })).to.deep.equal([])
    expect(why({ method: 'card' })).to.deep.equal(['pay.otherMethod'])
  })

  it('is looked at once more before it leaves', () => {
    expect(whyNotLeave(payment())).to.deep.equal([])
    expect(
      whyNotLeave(payment({ supplierState: 'barred', accountState: 'closed' })).map(one => one.code),
    ).to.deep.equal(['pay.supplier.barred', 'pay.accountChanged'])
  })
})

describe('proposing a run', () => {
  it('takes what can be paid and says why the rest stays out', () => {
    const due = [payable(), payable({ number: 'I-2', supplierState: 'barred' }), payable({ baseAmount: minor(500) })]
    const decided = proposeRun(due, '2026-06-02', ADA, TODAY)
    expect(decided.ok && decided.next.taken).to.have.length(2)
    expect(decided.ok && decided.next.left.map(one => one.code)).to.deep.equal(['pay.supplier.barred'])
    expect(decided.ok && decided.next.baseTotal).to.equal(60_000n)
    expect(decided.ok && decided.did.changes).to.deep.equal({ payments: 2, left: 1 })
    expect(codes(proposeRun(due, '2026-06-02', NOBODY, TODAY))).to.deep.equal(['right.notYours'])
  })

  it('is carried out today or within a year, on a day of the calendar', () => {
    const day = (executeOn: string): string[] => checkExecution(executeOn, TODAY).map(one => one.code)
    expect(day('2026-06-01')).to.deep.equal([])
    expect(day('2027-06-01')).to.deep.equal([])
    expect(day('2027-06-02')).to.deep.equal(['pay.executeFar'])
    expect(day('2026-05-31')).to.deep.equal(['pay.executePast'])
    expect(day('2026-02-30')).to.deep.equal(['calendar.notADay'])
    expect(codes(proposeRun([], '9999-01-01', ADA, TODAY))).to.deep.equal(['pay.executeFar'])
  })
})

describe('approving a run', () => {
  it('is for another person than the one who proposed it, once', () => {
    expect(codes(approveRun(run(), ADA, TODAY, true))).to.deep.equal(['pay.ownRun'])
    expect(codes(approveRun(run(), NOBODY, TODAY, true))).to.deep.equal(['right.notYours'])
    const approved = approveRun(run(), BO, TODAY, true)
    expect(approved.ok && approved.next).to.deep.include({ state: 'approved', executeOn: '2026-06-02' })
    expect(approved.ok && approved.next.consent).to.deep.include({ state: 'given' })
    expect(approved.ok && approved.did.changes).to.deep.equal({ payments: 2 })
    expect(codes(approveRun(run({ state: 'approved' }), BO, TODAY, true))).to.deep.equal(['state.notNow'])
    expect(codes(approveRun(run({ approval: null }), BO, TODAY, true))).to.deep.equal(['decide.notOpen'])
  })

  it('looks at accounts and suppliers once more, wants an account to pay from, and never tells the bank a day that is past', () => {
    const changed = run({ payments: [payment({ accountState: 'unproven' })] })
    expect(codes(approveRun(changed, BO, TODAY, true))).to.deep.equal(['pay.accountChanged'])
    expect(codes(approveRun(run(), BO, TODAY, false))).to.deep.equal(['pay.noOwnAccount'])
    const late = approveRun(run({ executeOn: '2026-05-20' }), BO, TODAY, true)
    expect(late.ok && late.next.executeOn).to.equal(TODAY)
    expect(whyNotApprove(run(), BO, true)).to.deep.equal([])
  })
})

describe('a run on its way to the bank', () => {
  it('leaves first and is sent when the bank has it; what is leaving may be handed over again', () => {
    const leaves = leaveRun(run({ state: 'approved' }))
    expect(leaves.ok && leaves.next).to.deep.equal({ state: 'sending', paymentsSent: false })
    expect(leaves.ok && leaves.did.action).to.equal('leaves')
    const again = leaveRun(run({ state: 'sending', payments: [payment({ supplierState: 'barred' })] }))
    expect(again.ok && again.did.action).to.equal('handedOverAgain')
    expect(again.ok && again.next).to.deep.equal({ state: 'sending', paymentsSent: false })
    const sent = sendRun(run({ state: 'sending' }))
    expect(sent.ok && sent.next).to.deep.equal({ state: 'sent', paymentsSent: true })
    expect(codes(sendRun(run({ state: 'approved' })))).to.deep.equal(['state.notNow'])
  })

  it('is stopped for the last time where an account or supplier changed since the approval', () => {
    const barred = run({ state: 'approved', payments: [payment({ supplierState: 'barred' })] })
    expect(codes(leaveRun(barred))).to.deep.equal(['pay.supplier.barred'])
    expect(codes(leaveRun(run({ state: 'sent' })))).to.deep.equal(['state.notNow'])
  })

  it('is withdrawn only while the bank cannot have it', () => {
    for (const state of ['proposed', 'approved'] as const) {
      const decided = withdrawRun(run({ state }), ADA, 'Too early.')
      expect(decided.ok && decided.next.ends).to.deep.equal(['p1', 'p2'])
      expect(decided.ok && decided.next.consent?.state).to.equal('withdrawn')
    }
    const answered = run({ state: 'approved', approval: { ...run().approval!, state: 'given' } })
    expect(withdrawRun(answered, ADA, 'Too early.')).to.have.nested.property('next.consent', null)
    for (const state of ['sending', 'sent'] as const)
      expect(codes(withdrawRun(run({ state }), ADA, 'Too early.'))).to.deep.equal(['pay.onItsWay'])
    for (const state of ['answered', 'withdrawn', 'recalled'] as const)
      expect(codes(withdrawRun(run({ state }), ADA, 'Too early.'))).to.deep.equal(['state.notNow'])
    expect(codes(withdrawRun(run(), ADA, ' '))).to.deep.equal(['pay.wantsReason'])
    expect(codes(withdrawRun(run(), NOBODY, 'Too early.'))).to.deep.equal(['right.notYours'])
  })

  it('what may have left is recalled: asked by one, confirmed by another with what the bank said', () => {
    const out = run({ state: 'sending' })
    const asks = askRecall(out, ADA, 'Sent twice.')
    expect(asks.ok && asks.next.asks).to.deep.include({ purpose: 'recall', documentId: 'r1', reason: 'Sent twice.' })
    expect(codes(askRecall(out, ADA, ''))).to.deep.equal(['pay.wantsReason'])
    expect(codes(askRecall(run(), ADA, 'Sent twice.'))).to.deep.equal(['state.notNow'])
    expect(codes(askRecall({ ...out, recall: recallAsked() }, ADA, 'Sent twice.'))).to.deep.equal(['pay.recallAsked'])
    const waiting = { ...out, recall: recallAsked() }
    expect(codes(recallRun(waiting, ADA, 'approve', 'They stopped it.'))).to.deep.equal(['pay.ownRecall'])
    expect(codes(recallRun(waiting, BO, 'approve', ''))).to.deep.equal(['pay.wantsReason'])
    expect(codes(recallRun(out, BO, 'approve', 'They stopped it.'))).to.deep.equal(['decide.notOpen'])
    const recalled = recallRun(waiting, BO, 'approve', 'They stopped it.')
    expect(recalled.ok && recalled.next).to.deep.include({ state: 'recalled', ends: ['p1', 'p2'] })
    const stays = recallRun(waiting, BO, 'reject', 'It had gone out.')
    expect(stays.ok && [stays.next.state, stays.next.ends, stays.did.action]).to.deep.equal([
      'sending',
      [],
      'recallRefused',
    ])
    expect(codes(recallRun({ ...waiting, state: 'answered' }, BO, 'approve', 'They stopped it.'))).to.deep.equal([
      'state.notNow',
    ])
    for (const state of ['sending', 'answered'] as const)
      expect(codes(recallRun({ ...waiting, state }, ADA, 'approve', 'They stopped it.'))).to.deep.equal([
        'pay.ownRecall',
      ])
  })

  it('a payment that is booked is not recalled; the rest is, and the run is answered', () => {
    const partly = run({
      state: 'sent',
      recall: recallAsked(),
      payments: [payment({ state: 'paid' }), payment({ id: 'p2' })],
    })
    const recalled = recallRun(partly, BO, 'approve', 'One had gone out.')
    expect(recalled.ok && recalled.next).to.deep.include({ state: 'answered', ends: ['p2'] })
    expect(recalled.ok && recalled.did.changes).to.deep.equal({ payments: 1 })
    const none = run({ state: 'sent', recall: recallAsked(), payments: [payment()] })
    expect(recallRun(none, BO, 'approve', 'All stopped.')).to.have.nested.property('next.state', 'recalled')
  })

  it('is answered when nothing of it is on its way any more', () => {
    expect(isAnswered(['paid', 'refused', 'returned', 'recalled', 'withdrawn'])).to.equal(true)
    for (const state of ['proposed', 'sent', 'accepted'] as const) expect(isAnswered(['paid', state])).to.equal(false)
  })
})

describe('what can be done with a run', () => {
  const possible = (state: RunState, actor = BO, recall = false): string[] =>
    runActions(run({ state, recall: recall ? recallAsked() : null }), actor, true)
      .filter(one => one.reasons.length === 0)
      .map(one => one.action)

  it('is offered by its state and to whom it belongs', () => {
    expect(possible('proposed')).to.deep.equal(['approve', 'withdraw'])
    expect(possible('proposed', ADA)).to.deep.equal(['withdraw'])
    expect(possible('approved')).to.deep.equal(['withdraw'])
    expect(possible('sent')).to.deep.equal(['recall'])
    expect(possible('sent', ADA, true)).to.deep.equal([])
    expect(possible('sending', BO, true)).to.deep.equal(['confirmRecall', 'refuseRecall'])
    expect(runActions(run({ state: 'sent', recall: recallAsked() }), BO, true).map(one => one.primary)).to.deep.equal([
      true,
      false,
      false,
    ])
    for (const state of ['answered', 'withdrawn', 'recalled'] as const) expect(possible(state)).to.deep.equal([])
  })
})

describe('what nobody could assign', () => {
  it('waits for whoever pays until somebody has looked at it, and says what they found', () => {
    const message = { id: 'm1', kind: 'camt.053', messageId: 'S1', takenAt: TODAY, open: 2 }
    expect(bankDesk(message)[0]).to.deep.include({ key: 'bankMessage', audiences: ['right:payment.propose'] })
    expect(bankDesk(message)[0]!.details).to.deep.include({ extra: 2 })
    expect(bankDesk({ ...message, open: 0 })).to.deep.equal([])
    const item = { id: 'x', reference: 'E9', effect: 'open', settled: false } as const
    const settled = settleItem(item, ADA, 'A refund of the post.')
    expect(settled.ok && settled.next).to.deep.equal({ itemId: 'x' })
    expect(codes(settleItem(item, ADA, ''))).to.deep.equal(['pay.wantsReason'])
    expect(codes(settleItem(item, NOBODY, 'A refund.'))).to.deep.equal(['right.notYours'])
    expect(codes(settleItem({ ...item, settled: true }, ADA, 'A refund.'))).to.deep.equal(['bank.settledAlready'])
    expect(codes(settleItem({ ...item, effect: 'moved' }, ADA, 'A refund.'))).to.deep.equal(['bank.settledAlready'])
  })
})

describe('the laws of payments', () => {
  const laws = (state: 'cleared' | 'scheduled' | 'paid', ...payments: Parameters<typeof isAnswered>[0][number][]) =>
    paymentLaws({ number: 'I-1', state, payments }).map(one => one.law)

  it('one payment on its way for what is scheduled, one booked for what is paid, none else', () => {
    expect(laws('cleared')).to.deep.equal([])
    expect(laws('cleared', 'refused', 'returned', 'withdrawn', 'recalled')).to.deep.equal([])
    expect(laws('scheduled', 'refused', 'sent')).to.deep.equal([])
    expect(laws('paid', 'paid')).to.deep.equal([])
    expect(laws('scheduled')).to.deep.equal(['paymentsOnTheirWay'])
    expect(laws('paid')).to.deep.equal(['paymentsBooked'])
    expect(laws('cleared', 'accepted')).to.deep.equal(['paymentsOnTheirWay'])
    expect(laws('scheduled', 'sent', 'proposed')).to.deep.equal(['paymentsOnTheirWay'])
    expect(laws('paid', 'paid', 'paid')).to.deep.equal(['paymentsBooked'])
  })
})
