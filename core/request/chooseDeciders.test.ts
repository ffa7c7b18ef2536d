import { expect } from 'chai'
import { chooseDeciders, type ChosenDeciders } from '#core/request/chooseDeciders.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'
import { INES } from '#test-helpers/requisition.ts'

const people = new Map(
  [
    { id: 'marit', name: 'Marit', able: true },
    { id: 'otto', name: 'Otto', able: false },
    { id: 'ines', name: 'Ines', able: true },
  ].map(one => [one.id, one]),
)
const choices = [{ rule: 'A director', ruleId: 'r1', personIds: ['marit', 'henrik'] }]
const draft = { state: 'draft', requesterId: 'ines' } as const
const act = (
  wanted: Partial<ChosenDeciders>,
  byHand = true,
  actor = INES,
  request: Parameters<typeof chooseDeciders>[0] = draft,
) =>
  // prettier-ignore
  chooseDeciders(request, { chosen: {}, added: [], ...wanted }, choices, people, actor, byHand)
const codes = (decided: ReturnType<typeof act>): string[] => (decided.ok ? [] : decided.reasons.map(one => one.code))

describe('choosing who decides, before submitting', () => {
  it('keeps whom a rule lets one choose, and adds others once', () => {
    const decided = act({ chosen: { r1: 'henrik' }, added: ['marit', 'marit'] })
    expect(decided.ok && decided.next).to.deep.equal({ chosen: { r1: 'henrik' }, added: ['marit'] })
    expect(decided.ok && decided.did).to.deep.include({ action: 'decidersChosen', changes: { added: ['Marit'] } })
  })

  it('refuses whom the rule does not name, oneself, who may not, and adding where the house does not want it', () => {
    expect(codes(act({ chosen: { r1: 'otto' } }))).to.deep.equal(['decide.notAmong'])
    expect(codes(act({ chosen: { r2: 'marit' } }))).to.deep.equal(['decide.notAmong'])
    expect(codes(act({ added: ['ines'] }))).to.deep.equal(['decide.own'])
    expect(codes(act({ added: ['otto'] }))).to.deep.equal(['decide.withoutRight'])
    expect(codes(act({ added: ['nobody'] }))).to.deep.equal(['decide.withoutRight'])
    expect(codes(act({ added: ['marit'] }, false))).to.deep.equal(['decide.noAdding'])
    expect(codes(act({ chosen: { r1: 'marit' } }, false))).to.deep.equal([])
  })

  it('is for the requester of a draft', () => {
    expect(codes(act({}, true, actorOf('marit')))).to.deep.equal(['right.notYours'])
    expect(codes(act({}, true, INES, { ...draft, state: 'waiting' }))).to.deep.equal(['state.notNow'])
  })
})
