import { expect } from 'chai'
import fc from 'fast-check'
import { DECIDE_SETTINGS, type EditPolicy } from '#core/consent/settings.ts'
import { changesBetween, type SeenContent, type SeenLine } from '#core/decide/changes.ts'
import { asksAgain, type SeenStep, stillStanding } from '#core/decide/stillStands.ts'

const CENTRES: Readonly<Record<string, string>> = { tank: 'LS-210', hall: 'AC-110' }
const centreOf = (id: string): string | undefined => CENTRES[id]

const line = (id: string, changed: Partial<SeenLine> = {}): SeenLine => ({
  id,
  description: `Line ${id}`,
  baseAmount: '100000',
  gone: false,
  splits: [{ accountId: 'tank', share: '1' }],
  quantity: '10',
  price: '100',
  needBy: '2026-07-01',
  supplierId: 's1',
  ...changed,
})
const content = (...lines: SeenLine[]): SeenContent => ({ title: 'Salt', reason: '', total: '0', lines })
const policy: EditPolicy = DECIDE_SETTINGS.editing
const holder = (centre: string | null, lineIds: string[] | null = null) => ({
  rules: [{ name: 'Holder', costCentre: centre }],
  lineIds,
})

describe('what is otherwise in a request', () => {
  it('is told line by line with before and after, and nothing where nothing is', () => {
    const before = content(line('a'), line('b'))
    expect(changesBetween(before, before)).to.deep.equal([])
    const after = { ...content(line('a', { quantity: '8', needBy: null }), line('c')), title: 'Sea salt' }
    expect(changesBetween(before, after)).to.deep.equal([
      { lineId: null, line: '', key: 'title', field: 'words', before: 'Salt', after: 'Sea salt' },
      { lineId: 'a', line: 'Line a', key: 'quantity', field: 'amount', before: '10', after: '8' },
      { lineId: 'a', line: 'Line a', key: 'needBy', field: 'needBy', before: '2026-07-01', after: null },
      { lineId: 'c', line: 'Line c', key: 'line', field: 'thing', before: null, after: 'Line c' },
      { lineId: 'b', line: 'Line b', key: 'line', field: 'amount', before: 'Line b', after: null },
    ])
  })

  it('counts a refused line as gone, and accounts in another order as the same', () => {
    const split = [
      { accountId: 'tank', share: '1' },
      { accountId: 'hall', share: '2' },
    ]
    const before = content(line('a', { splits: split }), line('b'))
    const after = content(line('a', { splits: [...split].reverse() }), line('b', { gone: true }))
    expect(changesBetween(before, after).map(one => [one.key, one.before, one.after])).to.deep.equal([
      ['line', 'Line b', null],
    ])
  })
})

describe('a decision after a change', () => {
  const before = content(line('a'), line('b', { splits: [{ accountId: 'hall', share: '1' }] }))
  const again = (
    changed: Partial<SeenLine>,
    step: Pick<SeenStep, 'rules' | 'lineIds'> = holder('LS-210'),
    by: Partial<EditPolicy> = {},
  ): boolean => asksAgain(step, before, content(line('a', changed), before.lines[1]!), { ...policy, ...by }, centreOf)

  it('stands for spelling, whatever the policy says, and is asked for again where the thing itself is another', () => {
    const strict = { fields: { ...policy.fields, words: 'again' as const } }
    expect(again({ description: 'Sea salt' }, holder(null), strict)).to.equal(false)
    expect(again({ unit: 'KGM' })).to.equal(true)
    expect(again({ supplierId: 's2' })).to.equal(true)
    expect(again({ needBy: '2026-08-01' })).to.equal(false)
    expect(again({ needBy: '2026-08-01' }, holder('LS-210'), { fields: { ...policy.fields, needBy: 'again' } })).to.equal(true) // prettier-ignore
  })

  it('bears exactly the tolerance and not a cent more, in money or in per cent, whichever is less', () => {
    // 50.00 and 5 % of 1 000.00
    expect(again({ baseAmount: '105000' })).to.equal(false)
    expect(again({ baseAmount: '105001' })).to.equal(true)
    expect(again({ baseAmount: '103000' }, holder('LS-210'), { tolerancePercent: '2' })).to.equal(true)
    expect(again({ baseAmount: '103000' }, holder('LS-210'), { tolerancePercent: '3' })).to.equal(false)
    expect(again({ baseAmount: '102000' }, holder('LS-210'), { tolerance: '1999' })).to.equal(true)
  })

  it('stands for less, unless the house wants to know of that, too', () => {
    expect(again({ baseAmount: '1' })).to.equal(false)
    expect(again({ gone: true })).to.equal(false)
    expect(again({ baseAmount: '1' }, holder('LS-210'), { decreases: true })).to.equal(true)
    expect(again({ baseAmount: '96000' }, holder('LS-210'), { decreases: true })).to.equal(false)
  })

  it('is asked for again only by what is paid by its cost centre, or is on its lines', () => {
    expect(again({ baseAmount: '200000' }, holder('AC-110'))).to.equal(false)
    expect(again({ supplierId: 's2' }, holder('AC-110'))).to.equal(false)
    expect(again({ supplierId: 's2' }, holder(null))).to.equal(true)
    expect(again({ baseAmount: '200000' }, holder(null, ['b']))).to.equal(false)
    expect(again({ baseAmount: '200000' }, holder(null, ['a']))).to.equal(true)
    // half of it moves to another cost centre: both look at it again
    const half = { splits: ['tank', 'hall'].map(accountId => ({ accountId, share: '1' })) }
    expect([again(half), again(half, holder('AC-110')), again(half, holder('EX-310'))]).to.deep.equal([
      true,
      true,
      false,
    ])
  })

  it('is measured by the part that its cost centre pays', () => {
    const shared = content(line('a', { splits: ['tank', 'hall'].map(accountId => ({ accountId, share: '1' })) }))
    const more = content({ ...shared.lines[0]!, baseAmount: '109000' })
    // 500.00 of 1 000.00: 45.00 more is 9 % of it
    expect(asksAgain(holder('LS-210'), shared, more, { ...policy, tolerancePercent: '9' }, centreOf)).to.equal(false)
    expect(asksAgain(holder('LS-210'), shared, more, { ...policy, tolerancePercent: '8.9' }, centreOf)).to.equal(true)
  })

  it('keeps quiet about amounts where the policy does', () => {
    expect(again({ baseAmount: '900000' }, holder(null), { fields: { ...policy.fields, amount: 'tell' } })).to.equal(
      false,
    )
  })
})

describe('decisions that stand', () => {
  const step = (id: string, seenHash: string | null, changed: Partial<SeenStep> = {}): SeenStep => ({
    id,
    state: 'approved',
    decidedBy: id,
    onBehalfOf: null,
    round: 1,
    seenHash,
    ...holder(null),
    ...changed,
  })
  const one = content(line('a'))
  const more = content(line('a', { baseAmount: '200000' }))
  const contents = new Map([
    ['one', one],
    ['more', more],
  ])
  const ids = (taken: SeenStep[], now: SeenContent, by: Partial<EditPolicy> = {}): string[] =>
    stillStanding(taken, contents, now, { ...policy, ...by }, centreOf).map(each => each.id)

  it('are those in favour of what it is now; what nobody kept cannot be measured', () => {
    const taken = [
      step('henrik', 'one'),
      step('marit', null),
      step('tomas', 'gone'),
      step('ines', 'one', { state: 'rejected' }),
      step('wren', 'one', { decidedBy: null }),
    ]
    expect(ids(taken, one)).to.deep.equal(['henrik'])
    expect(ids(taken, more)).to.deep.equal([])
  })

  it('stand again when a change is undone, be it in another round', () => {
    const taken = [step('henrik', 'one'), step('marit', 'more', { round: 2 })]
    expect(ids(taken, more)).to.deep.equal(['marit'])
    expect(ids(taken, one)).to.deep.equal(['henrik', 'marit'])
  })

  it('are none of the last round where everybody is asked again', () => {
    const taken = [step('henrik', 'one', { ...holder('AC-110') }), step('marit', 'one')]
    expect(ids(taken, more)).to.deep.equal(['henrik'])
    expect(ids(taken, more, { again: 'all' })).to.deep.equal([])
    expect(ids([...taken, step('otto', 'more', { round: 2 })], more, { again: 'all' })).to.deep.equal([
      'henrik',
      'otto',
    ])
  })

  it('do not when the amount grew beyond both limits, for any two amounts (law)', () => {
    const amounts = fc.bigInt({ min: 0n, max: 3_000_000n })
    fc.assert(
      fc.property(amounts, amounts, fc.boolean(), (was, is, decreases) => {
        const of = (amount: bigint): SeenContent => content(line('a', { baseAmount: amount.toString() }))
        const difference = is > was ? is - was : was - is
        const beyond = difference > 5000n || difference * 100n > was * 5n
        const wanted = beyond && (is > was || decreases)
        expect(asksAgain(holder(null), of(was), of(is), { ...policy, decreases }, centreOf)).to.equal(wanted)
      }),
    )
  })
})
