import { expect } from 'chai'
import fc from 'fast-check'
import {
  type ActAnswer,
  answered,
  asReceipts,
  type KeptAct,
  openHere,
  toSend,
  trueMoment,
  whyNotSend,
} from '#core/receive/handheld.ts'

const act = (sequence: number, changed: Partial<KeptAct> = {}): KeptAct => ({
  key: `k${sequence}`,
  sequence,
  madeAt: '2026-06-01T10:00:00Z',
  personId: 'yuki',
  orderId: 'o',
  placeId: 'p',
  count: { lineId: 'l', quantity: '2' },
  pieces: [],
  note: '',
  checkReason: '',
  state: 'kept',
  reasons: [],
  number: '',
  ...changed,
})
const answer = (key: string, state: ActAnswer['state'] = 'taken'): ActAnswer => ({
  key,
  state,
  number: 'G-1',
  reasons: [],
})

describe('a handheld', () => {
  it('sends what is not sent, in the order in which it was done', () => {
    const acts = [act(3), act(1), act(2, { state: 'taken' }), act(4, { state: 'settle' }), act(5, { state: 'dropped' })]
    expect(toSend(acts).map(one => one.key)).to.deep.equal(['k1', 'k3'])
  })

  it('knows what is open by what it counted since it was loaded; what has to be settled does not count', () => {
    const line = { lineId: 'l', open: '10', unit: 'C62' }
    expect(
      openHere(line, [
        act(1),
        act(2, { state: 'taken' }),
        act(3, { state: 'settle' }),
        act(4, { count: { lineId: 'x', quantity: '9' } }),
      ]),
    ).to.equal('6')
    expect(openHere(line, [act(1, { count: { lineId: 'l', quantity: '2', unit: 'BX' } })])).to.equal('10')
    expect(openHere(line, [act(1, { count: { lineId: 'l', quantity: '12' } })])).to.equal('0')
  })

  it('takes an answer once, whatever is repeated and in whatever order it comes', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            key: fc.constantFrom('k1', 'k2', 'k3'),
            state: fc.constantFrom('taken' as const, 'settle' as const, 'dropped' as const),
          }),
          { maxLength: 12 },
        ),
        given => {
          let acts: KeptAct[] = [act(1), act(2), act(3)]
          for (const one of given) {
            const before = acts
            acts = answered(acts, [answer(one.key, one.state)])
            // what is over stays over
            for (const was of before) {
              const now = acts.find(each => each.key === was.key)!
              if (was.state === 'taken' || was.state === 'dropped') expect(now.state).to.equal(was.state)
            }
            // and nothing is lost
            expect(acts.map(each => each.key)).to.deep.equal(['k1', 'k2', 'k3'])
          }
          return toSend(acts).every(each => !given.some(one => one.key === each.key))
        },
      ),
    )
  })

  it('with a clock that is days off is put right, never into the future; minutes are left alone', () => {
    expect(trueMoment('2026-06-04T10:00:00Z', '2026-06-04T12:00:00Z', '2026-06-01T12:00:00Z')).to.equal(
      '2026-06-01T10:00:00.000Z',
    )
    expect(trueMoment('2026-05-29T10:00:00Z', '2026-05-29T12:00:00Z', '2026-06-01T12:00:00Z')).to.equal(
      '2026-06-01T10:00:00.000Z',
    )
    expect(trueMoment('2026-06-01T11:59:00Z', '2026-06-01T12:03:00Z', '2026-06-01T12:00:00Z')).to.equal(
      '2026-06-01T11:59:00.000Z',
    )
    expect(trueMoment('2026-06-01T13:00:00Z', '2026-06-01T12:00:00Z', '2026-06-01T12:00:00Z')).to.equal(
      '2026-06-01T12:00:00.000Z',
    )
  })

  it('is sent by who counted; somebody else’s counts wait for a steward', () => {
    expect(whyNotSend({ personId: 'yuki' }, 'yuki')).to.deep.equal([])
    expect(whyNotSend({ personId: 'yuki' }, 'dov').map(one => one.code)).to.deep.equal(['handheld.otherPerson'])
  })

  describe('makes receipts of acts', () => {
    const on = (sequence: number, lineId: string, changed: Partial<KeptAct> = {}, day = '2026-06-01') => ({ ...act(sequence, { count: { lineId, quantity: '1' }, ...changed }), day }) // prettier-ignore
    const keys = (acts: ReturnType<typeof on>[]) => asReceipts(acts).map(group => group.map(one => one.key).join(' '))

    it('one of all that was counted of a delivery, whatever was counted of others between', () => {
      expect(keys([on(1, 'a'), on(2, 'x', { orderId: 'p' }), on(3, 'b'), on(4, 'y', { orderId: 'p' })])).to.deep.equal(['k1 k3', 'k2 k4']) // prettier-ignore
      expect(keys([])).to.deep.equal([])
    })

    it('one for each place, day, person, announcement and words', () => {
      const others: [Partial<KeptAct>, string?][] = [[{ placeId: 'q' }], [{ personId: 'dov' }], [{ despatchId: 'd' }], [{ note: 'wet' }], [{ checkReason: 'They sent it.' }], [{}, '2026-06-02']] // prettier-ignore
      for (const [changed, day] of others) expect(keys([on(1, 'a'), on(2, 'b', changed, day)])).to.deep.equal(['k1', 'k2']) // prettier-ignore
    })

    it('a further one where the same kind is counted once more, and never puts a later act before an earlier one', () => {
      expect(keys([on(1, 'a'), on(2, 'a'), on(3, 'b')])).to.deep.equal(['k1', 'k2 k3'])
      const batch = (sequence: number, name: string) => on(sequence, '', { count: { lineId: 'a', quantity: '1', batch: name } }) // prettier-ignore
      expect(keys([batch(1, 'B1'), batch(2, 'B2'), batch(3, 'B1')])).to.deep.equal(['k1 k2', 'k3'])
      expect(keys([on(1, 'a'), on(2, 'b', { note: 'wet' }), on(3, 'c')])).to.deep.equal(['k1', 'k2', 'k3'])
    })
  })
})
