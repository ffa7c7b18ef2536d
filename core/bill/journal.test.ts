import { expect } from 'chai'
import fc from 'fast-check'
import { type JournalDocument, journalFaults, journalOf } from '#core/bill/journal.ts'
import { dayAfter, firstDay, isMonth, lastDay } from '#core/calendar/months.ts'
import { minor, sumMinor } from '#core/money/amount.ts'

const ACCOUNTS = { payables: '1600', inputTax: '1570', accrued: '1690', rounding: '6990' }
const bill = (changed: Partial<JournalDocument> = {}): JournalDocument => ({ number: 'I-1', text: 'Nordhavn', day: '2026-11-04', spent: [{ account: 'A', amount: minor(6_000) }, { account: 'B', amount: minor(4_000) }], tax: minor(2_100), gross: minor(12_100), ...changed }) // prettier-ignore

describe('a month of the books', () => {
  it('has a first and a last day, in leap years and over the end of the year', () => {
    expect([firstDay('2026-02'), lastDay('2026-02'), lastDay('2028-02'), dayAfter('2026-12'), lastDay('2026-12')]).to.deep.equal(['2026-02-01', '2026-02-28', '2028-02-29', '2027-01-01', '2026-12-31']) // prettier-ignore
    expect(['2026-11', '2026-00', '2026-13', '2026-1', '26-11', '2026-11-01'].map(isMonth)).to.deep.equal([true, false, false, false, false, false]) // prettier-ignore
  })
})

describe('the journal of a month', () => {
  const short = (lines: ReturnType<typeof journalOf>) => lines.map(one => [one.day, one.document, one.account, one.debit - one.credit]) // prettier-ignore

  it('sets what accounts spend and the tax against what the supplier is owed, a cent of rounding by itself', () => {
    expect(short(journalOf('2026-11', [bill({ gross: minor(12_101) })], [], ACCOUNTS))).to.deep.equal([
      ['2026-11-04', 'I-1', 'A', 6_000n],
      ['2026-11-04', 'I-1', 'B', 4_000n],
      ['2026-11-04', 'I-1', '1570', 2_100n],
      ['2026-11-04', 'I-1', '6990', 1n],
      ['2026-11-04', 'I-1', '1600', -12_101n],
    ])
  })

  it('turns the sides of a credit note, and says one side only', () => {
    const [spent, owed] = journalOf('2026-11', [bill({ number: 'C-1', spent: [{ account: 'A', amount: minor(-500) }], tax: minor(0), gross: minor(-500) })], [], ACCOUNTS) // prettier-ignore
    expect([spent!.debit, spent!.credit, owed!.debit, owed!.credit]).to.deep.equal([0n, 500n, 500n, 0n])
  })

  it('accrues on the last day what came in and is not billed, and reverses it on the next', () => {
    const accrued = [{ account: 'A', amount: minor(700) }]
    expect(short(journalOf('2026-11', [], accrued, ACCOUNTS))).to.deep.equal([
      ['2026-11-30', 'A-2026-11', 'A', 700n],
      ['2026-11-30', 'A-2026-11', '1690', -700n],
      ['2026-12-01', 'A-2026-11', 'A', -700n],
      ['2026-12-01', 'A-2026-11', '1690', 700n],
    ])
  })

  it('balances whatever is posted, and re-adds to the ledger', () => {
    const amount = fc.bigInt({ min: -100_000n, max: 100_000n }).map(minor)
    const made = fc.record({ number: fc.constantFrom('I-1', 'I-2', 'C-3'), text: fc.constant(''), day: fc.constant('2026-11-04'), spent: fc.array(fc.record({ account: fc.constantFrom('A', 'B', 'C'), amount }), { maxLength: 4 }), tax: amount, gross: amount }) // prettier-ignore
    fc.assert(
      fc.property(
        fc.array(made, { maxLength: 8 }),
        fc.array(fc.record({ account: fc.constantFrom('A', 'B'), amount })),
        (documents, accruals) => {
          // prettier-ignore
          const journal = journalOf('2026-11', documents, accruals, ACCOUNTS)
          expect(sumMinor(journal.map(one => one.debit))).to.equal(sumMinor(journal.map(one => one.credit)))
          const ledger = new Map<string, bigint>()
          for (const one of documents.flatMap(document => document.spent)) ledger.set(one.account, (ledger.get(one.account) ?? 0n) + one.amount) // prettier-ignore
          const known = new Map([...ledger].map(([account, sum]) => [account, minor(sum)]))
          expect(journalFaults(journal, known, ACCOUNTS, '2026-11')).to.deep.equal([])
        },
      ),
      { numRuns: 100, seed: 3 },
    )
  })

  it('names a document that does not balance and an account that is not the ledger’s', () => {
    const journal = journalOf('2026-11', [bill()], [], ACCOUNTS)
    const ledger = new Map([['A', minor(6_000)], ['B', minor(4_000)]]) // prettier-ignore
    expect(journalFaults(journal, ledger, ACCOUNTS, '2026-11')).to.deep.equal([])
    expect(journalFaults(journal.slice(1), ledger, ACCOUNTS, '2026-11')).to.deep.equal(['A', 'I-1'])
    expect(journalFaults(journal, new Map([...ledger, ['B', minor(3_999)]]), ACCOUNTS, '2026-11')).to.deep.equal(['B'])
    expect(journalFaults(journal, new Map([...ledger, ['Z', minor(1)]]), ACCOUNTS, '2026-11')).to.deep.equal(['Z'])
  })
})
