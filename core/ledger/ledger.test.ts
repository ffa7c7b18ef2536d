import { expect } from 'chai'
import fc from 'fast-check'
import {
  available,
  type BudgetEntry,
  checkBudget,
  type CheckedAccount,
  overdrafts,
  sumBudget,
  takenByAccount,
} from '#core/ledger/budget.ts'
import { canonicalJson, checkChain, type HistoryRecord, historyText, storedFacts } from '#core/ledger/canonical.ts'
import {
  addStanding,
  adjustTo,
  type Outstanding,
  releaseAll,
  spread,
  standingAmount,
} from '#core/ledger/commitments.ts'
import { breach, neverBelowNothing, standsAs } from '#core/ledger/law.ts'
import {
  addQuantities,
  billedQuantity,
  extentOf,
  leadTo,
  NO_QUANTITIES,
  provenQuantity,
  QUANTITY_KINDS,
  realQuantities,
  sumQuantities,
  toOrder,
} from '#core/ledger/quantity.ts'
import { threadStrip } from '#core/ledger/thread.ts'
import { minor, sumMinor } from '#core/money/amount.ts'
import { anyMinor, someQuantity, someWeights } from '#test-helpers/arbitraries/money.ts'

const someEntries = () =>
  fc.array(fc.record({ kind: fc.constantFrom(...QUANTITY_KINDS), quantity: someQuantity() }), { maxLength: 30 })

describe('the quantity ledger', () => {
  it('says what is open from sums of entries', () => {
    const sums = sumQuantities([
      { kind: 'requested', quantity: '8' },
      { kind: 'ordered', quantity: '8' },
      { kind: 'confirmed', quantity: '6' },
      { kind: 'received', quantity: '5' },
      { kind: 'returned', quantity: '1' },
      { kind: 'billed', quantity: '3' },
    ])
    expect(toOrder(sums)).to.equal('0')
    expect(toOrder({ ...sums, requested: '6' })).to.equal('-2')
  })

  it('has one meaning of billed, net of credits, and one of proven, net of what went back', () => {
    const sums = { ...NO_QUANTITIES, received: '6', accepted: '3', returned: '1', billed: '5', credited: '2' }
    expect([billedQuantity(sums), provenQuantity('received', sums), provenQuantity('accepted', sums)]).to.deep.equal([
      '3',
      '5',
      '2',
    ])
  })

  it('goes on from sums as from entries, and is led to a wanted figure by one entry or none', () => {
    fc.assert(
      fc.property(someEntries(), someEntries(), (before, after) => {
        expect(addQuantities(sumQuantities(before), after)).to.deep.equal(sumQuantities([...before, ...after]))
      }),
    )
    const line = { id: 'l', sums: { ...NO_QUANTITIES, confirmed: '6' } }
    expect(leadTo(line, 'confirmed', '4')).to.deep.equal([{ lineId: 'l', kind: 'confirmed', quantity: '-2' }])
    expect(leadTo(line, 'confirmed', '6.0')).to.deep.equal([])
    expect(realQuantities([{ lineId: 'l', kind: 'billed', quantity: '0.000' }])).to.deep.equal([])
  })

  it('does not depend on the order of entries', () => {
    fc.assert(
      fc.property(someEntries(), entries => {
        expect(sumQuantities([...entries].reverse())).to.deep.equal(sumQuantities(entries))
      }),
    )
  })

  it('is restored by a reversal', () => {
    fc.assert(
      fc.property(someEntries(), someEntries(), (before, mistake) => {
        const reversed = mistake.map(entry => ({ kind: entry.kind, quantity: `-${entry.quantity}` }))
        expect(sumQuantities([...before, ...mistake, ...reversed])).to.deep.equal(sumQuantities(before))
      }),
    )
  })

  it('tells none, part, full and over', () => {
    expect(
      extentOf([
        { of: '8', done: '0' },
        { of: '2', done: '0' },
      ]),
    ).to.equal('none')
    expect(
      extentOf([
        { of: '8', done: '8' },
        { of: '2', done: '0' },
      ]),
    ).to.equal('part')
    expect(extentOf([{ of: '8', done: '8.0' }])).to.equal('full')
    expect(extentOf([{ of: '8', done: '8.000001' }])).to.equal('over')
    expect(
      extentOf([
        { of: '8', done: '9' },
        { of: '2', done: '0' },
      ]),
    ).to.equal('over')
  })
})

describe('the budget ledger', () => {
  const account: CheckedAccount = {
    id: 'a',
    label: 'LS-210 / 6210, 2026',
    level: 'stop',
    tolerancePercent: 0,
    open: true,
  }
  const text = (amount: bigint): string => String(amount)
  const entry = (kind: BudgetEntry['kind'], amount: number): BudgetEntry => ({
    accountId: 'a',
    kind,
    amount: minor(amount),
  })

  it('leaves allotted + transferred − reserved − committed − spent; accrued never counts', () => {
    const sums = sumBudget([
      entry('allotted', 1000),
      entry('transferred', -100),
      entry('reserved', 50),
      entry('committed', 200),
      entry('spent', 300),
      entry('accrued', 150),
    ])
    expect(available(sums)).to.equal(350n)
  })

  it('stops, asks or notes by the level of the account', () => {
    const sums = sumBudget([entry('allotted', 1000), entry('spent', 900)])
    expect(checkBudget(account, sums, minor(100), text)).to.deep.equal([])
    for (const level of ['stop', 'check', 'note'] as const) {
      const [reason] = checkBudget({ ...account, level }, sums, minor(101), text)
      expect(reason).to.include({ code: 'budget.over', level })
      expect(reason!.details).to.deep.include({ left: '100', wanted: '101', over: '1' })
    }
    expect(checkBudget({ ...account, level: 'off' }, sums, minor(5000), text)).to.deep.equal([])
  })

  it('lets the tolerance in per cent of the allotment pass', () => {
    const sums = sumBudget([entry('allotted', 1000), entry('spent', 1000)])
    expect(checkBudget({ ...account, tolerancePercent: 5 }, sums, minor(50), text)).to.deep.equal([])
    expect(checkBudget({ ...account, tolerancePercent: 5 }, sums, minor(51), text)).to.have.length(1)
    const moved = sumBudget([entry('allotted', 1000), entry('transferred', 1000), entry('spent', 2000)])
    expect(checkBudget({ ...account, tolerancePercent: 5 }, moved, minor(100), text)).to.deep.equal([])
    const large = sumBudget([entry('allotted', 1_000_000), entry('spent', 1_000_000)])
    expect(checkBudget({ ...account, tolerancePercent: 0.25 }, large, minor(2_500), text)).to.deep.equal([])
    expect(checkBudget({ ...account, tolerancePercent: 0.25 }, large, minor(2_501), text)).to.have.length(1)
  })

  it('says nothing where nothing is taken, however overdrawn the account is', () => {
    const sums = sumBudget([entry('spent', 900)])
    expect(checkBudget(account, sums, minor(0), text)).to.deep.equal([])
    expect(checkBudget(account, sums, minor(-5), text)).to.deep.equal([])
  })

  it('judges entries together by what they take beyond what they give; accrued takes nothing', () => {
    const sums = sumBudget([entry('allotted', 1000), entry('committed', 900)])
    const over = (...entries: BudgetEntry[]): string[] =>
      overdrafts([{ ...account, sums }], entries, text).map(reason => reason.code)
    expect(takenByAccount([entry('spent', 50), entry('committed', -20), entry('accrued', 500)])).to.deep.equal(
      new Map([['a', 30n]]),
    )
    expect(over(entry('spent', 100))).to.deep.equal([])
    expect(over(entry('spent', 101))).to.deep.equal(['budget.over'])
    expect(over(entry('spent', 201), entry('committed', -101))).to.deep.equal([])
    expect(over(entry('reserved', -5))).to.deep.equal([])
    expect(over({ ...entry('spent', 1), accountId: 'unknown' })).to.deep.equal(['budget.unknownAccount'])
    expect(over({ ...entry('spent', -1), accountId: 'unknown' })).to.deep.equal([])
    const asks = [{ ...account, level: 'check' as const, sums }]
    expect(overdrafts(asks, [entry('spent', 500)], text)).to.deep.equal([])
  })

  it('takes nothing from a closed account', () => {
    expect(checkBudget({ ...account, open: false }, sumBudget([]), minor(1), text)[0]!.code).to.equal('budget.closed')
  })
})

describe('commitments', () => {
  const left = (amount: number): Outstanding => ({
    lineId: 'l',
    accountId: 'a',
    kind: 'committed',
    amount: minor(amount),
  })

  it('spread over accounts so that they re-add', () => {
    fc.assert(
      fc.property(anyMinor(), someWeights(), (amount, weights) => {
        const entries = spread(
          'spent',
          'l',
          amount,
          weights.map((share, index) => ({ accountId: `a${index}`, share })),
        )
        expect(sumMinor(entries.map(entry => entry.amount))).to.equal(amount)
      }),
    )
  })

  it('move to a new amount by the difference per account', () => {
    const entries = adjustTo([left(60), { ...left(40), accountId: 'b' }], 'committed', 'l', minor(80), [
      { accountId: 'a', share: '1' },
      { accountId: 'c', share: '1' },
    ])
    expect(Object.fromEntries(entries.map(entry => [entry.accountId, entry.amount]))).to.deep.equal({
      a: -20n,
      b: -40n,
      c: 40n,
    })
  })

  it('lead from whatever stands to the wanted split, and there to nothing more', () => {
    const standing = fc.array(fc.record({ accountId: fc.constantFrom('a0', 'a1', 'a2'), amount: anyMinor() }))
    fc.assert(
      fc.property(standing, anyMinor(), someWeights(), (parts, amount, weights) => {
        const before = addStanding(
          [],
          parts.map(part => ({ ...part, lineId: 'l', kind: 'accrued' as const })),
        )
        const splits = weights.map((share, index) => ({ accountId: `a${index}`, share }))
        const after = addStanding(before, adjustTo(before, 'accrued', 'l', amount, splits))
        expect(standingAmount(after, 'accrued')).to.equal(amount)
        expect(standingAmount(after, 'committed')).to.equal(0n)
        expect(adjustTo(after, 'accrued', 'l', amount, splits)).to.deep.equal([])
        expect(standsAs('law', 'doc', { id: 'l', splits, standing: after }, 'accrued', amount)).to.deep.equal([])
      }),
    )
  })

  it('of no accounts or of nothing are no entries, and what is about no line stands nowhere', () => {
    expect(spread('spent', 'l', minor(0), [{ accountId: 'a', share: '1' }])).to.deep.equal([])
    expect(spread('spent', 'l', minor(5), [])).to.deep.equal([])
    expect(addStanding([], [{ accountId: 'a', kind: 'allotted', amount: minor(5) }])).to.deep.equal([])
    expect(addStanding([left(5)], [left(-5)])).to.deep.equal([])
  })

  it('have laws that name what stands wrong, account by account', () => {
    const line = {
      id: 'l',
      splits: [{ accountId: 'a', share: '1' }],
      standing: [left(60), { ...left(1), accountId: 'b' }],
    }
    expect(standsAs('law', 'O-1', line, 'committed', minor(50))).to.deep.equal([
      breach('law', 'O-1 a', '50', '60'),
      breach('law', 'O-1 b', '0', '1'),
    ])
    expect(standsAs('law', 'O-1', line, 'accrued', minor(7))).to.deep.equal([breach('law', 'O-1 a', '7', '0')])
    expect(neverBelowNothing('O-1', { ...NO_QUANTITIES, received: '-0.1', billed: '0' })).to.deep.equal([
      breach('quantityBelowNothing', 'O-1 received', '0 or more', '-0.1'),
    ])
  })

  it('are all released by their counter-entries', () => {
    expect(releaseAll([left(60), { ...left(5), kind: 'spent' }], ['committed'])).to.deep.equal([
      { accountId: 'a', kind: 'committed', lineId: 'l', amount: -60n },
    ])
  })
})

describe('history', () => {
  const hash = (text: string): string =>
    [...text].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 1_000_000_007, 7).toString(16)
  const chain = (count: number): (HistoryRecord & { hash: string })[] => {
    const records: (HistoryRecord & { hash: string })[] = []
    for (let sequence = 1; sequence <= count; sequence++) {
      const facts: HistoryRecord = {
        documentId: 'd',
        sequence,
        at: '2026-11-23T10:00:00.000Z',
        actorId: 'p',
        onBehalfOfId: null,
        channel: 'web',
        action: 'changed',
        changes: { to: sequence },
        reason: null,
        previousHash: records.at(-1)?.hash ?? '',
      }
      records.push({ ...facts, hash: hash(historyText(facts)) })
    }
    return records
  }

  it('hashes the same facts the same, whatever order their keys have', () => {
    expect(canonicalJson({ b: 1, a: [true, null], c: undefined })).to.equal('{"a":[true,null],"b":1}')
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.integer()), record => {
        expect(canonicalJson(Object.fromEntries(Object.entries(record).reverse()))).to.equal(canonicalJson(record))
      }),
    )
  })

  it('hashes what is stored: halves of pairs and NULs are replaced, what JSON cannot keep is left out', () => {
    const [record] = chain(1)
    const { hash: _hash, ...facts } = record!
    const stored = storedFacts({ ...facts, reason: 'a\ud800b\0c', changes: { kept: 'x\udfff', gone: undefined, n: 5 } })
    expect(stored.reason).to.equal('a\ufffdb\ufffdc')
    expect(stored.changes).to.deep.equal({ kept: 'x\ufffd', n: 5 })
    expect(storedFacts(stored)).to.deep.equal(stored)
    expect(storedFacts({ ...facts, reason: 'Größe 😀' }).reason).to.equal('Größe 😀')
  })

  it('finds nothing in a chain that nobody touched', () => {
    expect(checkChain(chain(5), hash)).to.deep.equal([])
  })

  it('finds an altered record, a missing one and a rewritten tail', () => {
    const altered = chain(4).map(record => (record.sequence === 2 ? { ...record, changes: { to: 99 } } : record))
    expect(checkChain(altered, hash)).to.deep.equal([{ sequence: 2, fault: 'altered' }])
    const gone = chain(4).filter(record => record.sequence !== 2)
    expect(checkChain(gone, hash).map(fault => fault.fault)).to.include.members(['gap', 'broken link'])
  })
})

describe('the thread strip', () => {
  it('shows at each step what the step before has more', () => {
    const strip = threadStrip({
      requested: minor(100),
      decided: minor(95),
      ordered: minor(90),
      confirmed: minor(60),
      received: minor(70),
      billed: minor(70),
      paid: minor(0),
    })
    expect(strip.map(step => step.missing)).to.deep.equal([0n, 5n, 5n, 30n, 0n, 0n, 70n])
  })
})
