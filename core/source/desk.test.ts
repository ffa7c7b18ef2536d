import { expect } from 'chai'
import { onboardingDesk, type OnboardingWaits, supplierDesk, type SupplierWaits } from '#core/source/desk.ts'
import { barQuestion, accountQuestion, officesFor, onboardingQuestion, sharedQuestion } from '#core/source/questions.ts'
import { ONBOARDING_STATES, SUPPLIER_STATE_CODES, type OnboardingState } from '#core/source/states.ts'

describe('what waits because of a supplier', () => {
  const supplier: SupplierWaits = {
    id: 's1',
    number: 'S-1',
    name: 'Kroonvis',
    state: 'active',
    ownerId: null,
    certificates: [],
    revisions: null,
    bounced: null,
  }

  it('is nothing where nothing ends, changed or bounced', () => {
    for (const state of SUPPLIER_STATE_CODES) expect(supplierDesk({ ...supplier, state })).to.deep.equal([])
  })

  it('a certificate waits for its keeper from the second reminder on: thirty days before its last day', () => {
    const certificates = [{ kind: 'Food', validTo: '2026-12-31' }]
    const [entry] = supplierDesk({ ...supplier, certificates })
    expect(entry).to.deep.include({
      key: 'certificateEnds',
      from: '2026-12-02',
      since: '2026-11-01',
      needBy: '2026-12-31',
      audiences: ['right:supplier.write'],
      path: '/source/s1',
      details: { number: 'S-1', title: 'Kroonvis', extra: 'Food' },
    })
    const [owned] = supplierDesk({ ...supplier, certificates, ownerId: 'rasmus' })
    expect(owned!.audiences).to.deep.equal(['person:rasmus'])
  })

  it('fields that it changed wait in every state, bounced addresses and certificates only while it trades', () => {
    const waits = {
      ...supplier,
      revisions: { count: 3, since: '2026-11-03' },
      bounced: { emails: ['a@kroonvis.example', 'b@kroonvis.example'], since: '2026-11-04' },
      certificates: [{ kind: 'Food', validTo: '2026-12-31' }],
    }
    const shown = (state: SupplierWaits['state']) =>
      supplierDesk({ ...waits, state }).map(one => [one.key, one.since, one.details.extra])
    expect(shown('active')).to.deep.equal([
      ['revision', '2026-11-03', 3],
      ['bounced', '2026-11-04', 'a@kroonvis.example, b@kroonvis.example'],
      ['certificateEnds', '2026-11-01', 'Food'],
    ])
    expect(shown('barred').map(([key]) => key)).to.deep.equal(['revision'])
  })
})

describe('what waits because of an onboarding', () => {
  const onboarding: OnboardingWaits = {
    id: 'b1',
    number: 'B-1',
    supplier: 'Havnsund',
    state: 'proposed',
    proposedBy: 'Joren',
    createdAt: '2026-11-01',
    submittedAt: null,
  }
  const shown = (changed: Partial<OnboardingWaits>) =>
    onboardingDesk({ ...onboarding, ...changed }).map(one => [one.key, one.since, one.details.who, one.tone])

  it('is whom to invite, and answers to read; nothing in other states', () => {
    expect(shown({})).to.deep.equal([['proposed', '2026-11-01', 'Joren', 'plain']])
    expect(shown({ state: 'submitted', submittedAt: '2026-11-09' })).to.deep.equal([
      ['answersIn', '2026-11-09', undefined, 'plain'],
    ])
    expect(shown({ state: 'submitted' })).to.deep.equal([['answersIn', '2026-11-01', undefined, 'plain']])
    for (const state of Object.keys(ONBOARDING_STATES) as OnboardingState[])
      if (state !== 'proposed' && state !== 'submitted') expect(shown({ state }), state).to.deep.equal([])
    expect(onboardingDesk(onboarding)[0]!.path).to.equal('/source/onboardings/b1')
  })
})

describe('who is asked about suppliers', () => {
  it('the owners of the categories at once, and finance where one wants it or nobody owns any', () => {
    const pumps = { name: 'Pumps', ownerId: 'rasmus', needsFinance: false }
    const feed = { name: 'Feed', ownerId: null, needsFinance: false }
    expect(officesFor([pumps, feed])).to.deep.equal({
      owners: [{ category: 'Pumps', personId: 'rasmus' }],
      finance: false,
    })
    expect(officesFor([feed]).finance).to.equal(true)
    expect(officesFor([]).finance).to.equal(true)
    expect(officesFor([pumps, { ...feed, needsFinance: true }]).finance).to.equal(true)

    const offices = { owners: [{ category: 'Pumps', personId: 'rasmus' }], finance: true }
    const { steps, ...rest } = onboardingQuestion('b1', offices, ['ada'])
    expect(rest).to.deep.equal({ purpose: 'onboarding', documentKind: 'onboarding', documentId: 'b1', reason: '' })
    expect(steps).to.deep.equal([
      { stage: 1, asked: [{ kind: 'person', personId: 'rasmus' }], notBy: [], label: 'Pumps' },
      {
        stage: 1,
        asked: [{ kind: 'right', right: 'supplier.approve', costCentre: null }],
        notBy: ['ada'],
        label: '',
      },
    ])
    expect(onboardingQuestion('b1', { ...offices, finance: false }, ['ada']).steps).to.have.length(1)
  })

  it('a bar, a shared number and an account need somebody else than who wants them', () => {
    for (const question of [
      barQuestion('s1', 'ada', 'Fraud.'),
      sharedQuestion('q1', { name: 'x' }, 'ada', 'Two plants.'),
      accountQuestion('s1', 'a1', 'ada'),
    ]) {
      expect(question.steps.map(step => step.notBy)).to.deep.equal([['ada']])
      expect(question.steps[0]!.asked[0]).to.have.property('kind', 'right')
    }
    expect(accountQuestion('s1', 'a1', 'ada').steps[0]!.asked[0]).to.have.property('right', 'supplier.prove')
  })
})
