import { expect } from 'chai'
import type { ConsentStep } from '#core/consent/consent.ts'
import { handOver, whyNotHandOver } from '#core/decide/handOver.ts'

const person = (personId: string) => ({ kind: 'person' as const, personId })
const step = (changed: Partial<ConsentStep> = {}): ConsentStep => ({
  id: 's',
  stage: 1,
  state: 'open',
  asked: [person('orla')],
  notBy: ['ines'],
  label: 'Rule',
  who: 'Orla',
  ...changed,
})
const HENRIK = { id: 'henrik', name: 'Henrik', able: true }

describe('handing over what waits for somebody who leaves', () => {
  const kinds = (changed: Partial<ConsentStep>, to = HENRIK, reason = 'Orla has left.', able = true) =>
    handOver([{ id: 's', number: 'R-1', step: step(changed), able }], to, reason)[0]!

  it('gives each step to the successor, what comes later too', () => {
    expect(kinds({})).to.deep.equal({ kind: 'gives', id: 's' })
    expect(kinds({ state: 'later' })).to.deep.equal({ kind: 'gives', id: 's' })
  })

  it('leaves what a group is asked to the others', () => {
    expect(kinds({ asked: [person('orla'), person('marit')] })).to.deep.equal({ kind: 'others', id: 's' })
  })

  it('gives nobody what they asked for, and says why not', () => {
    const own = kinds({}, { ...HENRIK, id: 'ines' })
    expect(own.kind === 'cannot' && own.reasons.map(one => one.code)).to.deep.equal(['decide.own'])
    expect(kinds({}, HENRIK, ' ').kind).to.equal('cannot')
    expect(kinds({ state: 'approved' }).kind).to.equal('cannot')
    const other = kinds({}, HENRIK, 'Orla has left.', false)
    expect(other.kind === 'cannot' && other.reasons.map(one => one.code)).to.deep.equal(['decide.withoutRight'])
  })

  it('is not to oneself, nor to somebody who may not decide', () => {
    const codes = (from: string, able = true) => whyNotHandOver(from, { ...HENRIK, able }).map(one => one.code)
    expect(codes('orla')).to.deep.equal([])
    expect(codes('henrik')).to.deep.equal(['handOver.self'])
    expect(codes('orla', false)).to.deep.equal(['decide.withoutRight'])
  })
})
