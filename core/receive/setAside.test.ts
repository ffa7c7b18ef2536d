import { expect } from 'chai'
import {
  endAside,
  linkAside,
  SET_ASIDE_STATES,
  setAside,
  setAsideDesk,
  type SetAsideEntry,
  type SetAsideFacts,
} from '#core/receive/setAside.ts'
import { ADA, actorOf, NOBODY } from '#test-helpers/orderToPay.ts'

const entry: SetAsideEntry = { description: 'Two crates of hose', quantity: '2', unit: 'C62', supplierId: null, marks: 'NSP-1', bin: 'Cage', note: 'No paper with it.', buyerId: 'pilar' } // prettier-ignore
const about = { id: 'u', number: 'U-101', place: 'Quay' }
const facts = (changed: Partial<SetAsideFacts> = {}): SetAsideFacts => ({ ...about, state: 'waiting', entry, by: 'Yuki', since: '2026-06-01', ...changed }) // prettier-ignore
const codes = (
  decided: { ok: true } | { ok: false; reasons: readonly { code: string; place?: string }[] },
): string[] => (decided.ok ? [] : decided.reasons.map(one => [one.code, one.place].filter(Boolean).join(' ')))

describe('what nobody ordered', () => {
  it('is put aside with what it is and how much, and the buyer is told where it lies', () => {
    const kept = setAside(entry, ADA, about)
    expect(kept.ok && [kept.next.state, kept.did.reason, kept.says[0]!.to]).to.deep.equal([
      'waiting',
      'No paper with it.',
      { kind: 'person', id: 'pilar' },
    ])
    expect(kept.ok && kept.says[0]!.details).to.include({
      place: 'Quay, Cage',
      quantity: '2',
      marks: 'NSP-1',
      who: 'ada',
    })
    expect(codes(setAside({ ...entry, description: ' ', quantity: '0' }, ADA, about))).to.deep.equal(['setAside.what description', 'receive.quantity quantity']) // prettier-ignore
    expect(codes(setAside({ ...entry, quantity: '-1' }, ADA, about))).to.deep.equal(['receive.quantity quantity'])
    expect(codes(setAside({ ...entry, quantity: '1.1234567' }, ADA, about))).to.deep.equal([
      'receive.quantity quantity',
    ])
    expect(codes(setAside(entry, NOBODY, about))).to.deep.equal(['right.notYours'])
    const nobodyTold = setAside({ ...entry, buyerId: null }, ADA, about)
    expect(nobodyTold.ok && nobodyTold.says).to.deep.equal([])
  })

  it('is linked to a receipt, goes back or is settled otherwise, by who buys or receives, once', () => {
    const linked = linkAside(facts(), 'G-7', actorOf('dock', { rights: new Set(['delivery.receive']) }))
    expect(linked.ok && [linked.next.state, linked.did.changes]).to.deep.equal(['linked', { receipt: 'G-7' }])
    expect(codes(linkAside(facts(), 'G-7', NOBODY))).to.deep.equal(['right.notYours'])
    const back = endAside(
      facts(),
      'giveBack',
      'Taken along by Norsped.',
      actorOf('buys', { rights: new Set(['order.write']) }),
    )
    expect(back.ok && [back.next.state, back.did.action, back.did.reason]).to.deep.equal(['gaveBack', 'gaveBack', 'Taken along by Norsped.']) // prettier-ignore
    const settled = endAside(facts(), 'settle', 'A present.', ADA)
    expect(settled.ok && settled.next.state).to.equal('settled')
    expect(codes(endAside(facts(), 'settle', ' ', ADA))).to.deep.equal(['setAside.why reason'])
    expect(endAside(facts(), 'settle', 'So.', NOBODY).ok).to.equal(false)
    for (const state of ['linked', 'gaveBack', 'settled'] as const) {
      expect(endAside(facts({ state }), 'settle', 'So.', ADA).ok, state).to.equal(false)
      expect(linkAside(facts({ state }), 'G-8', ADA).ok, state).to.equal(false)
      expect(SET_ASIDE_STATES[state]).to.deep.equal({})
    }
  })

  it('waits on the Desk of its buyer, or of all who buy, as long as nobody has said what becomes of it', () => {
    expect(setAsideDesk(facts()).map(one => one.audiences)).to.deep.equal([['person:pilar']])
    expect(setAsideDesk(facts({ entry: { ...entry, buyerId: null } })).map(one => one.audiences)).to.deep.equal([['right:order.write']]) // prettier-ignore
    expect(setAsideDesk(facts({ state: 'linked' }))).to.deep.equal([])
  })
})
