import { expect } from 'chai'
import { DECIDE_SETTINGS, type EditPolicy } from '#core/consent/settings.ts'
import type { Change } from '#core/decide/changes.ts'
import { type Edited, editWhileDeciding, whyNotEditWhileDeciding } from '#core/decide/editWhileDeciding.ts'
import type { SeenStep } from '#core/decide/stillStands.ts'
import { minor } from '#core/money/amount.ts'
import { check, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import type { PathStep } from '#core/rules/path.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'
import { INES, pathStep, Requested } from '#test-helpers/requisition.ts'

const policy = DECIDE_SETTINGS.editing
const MARIT = actorOf('marit')
const HENRIK = actorOf('henrik')

/** Marit has approved, Henrik decides now. */
function halfWay(): Requested {
  const world = new Requested()
  world.submit([pathStep(1, 'marit'), pathStep(2, 'henrik')])
  world.decide('marit', 'approve')
  return world
}
const change = (changed: Partial<Change> = {}): Change => ({
  lineId: 'line1',
  line: 'Line 1',
  key: 'quantity',
  field: 'amount',
  before: '10',
  after: '8',
  ...changed,
})
const stood: SeenStep = {
  id: 'step-marit',
  state: 'approved',
  decidedBy: 'marit',
  onBehalfOf: null,
  rules: [{ name: 'Rule 1', costCentre: null }],
  lineIds: null,
  round: 1,
  seenHash: 'x',
}
const eight = (request: RequisitionFacts): RequisitionFacts => ({
  ...request,
  total: minor(28_000),
  lines: request.lines.map(line => (line.id === 'line1' ? { ...line, quantity: '8', baseAmount: minor(8_000) } : line)),
})
const refusing = (request: RequisitionFacts): RequisitionFacts => ({
  ...request,
  lines: request.lines.map(line => (line.id === 'line1' ? { ...line, state: 'cancelled' as const } : line)),
})
const PATH: PathStep[] = [pathStep(1, 'marit'), pathStep(2, 'henrik')]
const edited = (world: Requested, changed: Partial<Edited> = {}): Edited => ({
  after: eight(world.facts()),
  version: 7,
  changes: [change()],
  own: new Set(['line1', 'line2']),
  reasons: [],
  path: PATH,
  standing: [stood],
  asked: [
    { state: 'approved', rules: [{ name: 'Rule 1', costCentre: null }] },
    { state: 'open', rules: [{ name: 'Rule 2', costCentre: null }] },
  ],
  ...changed,
})
const act = (world: Requested, changed: Partial<Edited> = {}, by: Partial<EditPolicy> = {}, reason = 'Enough.') =>
  editWhileDeciding(world.facts(), edited(world, changed), HENRIK, reason, { ...policy, ...by })
const done = (decided: ReturnType<typeof act>) => {
  if (!decided.ok) throw new Error(decided.reasons.map(one => one.code).join())
  return decided
}
const codes = (decided: ReturnType<typeof act>): string[] => (decided.ok ? [] : decided.reasons.map(one => one.code))

describe('changing a request while deciding it', () => {
  it('is for whoever decides now, where the house allows it', () => {
    const world = halfWay()
    const why = (by = HENRIK, byDeciders = true): string[] =>
      whyNotEditWhileDeciding(world.facts(), by, { ...policy, byDeciders }).map(one => one.code)
    expect(why()).to.deep.equal([])
    expect(why(MARIT)).to.deep.equal(['decide.notYours'])
    expect(why(INES)).to.deep.equal(['decide.own'])
    expect(why(HENRIK, false)).to.deep.equal(['decide.noEditing'])
    world.decide('henrik', 'approve')
    expect(why()).to.deep.equal(['state.notNow'])
  })

  it('brings what is requested and reserved to what it is now', () => {
    const decided = done(act(halfWay()))
    expect(decided.quantity).to.deep.equal([{ lineId: 'line1', kind: 'requested', quantity: '-2' }])
    expect(decided.budget.map(one => [one.accountId, one.kind, one.amount])).to.deep.equal([
      ['a1', 'reserved', -666n],
      ['a2', 'reserved', -1334n],
    ])
    const refused = done(act(halfWay(), { after: refusing(halfWay().facts()) }))
    expect(refused.quantity.map(one => one.quantity)).to.deep.equal(['-10'])
    expect(refused.budget.reduce((sum, one) => sum + one.amount, 0n)).to.equal(-10_000n)
  })

  it('leaves the question as it is where every decision stands and the same rules ask for the rest', () => {
    const decided = done(act(halfWay()))
    expect(decided.next.asks).to.equal(null)
    expect(decided.did).to.deep.include({ action: 'linesChanged', reason: 'Enough.' })
    expect(decided.did.changes).to.deep.equal({
      changes: [{ line: 'Line 1', key: 'quantity', before: '10', after: '8' }],
      asked: 1,
    })
  })

  it('asks anew whose decision no longer stands, and keeps the others', () => {
    const world = halfWay()
    const { asks } = done(act(world, { standing: [] })).next
    expect(asks).to.deep.include({ round: 2, stands: [null, null] })
    expect(asks!.ends).to.deep.include({ state: 'dropped' })
    const more = done(act(world, { path: [...PATH, pathStep(3, 'otto')] })).next.asks
    expect(more!.stands.map(one => one?.decidedBy ?? null)).to.deep.equal(['marit', null, null])
    // a rule that asks no more takes its question away
    expect(done(act(world, { path: [PATH[0]!] })).next.asks!.stands).to.deep.equal([stood])
  })

  it('asks anew when a decision of this round no longer stands, though one of an earlier round does', () => {
    expect(done(act(halfWay(), { standing: [{ ...stood, round: 0 }] })).next.asks).to.not.equal(null)
  })

  it('asks the same rule of another cost centre anew', () => {
    const other = { ...PATH[1]!, rules: [{ ...PATH[1]!.rules[0]!, costCentre: 'LS-210' }] }
    expect(done(act(halfWay(), { path: [PATH[0]!, other] })).next.asks).to.not.equal(null)
  })

  it('asks for what was skipped only where the way is another', () => {
    const asked = [...edited(halfWay()).asked, { state: 'skipped', rules: [{ name: 'Rule 3', costCentre: null }] }]
    expect(done(act(halfWay(), { asked, path: [...PATH, pathStep(3, 'otto')] })).next.asks).to.equal(null)
  })

  it('tells the requester, those who approved unless the policy keeps quiet, and those who decide now', () => {
    const told = (changes: Change[], by: Partial<EditPolicy> = {}): string[] =>
      done(act(halfWay(), { changes }, by)).says.map(one => `${one.template} ${one.to.id} ${one.key}`)
    expect(told([change()])).to.deep.equal([
      'requisition.edited ines edited:r1:7:ines',
      'requisition.edited marit edited:r1:7:marit',
      'requisition.waits henrik decide:r1:1:henrik:7',
    ])
    const words = change({ key: 'description', field: 'words' })
    expect(told([words])).to.not.include('requisition.edited marit edited:r1:7:marit')
    expect(told([words], { fields: { ...policy.fields, words: 'tell' } })).to.include('requisition.edited marit edited:r1:7:marit') // prettier-ignore
    const again = done(act(halfWay(), { standing: [] })).says.map(one => `${one.template} ${one.to.id}`)
    expect(again).to.deep.equal(['requisition.edited ines'])
  })

  it('tells in whose place somebody approved, and not whoever changes it', () => {
    const standing = [{ ...stood, decidedBy: 'henrik', onBehalfOf: 'marit' }]
    const says = done(act(halfWay(), { standing })).says.filter(one => one.template === 'requisition.edited')
    expect(says.map(one => one.to.id)).to.deep.equal(['ines', 'marit'])
  })

  it('keeps what a personal fee is for out of the history', () => {
    const world = halfWay()
    const after = eight(world.facts())
    const fee = { ...after, lines: after.lines.map(line => ({ ...line, kind: 'personalFee' as const })) }
    const decided = done(act(world, { after: fee, changes: [change({ line: 'Dr Alma Reyes', key: 'description' })] }))
    expect(decided.did.changes.changes).to.deep.equal([{ line: 'A personal fee', key: 'description' }])
  })

  it('stops at lines of others, at nothing, at everything refused, at faults and without a reason', () => {
    const world = halfWay()
    expect(codes(act(world, { own: new Set(['line2']) }))).to.deep.equal(['decide.lineNotYours'])
    expect(codes(act(world, { changes: [] }))).to.deep.equal(['decide.nothingChanged'])
    const none = {
      ...world.facts(),
      lines: world.facts().lines.map(line => ({ ...line, state: 'cancelled' as const })),
    }
    expect(codes(act(world, { after: none }))).to.deep.equal(['decide.allRefused'])
    expect(codes(act(world, { reasons: [stop('line.quantity'), check('budget.over')] }))).to.deep.equal(['line.quantity']) // prettier-ignore
    expect(codes(act(world, {}, {}, ' x '))).to.deep.equal(['decide.noReason'])
    expect(codes(act(world, {}, { byDeciders: false }))).to.deep.equal(['decide.noEditing'])
    // the title is nobody's line
    expect(codes(act(world, { changes: [change({ lineId: null, key: 'title', field: 'words' })] }))).to.deep.equal([])
  })
})
