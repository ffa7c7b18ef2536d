import { expect } from 'chai'
import { DECIDE_SETTINGS } from '#core/consent/settings.ts'
import fc from 'fast-check'
import type { Decision } from '#core/acts/decision.ts'
import { requisitionActions } from '#core/decide/actions.ts'
import { passRequisition } from '#core/decide/passRequisition.ts'
import { holdersOf, remindHolders, reminder, whyNotRemind } from '#core/decide/remindHolders.ts'
import { check, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import { requisitionDesk } from '#core/request/desk.ts'
import { requisitionLaws } from '#core/request/laws.ts'
import { boughtCode } from '#core/request/progress.ts'
import { REQUISITION_GROUPS, type RequisitionState } from '#core/request/states.ts'
import { whyNotCopy, whyNotEdit } from '#core/request/submitRequisition.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'
import { INES, pathStep, Requested } from '#test-helpers/requisition.ts'

const codes = (decided: Decision<unknown>): string[] => (decided.ok ? [] : decided.reasons.map(reason => reason.code))
const PATH = [pathStep(1, 'marit'), pathStep(1, 'tomas'), pathStep(2, 'henrik')]

function waiting(path = PATH): Requested {
  const world = new Requested()
  expect(codes(world.submit(path))).to.deep.equal([])
  return world
}

describe('submitting', () => {
  it('requests and reserves what every line takes, split over its accounts, and asks those who decide', () => {
    const world = new Requested()
    const decided = world.submit(PATH)
    expect(world.reserved()).to.equal(30_000n)
    expect(world.facts().lines.map(line => line.sums.requested)).to.deep.equal(['10', '10'])
    expect(world.budget.map(entry => `${entry.lineId} ${entry.accountId} ${entry.amount}`)).to.deep.equal([
      'line1 a1 3333',
      'line1 a2 6667',
      'line2 a1 6667',
      'line2 a2 13333',
    ])
    expect(decided.ok && decided.next).to.deep.include({ state: 'waiting', round: 1 })
    expect(decided.ok && decided.next.asks!.steps[0]).to.deep.equal({
      stage: 1,
      asked: [{ kind: 'person', personId: 'marit', right: 'requisition.decide' }],
      notBy: ['ines'],
      label: 'Rule 1',
    })
  })

  it('is approved at once where nobody has to decide', () => {
    const world = new Requested()
    const decided = world.submit([])
    expect(decided.ok && decided.next).to.deep.equal({ state: 'approved', round: 1, asks: null })
  })

  it('is for its requester, once, without faults, and with a reason for what has to be looked at', () => {
    const world = new Requested()
    expect(codes(world.submit(PATH, [], '', actorOf('bo')))).to.deep.equal(['right.notYours'])
    expect(codes(world.submit(PATH, [stop('line.noAccount')], 'Because.'))).to.deep.equal(['line.noAccount'])
    expect(codes(world.submit(PATH, [check('line.needBySoon')]))).to.deep.equal([
      'requisition.wantsReason',
      'line.needBySoon',
    ])
    const kept = world.submit(PATH, [check('line.needBySoon', { earliest: '2026-06-09' })], 'They can.')
    expect(kept.ok && kept.did.changes).to.deep.equal({
      round: 1,
      checks: [{ code: 'line.needBySoon', details: { earliest: '2026-06-09' } }],
    })
    expect(codes(world.submit(PATH))).to.deep.equal(['state.notNow'])
  })
})

describe('deciding', () => {
  it('goes stage by stage, tells those of the next, and ends in the pool', () => {
    const world = waiting()
    world.decide('marit', 'approve')
    const second = world.decide('tomas', 'approve')
    expect(second.ok && second.says.map(mail => `${mail.template} ${mail.to.id} ${mail.key}`)).to.deep.equal([
      'requisition.waits henrik decide:r1:1:henrik',
    ])
    expect(second.ok && second.next).to.deep.include({ state: 'waiting', intoPool: false })
    const last = world.decide('henrik', 'approve', '')
    expect(last.ok && last.next).to.deep.include({ state: 'approved', intoPool: true })
    expect(last.ok && last.says[0]).to.deep.include({
      template: 'requisition.approved',
      to: { kind: 'person', id: 'ines' },
    })
    expect(last.ok && last.did).to.deep.include({ action: 'approve', changes: { rule: 'Rule 2', stage: 2 } })
    expect(world.reserved()).to.equal(30_000n)
  })

  it('a no frees what was reserved and drops the rest; the requester reads why', () => {
    for (const [answer, state] of [
      ['reject', 'rejected'],
      ['return', 'returned'],
    ] as const) {
      const world = waiting()
      const decided = world.decide('marit', answer, 'Too dear.')
      expect(world.state).to.equal(state)
      expect(world.reserved()).to.equal(0n)
      expect(world.facts().lines.map(line => line.sums.requested)).to.deep.equal(['0', '0'])
      expect(decided.ok && decided.says[0]!.details).to.deep.include({ reason: 'Too dear.', by: 'marit' })
      expect(codes(world.decide('tomas', 'approve'))).to.deep.equal(['state.notNow'])
    }
  })

  it('is for those who are asked, never for the requester', () => {
    const world = waiting()
    expect(codes(world.decide('henrik', 'approve'))).to.deep.equal(['decide.notYours'])
    expect(codes(world.decide('ines', 'approve'))).to.deep.equal(['decide.own'])
    expect(codes(world.decide('marit', 'reject', ''))).to.deep.equal(['decide.noReason'])
    expect(codes(new Requested().decide('marit', 'approve'))).to.deep.equal(['state.notNow'])
  })

  it('a steward passes a step on; whoever has it now is told, whoever has it later is not', () => {
    const world = waiting()
    const steward = actorOf('wren', { rights: new Set(['requisition.passOn']) })
    const to = { id: 'cy', name: 'Cy', able: true }
    const passed = passRequisition(world.facts(), 'step1', to, steward, 'On leave.')
    expect(passed.ok && passed.next).to.deep.equal({ stepId: 'step1', personId: 'cy' })
    expect(passed.ok && passed.says[0]).to.deep.include({
      template: 'requisition.waits',
      to: { kind: 'person', id: 'cy' },
    })
    expect(passed.ok && passed.did.changes).to.deep.equal({ rule: 'Rule 1', to: 'Cy' })
    const later = passRequisition(world.facts(), 'step3', to, steward, 'On leave.')
    expect(later.ok && later.says).to.deep.equal([])
    expect(codes(passRequisition(world.facts(), 'step1', to, INES, 'On leave.'))).to.deep.equal(['right.notYours'])
    expect(codes(passRequisition(world.facts(), 'none', to, steward, 'On leave.'))).to.deep.equal([
      'decide.stepDecided',
    ])
    expect(codes(passRequisition(world.facts({ consent: null }), 'step1', to, steward, 'On leave.'))).to.deep.equal([
      'decide.stepDecided',
    ])
    world.act('withdraw')
    expect(codes(passRequisition(world.facts(), 'step1', to, steward, 'On leave.'))).to.deep.equal([
      'state.notNow',
      'decide.stepDecided',
    ])
  })

  it('holders are reminded once a day, by the requester', () => {
    const world = waiting()
    const now = '2026-06-02T08:00:00.000Z'
    const sent = remindHolders(world.facts(), INES, now)
    expect(sent.ok && sent.says.map(mail => mail.to.id)).to.deep.equal(['marit', 'tomas'])
    expect(sent.ok && sent.next).to.deep.equal({ remindedAt: now })
    const why = (remindedAt: string | null, actor = INES) =>
      whyNotRemind(world.facts({ remindedAt }), actor, now).map(one => one.code)
    expect(why('2026-06-01T08:00:00.001Z')).to.deep.equal(['remind.already'])
    expect(why('2026-06-01T08:00:00.000Z')).to.deep.equal([])
    expect(why(null, actorOf('marit'))).to.deep.equal(['right.notYours'])
    expect(codes(remindHolders(world.facts({ remindedAt: now }), INES, now))).to.deep.equal(['remind.already'])
    expect(whyNotRemind(world.facts({ consent: null }), INES, now).map(one => one.code)).to.deep.equal([
      'remind.notWaiting',
    ])
    world.act('withdraw')
    expect(whyNotRemind(world.facts(), INES, now).map(one => one.code)).to.deep.equal(['remind.notWaiting'])
    expect(holdersOf({ consent: null })).to.deep.equal([])
    expect(reminder(world.facts(), 'Night', now)).to.have.nested.property('did.action', 'reminded')
  })
})

describe('what a requester does with an own request', () => {
  it('withdrawn or taken back, it frees what it reserved and asks nobody any more', () => {
    for (const [act, state] of [
      ['withdraw', 'withdrawn'],
      ['change', 'draft'],
    ] as const) {
      const world = waiting()
      const decided = world.act(act)
      expect(decided.ok && decided.next).to.deep.include({ state, reopensLines: true })
      expect([world.reserved(), world.consent!.state]).to.deep.equal([0n, 'dropped'])
    }
    const approved = waiting([])
    expect(approved.act('withdraw')).to.have.nested.property('next.consent', null)
  })

  it('not while a line is being bought, nor by somebody else', () => {
    const world = waiting([])
    for (const state of ['onDraftOrder', 'bought', 'done'] as const) {
      world.lineStates = ['toBuy', state]
      expect(codes(world.act('change')), state).to.deep.equal(['requisition.beingBought'])
    }
    world.lineStates = ['toBuy', 'toBuy']
    expect(codes(world.act('withdraw', actorOf('bo')))).to.deep.equal(['right.notYours'])
  })

  it('taken up again it is a draft, cancelled it is over', () => {
    const world = waiting()
    world.act('withdraw')
    expect(world.act('reopen')).to.have.nested.property('next.state', 'draft')
    expect(world.act('cancel')).to.have.nested.property('next.state', 'cancelled')
    expect(codes(world.act('reopen'))).to.deep.equal(['state.notNow'])
  })

  it('edits drafts only, and copies what is theirs', () => {
    const facts = new Requested().facts()
    expect(whyNotEdit(facts, INES)).to.deep.equal([])
    expect(whyNotEdit({ ...facts, state: 'returned' }, INES)).to.deep.equal([])
    expect(whyNotEdit({ ...facts, state: 'waiting' }, actorOf('bo')).map(one => one.code)).to.deep.equal([
      'right.notYours',
      'state.notNow',
    ])
    expect(whyNotCopy(facts, INES)).to.deep.equal([])
    expect(whyNotCopy(facts, actorOf('bo'))).to.have.length(1)
  })
})

describe('whatever happens to a request', () => {
  it('reserves exactly what is requested of it, nothing when nobody has it, and its laws hold', () => {
    const acts = fc.array(
      fc.tuple(
        fc.constantFrom(
          ...([
            'submit',
            'submit',
            'approve',
            'approve',
            'approve',
            'reject',
            'return',
            'withdraw',
            'change',
            'reopen',
            'cancel',
            'pass',
          ] as const),
        ),
        fc.constantFrom('marit', 'tomas', 'henrik', 'ines'),
      ),
      { maxLength: 30, size: 'max' },
    )
    const reached = new Set<RequisitionState>()
    let passed = 0
    fc.assert(
      fc.property(acts, history => {
        const world = new Requested()
        for (const [act, by] of history) {
          if (act === 'submit') world.submit(by === 'ines' ? [pathStep(1, 'marit')] : PATH)
          else if (act === 'pass') passed += world.pass(history.length % 3, by).ok ? 1 : 0
          else if (act === 'approve' || act === 'reject' || act === 'return') world.decide(by, act)
          else world.act(act)
          reached.add(world.state)
          expect(world.reserved()).to.equal(isIn(REQUISITION_GROUPS.counted, world.state) ? 30_000n : 0n)
          expect(requisitionLaws(world.facts())).to.deep.equal([])
          expect(world.consent?.state === 'open').to.equal(world.state === 'waiting')
        }
      }),
      { numRuns: 200, seed: 9 },
    )
    expect(passed, 'steps were passed on').to.be.above(10)
    expect([...reached].sort()).to.deep.equal([
      'approved',
      'cancelled',
      'draft',
      'rejected',
      'returned',
      'waiting',
      'withdrawn',
    ])
  })
})

describe('what can be done with a request', () => {
  const now = '2026-06-02T08:00:00.000Z'
  const possible = (world: Requested, by = INES, stalled = false): string[] =>
    requisitionActions(world.facts(), by, now, { stalled, byHand: false, editing: DECIDE_SETTINGS.editing, skip: null })
      .filter(one => one.reasons.length === 0)
      .map(one => `${one.action}${one.primary ? '!' : ''}`)

  it('is offered by its state and to whom it belongs', () => {
    const world = new Requested()
    expect(possible(world)).to.deep.equal(['submit!', 'cancel'])
    expect(possible(world, actorOf('marit'))).to.deep.equal([])
    world.submit(PATH)
    expect(possible(world)).to.deep.equal(['change', 'withdraw', 'remind', 'copy'])
    expect(possible(world, actorOf('marit'))).to.deep.equal(['approve!', 'ask', 'editLines', 'return', 'reject'])
    const steward = actorOf('wren', { rights: new Set(['requisition.passOn']) })
    expect(possible(world, steward)).to.deep.equal(['passOn'])
    expect(possible(world, steward, true)).to.deep.equal(['passOn!'])
    world.decide('marit', 'reject')
    expect(possible(world)).to.deep.equal(['reopen!', 'copy'])
    world.act('reopen')
    world.submit([])
    expect(possible(world)).to.deep.equal(['change', 'withdraw', 'copy'])
    world.act('withdraw')
    expect(possible(world)).to.deep.equal(['reopen!', 'cancel', 'copy'])
    for (const state of ['ordered', 'finished', 'cancelled'] as const) {
      world.state = state
      expect(possible(world)).to.deep.equal(['copy'])
      expect(possible(world, actorOf('bo'))).to.deep.equal([])
    }
  })
})

describe('what waits because of a request', () => {
  const waits = { changedAt: '2026-06-02', decidedAt: null, returnedWith: '', question: null }
  const desk = (world: Requested, changed: object = {}) =>
    requisitionDesk({ ...world.facts(), ...waits, ...changed }).map(
      one => `${one.key} ${one.audiences.join()} ${one.amount} ${one.since}`,
    )

  it('a draft and what came back wait for the requester, what is approved for buyers, a question for an answer', () => {
    const world = new Requested()
    expect(desk(world)).to.deep.equal(['draft person:ines 30000 2026-06-02'])
    expect(desk(world, { lines: [] })).to.deep.equal([])
    world.state = 'returned'
    expect(desk(world, { returnedWith: 'Too dear.' })).to.deep.equal(['returned person:ines 30000 2026-06-02'])
    const open = { question: { who: 'Pilar', text: 'Which?', at: '2026-06-03' } }
    const pool = waiting([])
    expect(desk(pool)).to.deep.equal(['toBuy right:order.write 30000 2026-06-02'])
    expect(desk(pool, { decidedAt: '2026-05-30', ...open })).to.deep.equal([
      'question person:ines 30000 2026-06-03',
      'toBuy right:order.write 30000 2026-05-30',
    ])
    pool.lineStates = ['bought', 'toBuy']
    expect(desk(pool)).to.deep.equal(['toBuy right:order.write 20000 2026-06-02'])
    pool.lineStates = ['bought', 'done']
    expect(desk(pool)).to.deep.equal([])
  })

  it('says that all is in only where nothing is to come', () => {
    expect(boughtCode('ordered', [{ comes: false }, { comes: true }])).to.equal('requisition.is.ordered')
    expect(boughtCode('ordered', [{ comes: false }])).to.equal('requisition.is.allIn')
    expect(boughtCode('ordered', [])).to.equal('requisition.is.ordered')
    expect(boughtCode('finished', [{ comes: false }])).to.equal('requisition.is.finished')
  })
})
