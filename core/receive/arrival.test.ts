import { expect } from 'chai'
import {
  answerArrival,
  ARRIVAL_ANSWERS,
  arrivalDesk,
  type ArrivalFacts,
  arrivalMail,
  arrivalsOf,
  dueBySilence,
  settleArrival,
  silenceMail,
  whyNotArrivalLink,
} from '#core/receive/arrival.ts'
import { ADA, actorOf, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

const facts = (changed: Partial<ArrivalFacts> = {}): ArrivalFacts => ({
  id: 'a',
  state: 'asked',
  receipt: 'G-1',
  orderId: 'o',
  order: 'O-1',
  title: 'Hoses',
  place: 'Quay, gate',
  requesterId: 'joren',
  requester: 'Joren',
  buyerId: 'ada',
  lines: [{ partId: 'p', position: 1, description: 'Hose', quantity: '2', unit: 'C62' }],
  note: '',
  askedOn: '2026-06-01',
  remindedOn: null,
  toldOn: null,
  ...changed,
})
const JOREN = actorOf('joren')
const codes = (decided: { ok: true } | { ok: false; reasons: readonly { code: string }[] }): string[] =>
  decided.ok ? [] : decided.reasons.map(one => one.code)

describe('goods that are in', () => {
  it('are said to whoever asked for them, not of work, and not to whoever counted them', () => {
    const order = new OrderToPay({
      lines: [{ requesterId: 'joren' }, { requesterId: 'dov' }, { kind: 'workByRate', requesterId: 'joren' }, { requesterId: 'joren' }],
    } as never).order() // prettier-ignore
    const parts = order.lines.map((line, index) => ({ id: `p${index}`, lineId: line.id, quantity: '1' }))
    const told = arrivalsOf(order, parts, 'dov')
    expect([...told].map(([who, lines]) => [who, lines.map(line => line.partId)])).to.deep.equal([
      ['joren', ['p0', 'p3']],
    ])
    expect(told.get('joren')![0]).to.include({ quantity: '1', position: 1, unit: 'C62' })
  })

  it('are confirmed by who asked for them without a word; what is wrong is said in words and told to the buyer', () => {
    const good = answerArrival(facts(), 'confirm', '', JOREN)
    expect(good.ok && [good.next.state, good.says]).to.deep.equal(['confirmed', []])
    for (const answer of ['inPart', 'damaged', 'notMine'] as const) {
      expect(codes(answerArrival(facts(), answer, ' ', JOREN)), answer).to.deep.equal(['arrival.why'])
      const said = answerArrival(facts(), answer, 'One is torn.', JOREN)
      expect(said.ok && [said.next, said.says[0]!.to, said.says[0]!.details['note']]).to.deep.equal([
        { state: answer, note: 'One is torn.' },
        { kind: 'person', id: 'ada' },
        'One is torn.',
      ])
      expect(said.ok && said.did.action).to.equal(`arrival.${answer}`)
    }
  })

  it('are answered for by nobody else, and once', () => {
    expect(codes(answerArrival(facts(), 'confirm', '', ADA))).to.deep.equal(['right.notYours'])
    for (const answer of ARRIVAL_ANSWERS)
      expect(answerArrival(facts({ state: 'confirmed' }), answer, 'So.', JOREN).ok, answer).to.equal(false)
  })

  it('that are not as they should be are settled by who buys or receives, with a reason', () => {
    const wrong = facts({ state: 'damaged' })
    const done = settleArrival(wrong, 'Sent back.', ADA)
    expect(done.ok && [done.next.state, done.did.reason]).to.deep.equal(['settled', 'Sent back.'])
    expect(codes(settleArrival(wrong, '', ADA))).to.deep.equal(['arrival.whySettled'])
    expect(codes(settleArrival(wrong, 'So.', NOBODY))).to.deep.equal(['right.notYours'])
    expect(settleArrival(wrong, 'So.', actorOf('dock', { rights: new Set(['delivery.receive']) })).ok).to.equal(true)
    expect(settleArrival(wrong, 'So.', actorOf('buys', { rights: new Set(['order.write']) })).ok).to.equal(true)
    expect(settleArrival(facts(), 'So.', ADA).ok).to.equal(false)
  })

  it('wait on the Desk of who asked, then of the buyer where something is wrong, then of nobody', () => {
    const desk = (state: ArrivalFacts['state']) => arrivalDesk(facts({ state, note: 'Torn.' })).map(one => [one.key, one.audiences, one.details['extra']]) // prettier-ignore
    expect(desk('asked')).to.deep.equal([['arrived', ['person:joren'], 'Torn.']])
    expect(desk('damaged')).to.deep.equal([['arrivedWrong', ['person:ada'], 'Torn.']])
    for (const state of ['confirmed', 'settled', 'ended'] as const) expect(desk(state), state).to.deep.equal([])
    expect(arrivalDesk(facts())[0]!.details['extra']).to.equal('Quay, gate')
  })

  it('are asked about once more after the set days, and the buyer is told after others, each once', () => {
    const on = (today: string, changed: Partial<ArrivalFacts> = {}, days = { remindDays: 2, silentDays: 5 }) => dueBySilence(facts(changed), days, today) // prettier-ignore
    expect([on('2026-06-02'), on('2026-06-03'), on('2026-06-05'), on('2026-06-06')]).to.deep.equal([null, 'remind', 'remind', 'tellBuyer']) // prettier-ignore
    expect(on('2026-06-05', { remindedOn: '2026-06-03' })).to.equal(null)
    expect(on('2026-06-06', { remindedOn: '2026-06-03' })).to.equal('tellBuyer')
    expect(on('2026-07-01', { toldOn: '2026-06-06' })).to.equal(null)
    expect(on('2026-07-01', {}, { remindDays: 0, silentDays: 0 })).to.equal(null)
    expect(on('2026-07-01', { state: 'confirmed' })).to.equal(null)
  })

  it('are answered for by a link for some days, once', () => {
    const link = { endsOn: '2026-07-31' }
    expect(whyNotArrivalLink(link, facts(), '2026-07-31')).to.deep.equal([])
    expect(whyNotArrivalLink(link, facts(), '2026-08-01').map(one => one.code)).to.deep.equal(['link.expired'])
    expect(whyNotArrivalLink(link, facts({ state: 'damaged' }), '2026-07-01').map(one => one.code)).to.deep.equal(['link.used']) // prettier-ignore
  })

  it('are told with what and where, again under another key', () => {
    const [first, again, silent] = [arrivalMail(facts(), '/arrived/x', false), arrivalMail(facts(), '/arrived/x', true), silenceMail(facts())] // prettier-ignore
    expect([first.template, first.details['what'], first.details['link'], first.to]).to.deep.equal([
      'goods.arrived',
      '2 C62 Hose',
      '/arrived/x',
      { kind: 'person', id: 'joren' },
    ])
    expect([again.template, silent.template, silent.to]).to.deep.equal(['goods.arrivedReminder', 'goods.noWord', { kind: 'person', id: 'ada' }]) // prettier-ignore
    expect(new Set([first.key, again.key, silent.key]).size).to.equal(3)
  })
})
