import { expect } from 'chai'
import {
  acceptReport,
  leftFor,
  refuseReport,
  REPORT_STATES,
  type ReportEntry,
  type ReportFacts,
  sendReport,
  whyNotAnswer,
  whyNotReport,
  workOrder,
} from '#core/receive/workReport.ts'
import { ADA, actorOf, OrderToPay } from '#test-helpers/orderToPay.ts'

const JOREN = actorOf('joren', { rights: new Set() })
const entry = (changed: Partial<ReportEntry> = {}): ReportEntry => ({ number: 'WR-7', quantity: '4', from: '2026-05-01', to: '2026-05-31', place: 'Hall', people: [], note: '', ...changed }) // prettier-ignore
const report = (changed: Partial<ReportFacts> = {}): ReportFacts => ({ number: 'W-1', state: 'sent', lineId: 'line1', entry: entry(), origin: 'supplier', byId: 'sunniva', others: '0', ...changed }) // prettier-ignore
/** Ten hours at 10.00, of which so many are accepted. */
function hours(accepted = '0', proof: 'acceptWork' | 'billFirst' | 'none' = 'acceptWork') {
  const world = new OrderToPay({ lines: [{ kind: 'workByRate', unit: 'HUR', proof, requesterId: 'joren' }, {}] })
  world.issue()
  const order = world.order()
  return { ...order, lines: order.lines.map(line => line.id === 'line1' ? { ...line, sums: { ...line.sums, accepted } } : line) } // prettier-ignore
}
const codes = (reasons: readonly { code: string; place?: string }[]): string[] => reasons.map(one => [one.code, one.place].filter(Boolean).join(' ')) // prettier-ignore
const against = (decided: { ok: true } | { ok: false; reasons: readonly { code: string }[] }): string[] => (decided.ok ? [] : codes(decided.reasons)) // prettier-ignore

describe('a work report', () => {
  it('says beforehand what comes first: the report, the invoice, or nothing', () => {
    expect([workOrder('acceptWork'), workOrder('billFirst'), workOrder('none')]).to.deep.equal(['reportFirst', 'invoiceFirst', 'none']) // prettier-ignore
  })

  it('is told up to its ceiling, less what is accepted and what others wait for', () => {
    const [line] = hours('3').lines
    expect([leftFor(line!, '0'), leftFor(line!, '2.5'), leftFor(line!, '9')]).to.deep.equal(['7', '4.5', '0'])
    const told = (quantity: string, others = '0') => codes(whyNotReport(hours('3'), report({ entry: entry({ quantity }), others }))) // prettier-ignore
    expect([told('7'), told('7.1'), told('4', '4')]).to.deep.equal([[], ['report.ceiling quantity'], ['report.ceiling quantity']]) // prettier-ignore
    const [reason] = whyNotReport(hours('3'), report({ entry: entry({ quantity: '8' }) }))
    expect([reason!.details, reason!.clearedBy]).to.deep.equal([{ left: '7', ordered: '10', accepted: '3' }, ['buyer']])
  })

  it('is of a line of work that is reported, with a quantity, a period that does not run backwards, and people who add up', () => {
    const told = (changed: Partial<ReportEntry>, of = hours(), lineId = 'line1') => codes(whyNotReport(of, report({ entry: entry(changed), lineId }))) // prettier-ignore
    expect([told({}, hours(), 'line2'), told({}, hours(), 'line9'), told({}, hours('0', 'none'))]).to.deep.equal([['report.foreignLine'], ['report.foreignLine'], ['report.notNeeded']]) // prettier-ignore
    for (const quantity of ['0', '-1', 'x', '1.1234567']) expect(told({ quantity }), quantity).to.deep.equal(['report.quantity quantity']) // prettier-ignore
    expect([told({ to: '2026-04-30' }), told({ to: '2026-05-01' })]).to.deep.equal([['report.period to'], []])
    const people = (...some: string[]) => told({ people: some.map(quantity => ({ name: 'S', quantity })) })
    expect([people('', ''), people('1.5', '2.5'), people('4', ''), people('1', '2'), people('x')]).to.deep.equal([[], [], [], ['report.people people'], ['report.people people']]) // prettier-ignore
    expect(told({}, { ...hours(), state: 'cancelled' })).to.have.length(1)
  })

  it('is handed in from a draft, or anew after it was refused', () => {
    const sent = sendReport(hours(), report({ state: 'draft' }))
    expect(sent.ok && [sent.next.state, sent.did.action, sent.did.changes]).to.deep.equal(['sent', 'reported', { report: 'W-1', quantity: '4' }]) // prettier-ignore
    expect(sendReport(hours(), report({ state: 'refused' })).ok).to.equal(true)
    for (const state of ['sent', 'accepted', 'partAccepted', 'withdrawn'] as const) expect(sendReport(hours(), report({ state })).ok, state).to.equal(false) // prettier-ignore
    expect(against(sendReport(hours('9'), report({ state: 'draft' })))).to.deep.equal(['report.ceiling quantity'])
    expect(REPORT_STATES.withdrawn).to.deep.equal({})
  })

  it('is accepted by who asked for the work, in full or in part with a reason, and says so to the supplier', () => {
    const whole = acceptReport(hours(), report(), '4.0', JOREN, '')
    expect(whole.ok && [whole.next, whole.did.action, whole.quantity.map(one => `${one.kind} ${one.quantity}`), whole.says[0]!.template]).to.deep.equal([{ state: 'accepted', accepted: '4' }, 'reportAccepted', ['accepted 4.0'], 'report.accepted']) // prettier-ignore
    expect(against(acceptReport(hours(), report(), '3', JOREN, ' '))).to.deep.equal(['report.whyPart reason'])
    const part = acceptReport(hours(), report(), '3', JOREN, 'One was for the other hall.')
    expect(part.ok && [part.next.state, part.did.action, part.says[0]!.details['quantity'], part.says[0]!.details['told']]).to.deep.equal(['partAccepted', 'reportAcceptedInPart', '3', '4']) // prettier-ignore
    for (const quantity of ['0', '-1', '4.1', 'x']) expect(against(acceptReport(hours(), report(), quantity, JOREN, 'So.')), quantity).to.deep.equal(['report.moreThanTold quantity']) // prettier-ignore
    expect(against(acceptReport(hours('7'), report(), '4', JOREN, ''))).to.deep.equal(['report.ceiling quantity'])
    expect(acceptReport(hours('6'), report(), '4', JOREN, '').ok).to.equal(true)
  })

  it('is answered by nobody else, not twice, and not by who ordered and handed it in alone', () => {
    expect(against(acceptReport(hours(), report(), '4', actorOf('dov', { rights: new Set() }), ''))).to.have.length(1)
    for (const state of ['draft', 'accepted', 'partAccepted', 'refused', 'withdrawn'] as const) expect(acceptReport(hours(), report({ state }), '4', JOREN, '').ok, state).to.equal(false) // prettier-ignore
    const own = { ...hours(), buyerId: 'joren' }
    expect(codes(whyNotAnswer(own, report({ byId: 'joren' }), JOREN))).to.deep.equal(['report.orderedAndSupplied'])
    expect(whyNotAnswer(own, report(), JOREN)).to.deep.equal([])
    expect(whyNotAnswer(hours(), report({ byId: 'joren' }), JOREN)).to.deep.equal([])
    expect(codes(whyNotAnswer(hours(), report({ lineId: 'line9' }), JOREN))).to.deep.equal(['right.notYours'])
    expect(acceptReport({ ...hours(), state: 'cancelled' }, report(), '4', JOREN, '').ok).to.equal(false)
  })

  it('is refused with a reason, which the supplier reads; nothing is accepted', () => {
    const no = refuseReport(hours(), report(), JOREN, 'Nobody was here.')
    expect(no.ok && [no.next, no.quantity, no.says[0]!.template, no.says[0]!.details['reason'], no.did.action]).to.deep.equal([{ state: 'refused', accepted: '0' }, [], 'report.refused', 'Nobody was here.', 'reportRefused']) // prettier-ignore
    expect(against(refuseReport(hours(), report(), JOREN, ' '))).to.deep.equal(['report.whyRefused reason'])
    expect(refuseReport(hours(), report(), actorOf('dov', { rights: new Set() }), 'So.').ok).to.equal(false)
    expect(ADA.id).to.equal(hours().buyerId)
  })
})
