import { expect } from 'chai'
import fc from 'fast-check'
import { available, type BudgetEntry, checkBudget, type CheckedAccount, sumBudget } from '#core/ledger/budget.ts'
import { canonicalJson, checkChain, type HistoryRecord, historyText } from '#core/ledger/canonical.ts'
import { adjustTo, type Outstanding, releaseAll, releaseShare, spread } from '#core/ledger/commitments.ts'
import { extentOf, openFigures, QUANTITY_KINDS, sumQuantities } from '#core/ledger/quantity.ts'
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
    expect(openFigures(sums)).to.deep.equal({ toOrder: '0', toConfirm: '2', toReceive: '4', toBill: '1', toPay: '3' })
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

  it('are released in proportion, and whole with the last part', () => {
    expect(releaseShare([left(100)], 'committed', '1', '3')).to.deep.equal([
      { accountId: 'a', kind: 'committed', lineId: 'l', amount: -33n },
    ])
    expect(releaseShare([left(67)], 'committed', '2', '2')[0]!.amount).to.equal(-67n)
    expect(releaseShare([left(67)], 'committed', '5', '2')[0]!.amount).to.equal(-67n)
  })

  it('leave nothing behind, however the parts fall', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: 1n, max: 10_000_000n }),
        fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 1, maxLength: 8 }),
        (amount, parts) => {
          let open = amount
          let remaining = parts.reduce((sum, part) => sum + part, 0)
          for (const part of parts) {
            const [entry] = releaseShare([left(Number(open))], 'committed', String(part), String(remaining))
            open += entry?.amount ?? 0n
            remaining -= part
          }
          expect(open).to.equal(0n)
        },
      ),
    )
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
      decided: minor(100),
      ordered: minor(90),
      confirmed: minor(60),
      received: minor(70),
      billed: minor(70),
      paid: minor(0),
    })
    expect(strip.map(step => step.missing)).to.deep.equal([0n, 0n, 10n, 30n, 0n, 0n, 70n])
  })
})
