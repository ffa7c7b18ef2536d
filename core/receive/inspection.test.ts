import { expect } from 'chai'
import fc from 'fast-check'
import { Decimal } from '#core/money/decimal.ts'
import { minor } from '#core/money/amount.ts'
import {
  concludeInspection,
  failsIn,
  type Finding,
  INSPECTION_STATES,
  type InspectionFacts,
  inspectionDesk,
  inspectionMail,
  notAccepted,
  planFor,
  verdict,
} from '#core/receive/inspection.ts'
import { ADA, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

const BORE = { name: 'Bore', unit: 'MMT', low: '9.9', high: '10.1' }
const LOOK = { name: 'Look', unit: '', low: '', high: '' }
const facts = (changed: Partial<InspectionFacts> = {}): InspectionFacts => ({
  number: 'Q-1',
  state: 'waiting',
  lineId: 'line1',
  left: '6',
  plan: { sample: 2, acceptUpTo: 0 },
  characteristics: [],
  ...changed,
})
const finding = (changed: Partial<Finding> = {}): Finding => ({
  looked: 2,
  readings: [],
  accepted: '6',
  deducted: '0',
  deductPercent: '0',
  rejected: '0',
  reason: '',
  ...changed,
})
/** Ten ordered at 10.00, six in, of a line whose bills wait. */
const order = (inspects = true, changed: object = {}) => {
  const world = new OrderToPay()
  world.issue()
  world.receive([{ line: 1, quantity: '6' }] as never)
  const facts = world.order()
  return { ...facts, lines: facts.lines.map(line => ({ ...line, inspects, ...changed })) }
}
const say = (told: Partial<Finding>, around: Partial<InspectionFacts> = {}, who = ADA, of = order()) =>
  concludeInspection(facts(around), of, finding(told), who)
const refusals = (...given: Parameters<typeof say>): string[] => {
  const decided = say(...given)
  return decided.ok ? [] : decided.reasons.map(({ code, place }) => [code, place].filter(Boolean).join(' '))
}
const entries = (...given: Parameters<typeof say>): string[] => {
  const decided = say(...given)
  return decided.ok ? decided.quantity.map(one => `${one.kind} ${one.quantity}`) : ['refused']
}

describe('an inspection', () => {
  it('looks at every piece, or at as many as the plan for the size of the delivery says', () => {
    expect(planFor({ inspect: 'all', aql: '1.0' }, '6')).to.deep.equal({ sample: 6, acceptUpTo: 0 })
    expect(planFor({ inspect: 'first', aql: '1.0' }, '2.5')).to.deep.equal({ sample: 3, acceptUpTo: 0 })
    expect(planFor({ inspect: 'all', aql: '1.0' }, '0.2')).to.deep.equal({ sample: 1, acceptUpTo: 0 })
    expect(planFor({ inspect: 'sample', aql: '2.5' }, '500')).to.deep.equal({ sample: 50, acceptUpTo: 3 })
  })

  it('lets the limits pass and nothing outside them; without limits and unit it is looked over', () => {
    expect(['9.9', '10.1', '9.89', '10.11'].map(value => failsIn(BORE, value))).to.deep.equal([
      false,
      false,
      true,
      true,
    ])
    expect(failsIn({ ...BORE, low: '' }, '-5')).to.equal(false)
    expect(failsIn({ ...BORE, high: '' }, '500')).to.equal(false)
    expect(['pass', 'fail'].map(value => failsIn(LOOK, value))).to.deep.equal([false, true])
  })

  it('counts a piece that fails in two things once', () => {
    const of = { characteristics: [BORE, LOOK], plan: { sample: 3, acceptUpTo: 1 } }
    const bad = { Bore: '9', Look: 'fail' }
    expect(verdict(of, [bad, { Bore: '10', Look: 'pass' }])).to.deep.equal({ failed: 1, passes: true })
    expect(verdict(of, [bad, { Bore: '10', Look: 'fail' }])).to.deep.equal({ failed: 2, passes: false })
    expect(verdict({ ...of, characteristics: [] }, [{ 'As ordered': 'fail' }]).failed).to.equal(1)
  })

  it('accepts what is good, so that its bill can pass, and rejects the rest', () => {
    expect(entries({})).to.deep.equal(['accepted 6'])
    const told = { accepted: '3', deducted: '1', deductPercent: '10', rejected: '2', reason: 'Two leak.' }
    expect(entries(told)).to.deep.equal(['accepted 4', 'rejected 2'])
    expect(entries({ accepted: '0', rejected: '6', reason: 'All leak.' })).to.deep.equal(['rejected 6'])
    expect(entries(told, {}, ADA, order(false)), 'bills do not wait').to.deep.equal(['rejected 2'])
  })

  it('accepts no more than has come and is not accepted already', () => {
    const of = order()
    const some = { ...of, lines: of.lines.map(line => ({ ...line, sums: { ...line.sums, accepted: '4' } })) }
    expect(entries({}, {}, ADA, some)).to.deep.equal(['accepted 2'])
  })

  it('says by its state what became of the goods, and who was told', () => {
    const states = [
      {},
      { accepted: '5', rejected: '1', reason: 'Bent.' },
      { accepted: '0', rejected: '6', reason: 'Bent.' },
    ]
    expect(states.map(told => { const done = say(told); return done.ok && done.next.state })).to.deep.equal(['passed', 'passedInPart', 'rejected']) // prettier-ignore
    const done = say(states[1]!)
    expect(done.ok && done.did).to.deep.include({ action: 'inspected', reason: 'Bent.' })
    expect(done.ok && done.did.changes).to.deep.equal({
      inspection: 'Q-1',
      lines: [{ position: 1, accepted: '5', deducted: '0', rejected: '1', unit: 'C62' }],
    })
  })

  it('takes off so many per cent of the ordered price for what is taken for less, and gives them back to the accounts', () => {
    const done = say({ accepted: '3', deducted: '3', deductPercent: '12.5', reason: 'Scratched.' })
    expect(done.ok && done.next.deduction).to.deep.equal({
      lineId: 'line1',
      position: 1,
      description: order().lines[0]!.description,
      quantity: '3',
      unit: 'C62',
      net: minor(375),
    })
    expect(done.ok && done.budget.filter(one => one.kind === 'spent').map(one => one.amount)).to.deep.equal([-375n])
    expect(done.ok && done.did.changes).to.deep.include({ percent: '12.5' })
    const full = say({})
    expect(full.ok && [full.next.deduction, full.budget.filter(one => one.kind === 'spent')]).to.deep.equal([null, []])
  })

  it('wants all of what is left told, in figures', () => {
    expect(refusals({ accepted: '5' })).to.deep.equal(['inspection.sum accepted'])
    expect(refusals({ accepted: '7', rejected: '-1' })).to.deep.equal(['receive.quantity rejected'])
    expect(refusals({ accepted: 'x' })).to.deep.equal(['receive.quantity accepted'])
    expect(refusals({ accepted: '5', deducted: '1.1234567', reason: 'So.' })).to.deep.equal([
      'receive.quantity deducted',
    ])
    for (const deductPercent of ['0', '-1', '100.1', ''])
      expect(refusals({ accepted: '5', deducted: '1', deductPercent, reason: 'So.' }), deductPercent).to.deep.equal(['inspection.percent deductPercent']) // prettier-ignore
    expect(refusals({ accepted: '5', deducted: '1', deductPercent: '100', reason: 'So.' })).to.deep.equal([])
  })

  it('wants a reason where not all is taken, where fewer were looked at, and where the plan says otherwise', () => {
    expect(refusals({ accepted: '5', rejected: '1' })).to.deep.equal(['inspection.why reason'])
    expect(refusals({ looked: 1 })).to.deep.equal(['inspection.wantsReason reason', 'inspection.fewer looked'])
    expect(refusals({ looked: 1, reason: 'The rest is sealed.' })).to.deep.equal([])
    const failing = { readings: [{ 'As ordered': 'fail' }] }
    expect(refusals(failing)).to.deep.equal(['inspection.wantsReason reason', 'inspection.against accepted'])
    expect(refusals(failing, { plan: { sample: 2, acceptUpTo: 1 } })).to.deep.equal([])
  })

  it('takes readings of what is looked at, and every value of what is measured', () => {
    const measured = { characteristics: [BORE] }
    expect(refusals({ readings: [{ Bore: '10' }, { Bore: '10.1' }] }, measured)).to.deep.equal([])
    expect(refusals({ readings: [{ Bore: '10' }] }, measured)).to.deep.equal(['inspection.measureAll readings'])
    expect(refusals({ readings: [{ Bore: '10' }, { Bore: '' }] }, measured)).to.deep.equal(['inspection.reading readings.1.Bore']) // prettier-ignore
    expect(refusals({ readings: [{ Bore: '10' }, { Bore: '10', Weight: '3' }] }, measured)).to.deep.equal(['inspection.reading readings.1']) // prettier-ignore
    expect(refusals({ readings: [{ Look: 'well' }] }, { characteristics: [LOOK] })).to.deep.equal(['inspection.reading readings.0.Look']) // prettier-ignore
    expect(refusals({ looked: 1, readings: [{ Look: 'pass' }, { Look: 'pass' }], reason: 'So.' }, { characteristics: [LOOK] })).to.deep.equal(['inspection.looked looked']) // prettier-ignore
    expect(refusals({ looked: 0, reason: 'So.' })).to.deep.equal(['inspection.looked looked'])
    expect(refusals({ looked: 2.5 })).to.deep.equal(['inspection.looked looked'])
  })

  it('is said once, by who receives', () => {
    expect(refusals({}, {}, NOBODY)[0]).to.match(/^right/)
    for (const state of ['passed', 'passedInPart', 'rejected', 'ended'] as const)
      expect(say({}, { state }).ok, state).to.equal(false)
    expect(Object.keys(INSPECTION_STATES)).to.have.length(5)
  })

  it('leaves to go back first what nobody has found good', () => {
    const of = (state: InspectionFacts['state'], rejected: string, gone: string) => notAccepted({ state, rejected, quantity: '6', gone }) // prettier-ignore
    expect([of('waiting', '0', '0'), of('waiting', '0', '4'), of('passedInPart', '2', '1'), of('passedInPart', '2', '5'), of('passed', '0', '0'), of('ended', '2', '0')]).to.deep.equal(['6', '2', '1', '0', '0', '0']) // prettier-ignore
  })

  it('waits for whoever receives until it is said, and tells the supplier what was not good', () => {
    const about = { id: 'q', title: 'Hoses', who: 'Norsped', place: 'Quay', since: '2026-06-01', needBy: null }
    const [entry] = inspectionDesk({ number: 'Q-1', state: 'waiting' }, about)
    expect([entry!.key, entry!.audiences, entry!.path]).to.deep.equal([
      'inspect',
      ['right:delivery.receive'],
      '/receive/inspections/q',
    ])
    expect(inspectionDesk({ number: 'Q-1', state: 'passed' }, about)).to.deep.equal([])
    const mail = inspectionMail(
      order(),
      facts(),
      finding({ rejected: '2', deductPercent: '5', reason: 'Bent.' }),
      'DN-1',
    )
    expect([mail.to.kind, mail.key, mail.details.rejected, mail.details.deducted, mail.details.debit]).to.deep.equal(['supplier', 'inspection:Q-1', '2', '', 'DN-1']) // prettier-ignore
  })

  it('never accepts more than came, however often and whatever is said', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(6), fc.nat(6)), { maxLength: 4 }), tries => {
        let of = order()
        for (const [accepted, deducted] of tries) {
          const rejected = String(6 - accepted - deducted)
          const done = say({ accepted: String(accepted), deducted: String(deducted), deductPercent: '10', rejected, reason: 'So.' }, {}, ADA, of) // prettier-ignore
          if (!done.ok) continue
          const more = done.quantity.filter(one => one.kind === 'accepted').reduce((sum, one) => sum.plus(one.quantity), new Decimal(0)) // prettier-ignore
          of = { ...of, lines: of.lines.map(line => ({ ...line, sums: { ...line.sums, accepted: more.plus(line.sums.accepted).toString() } })) } // prettier-ignore
        }
        return new Decimal(of.lines[0]!.sums.accepted).lte(6)
      }),
    )
  })
})
