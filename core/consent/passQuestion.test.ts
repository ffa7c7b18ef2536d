import { expect } from 'chai'
import type { Consent } from '#core/consent/consent.ts'
import { passQuestion, rightOfStep } from '#core/consent/passQuestion.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'

const WREN = actorOf('wren', { rights: new Set(['requisition.passOn']) })
const consent = (changed: Partial<Consent> = {}): Consent => ({
  id: 'c1',
  purpose: 'run',
  documentKind: 'paymentRun',
  documentId: 'p1',
  askedBy: 'ulla',
  state: 'open',
  amount: null,
  currency: null,
  steps: [
    { id: 's1', stage: 1, state: 'open', asked: [{ kind: 'person', personId: 'tomas', right: 'payment.approve' }], notBy: ['ulla'], label: 'Rule', who: 'Tomas' }, // prettier-ignore
    { id: 's2', stage: 1, state: 'open', asked: [{ kind: 'right', right: 'payment.approve', costCentre: null }], notBy: ['ulla'], label: '', who: 'payment.approve' }, // prettier-ignore
    { id: 's3', stage: 1, state: 'open', asked: [{ kind: 'person', personId: 'tomas' }], notBy: [], label: '', who: 'Tomas' }, // prettier-ignore
  ],
  ...changed,
})
const MARIT = { id: 'marit', name: 'Marit', able: true }
const codes = (decided: ReturnType<typeof passQuestion>): string[] =>
  decided.ok ? [] : decided.reasons.map(one => one.code)

describe('passing on what waits for somebody', () => {
  it('gives a step to somebody else who may decide it, with the reason in the history', () => {
    const decided = passQuestion(consent(), 's1', MARIT, WREN, 'Tomas has left.')
    expect(decided.ok && decided.next).to.deep.equal({ stepId: 's1', personId: 'marit' })
    expect(decided.ok && decided.did).to.deep.equal({ action: 'passedOn', changes: { from: 'Tomas', to: 'Marit' }, reason: 'Tomas has left.' }) // prettier-ignore
  })

  it('is for a steward, to somebody with the right who did not ask, while it is open', () => {
    expect(codes(passQuestion(consent(), 's1', MARIT, actorOf('tomas'), 'Because.'))).to.deep.equal(['right.notYours'])
    expect(codes(passQuestion(consent(), 's1', { ...MARIT, able: false }, WREN, 'Because.'))).to.deep.equal(['decide.withoutRight']) // prettier-ignore
    expect(codes(passQuestion(consent(), 's1', { ...MARIT, id: 'ulla' }, WREN, 'Because.'))).to.deep.equal([
      'decide.own',
    ])
    expect(codes(passQuestion(consent(), 's1', MARIT, WREN, ''))).to.deep.equal(['decide.noReason'])
    expect(codes(passQuestion(consent({ state: 'given' }), 's1', MARIT, WREN, 'Because.'))).to.deep.equal(['decide.stepDecided']) // prettier-ignore
    expect(codes(passQuestion(consent(), 'none', MARIT, WREN, 'Because.'))).to.deep.equal(['decide.stepDecided'])
    expect(codes(passQuestion(consent(), 's2', MARIT, WREN, 'Because.'))).to.deep.equal(['decide.askedByRight'])
  })

  it('knows what right a step asks for', () => {
    expect(['s1', 's2', 's3', 'none'].map(id => rightOfStep(consent(), id))).to.deep.equal(['payment.approve', null, null, null]) // prettier-ignore
  })
})
