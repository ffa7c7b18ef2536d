import { expect } from 'chai'
import fc from 'fast-check'
import type { Consent } from '#core/consent/consent.ts'
import { addStep, whyNotAdd } from '#core/decide/addStep.ts'
import { askAgain, standsFor, type TakenStep } from '#core/decide/askAgain.ts'
import { askFirst } from '#core/decide/askFirst.ts'
import { skipped, skipStep, whyNotSkip } from '#core/decide/skipStep.ts'
import { sendBack } from '#core/decide/takeBackStalled.ts'
import { minor } from '#core/money/amount.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'
import { INES, pathStep, Requested } from '#test-helpers/requisition.ts'

const WREN = actorOf('wren', { rights: new Set(['requisition.passOn']) })
const PATH = [pathStep(1, 'marit'), pathStep(1, 'tomas'), pathStep(2, 'henrik')]
const waiting = (path = PATH): Requested => {
  const world = new Requested()
  world.submit(path)
  return world
}
const codes = (decided: { ok: boolean; reasons?: readonly { code: string }[] }): string[] =>
  (decided.reasons ?? []).map(one => one.code)
const stepOfPerson = (world: Requested, person: string): string =>
  world.consent!.steps.find(step => step.asked.some(one => one.kind === 'person' && one.personId === person))!.id
const HIGH = minor(1_000_000)

describe('skipping a decision', () => {
  it('is for a steward with a reason, while others decide; the next stage opens with it', () => {
    const world = waiting([pathStep(1, 'marit'), pathStep(2, 'henrik')])
    const id = stepOfPerson(world, 'marit')
    expect(codes(skipStep(world.facts(), id, INES, 'Ill.', HIGH))).to.include('right.notYours')
    expect(codes(skipStep(world.facts(), id, WREN, ' ', HIGH))).to.deep.equal(['decide.noReason'])
    const done = skipStep(world.facts(), id, WREN, 'Ill.', HIGH)
    if (!done.ok || done.next.kind !== 'skipped') throw new Error('It was not skipped.')
    expect(done.next).to.deep.include({ approved: false, stepId: id })
    expect(done.next.consent.opens).to.deep.equal([stepOfPerson(world, 'henrik')])
    expect(done.says.map(one => one.to.id)).to.deep.equal(['henrik'])
    expect(done.did.changes).to.deep.equal({ rule: 'Rule 1', from: 'somebody else' })
  })

  it('asks a second person from an amount on, exactly at it too', () => {
    const world = waiting()
    const id = stepOfPerson(world, 'marit')
    const asks = (from: bigint) => {
      const done = skipStep(world.facts(), id, WREN, 'Ill.', minor(from))
      return done.ok && done.next.kind
    }
    expect(asks(30_001n)).to.equal('skipped')
    expect(asks(30_000n)).to.equal('asks')
    const done = skipStep(world.facts(), id, WREN, 'Ill.', minor(0))
    expect(done.ok && done.next.kind === 'asks' && done.next.question).to.deep.include({ purpose: 'skip', subject: { stepId: id } }) // prettier-ignore
    expect(done.ok && done.next.kind === 'asks' && done.next.question.steps[0]!.notBy).to.deep.equal(['wren', 'ines'])
    const after = skipped(world.facts(), id, 'Ill.', 'wren')
    expect(after.ok && after.did.changes).to.deep.include({ askedBy: 'wren' })
  })

  it('never leaves a request to nobody, nor is it for one’s own', () => {
    const alone = waiting([pathStep(1, 'marit')])
    expect(whyNotSkip(alone.facts(), stepOfPerson(alone, 'marit'), WREN, 'Ill.').map(one => one.code)).to.deep.equal(['decide.lastStep']) // prettier-ignore
    const own = waiting()
    const ines = actorOf('ines', { rights: new Set(['requisition.passOn']) })
    expect(whyNotSkip(own.facts(), stepOfPerson(own, 'marit'), ines, 'Ill.').map(one => one.code)).to.deep.equal(['decide.own']) // prettier-ignore
    own.decide('marit', 'approve')
    expect(codes(skipStep(own.facts(), stepOfPerson(own, 'marit'), WREN, 'Ill.', HIGH))).to.deep.equal(['decide.stepDecided']) // prettier-ignore
    expect(codes(skipped(own.facts(), stepOfPerson(own, 'marit'), 'Ill.', null))).to.deep.equal(['decide.stepDecided'])
    expect(codes(skipped(alone.facts(), stepOfPerson(alone, 'marit'), 'Ill.', 'wren')), 'agreed to when nobody else is left').to.deep.equal(['decide.lastStep']) // prettier-ignore
    own.act('withdraw')
    expect(codes(skipStep(own.facts(), stepOfPerson(own, 'tomas'), WREN, 'Ill.', HIGH))).to.deep.equal(['state.notNow'])
  })
})

describe('adding somebody who decides', () => {
  const to = { id: 'orla', name: 'Orla', able: true }
  it('is for stewards, and where allowed for the requester and whoever decides now', () => {
    const facts = waiting().facts()
    const may = (actor: ReturnType<typeof actorOf>, byHand: boolean) => whyNotAdd(facts, actor, byHand).length === 0
    expect([may(WREN, false), may(INES, true), may(INES, false)]).to.deep.equal([true, true, false])
    expect([may(actorOf('marit'), true), may(actorOf('henrik'), true), may(actorOf('bo'), true)]).to.deep.equal([true, false, false]) // prettier-ignore
    expect(whyNotAdd({ ...facts, state: 'approved' }, WREN, true).map(one => one.code)).to.deep.equal(['state.notNow'])
  })

  it('asks them beside those who are asked now, once, never the requester, nor somebody without the right', () => {
    const facts = waiting().facts()
    const done = addStep(facts, to, INES, 'Knows it.', true)
    expect(done.ok && done.next).to.deep.equal({ personId: 'orla', stage: 1 })
    expect(done.ok && done.says.map(one => one.to.id)).to.deep.equal(['orla'])
    expect(codes(addStep(facts, { ...to, able: false }, INES, 'Knows it.', true))).to.deep.equal([
      'decide.withoutRight',
    ])
    expect(codes(addStep(facts, { ...to, id: 'ines' }, WREN, 'Knows it.', true))).to.deep.equal(['decide.own'])
    expect(codes(addStep(facts, { ...to, id: 'henrik' }, WREN, 'Knows it.', true))).to.deep.equal([
      'decide.askedAlready',
    ])
    expect(codes(addStep(facts, to, WREN, '', true))).to.deep.equal(['decide.noReason'])
    expect(codes(addStep(facts, to, INES, 'Knows it.', false))).to.deep.equal(['right.notYours'])
  })
})

describe('sending back, and asking anew', () => {
  it('a steward sends back what waits; what was reserved is free, and nobody is asked any more', () => {
    const facts = waiting().facts()
    expect(codes(sendBack(facts, actorOf('marit'), 'Stuck.'))).to.include('right.notYours')
    expect(codes(sendBack(facts, WREN, ''))).to.deep.equal(['decide.noReason'])
    expect(codes(sendBack({ ...facts, state: 'approved' }, WREN, 'Stuck.'))).to.deep.equal(['state.notNow'])
    const done = sendBack(facts, WREN, 'Stuck.')
    expect(done.ok && done.next).to.deep.include({ state: 'returned' })
    expect(done.ok && done.next.consent?.drops).to.have.length(3)
    expect(done.ok && done.budget.length).to.be.above(0)
  })

  const taken = (decidedBy: string, changed: Partial<TakenStep> = {}): TakenStep => ({
    id: 'old',
    state: 'approved',
    decidedBy,
    onBehalfOf: null,
    rules: [{ name: 'Rule 1', costCentre: null }],
    ...changed,
  })
  it('what was decided stands for the same rule and person, or in their place, and for nothing else', () => {
    const step = pathStep(1, 'marit')
    expect(standsFor(step, [taken('marit')])?.id).to.equal('old')
    expect(standsFor(step, [taken('tomas', { onBehalfOf: 'marit' })])?.id).to.equal('old')
    expect(standsFor(step, [taken('tomas')])).to.equal(null)
    expect(standsFor(step, [taken('marit', { state: 'rejected' })])).to.equal(null)
    expect(standsFor(step, [taken('marit', { state: 'open', decidedBy: null })])).to.equal(null)
    expect(standsFor(step, [taken('marit', { rules: [{ name: 'Rule 2', costCentre: null }] })])).to.equal(null)
    expect(standsFor(step, [taken('marit', { rules: [{ name: 'Rule 1', costCentre: 'LS-210' }] })])).to.equal(null)
    const byHand = { ...step, rules: [] }
    expect(standsFor(byHand, [taken('marit')]), 'added by hand').to.equal(null)
    expect(standsFor(byHand, [taken('marit', { rules: [] })])?.id).to.equal('old')
    expect(standsFor(byHand, [taken('tomas', { rules: [] })])).to.equal(null)
    expect(standsFor(step, [taken('marit', { rules: [] })])).to.equal(null)
    const both = { ...step, rules: [...step.rules, ...pathStep(2, 'x').rules] }
    expect(standsFor(both, [taken('marit')])).to.equal(null)
    expect(standsFor(both, [taken('marit'), taken('marit', { rules: [{ name: 'Rule 2', costCentre: null }] })])?.id).to.equal('old') // prettier-ignore
  })

  it('asks only the rest, in the next round', () => {
    const facts = waiting().facts()
    const again = (reason = 'Stuck.', path = PATH, actor = WREN) => askAgain(facts, path, [], [taken('marit')], actor, reason) // prettier-ignore
    const done = again()
    expect(done.ok && done.next.stands.map(one => one?.id ?? null)).to.deep.equal(['old', null, null])
    expect(done.ok && [done.next.round, done.did.changes]).to.deep.equal([2, { kept: 1, asked: 2 }])
    expect(done.ok && done.next.ends.state).to.equal('dropped')
    expect(codes(again(''))).to.deep.equal(['decide.noReason'])
    expect(codes(again('Stuck.', PATH, actorOf('marit')))).to.deep.equal(['right.notYours'])
    expect(codes(askAgain(facts, PATH, [{ code: 'decide.nobody', level: 'stop', details: {} }], [], WREN, 'Stuck.'))).to.deep.equal(['decide.nobody']) // prettier-ignore
  })
})

describe('asking first', () => {
  it('is for whoever decides now; their step waits for the answer', () => {
    const world = waiting()
    expect(codes(askFirst(world.facts(), actorOf('henrik'), 'Why?', 'q'))).to.deep.equal(['decide.notYours'])
    expect(codes(askFirst(world.facts(), actorOf('marit'), ' ', 'q'))).to.deep.equal(['decide.noQuestion'])
    const done = askFirst(world.facts(), actorOf('marit'), 'Which tank?', 'q')
    expect(done.ok && done.next).to.deep.equal({ stepId: stepOfPerson(world, 'marit') })
    expect(done.ok && done.says[0]).to.deep.include({ key: 'asked:q', to: { kind: 'person', id: 'ines' } })
  })
})

describe('whatever is done about decisions', () => {
  it('none is approved without somebody who was asked and did not ask; there is always somebody to move it', () => {
    const people = ['marit', 'tomas', 'henrik', 'ines']
    const act = fc.tuple(fc.constantFrom('approve', 'skip', 'skip', 'pass'), fc.nat(5), fc.constantFrom(...people))
    let ends = 0
    fc.assert(
      fc.property(fc.array(act, { maxLength: 20 }), history => {
        const world = waiting()
        const decided: string[] = []
        for (const [what, at, by] of history) {
          const step = world.consent!.steps[at % world.consent!.steps.length]!
          if (what === 'approve' && world.decide(by, 'approve').ok) decided.push(by)
          if (what === 'pass') world.pass(at % 3, by)
          const done = what === 'skip' ? skipStep(world.facts(), step.id, WREN, 'Ill.', HIGH) : undefined
          if (done?.ok && done.next.kind === 'skipped') {
            const { consent, stepId, approved } = done.next
            const state = (id: string, was: Consent['steps'][number]['state']) => (id === stepId ? 'skipped' : consent.opens.includes(id) ? 'open' : was) // prettier-ignore
            world.consent = { ...world.consent!, state: consent.state, steps: world.consent!.steps.map(one => ({ ...one, state: state(one.id, one.state) })) } // prettier-ignore
            if (approved) world.state = 'approved'
          }
          if (world.state === 'approved') {
            ends++
            expect(decided.length).to.be.above(0)
            expect(decided).to.not.include('ines')
            return
          }
          expect(world.consent!.steps.some(one => one.state === 'open')).to.equal(true)
        }
      }),
      { numRuns: 300, seed: 5 },
    )
    expect(ends).to.be.above(30)
  })
})
