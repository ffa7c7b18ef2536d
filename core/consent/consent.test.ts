import { expect } from 'chai'
import fc from 'fast-check'
import {
  answerConsent,
  type Asked,
  type Consent,
  CONSENT_PURPOSES,
  type ConsentPurpose,
  type ConsentStep,
  endConsent,
  inWhoseName as inTheNameOf,
  nextStage,
  openSteps,
  secondYes,
  stepOf,
  whyNotDecide,
  whyNotWithdraw,
} from '#core/consent/consent.ts'
import { type AskedAbout, consentDesk, deskKeysOf } from '#core/consent/desk.ts'
import { type ActorFacts, actsAs } from '#core/acts/actor.ts'
import { stepById, whyNotPass } from '#core/consent/passStep.ts'
import type { Stall } from '#core/consent/stalled.ts'
import { minor } from '#core/money/amount.ts'
import { actorOf, stoodFor } from '#test-helpers/orderToPay.ts'

const person = (personId: string): Asked => ({ kind: 'person', personId })
const right = (code: string, costCentre: string | null = null): Asked => ({ kind: 'right', right: code, costCentre })

const step = (id: string, changed: Partial<ConsentStep> = {}): ConsentStep => ({
  id,
  stage: 1,
  state: 'open',
  asked: [person(id)],
  notBy: [],
  label: `rule ${id}`,
  who: id,
  ...changed,
})
const consent = (steps: readonly ConsentStep[], changed: Partial<Consent> = {}): Consent => ({
  id: 'c',
  purpose: 'approval',
  documentKind: 'requisition',
  documentId: 'r',
  askedBy: 'ines',
  state: 'open',
  amount: null,
  currency: null,
  steps,
  ...changed,
})
const named = (one: ConsentStep, actor: ActorFacts) => inTheNameOf(consent([one]), one, actor)
const who = (id: string, changed: Parameters<typeof actorOf>[1] = {}) =>
  actorOf(id, { rights: new Set(), roles: [], ...changed })
const codes = (reasons: readonly { readonly code: string }[]): string[] => reasons.map(reason => reason.code)

describe('who may say yes', () => {
  it('is the person asked, or anybody with the right, be it within a cost centre', () => {
    expect(named(step('marit'), who('marit'))).to.equal(null)
    expect(named(step('marit'), who('tomas'))).to.equal(undefined)
    const office = step('s', { asked: [right('supplier.approve')] })
    expect(named(office, who('x', { rights: new Set(['supplier.approve']) }))).to.equal(null)
    expect(named(office, who('x'))).to.equal(undefined)
    const centre = step('s', { asked: [right('budget.transfer', 'LS-210')] })
    const rights = new Set(['budget.transfer'])
    expect(named(centre, who('x', { rights, costCentres: ['LS-210'] }))).to.equal(null)
    expect(named(centre, who('x', { rights, costCentres: ['AC-110'] }))).to.equal(undefined)
    expect(named(centre, who('x', { costCentres: ['LS-210'] }))).to.equal(undefined)
  })

  it('is somebody who stands in for the person asked, in their name, an own step first', () => {
    const deputy = who('tomas', { standsInFor: [stoodFor('marit')] })
    expect(named(step('marit'), deputy)).to.equal('marit')
    const both = consent([step('marit'), step('tomas')])
    expect(stepOf(both, deputy)).to.deep.include({ onBehalfOf: null })
    expect(stepOf(both, deputy)!.step.id).to.equal('tomas')
    expect(stepOf(both, deputy, 'marit')).to.deep.include({ onBehalfOf: 'marit' })
    expect(stepOf(consent([step('marit')]), deputy)!.onBehalfOf).to.equal('marit')
  })

  it('is nobody any more who has lost the right that it asks for, nor whoever stands in for them', () => {
    const asked: Asked = { kind: 'person', personId: 'marit', right: 'requisition.decide' }
    const decides = new Set(['requisition.decide'])
    const [own, other] = [step('s', { asked: [asked] }), step('t', { asked: [asked, person('tomas')] })]
    expect(named(own, who('marit', { rights: decides }))).to.equal(null)
    expect(named(own, who('marit'))).to.equal(undefined)
    const stands = (rights: ReadonlySet<string>) =>
      who('cy', { standsInFor: [stoodFor('marit', { rights })], rights: decides })
    expect(named(own, stands(decides))).to.equal('marit')
    expect(named(own, stands(new Set()))).to.equal(undefined)
    expect(named(other, stands(new Set()))).to.equal(undefined)
  })

  it('is everybody in whose name somebody acts, with a right those who have it', () => {
    const deputy = who('cy', { standsInFor: [stoodFor('marit', { rights: new Set(['x']) })] })
    expect(actsAs(deputy)).to.deep.equal(['cy', 'marit'])
    expect(actsAs(deputy, 'x')).to.deep.equal(['marit'])
    expect(actsAs(deputy, 'y')).to.deep.equal([])
  })

  it('is never whoever is barred from it, nor in the name of one who is', () => {
    expect(named(step('marit', { notBy: ['marit'] }), who('marit'))).to.equal(undefined)
    expect(named(step('marit', { notBy: ['tomas'] }), who('tomas', { standsInFor: [stoodFor('marit')] }))).to.equal(
      undefined,
    )
    expect(named(step('marit', { notBy: ['marit'] }), who('tomas', { standsInFor: [stoodFor('marit')] }))).to.equal(
      undefined,
    )
  })

  it('is told why not: nothing waits, it is over, it is their own, it waits for others', () => {
    expect(codes(whyNotDecide(null, who('marit')))).to.deep.equal(['decide.notOpen'])
    expect(codes(whyNotDecide(consent([step('marit')], { state: 'given' }), who('marit')))).to.deep.equal([
      'decide.notOpen',
    ])
    expect(codes(whyNotDecide(consent([step('marit', { state: 'approved' })]), who('marit')))).to.deep.equal([
      'decide.notOpen',
    ])
    expect(codes(whyNotDecide(consent([step('marit', { notBy: ['ines'] })]), who('ines')))).to.deep.equal([
      'decide.own',
    ])
    const [other] = whyNotDecide(consent([step('marit'), step('tomas'), step('x', { who: 'tomas' })]), who('ines'))
    expect(other).to.deep.include({ code: 'decide.notYours', details: { waitsFor: 3, who: 'marit, tomas' } })
    expect(whyNotDecide(consent([step('marit')]), who('marit'))).to.deep.equal([])
    expect(codes(whyNotDecide(consent([step('marit'), step('tomas')]), who('marit'), 'tomas'))).to.deep.equal([
      'decide.notYours',
    ])
  })

  it('reads in the words of what is asked, for each purpose', () => {
    const own = (purpose: ConsentPurpose): string =>
      whyNotDecide(consent([step('s', { notBy: ['ada'] })], { purpose }), who('ada'))[0]!.code
    expect(CONSENT_PURPOSES.map(own)).to.deep.equal([
      'decide.own',
      'onboarding.own',
      'secondYes.own',
      'secondYes.own',
      'secondYes.own',
      'source.ownProof',
      'transfer.own',
      'right.notYours',
      'pay.ownRun',
      'pay.ownRecall',
      'secondYes.own',
      'secondYes.own',
      'order.ownExcess',
      'bill.ownDifference',
      'event.ownAward',
      'agreement.own',
      'receive.ownCount',
      'stock.ownCount',
    ])
    const over = (purpose: ConsentPurpose): string =>
      whyNotDecide(consent([], { purpose, state: 'refused' }), who('ada'))[0]!.code
    expect(new Set(CONSENT_PURPOSES.map(over)).size).to.equal(14)
  })
})

describe('answering', () => {
  const two = consent([step('marit'), step('tomas'), step('henrik', { stage: 2, state: 'later' })])

  it('yes by all of a stage opens the next, yes by the last gives it', () => {
    const first = answerConsent(two, who('marit'), 'approve', '')
    expect(first.ok && first.next).to.deep.equal({
      state: 'open',
      answers: [{ stepId: 'marit', state: 'approved', decidedBy: 'marit', onBehalfOf: null, reason: '' }],
      opens: [],
      drops: [],
    })
    const second = answerConsent(
      consent([step('marit', { state: 'approved' }), ...two.steps.slice(1)]),
      who('tomas'),
      'approve',
      '',
    )
    expect(second.ok && second.next).to.deep.include({ state: 'open', opens: ['henrik'] })
    const last = answerConsent(consent([step('henrik', { stage: 2 })]), who('henrik'), 'approve', '')
    expect(last.ok && last.next).to.deep.include({ state: 'given', opens: [], drops: [] })
    expect(last.ok && last.step.id).to.equal('henrik')
  })

  it('no ends it for all, with a reason', () => {
    for (const [answer, state, own] of [
      ['reject', 'refused', 'rejected'],
      ['return', 'returned', 'returned'],
    ] as const) {
      const silent = answerConsent(two, who('marit'), answer, ' ')
      expect(!silent.ok && silent.reasons[0]).to.deep.include({ code: 'decide.noReason', place: 'reason' })
      const said = answerConsent(two, who('marit'), answer, 'Too dear.')
      expect(said.ok && said.next).to.deep.include({ state, opens: [], drops: ['tomas', 'henrik'] })
      expect(said.ok && said.next.answers[0]).to.deep.include({ state: own, reason: 'Too dear.' })
    }
  })

  it('in another’s place says so', () => {
    const said = answerConsent(two, who('cy', { standsInFor: [stoodFor('tomas')] }), 'approve', '', 'tomas')
    expect(said.ok && said.next.answers[0]).to.deep.include({ decidedBy: 'cy', onBehalfOf: 'tomas' })
    expect(answerConsent(two, who('cy'), 'approve', '')).to.have.nested.property('reasons[0].code', 'decide.notYours')
  })

  it('stages open one after the other, in parallel within a stage', () => {
    const of = (...steps: [number, ConsentStep['state']][]) =>
      nextStage(steps.map(([stage, state], index) => ({ id: `${index}`, stage, state })))
    expect(of([1, 'later'], [1, 'later'], [2, 'later'])).to.deep.equal({ opens: ['0', '1'], given: false })
    expect(of([1, 'approved'], [1, 'open'], [2, 'later'])).to.deep.equal({ opens: [], given: false })
    expect(of([1, 'approved'], [1, 'approved'], [2, 'later'])).to.deep.equal({ opens: ['2'], given: false })
    expect(of([3, 'later'], [2, 'later'])).to.deep.equal({ opens: ['1'], given: false })
    expect(of([1, 'approved'])).to.deep.equal({ opens: [], given: true })
    expect(of()).to.deep.equal({ opens: [], given: true })
  })

  it('whoever is asked, in whatever order: it ends, once, and only by a yes of all or a no of one', () => {
    const steps = fc.array(
      fc.record({ stage: fc.integer({ min: 1, max: 3 }), by: fc.constantFrom('a', 'b', 'c', 'd') }),
      { minLength: 1, maxLength: 6 },
    )
    const said = fc.array(
      fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.constantFrom('approve', 'reject', 'return')),
      { maxLength: 30 },
    )
    fc.assert(
      fc.property(steps, said, (list, answers) => {
        const least = Math.min(...list.map(one => one.stage))
        let now = consent(
          list.map(({ stage, by }, index) =>
            step(`s${index}`, { stage, state: stage === least ? 'open' : 'later', asked: [person(by)] }),
          ),
        )
        let ended = 0
        for (const [by, answer] of answers as ['a', 'approve'][]) {
          const result = answerConsent(now, who(by), answer, 'Because.')
          if (!result.ok) {
            expect(
              openSteps(now).some(one => one.asked.some(ask => ask.kind === 'person' && ask.personId === by)) &&
                now.state === 'open',
            ).to.equal(false)
            continue
          }
          const { next } = result
          const states = new Map([
            ...next.answers.map(one => [one.stepId, one.state] as const),
            ...next.opens.map(id => [id, 'open'] as const),
            ...next.drops.map(id => [id, 'dropped'] as const),
          ])
          now = {
            ...now,
            state: next.state,
            steps: now.steps.map(one => ({ ...one, state: states.get(one.id) ?? one.state })),
          }
          if (next.state !== 'open') ended++
          const stages = openSteps(now).map(one => one.stage)
          expect(new Set(stages).size, 'one stage at a time').to.be.at.most(1)
          expect(now.state === 'open', 'open while somebody is asked').to.equal(stages.length > 0)
          if (now.state === 'given') expect(now.steps.every(one => one.state === 'approved')).to.equal(true)
        }
        expect(ended).to.be.at.most(1)
      }),
      { numRuns: 150, seed: 5 },
    )
  })
})

describe('ending, passing on, standing still', () => {
  it('is taken back by whoever asked while it is open, and asks nobody any more', () => {
    const one = consent([step('marit'), step('henrik', { state: 'later' }), step('x', { state: 'approved' })], {
      purpose: 'bar',
    })
    expect(endConsent(one, 'withdrawn')).to.deep.equal({
      state: 'withdrawn',
      answers: [],
      opens: [],
      drops: ['marit', 'henrik'],
    })
    expect(whyNotWithdraw(one, who('ines'))).to.deep.equal([])
    expect(codes(whyNotWithdraw(one, who('marit')))).to.deep.equal(['secondYes.notYours'])
    expect(codes(whyNotWithdraw({ ...one, state: 'given' }, who('ines')))).to.deep.equal(['secondYes.answered'])
  })

  it('a second yes asks anybody with the right but those named', () => {
    const asks = secondYes(
      { purpose: 'run', documentKind: 'paymentRun', documentId: 'r', reason: '' },
      'payment.approve',
      ['ada'],
    )
    expect(asks.steps).to.deep.equal([{ stage: 1, asked: [right('payment.approve')], notBy: ['ada'], label: '' }])
  })

  it('a step is passed to somebody who may decide it, with a reason, while it waits', () => {
    const to = { id: 'cy', name: 'Cy', able: true }
    expect(whyNotPass(step('a'), to, 'On leave.')).to.deep.equal([])
    expect(whyNotPass(step('a', { state: 'later' }), to, 'On leave.')).to.deep.equal([])
    for (const state of ['approved', 'rejected', 'dropped'] as const)
      expect(codes(whyNotPass(step('a', { state }), to, 'On leave.'))).to.deep.equal(['decide.stepDecided'])
    expect(codes(whyNotPass(undefined, to, 'On leave.'))).to.deep.equal(['decide.stepDecided'])
    expect(codes(whyNotPass(step('a', { notBy: ['cy'] }), { ...to, able: false }, ''))).to.deep.equal([
      'decide.own',
      'decide.withoutRight',
      'decide.noReason',
    ])
    expect(stepById(consent([step('a'), step('b')]), 'b')!.id).to.equal('b')
  })
})

describe('what waits because of a question', () => {
  const about: AskedAbout = {
    number: 'R-1',
    title: 'Pumps',
    who: 'Ines',
    extra: 'EUR 5.00',
    amount: minor(500),
    currency: 'EUR',
    needBy: '2026-07-01',
    path: '/decide/r',
    askedAt: '2026-06-01T08:00:00Z',
  }
  const desk = (one: Consent, stalls: readonly (readonly [string, Stall])[] = []) =>
    consentDesk(one, about, new Map(stalls))

  it('waits for those of each open step, and says what asks them', () => {
    const entries = desk(
      consent([step('marit', { notBy: ['ines'] }), step('tomas'), step('henrik', { state: 'later' })]),
    )
    expect(entries).to.have.length(2)
    expect(entries[0]).to.deep.include({
      key: 'decide',
      stage: 'decide',
      audiences: ['person:marit'],
      notFor: ['ines'],
      tone: 'attention',
    })
    expect(entries[0]!.details).to.deep.include({ extra: 'rule marit', who: 'Ines', number: 'R-1' })
    expect(desk(consent([step('marit')], { state: 'given' }))).to.deep.equal([])
  })

  it('has the place of its own work', () => {
    const placed = (purpose: ConsentPurpose): string => {
      const [entry] = desk(consent([step('s', { asked: [right('payment.approve', 'LS')] })], { purpose }))
      return `${entry!.key} ${entry!.stage} ${entry!.act} ${entry!.details['extra']}`
    }
    expect(CONSENT_PURPOSES.map(placed)).to.deep.equal([
      'decide decide decide rule s',
      'onboardingDecide source decide rule s',
      'agree source see EUR 5.00',
      'agree source see EUR 5.00',
      'agree source see EUR 5.00',
      'prove source prove EUR 5.00',
      'transfer decide decide EUR 5.00',
      'answer order answer EUR 5.00',
      'approveRun pay approve EUR 5.00',
      'recall pay approve EUR 5.00',
      'agreePower decide see EUR 5.00',
      'agreeSkip decide see EUR 5.00',
      'excess decide decide EUR 5.00',
      'difference decide decide EUR 5.00',
      'award decide decide EUR 5.00',
      'agreement decide decide EUR 5.00',
      'overReceipt receive answer EUR 5.00',
      'stockCount receive answer EUR 5.00',
    ])
    expect(desk(consent([step('s', { asked: [right('payment.approve', 'LS')] })]))[0]!.audiences).to.deep.equal([
      'right:payment.approve@LS',
    ])
  })

  it('waits for stewards where it stands still, and for those who could still decide it', () => {
    const orla = consent([step('orla')])
    const [entry, ...others] = desk(orla, [['orla', 'closed']])
    expect(entry).to.deep.include({ key: 'stalled', audiences: ['right:requisition.passOn'], tone: 'stop', notFor: [] })
    expect(entry!.details).to.deep.include({ who: 'orla', extra: 'rule orla', closed: 1 })
    expect(others).to.deep.equal([])
    for (const stall of ['away', 'late'] as const)
      expect(
        desk(orla, [['orla', stall]]).map(one => one.key),
        stall,
      ).to.deep.equal(['decide', 'stalled'])
    expect(desk(orla, [['orla', 'right']]).map(one => one.key)).to.deep.equal(['stalled'])
  })

  it('knows the Desk of each kind of question', () => {
    expect(deskKeysOf(['approval', 'onboarding', 'nothing'])).to.deep.equal(['decide', 'onboardingDecide'])
  })
})
