import { expect } from 'chai'
import { type AnswerContent, checkAnswer, emptyLine, knockedOut, offeredLines } from '#core/source/answer.ts'
import {
  answersOpen,
  type EventFacts,
  isAsking,
  isOver,
  lotRules,
  phaseOf,
  standingOfInvited,
} from '#core/source/event.ts'
import {
  beginAgain,
  cancelEvent,
  checkEvent,
  eventActions,
  extendEvent,
  sendEvent,
  takeUpEvent,
  readersOf,
  toRemind,
  whyNotRemind,
} from '#core/source/eventActs.ts'
import { eventDesk } from '#core/source/eventDesk.ts'
import { checkKind, type EventKind, NEW_KIND } from '#core/source/eventKind.ts'
import { dueMessages, type EventMessage, type MessageTimes } from '#core/source/eventMessages.ts'
import { checkRange, nextShown, takeNumber, takeOutside } from '#core/source/eventNumber.ts'
import { EVENT_GROUPS, EVENT_STATES, type EventState } from '#core/source/eventStates.ts'
import { type InvitedAct, whyNotAs, whyNotBehalf, whyNotSave, whyNotSubmit, whyNotSuspend } from '#core/source/invitedActs.ts' // prettier-ignore
import { proposeSuppliers } from '#core/source/proposeSuppliers.ts'
import { isOpenTo, type JoiningSupplier, whyNotJoin } from '#core/source/joinEvent.ts'
import { actionsFrom } from '#core/states.ts'
import { answerOf, eventFacts, eventLine, eventLot, invitedOne, NOW } from '#test-helpers/events.ts'

const rasmus = { id: 'rasmus', name: 'Rasmus', rights: new Set(['event.write', 'event.read']), roles: [], costCentres: [], supplierId: null, standsInFor: [] } // prettier-ignore
const guest = { ...rasmus, rights: new Set<string>() }
const codes = (reasons: readonly { readonly code: string }[]): string[] => reasons.map(one => one.code)
const END = '2026-03-02T12:00:00.000Z'
const sending = { endsOn: '2026-03-02', calendar: { restDays: [0, 6], holidays: ['2026-03-04'] }, lapsed: [] }
const at = (minutes: number): string => new Date(Date.parse(END) + minutes * 60_000).toISOString()

describe('an event and its clock', () => {
  it('asks until its end, which does not count any more, whoever has said so', () => {
    const event = eventFacts()
    expect(isAsking(event, at(-0.001))).to.equal(true)
    expect(isOver(event, at(0))).to.equal(true)
    expect(isAsking(event, at(0))).to.equal(false)
    expect(isOver({ ...event, endsAt: null }, at(9999))).to.equal(false)
    for (const state of EVENT_GROUPS.judged) expect(isOver({ ...event, state }, NOW), state).to.equal(true)
    expect(isOver({ ...event, state: 'cancelled' }, at(5))).to.equal(false)
  })

  it('lets our side read sealed answers from the end on, others at once', () => {
    const sealed = eventFacts({ kind: { sealed: true } })
    expect(answersOpen(sealed, at(-1))).to.equal(false)
    expect(answersOpen(sealed, at(0))).to.equal(true)
    expect(answersOpen(eventFacts(), at(-1))).to.equal(true)
  })

  it('has a way out of every state but those that end it', () => {
    for (const state of Object.keys(EVENT_STATES) as EventState[])
      expect(actionsFrom(EVENT_STATES, state).length > 0, state).to.equal(state !== 'settled')
  })

  it('is told as over from its end on, and as known where nobody was asked', () => {
    const said = (changed: Partial<EventFacts>, now = NOW) => phaseOf(eventFacts(changed), now)
    expect([said({}), said({}, at(0)), said({ state: 'over' })]).to.deep.equal(['asking', 'over', 'over'])
    expect([said({ state: 'over', sentAt: null }), said({ state: 'awarded', sentAt: null }), said({ state: 'draft', sentAt: null })]).to.deep.equal(['known', 'awarded', 'draft']) // prettier-ignore
  })

  it('knows how far a supplier has come, what weighs most first', () => {
    const said = (changed: Parameters<typeof invitedOne>[1], over = false) => standingOfInvited(invitedOne('s', changed), over) // prettier-ignore
    expect(said({ sentAt: null })).to.equal('toSend')
    expect(said({})).to.equal('sent')
    expect(said({ openedAt: NOW })).to.equal('opened')
    expect(said({ openedAt: NOW, acceptedAt: NOW })).to.equal('accepted')
    expect(said({ acceptedAt: NOW, means: true })).to.equal('means')
    expect(said({ means: false })).to.equal('declined')
    expect(said({ declinedAt: NOW }, true)).to.equal('declined')
    expect(said({ answeredAt: NOW, declinedAt: NOW }, true)).to.equal('answered')
    expect(said({ withdrawnAt: NOW })).to.equal('withdrawn')
    expect(said({ withdrawnAt: NOW }, true)).to.equal('withdrawn')
    expect(said({}, true)).to.equal('late')
    expect(said({ sentAt: null }, true)).to.equal('toSend')
    expect(said({ answeredAt: NOW, suspendedAt: NOW })).to.equal('suspended')
  })

  it('gives a lot the rules that are entered, in the smallest unit', () => {
    const lot = eventLot('lot', { ceiling: '100.50', lineCeilings: { a: '40', b: '' }, step: { kind: 'amount', value: '5', against: 'best' } }) // prettier-ignore
    const rules = lotRules(lot, 'EUR', true)
    expect(rules.ceiling).to.equal(10_050n)
    expect([...rules.lineCeilings]).to.deep.equal([['a', 4000n]])
    expect(rules.step).to.deep.equal({ kind: 'amount', amount: 500n, against: 'best' })
    expect(rules.sealed).to.equal(true)
    const percent = lotRules({ ...lot, ceiling: '', step: { kind: 'percent', value: '0.5', against: 'own' } }, 'EUR', false) // prettier-ignore
    expect(percent.ceiling).to.equal(null)
    expect(percent.step).to.deep.equal({ kind: 'percent', percent: '0.5', against: 'own' })
    expect(lotRules(eventLot(), 'EUR', false).step).to.deep.equal({ kind: 'none' })
  })
})

describe('sending an event', () => {
  const draft = eventFacts({ state: 'draft', sentAt: null })
  const found = (changed: Parameters<typeof eventFacts>[0], more = sending) => checkEvent(eventFacts({ state: 'draft', ...changed }), more, NOW).map(one => `${one.level} ${one.code} ${one.place ?? ''}`.trim()) // prettier-ignore

  it('goes where nothing stands against it, and says to how many', () => {
    const sent = sendEvent(draft, sending, rasmus, '', NOW)
    expect(sent.ok && sent.next).to.deep.equal({ state: 'asking', endsAt: END })
    expect(sent.ok && sent.did.changes).to.deep.equal({ suppliers: 2, endsAt: END })
  })

  it('is refused without title, lines, figures, an end or anybody to ask', () => {
    expect(found({ title: ' ' })).to.deep.equal(['stop event.title title'])
    expect(found({ lines: [] })).to.include('stop event.noLines lines')
    expect(found({ lines: [eventLine('a', { goneAt: NOW })] })).to.include('stop event.noLines lines')
    expect(found({ lines: [eventLine('a', { description: '', quantity: '0', reference: '0' })] })).to.deep.equal(['stop event.lineText lines.a.description', 'stop answer.quantity lines.a.quantity', 'stop event.reference lines.a.reference']) // prettier-ignore
    expect(found({ endsAt: null })).to.deep.equal(['stop event.endMissing endsAt'])
    expect(found({ endsAt: NOW })).to.deep.equal(['stop event.endPast endsAt'])
    expect(found({ endsAt: '2027-03-04T10:00:00.000Z' })).to.deep.equal(['stop event.endFar endsAt'])
    expect(found({ invited: [] })).to.deep.equal(['stop event.nobody invited'])
    expect(found({ invited: [], kind: { open: true } })).to.deep.equal([])
  })

  it('asks for a look at a holiday, a need before the end, one supplier alone, lapsed certificates, empty lots', () => {
    expect(found({}, { ...sending, endsOn: '2026-03-04' })).to.deep.equal(['check event.endHoliday endsAt'])
    expect(found({ lines: [eventLine('a', { needBy: '2026-03-02' })] })).to.deep.equal(['check event.needBeforeEnd lines.a']) // prettier-ignore
    expect(found({ lines: [eventLine('a', { needBy: '2026-03-03' })] })).to.deep.equal([])
    expect(found({ invited: [invitedOne('s1')] })).to.deep.equal(['check event.onlyOne invited'])
    expect(found({}, { ...sending, lapsed: ['s2'] } as never)).to.deep.equal(['check event.lapsed invited.invited s2'])
    expect(found({ lots: [eventLot(), eventLot('other')] })).to.deep.equal(['check event.emptyLot lots.other'])
    expect(codes(sendEventOf({ invited: [invitedOne('s1')] }, ''))).to.deep.equal(['event.checkReason', 'event.onlyOne']) // prettier-ignore
    expect(codes(sendEventOf({ invited: [invitedOne('s1')] }, 'Nobody else makes it.'))).to.deep.equal([])
  })
  const sendEventOf = (changed: Parameters<typeof eventFacts>[0], reason: string) => {
    const sent = sendEvent(eventFacts({ state: 'draft', sentAt: null, ...changed }), sending, rasmus, reason, NOW)
    return sent.ok ? [] : sent.reasons
  }

  it('stops where somebody has no address or cannot be dealt with; a missing name is only said', () => {
    expect(found({ invited: [invitedOne('s1', { email: '' }), invitedOne('s2', { contactName: '' })] })).to.deep.equal(['stop event.noContact invited.invited s1', 'note event.noName invited.invited s2']) // prettier-ignore
    const barred = { code: 'order.supplier.barred', level: 'stop' as const, details: {} }
    expect(found({ invited: [invitedOne('s1', { reasons: [barred] }), invitedOne('s2')] })).to.deep.equal(['stop order.supplier.barred invited.invited s1']) // prettier-ignore
  })

  it('wants an opening that is still to come, and rules of lots that make sense, of an auction', () => {
    const kind = { format: 'auction' as const }
    expect(found({ kind })).to.deep.equal(['stop event.openingMissing opensAt'])
    expect(found({ kind, opensAt: NOW })).to.deep.equal(['stop event.openingPast opensAt'])
    expect(found({ kind, opensAt: END })).to.deep.equal(['stop event.openingAfterEnd opensAt'])
    expect(found({ kind, opensAt: at(-1) })).to.deep.equal([])
    expect(found({ kind, opensAt: at(-1), lots: [eventLot('lot', { ceiling: '0' })] })).to.deep.equal(['stop lot.ceilingAboveZero lots.lot.ceiling']) // prettier-ignore
  })

  it('is for those who may, and only for a draft', () => {
    const refused = sendEvent(draft, sending, guest, '', NOW)
    expect(!refused.ok && codes(refused.reasons)).to.deep.equal(['right.notYours'])
    const again = sendEvent(eventFacts(), sending, rasmus, '', NOW)
    expect(!again.ok && codes(again.reasons)).to.deep.equal(['state.notNow'])
  })
})

describe('the end of an event', () => {
  const moved = (result: ReturnType<typeof extendEvent>) => (result.ok ? result.next : codes(result.reasons))

  it('moves later only, with a reason, while it asks', () => {
    expect(moved(extendEvent(eventFacts(), rasmus, at(60), 'Easter.', NOW))).to.deep.equal({ state: 'asking', endsAt: at(60) }) // prettier-ignore
    expect(moved(extendEvent(eventFacts(), rasmus, END, 'Easter.', NOW))).to.deep.equal(['event.endEarlier'])
    expect(moved(extendEvent(eventFacts(), rasmus, at(60), '', NOW))).to.deep.equal(['event.reason'])
    expect(moved(extendEvent(eventFacts(), rasmus, at(60), 'Easter.', at(0)))).to.deep.equal(['event.notOpen'])
    expect(moved(extendEvent(eventFacts(), rasmus, '2028-01-01T00:00:00.000Z', 'Easter.', NOW))).to.deep.equal(['event.endFar']) // prettier-ignore
    expect(moved(extendEvent(eventFacts({ kind: { format: 'auction' } }), rasmus, at(60), 'Easter.', NOW))).to.deep.equal(['event.byDay']) // prettier-ignore
    expect(moved(extendEvent(eventFacts(), guest, at(60), 'Easter.', NOW))).to.deep.equal(['right.notYours'])
  })

  it('is followed by going on from where it stood, but not where sealed answers could be read, nor an auction', () => {
    expect(moved(beginAgain(eventFacts(), rasmus, at(60), 'Too few.', at(1)))).to.deep.equal({ state: 'asking', endsAt: at(60) }) // prettier-ignore
    expect(moved(beginAgain(eventFacts({ state: 'cancelled' }), rasmus, at(60), 'After all.', at(1)))).to.deep.equal({ state: 'asking', endsAt: at(60) }) // prettier-ignore
    expect(moved(beginAgain(eventFacts(), rasmus, at(60), 'Too few.', NOW))).to.deep.equal(['state.notNow'])
    expect(moved(beginAgain(eventFacts(), rasmus, at(1), 'Too few.', at(1)))).to.deep.equal(['event.endPast'])
    expect(moved(beginAgain(eventFacts({ kind: { sealed: true } }), rasmus, at(60), 'Too few.', at(1)))).to.deep.equal(['event.sealedOpened']) // prettier-ignore
    expect(moved(beginAgain(eventFacts({ kind: { format: 'auction' } }), rasmus, at(60), 'Too few.', at(1)))).to.deep.equal(['event.auctionOver']) // prettier-ignore
    expect(moved(beginAgain(eventFacts({ state: 'cancelled', sentAt: null }), rasmus, at(60), 'After all.', at(1)))).to.deep.equal(['event.neverSent']) // prettier-ignore
    expect(moved(beginAgain(eventFacts({ state: 'cancelled', kind: { sealed: true } }), rasmus, at(60), 'After all.', NOW))).to.deep.equal({ state: 'asking', endsAt: at(60) }) // prettier-ignore
  })

  it('can be a cancelling, with a reason; a draft is taken up again, what was sent is not', () => {
    expect(moved(cancelEvent(eventFacts(), rasmus, 'Not needed.'))).to.deep.equal({ state: 'cancelled', endsAt: END })
    expect(moved(cancelEvent(eventFacts(), rasmus, ''))).to.deep.equal(['event.reason'])
    expect(moved(cancelEvent(eventFacts({ state: 'settled' }), rasmus, 'No.'))).to.deep.equal(['state.notNow'])
    expect(moved(takeUpEvent(eventFacts({ state: 'cancelled', sentAt: null }), rasmus))).to.deep.equal({ state: 'draft', endsAt: END }) // prettier-ignore
    expect(moved(takeUpEvent(eventFacts({ state: 'cancelled' }), rasmus))).to.deep.equal(['event.wasSent'])
  })

  it('is brought to mind only to those who neither answered nor declined', () => {
    const event = eventFacts({
      invited: [
        invitedOne('due'),
        invitedOne('answered', { answeredAt: NOW }),
        invitedOne('declined', { declinedAt: NOW }),
        invitedOne('no', { means: false }),
        invitedOne('suspended', { suspendedAt: NOW }),
        invitedOne('later', { sentAt: null }),
      ],
    })
    expect(toRemind(event).map(one => one.supplierId)).to.deep.equal(['due'])
    expect(whyNotRemind(event, rasmus, NOW)).to.deep.equal([])
    expect(codes(whyNotRemind(event, rasmus, at(0)))).to.deep.equal(['event.notOpen'])
    expect(codes(whyNotRemind(eventFacts({ invited: [] }), rasmus, NOW))).to.deep.equal(['event.nobodyToRemind'])
  })

  it('decides what is offered: what can be done now, and why the rest cannot', () => {
    const offered = (changed: Parameters<typeof eventFacts>[0], now = NOW) => eventActions(eventFacts(changed), sending, rasmus, now).map(one => `${one.action}${one.reasons.length ? '!' : ''}`) // prettier-ignore
    expect(offered({ state: 'draft', sentAt: null })).to.deep.equal(['send', 'compareKnown', 'cancel'])
    expect(offered({ state: 'draft', sentAt: null, kind: { format: 'auction' } })).to.deep.equal(['send!', 'cancel'])
    expect(offered({ state: 'over', sentAt: null })).to.deep.equal(['takeUp', 'cancel'])
    expect(offered({})).to.deep.equal(['extend', 'remind', 'cancel'])
    expect(offered({}, at(0))).to.deep.equal(['beginAgain', 'cancel'])
    expect(offered({ kind: { sealed: true } }, at(0))).to.deep.equal(['beginAgain!', 'cancel'])
    expect(offered({ state: 'cancelled', sentAt: null })).to.deep.equal(['takeUp'])
    expect(offered({ state: 'cancelled' })).to.deep.equal(['beginAgain'])
    expect(offered({ kind: { format: 'auction' } })).to.deep.equal(['openDay', 'cancel'])
    expect(offered({ state: 'settled' })).to.deep.equal([])
  })
})

describe('what a supplier can do', () => {
  const may = (act: InvitedAct, changed: Parameters<typeof invitedOne>[1] = {}, event: Parameters<typeof eventFacts>[0] = {}, now = NOW) => codes(whyNotAs(eventFacts(event), invitedOne('s1', changed), act, now)) // prettier-ignore
  const terms = { kind: { terms: { en: 'Binding.' } } }

  it('is nothing while it was not asked, and writing only once it is over', () => {
    expect(may('save', { sentAt: null })).to.deep.equal(['document.notFound'])
    expect(may('submit', {}, {}, at(0))).to.deep.equal(['event.overAsk'])
    expect(may('submit', {}, {}, at(-0.001))).to.deep.equal([])
    expect(may('write', {}, {}, at(0))).to.deep.equal([])
    expect(may('write', {}, { state: 'cancelled' })).to.deep.equal(['event.cancelledAsk'])
    expect(may('submit', {}, { state: 'cancelled' })).to.deep.equal(['event.cancelledAsk'])
  })

  it('begins with the terms; declining and saying whether one means to answer do not', () => {
    expect(may('save', {}, terms)).to.deep.equal(['bid.termsFirst'])
    expect(may('decline', {}, terms)).to.deep.equal([])
    expect(may('accept', {}, terms)).to.deep.equal([])
    expect(may('submit', { acceptedAt: NOW }, terms)).to.deep.equal([])
  })

  it('is writing alone for whoever is suspended; what stands against dealing stops handing in, not a draft', () => {
    expect(may('bid', { suspendedAt: NOW })).to.deep.equal(['bid.suspended'])
    expect(may('write', { suspendedAt: NOW })).to.deep.equal([])
    const reasons = [{ code: 'order.supplier.paused', level: 'stop' as const, details: {} }]
    expect(may('submit', { reasons })).to.deep.equal(['order.supplier.paused'])
    expect(may('bid', { reasons })).to.deep.equal(['order.supplier.paused'])
    expect(may('save', { reasons })).to.deep.equal([])
    expect(may('withdraw')).to.deep.equal(['answer.noneToWithdraw'])
    expect(may('withdraw', { answeredAt: NOW })).to.deep.equal([])
  })

  it('is typed in by us only with its consent on record, of today or before', () => {
    const consent = { who: 'Dana', on: '2026-03-02', how: 'telephone' as const, note: '' }
    expect(codes(whyNotBehalf(null, '2026-03-02'))).to.deep.equal(['behalf.consent'])
    expect(whyNotBehalf(consent, '2026-03-02')).to.deep.equal([])
    expect(codes(whyNotBehalf(consent, '2026-03-01'))).to.deep.equal(['behalf.future'])
    expect(codes(whyNotBehalf({ ...consent, who: ' D' }, '2026-03-02'))).to.deep.equal(['behalf.who'])
  })

  it('can be taken away with a reason, and given back', () => {
    const open = (suspendedAt: string | null, lift: boolean, reason = 'Why so.') => codes(whyNotSuspend(eventFacts(), invitedOne('s', { suspendedAt }), lift, reason, NOW)) // prettier-ignore
    expect(open(null, false)).to.deep.equal([])
    expect(open(NOW, false)).to.deep.equal(['invited.suspended'])
    expect(open(null, true)).to.deep.equal(['invited.notSuspended'])
    expect(open(NOW, true)).to.deep.equal([])
    expect(open(null, false, '')).to.deep.equal(['event.reason'])
    expect(codes(whyNotSuspend(eventFacts(), invitedOne('s', { sentAt: null }), false, 'Why.', at(0)))).to.deep.equal(['event.notOpen', 'invited.notSent']) // prettier-ignore
  })
})

describe('an answer', () => {
  const event = eventFacts({ lines: [eventLine('a'), eventLine('b', { position: 2, quantity: '4' })] })
  const line = (changed: Partial<ReturnType<typeof emptyLine>>) => ({ ...emptyLine('a'), price: '10', ...changed })
  const faults = (changed: Partial<AnswerContent>, on = event, complete = false) => checkAnswer(on, answerOf(on, { a: '10', b: '20' }, changed), complete).map(one => `${one.code} ${one.place ?? ''}`.trim()) // prettier-ignore

  it('is kept as it is as long as its figures can be meant; empty fields say nothing', () => {
    expect(faults({})).to.deep.equal([])
    expect(faults({ lines: [emptyLine('a')] })).to.deep.equal([])
    expect(faults({ lines: [line({ price: '0' })] })).to.deep.equal(['answer.priceAboveZero lines.a.price'])
    expect(faults({ lines: [line({ price: '-1' })] })).to.deep.equal(['answer.priceAboveZero lines.a.price'])
    expect(faults({ lines: [line({ price: '1000000000000000' })] })).to.deep.equal(['answer.figure lines.a.price'])
    expect(faults({ lines: [line({ price: '1.1234567' })] })).to.deep.equal(['answer.figure lines.a.price'])
    expect(faults({ lines: [line({ priceBase: '0' })] })).to.deep.equal(['answer.quantity lines.a.priceBase'])
    expect(faults({ lines: [line({ minimum: '0' })] })).to.deep.equal(['answer.quantity lines.a.minimum'])
    expect(faults({ lines: [line({ declined: true, price: '-1' })] })).to.deep.equal([])
  })

  it('offers a part only where parts are asked for, and never more than is', () => {
    const whole = eventFacts({ kind: { partQuantity: false } })
    expect(faults({ lines: [line({ quantity: '10' })] }, whole)).to.deep.equal([])
    expect(faults({ lines: [line({ quantity: '9' })] }, whole)).to.deep.equal(['answer.wholeOnly lines.a.quantity'])
    expect(faults({ lines: [line({ quantity: '9' })] })).to.deep.equal([])
    expect(faults({ lines: [line({ quantity: '10.1' })] })).to.deep.equal(['answer.tooMuch lines.a.quantity'])
  })

  it('has components that are nothing or more, and alternatives and own lines where they are asked for', () => {
    const kind = { pricing: 'components' as const, components: [{ key: 'f', name: 'Freight', basis: 'perLine' as const, kind: 'freight' as const }] } // prettier-ignore
    const priced = eventFacts({ kind })
    expect(faults({ lines: [line({ components: { f: '0' } })] }, priced)).to.deep.equal([])
    expect(faults({ lines: [line({ components: { f: '-1' } })] }, priced)).to.deep.equal(['answer.component lines.a.components.f']) // prettier-ignore
    const below = (given: Partial<AnswerContent>) => checkAnswer(priced, answerOf(priced, {}, given), false).map(one => one.details.name) // prettier-ignore
    expect(below({ lump: { lot: { f: '-1', g: '-1' } } })).to.deep.equal(['Freight', 'g'])
    expect(below({ lines: [line({ components: { f: '-1' } })] })).to.deep.equal(['Freight'])
    expect(faults({ lump: { lot: { f: 'x' } } }, priced)).to.deep.equal(['answer.figure lump.lot.f'])
    const other = { id: 'o', lineId: 'a', description: 'Another', price: '9', priceBase: '1', leadDays: null, note: '' }
    expect(faults({ alternatives: [other] })).to.deep.equal([])
    expect(faults({ alternatives: [{ ...other, lineId: 'x', description: ' ', price: '' }] })).to.deep.equal(['answer.alternativeOf alternatives.o', 'answer.describe alternatives.o.description', 'answer.figure alternatives.o.price']) // prettier-ignore
    expect(faults({ alternatives: [other] }, eventFacts({ kind: { alternatives: false } }))).to.deep.equal(['answer.noAlternatives']) // prettier-ignore
    const own = { id: 'w', description: 'Fitting', quantity: '1', unit: 'C62', price: '5' }
    expect(faults({ ownLines: [own] })).to.deep.equal(['answer.noOwnLines'])
    expect(faults({ ownLines: [own] }, eventFacts({ kind: { supplierLines: true } }))).to.deep.equal([])
  })

  it('has prices from a quantity on that rise by quantity, and multiples above nothing', () => {
    const event = eventFacts()
    const said = (changed: object) => {
      const answer = answerOf(event, { a: '10' })
      return whyNotSave(event, invitedOne('s1'), { ...answer, lines: answer.lines.map(line => ({ ...line, ...changed })) }, NOW).map(one => `${one.code} ${one.place}`) // prettier-ignore
    }
    expect(said({ tiers: [{ from: '2', price: '9' }, { from: '5', price: '8' }], multiple: '2' })).to.deep.equal([]) // prettier-ignore
    expect(said({ tiers: [{ from: '5', price: '9' }, { from: '5', price: '8' }] })).to.deep.equal(['answer.tierOrder lines.a.tiers']) // prettier-ignore
    expect(said({ tiers: [{ from: '', price: '9' }] }), 'while it is typed').to.deep.equal([])
    const answer = answerOf(event, { a: '10' })
    expect(codes(whyNotSubmit(event, invitedOne('s1'), { ...answer, lines: answer.lines.map(line => ({ ...line, tiers: [{ from: '', price: '9' }] })) }, NOW))).to.deep.equal(['answer.figure']) // prettier-ignore
    expect(said({ tiers: [{ from: 'x', price: '9' }] })).to.deep.equal(['answer.figure lines.a.tiers'])
    expect(said({ tiers: [{ from: '2', price: '0' }] })).to.deep.equal(['answer.priceAboveZero lines.a.tiers'])
    expect(said({ multiple: '0' })).to.deep.equal(['answer.quantity lines.a.multiple'])
  })

  it('is handed in whole: a price for each line that is offered, required questions, in the agreed currency', () => {
    expect(faults({ lines: [emptyLine('a'), { ...emptyLine('b'), declined: true }] }, event, true)).to.deep.equal(['answer.priceMissing lines.a.price']) // prettier-ignore
    expect(faults({ lines: [{ ...emptyLine('a'), declined: true }] }, event, true)).to.deep.equal(['answer.nothing'])
    const asks = (question: object) => eventFacts({ kind: { sections: [{ title: '', weight: '1', questions: [{ key: 'q', label: 'Q', kind: 'yesNo', choices: [], must: '', required: true, scoredBy: 'nobody', points: {}, most: '1', weight: '1', ...question }] }] } as never }) // prettier-ignore
    expect(faults({}, asks({}), true)).to.deep.equal(['answer.question questions.q'])
    expect(faults({}, asks({ required: false }), true)).to.deep.equal([])
    expect(faults({ questions: { q: 'maybe' } }, asks({}), true)).to.deep.equal(['answer.choice questions.q'])
    expect(faults({ questions: { q: 'x' } }, asks({ kind: 'number' }), true)).to.deep.equal(['answer.figure questions.q']) // prettier-ignore
    expect(knockedOut(asks({ must: 'yes' }).kind, { questions: { q: 'no' } })).to.equal(true)
    expect(knockedOut(asks({ must: 'yes' }).kind, { questions: { q: 'yes' } })).to.equal(false)
    const submit = (changed: Partial<AnswerContent>, on = event, now = NOW) => codes(whyNotSubmit(on, invitedOne('s1'), answerOf(on, { a: '1', b: '2' }, changed), now)) // prettier-ignore
    expect(submit({})).to.deep.equal([])
    expect(submit({ currency: 'NOK' })).to.deep.equal(['answer.currency'])
    expect(submit({}, event, at(0))).to.deep.equal(['event.overAsk'])
    expect(submit({}, eventFacts({ kind: { format: 'auction' } }))).to.deep.equal(['answer.bidsOnly'])
    expect(codes(whyNotSave(event, invitedOne('s1'), answerOf(event, { a: '-1' }), NOW))).to.deep.equal(['answer.priceAboveZero']) // prettier-ignore
  })

  it('offers what has a price, is not declined and is still asked', () => {
    const gone = eventFacts({ lines: [eventLine('a', { goneAt: NOW }), eventLine('b')] })
    expect(offeredLines(gone, answerOf(gone, { a: '1', b: '2' })).map(one => one.lineId)).to.deep.equal(['b'])
    const facts = eventFacts({ kind: { pricing: 'none' } })
    expect(offeredLines(facts, answerOf(facts, { a: '' }, { lines: [emptyLine('a')] }))).to.have.lengthOf(1)
  })
})

describe('a kind of event', () => {
  const wrong = (changed: Partial<EventKind>) => checkKind({ ...NEW_KIND, ...changed }).map(one => `${one.code} ${one.place ?? ''}`.trim()) // prettier-ignore
  const question = { key: 'q', label: 'Q', kind: 'yesNo' as const, choices: [], must: '', required: true, scoredBy: 'rule' as const, points: { yes: '10', no: '0' }, most: '10', weight: '1' } // prettier-ignore
  const asks = (...questions: object[]): Partial<EventKind> => ({ sections: [{ title: 'S', weight: '1', questions: questions as never }] }) // prettier-ignore

  it('begins usable', () => expect(checkKind(NEW_KIND)).to.deep.equal([]))

  it('names the parts of its price where it has them, each once', () => {
    const part = { key: 'k', name: 'Freight', basis: 'perLot' as const, kind: 'freight' as const }
    expect(wrong({ pricing: 'components' })).to.deep.equal(['kind.componentsMissing components'])
    expect(wrong({ components: [part] })).to.deep.equal(['kind.noComponents components'])
    expect(wrong({ pricing: 'components', components: [part] })).to.deep.equal([])
    expect(wrong({ pricing: 'components', components: [part, { ...part, key: 'l', name: ' freight' }] })).to.deep.equal(['kind.twice components']) // prettier-ignore
    expect(wrong({ pricing: 'components', components: [{ ...part, name: ' ' }] })).to.deep.equal(['kind.componentName components.0.name']) // prettier-ignore
  })

  it('has texts with names that whoever writes them can see, and terms in English', () => {
    const text = { key: 't', name: 'Packing', place: 'head' as const, seenBy: 'both' as const, writtenBy: 'us' as const, carried: true, words: {} } // prettier-ignore
    expect(wrong({ texts: [text] })).to.deep.equal([])
    expect(wrong({ texts: [{ ...text, name: '' }] })).to.deep.equal(['kind.textName texts.0.name'])
    expect(wrong({ texts: [{ ...text, writtenBy: 'suppliers', seenBy: 'us' }] })).to.deep.equal(['kind.textUnseen texts.0.seenBy']) // prettier-ignore
    expect(wrong({ texts: [text, { ...text, key: 'u' }] })).to.deep.equal(['kind.twice texts'])
    expect(wrong({ terms: { de: 'Bindend.' } })).to.deep.equal(['kind.termsEnglish terms'])
    expect(wrong({ terms: { en: 'Binding.', de: 'Bindend.' } })).to.deep.equal([])
  })

  it('has questions whose points and conditions fit their answers', () => {
    expect(wrong(asks(question))).to.deep.equal([])
    expect(wrong(asks({ ...question, label: ' ' }))).to.deep.equal(['kind.questionLabel sections.0.questions.0'])
    expect(wrong(asks({ ...question, kind: 'choice', choices: ['one'], points: { one: '1' } }))).to.deep.equal(['kind.questionChoices sections.0.questions.0']) // prettier-ignore
    expect(wrong(asks({ ...question, most: '0', points: { yes: '0', no: '0' } }))).to.deep.equal(['kind.questionMost sections.0.questions.0']) // prettier-ignore
    expect(wrong(asks({ ...question, kind: 'text' }))).to.deep.equal(['kind.questionRule sections.0.questions.0'])
    expect(wrong(asks({ ...question, points: { yes: '11' } }))).to.deep.equal(['kind.questionPoints sections.0.questions.0', 'kind.questionPoints sections.0.questions.0']) // prettier-ignore
    expect(wrong(asks({ ...question, points: { yes: '10', no: '-1' } }))).to.deep.equal(['kind.questionPoints sections.0.questions.0']) // prettier-ignore
    expect(wrong(asks({ ...question, must: 'perhaps' }))).to.deep.equal(['kind.questionMust sections.0.questions.0'])
    expect(wrong(asks(question, { ...question }))).to.deep.equal(['kind.twice sections'])
  })

  it('weighs what there is', () => {
    const criteria = [{ key: 'price', weight: '60' }, { key: 'questions', weight: '40' }] // prettier-ignore
    expect(wrong({ criteria })).to.deep.equal(['kind.nothingScored criteria'])
    expect(wrong({ criteria, ...asks(question) })).to.deep.equal([])
    expect(wrong({ pricing: 'none' })).to.deep.equal(['kind.noPrice criteria'])
    expect(wrong({ pricing: 'none', format: 'auction', criteria: [{ key: 'questions', weight: '100' }], ...asks(question) })).to.deep.equal(['kind.auctionPrice pricing']) // prettier-ignore
    expect(wrong({ criteria: [{ key: 'price', weight: '90' }] })).to.deep.equal(['criteria.sum criteria'])
  })
})

describe('mails that go out by themselves', () => {
  const message = (changed: Partial<EventMessage> = {}): EventMessage => ({ key: 'm', moment: 'beforeEnd', hours: 2, to: 'silent', words: {}, ...changed }) // prettier-ignore
  const OPENS = '2026-12-03T08:00:00.000Z'
  const ENDS = '2026-12-03T10:00:00.000Z'
  const times = { opensAt: OPENS, endsAt: ENDS, since: '2026-12-01T08:00:00.000Z', sent: [] }
  const due = (messages: EventMessage[], at: string, changed: Partial<MessageTimes> = {}) =>
    dueMessages(messages, { ...times, ...changed }, at).map(one => one.key)

  it('are due from their moment on, until what they speak of has come', () => {
    const before = message({ key: 'open', moment: 'beforeOpening', hours: 1 })
    const both = [message(), before]
    expect(due(both, '2026-12-03T06:59:59.999Z')).to.deep.equal([])
    expect(due(both, '2026-12-03T07:00:00.000Z')).to.deep.equal(['open'])
    expect(due(both, '2026-12-03T07:59:59.999Z')).to.deep.equal(['open'])
    expect(due(both, OPENS)).to.deep.equal(['m'])
    expect(due(both, ENDS)).to.deep.equal([])
    expect(due([message(), message({ key: 'first', hours: 3 })], '2026-12-03T09:00:00.000Z')).to.deep.equal(['first', 'm']) // prettier-ignore
  })

  it('go out once, and not where the times were told only after their moment', () => {
    expect(due([message()], OPENS, { sent: ['m'] })).to.deep.equal([])
    expect(due([message()], OPENS, { since: OPENS })).to.deep.equal([])
    expect(due([message()], OPENS, { since: '2026-12-03T07:59:59.999Z' })).to.deep.equal(['m'])
    expect(due([message()], OPENS, { endsAt: null })).to.deep.equal([])
    expect(due([message({ moment: 'beforeOpening', hours: 1 })], ENDS, { opensAt: null })).to.deep.equal([])
    expect(due([message({ moment: 'atEnd', hours: 0 })], ENDS)).to.deep.equal([])
  })

  it('reach the silent, those who answered, or all who did not decline', () => {
    const event = eventFacts({
      invited: [
        invitedOne('quiet', { sentAt: NOW }),
        invitedOne('in', { sentAt: NOW, answeredAt: NOW }),
        invitedOne('back', { sentAt: NOW, answeredAt: NOW, withdrawnAt: NOW }),
        invitedOne('no', { sentAt: NOW, declinedAt: NOW }),
        invitedOne('out', { sentAt: NOW, answeredAt: NOW, suspendedAt: NOW }),
        invitedOne('later', { sentAt: null }),
      ],
    })
    const names = (to: EventMessage['to']) => readersOf(event, to).map(one => one.supplierId)
    expect(names('silent')).to.deep.equal(['quiet'])
    expect(names('answering')).to.deep.equal(['in'])
    expect(names('everybody')).to.deep.equal(['quiet', 'in', 'back'])
  })

  it('say something, in English at least; only a reminder needs no words', () => {
    const wrong = (changed: Partial<EventMessage>, format: EventKind['format'] = 'auction') =>
      checkKind({ ...NEW_KIND, format, messages: [message(changed)] }).map(one => `${one.code} ${one.place}`)
    expect(wrong({})).to.deep.equal([])
    expect(wrong({ to: 'everybody' })).to.deep.equal(['kind.messageWords messages.0.words'])
    expect(wrong({ moment: 'atEnd', hours: 0, words: { en: ' ' } })).to.deep.equal([
      'kind.messageWords messages.0.words',
    ])
    expect(wrong({ moment: 'atEnd', hours: 0, words: { en: 'Thank you.' } })).to.deep.equal([])
    expect(wrong({ words: { de: 'Bitte.' } })).to.deep.equal(['kind.messageWords messages.0.words'])
    expect(wrong({ hours: 0 })).to.deep.equal(['kind.messageHours messages.0.hours'])
    expect(wrong({ hours: 1 })).to.deep.equal([])
    expect(wrong({ moment: 'beforeOpening', words: { en: 'Soon.' } }, 'quotes')).to.deep.equal(['kind.messageOpening messages.0.moment']) // prettier-ignore
  })
})

describe('numbers of events', () => {
  const range = { prefix: 'E-', digits: 4, next: 7n, last: 9n }

  it('follow each other without a gap until the range is used up', () => {
    expect(takeNumber(range)).to.deep.equal({ ok: true, number: 'E-0007', next: 8n })
    expect(takeNumber({ ...range, next: 9n })).to.deep.equal({ ok: true, number: 'E-0009', next: 10n })
    const over = takeNumber({ ...range, next: 10n })
    expect(!over.ok && over.reasons[0]).to.deep.include({ code: 'event.rangeUsedUp', details: { last: 'E-0009' } })
    expect(nextShown(range)).to.equal('E-0007')
    expect(nextShown({ ...range, next: 10n })).to.equal('')
  })

  it('from outside follow each other too: only the next one is taken, and it stays', () => {
    expect(takeOutside(null, '', range)).to.deep.equal({ ok: true, number: null, next: null })
    expect(takeOutside(null, 'E-0007', range)).to.deep.equal({ ok: true, number: 'E-0007', next: 8n })
    expect(takeOutside('E-0006', 'E-0006', range)).to.deep.equal({ ok: true, number: 'E-0006', next: null })
    const against = (held: string | null, wanted: string, from: typeof range | null = range) => {
      const taken = takeOutside(held, wanted, from)
      return taken.ok ? [] : taken.reasons.map(one => `${one.code} ${one.place} ${Object.values(one.details ?? {}).join()}`.trim()) // prettier-ignore
    }
    expect(against(null, 'E-0008')).to.deep.equal(['event.outsideNext outsideNumber E-0007'])
    expect(against(null, 'E-0006')).to.deep.equal(['event.outsideNext outsideNumber E-0007'])
    expect(against('E-0006', '')).to.deep.equal(['event.outsideStays outsideNumber E-0006'])
    expect(against('E-0006', 'E-0007')).to.deep.equal(['event.outsideStays outsideNumber E-0006'])
    expect(against(null, 'E-0007', null)).to.deep.equal(['event.noOutside outsideNumber'])
    expect(against(null, 'E-0010', { ...range, next: 10n })).to.deep.equal(['event.rangeUsedUp outsideNumber E-0009'])
  })

  it('have a beginning, and an end that is not before the next one', () => {
    expect(checkRange(range)).to.deep.equal([])
    expect(checkRange({ ...range, next: 9n })).to.deep.equal([])
    expect(codes(checkRange({ ...range, next: 10n }))).to.deep.equal(['event.rangeEnds'])
    expect(codes(checkRange({ ...range, next: 0n }))).to.deep.equal(['event.rangeEnds'])
    expect(codes(checkRange({ ...range, prefix: ' ' }))).to.deep.equal(['event.rangePrefix'])
  })
})

describe('whom one could ask', () => {
  const known = (name: string, changed = {}) => ({ supplierId: name, name, categories: [], offers: 0, orders: 0, lastOrder: null, good: 0, bad: 0, orderable: true, ...changed }) // prettier-ignore
  it('is who is known by orders, offers or category and can be dealt with, the best founded first', () => {
    const proposed = proposeSuppliers([
      known('category', { categories: ['Pumps'] }),
      known('orders', { orders: 2, lastOrder: '2026-01-01' }),
      known('offers', { offers: 2, bad: 3 }),
      known('good', { offers: 1, good: 9 }),
      known('nothing', { good: 9 }),
      known('barred', { orders: 9, orderable: false }),
    ])
    expect(proposed.map(one => one.name)).to.deep.equal(['good', 'orders', 'category', 'offers'])
    expect(proposed[1]!.reasons).to.deep.equal([{ code: 'proposal.orders', details: { count: 2, day: '2026-01-01' } }])
    expect(codes(proposed[0]!.reasons)).to.deep.equal(['proposal.offers', 'proposal.signals'])
    expect(proposed[2]!.reasons).to.deep.equal([{ code: 'proposal.category', details: { categories: 'Pumps' } }])
  })
  it('counts many orders no more than ten, and equal ones by name', () => {
    const names = proposeSuppliers([known('b', { orders: 40 }), known('a', { orders: 10 })]).map(one => one.name)
    expect(names).to.deep.equal(['a', 'b'])
  })
})

describe('what waits because of an event', () => {
  const waits = (changed: Parameters<typeof eventFacts>[0], unread = 0) => eventDesk({ ...eventFacts(changed), createdAt: NOW, unread }).map(one => `${one.key} ${one.from ?? ''} ${one.audiences.join(',')}`.trim()) // prettier-ignore
  it('waits for its owner: a draft, the day of its end, the comparison; an award for whoever orders', () => {
    expect(waits({ state: 'draft' })).to.deep.equal(['eventDraft  person:rasmus'])
    expect(waits({})).to.deep.equal(['eventEnds 2026-03-02 person:rasmus'])
    expect(waits({ endsAt: null })).to.deep.equal([])
    expect(waits({ state: 'over' }, 2)).to.deep.equal(['eventWrites  person:rasmus', 'eventCompare  person:rasmus'])
    expect(waits({ state: 'awarded' })).to.deep.equal(['eventPlace  person:rasmus,right:event.write'])
    expect(waits({ state: 'settled' })).to.deep.equal([])
  })
  it('says how many have answered', () => {
    const [entry] = eventDesk({ ...eventFacts({ state: 'over', invited: [invitedOne('a', { answeredAt: NOW }), invitedOne('b')] }), createdAt: NOW, unread: 0 }) // prettier-ignore
    expect(entry!.details).to.deep.equal({ number: 'E-1', title: 'Pumps', answered: 1, asked: 2 })
  })
})

describe('taking part uninvited', () => {
  const open = (changed: Partial<EventFacts> = {}) => ({ ...eventFacts({ kind: { open: true }, invited: [], ...changed }), category: 'Pumps' }) // prettier-ignore
  const supplier: JoiningSupplier = { supplierId: 'new', name: 'New', state: 'active', categories: ['Pumps'] }

  it('stands open to active suppliers of the category, of the event or of a line, while it is asked', () => {
    expect(isOpenTo(open(), supplier, NOW)).to.equal(true)
    expect(isOpenTo({ ...open(), category: '' }, supplier, NOW)).to.equal(open().lines.some(line => line.category === 'Pumps')) // prettier-ignore
    expect(isOpenTo({ ...open(), category: 'Feed', lines: [eventLine('a', { category: 'Valves' })] }, { ...supplier, categories: ['Valves'] }, NOW)).to.equal(true) // prettier-ignore
    expect(isOpenTo({ ...open(), category: '', lines: [eventLine('a', { category: '' })] }, { ...supplier, categories: [''] }, NOW)).to.equal(false) // prettier-ignore
    expect(isOpenTo({ ...open(), category: 'Feed', lines: [eventLine('a', { category: 'Pumps', goneAt: NOW })] }, supplier, NOW)).to.equal(false) // prettier-ignore
    for (const one of [{ state: 'paused' }, { categories: ['Valves'] }] as const) expect(whyNotJoin(open(), { ...supplier, ...one }, NOW)[0]!.code).to.equal('document.notFound') // prettier-ignore
    expect(isOpenTo({ ...open(), kind: { ...open().kind, open: false } }, supplier, NOW)).to.equal(false)
    expect(isOpenTo(open({ state: 'draft' }), supplier, NOW)).to.equal(false)
    expect(isOpenTo(open(), supplier, open().endsAt!)).to.equal(false)
  })

  it('is refused to whoever is asked already', () => {
    expect(whyNotJoin(open(), supplier, NOW)).to.deep.equal([])
    const { invited } = eventFacts({})
    expect(whyNotJoin(open({ invited }), { ...supplier, supplierId: invited[0]!.supplierId }, NOW).map(one => one.code)).to.deep.equal(['event.askedAlready']) // prettier-ignore
  })
})
