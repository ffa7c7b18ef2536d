import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { clearingQuestion, decidedDifference, differenceAmount, isAskedAbout } from '#core/bill/askClearing.ts'
import { clearHold, whyNotClear } from '#core/bill/clearHold.ts'
import { decideClearing, whyNotDecideClearing, withdrawClearing } from '#core/bill/decideClearing.ts'
import { invoiceDesk } from '#core/bill/desk.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import type { Consent } from '#core/consent/consent.ts'
import { minor } from '#core/money/amount.ts'
import { actorOf, ADA, OrderToPay } from '#test-helpers/orderToPay.ts'
import { asked } from '#test-helpers/runs.ts'

const codes = (one: Decision<unknown>): string[] => (one.ok ? [] : one.reasons.map(reason => reason.code))
const HENRIK = actorOf('henrik', { rights: new Set(['invoice.read']) })
const ACCOUNTS = new Map([
  ['a1', { costCentre: 'LS-210', account: '6210', project: null }],
  ['a2', { costCentre: 'AC-110', account: '6010', project: 'KELP-HALL' }],
])
const AROUND = { supplier: { number: 'S-1', state: 'active' }, accounts: ACCOUNTS }

/** Ten pieces billed for 120.00 that were ordered for 100.00, held for their price. */
function held(splits = [{ accountId: 'a1', share: '1' }]): { invoice: InvoiceFacts; hold: KeptHold } {
  const world = new OrderToPay({ lines: [{ splits }] })
  world.issue()
  world.receive([{ line: 1, quantity: '10' }])
  world.bill([{ line: 1, quantity: '10', net: 12_000n }])
  const invoice = world.invoice(0)
  return { invoice, hold: invoice.holds.find(one => one.kind === 'price')! }
}

/** The same with Henrik asked about it. */
function withQuestion(state: Consent['state'] = 'open', ended = false) {
  const { invoice, hold } = held()
  const standing = clearingQuestion(invoice, hold, 'ada', 'Agreed by telephone.')
  const step = { ...standing.steps[0]!, asked: [{ kind: 'person' as const, personId: 'henrik' }], label: 'Much' }
  const consent = { ...asked({ ...standing, steps: [step] }, 'ada'), state }
  const known = { ...hold, ended, asked: consent }
  return { hold: known, invoice: { ...invoice, holds: invoice.holds.map(one => (one.id === hold.id ? known : one)) } }
}

describe('a difference that others are asked about', () => {
  it('is told to the rules with its money, its supplier, and what pays for the line', () => {
    const { invoice, hold } = held([
      { accountId: 'a1', share: '3' },
      { accountId: 'a2', share: '1' },
    ])
    expect(hold.amount).to.equal(2_000n)
    expect(decidedDifference(invoice, hold, 'ada', AROUND)).to.deep.equal({
      kind: 'billDifference',
      requesterId: 'ada',
      total: 2_000n,
      lines: [
        {
          id: hold.id,
          facts: { supplier: 'S-1', supplierState: 'active', lineKind: 'goods' },
          parts: [
            { amount: 1_500n, facts: { costCentre: 'LS-210', account: '6210' } },
            { amount: 500n, facts: { costCentre: 'AC-110', account: '6010', project: 'KELP-HALL' } },
          ],
        },
      ],
    })
    const head = decidedDifference(invoice, { ...hold, position: null }, 'ada', AROUND).lines[0]!
    expect(head.facts).to.deep.equal({ supplier: 'S-1', supplierState: 'active' })
    expect(head.parts).to.deep.equal([{ amount: 2_000n, facts: {} }])
    expect(decidedDifference(invoice, hold, 'ada', { ...AROUND, accounts: new Map() }).lines[0]!.parts[0]!.facts).to.deep.equal({}) // prettier-ignore
  })

  it('counts in the base currency at the invoice’s rate', () => {
    const { invoice, hold } = held()
    expect(differenceAmount({ ...invoice, currency: 'GBP', rate: '1.2' }, hold)).to.equal(2_400n)
    expect(differenceAmount({ ...invoice, currency: 'JPY', rate: '0.0061' }, { amount: minor(1_000n) })).to.equal(610n)
  })

  it('is one question for each hold, which who asks never answers', () => {
    const { invoice, hold } = held()
    expect(clearingQuestion(invoice, hold, 'ada', 'So.')).to.deep.equal({
      purpose: 'difference',
      documentKind: 'invoice',
      documentId: invoice.id,
      part: hold.id,
      reason: 'So.',
      subject: { holdId: hold.id, kind: 'price', line: 1 },
      steps: [{ stage: 1, asked: [], notBy: ['ada'], label: '' }],
    })
  })

  it('is not accepted at once meanwhile, and waits for nobody else', () => {
    const { invoice, hold } = withQuestion()
    expect(isAskedAbout(hold)).to.equal(true)
    expect(isAskedAbout({ ...hold, ended: true })).to.equal(false)
    expect(codes(clearHold(invoice, hold.id, ADA, 'Because.'))).to.deep.equal(['bill.holdAsked'])
    const waits = { receivedAt: '2026-06-01T08:00:00Z', postedAt: null, changedAt: '2026-06-01T08:00:00Z', failedWith: null } // prettier-ignore
    expect(invoiceDesk({ ...invoice, ...waits })).to.deep.equal([])
    for (const state of ['refused', 'withdrawn', 'dropped'] as const) {
      const again = withQuestion(state)
      expect(whyNotClear(again.invoice, again.hold, ADA), state).to.deep.equal([])
      expect(
        invoiceDesk({ ...again.invoice, ...waits }).map(one => one.key),
        state,
      ).to.deep.equal(['hold'])
    }
  })

  it('is accepted with the yes, for the reason of who asked, and takes no other hold away', () => {
    const { invoice, hold } = withQuestion()
    const decided = decideClearing(invoice, hold.id, 'Agreed by telephone.', HENRIK, 'approve', '')
    if (!decided.ok) throw new Error(codes(decided).join())
    expect(decided.next.state).to.equal('matched')
    expect(decided.next.clears).to.deep.equal({ holdId: hold.id, reason: 'Agreed by telephone.' })
    expect(decided.next.asked).to.deep.include({ holdId: hold.id })
    expect(decided.next.asked!.consent.state).to.equal('given')
    expect(decided.did).to.deep.equal({
      action: 'holdCleared',
      changes: { kind: 'price', line: 1, rule: 'Much' },
      reason: 'Agreed by telephone.',
    })
    expect(decided.says).to.have.length(1)
    expect(decided.says[0]).to.deep.include({
      template: 'invoice.difference.approved',
      to: { kind: 'person', id: 'ada' },
      key: 'invoice-difference:consent',
    })
    expect(decided.says[0]!.details).to.deep.equal({
      number: invoice.number,
      title: `${invoice.supplier}, ${invoice.supplierNumber}`,
      currency: 'EUR',
      amount: '20.00',
      by: 'henrik',
      reason: '',
      path: `/bill/${invoice.id}`,
    })
    const other: KeptHold = { ...hold, id: 'other', kind: 'account', position: null, asked: null }
    const both = decideClearing({ ...invoice, iban: 'X', accounts: [], holds: [...invoice.holds, other] }, hold.id, 'So.', HENRIK, 'approve', 'Yes.') // prettier-ignore
    expect(both.ok && [both.next.state, both.did.reason]).to.deep.equal(['onHold', 'Yes.'])
  })

  it('goes on to the next stage with a yes, and stays where it stands with a no', () => {
    const { invoice, hold } = withQuestion()
    const two = { ...hold, asked: { ...hold.asked, steps: [...hold.asked.steps, { ...hold.asked.steps[0]!, id: 'second', stage: 2, state: 'later' as const }] } } // prettier-ignore
    const first = decideClearing({ ...invoice, holds: [two] }, hold.id, 'So.', HENRIK, 'approve', '')
    expect(first.ok && [first.next.asked!.consent.opens, first.next.clears, first.did.action, first.says]).to.deep.equal([['second'], undefined, 'decided', []]) // prettier-ignore
    expect(codes(decideClearing(invoice, hold.id, 'So.', HENRIK, 'reject', ''))).to.deep.equal(['decide.noReason'])
    const no = decideClearing(invoice, hold.id, 'So.', HENRIK, 'reject', 'Ask for a credit note.')
    if (!no.ok) throw new Error(codes(no).join())
    expect([no.next.state, no.next.clears, no.next.asked!.consent.state]).to.deep.equal([
      'onHold',
      undefined,
      'refused',
    ])
    expect([no.did.action, no.says[0]!.template]).to.deep.equal(['clearingRefused', 'invoice.difference.refused'])
  })

  it('is decided by those asked only, while the hold is there, and taken back by who asked', () => {
    const { invoice, hold } = withQuestion()
    expect(codes(decideClearing(invoice, hold.id, 'So.', ADA, 'approve', ''))).to.deep.equal(['bill.ownDifference'])
    expect(codes(decideClearing(invoice, 'unknown', 'So.', HENRIK, 'approve', ''))).to.deep.equal(['bill.holdEnded'])
    expect(whyNotDecideClearing({ ...hold, ended: true }, HENRIK).map(one => one.code)).to.deep.equal([
      'bill.holdEnded',
    ])
    const given = withQuestion('given')
    expect(codes(decideClearing(given.invoice, hold.id, 'So.', HENRIK, 'approve', ''))).to.deep.equal([
      'bill.differenceDecided',
    ])
    const back = withdrawClearing(invoice, hold.id, ADA, 'Found it.')
    expect(back.ok && [back.next.state, back.next.asked!.consent.state, back.did]).to.deep.equal([
      'onHold',
      'withdrawn',
      { action: 'clearingWithdrawn', changes: { kind: 'price', line: 1 }, reason: 'Found it.' },
    ])
    expect(codes(withdrawClearing(invoice, hold.id, HENRIK, 'No.'))).to.deep.equal(['secondYes.notYours'])
    const plain = held()
    expect(codes(withdrawClearing(plain.invoice, plain.hold.id, ADA, 'No.'))).to.deep.equal(['bill.holdEnded'])
  })
})
