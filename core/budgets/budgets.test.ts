import { expect } from 'chai'
import fc from 'fast-check'
import { available, type BudgetKind, type BudgetSums, sumBudget } from '#core/ledger/budget.ts'
import { readBudgetRow } from '#core/budgets/budgetImport.ts'
import { changeYear } from '#core/budgets/budgetYear.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { checkTransfer, TRANSFER_STATES, transferEntries } from '#core/budgets/transfers.ts'
import { minor } from '#core/money/amount.ts'
import { actionsFrom, transition } from '#core/states.ts'

const sums = (changed: Partial<Record<BudgetKind, number>>): BudgetSums =>
  sumBudget(Object.entries(changed).map(([kind, amount]) => ({ kind: kind as BudgetKind, amount: minor(amount) })))
const standing = (kind: BudgetKind, lineId: string, amount: number, accountId = 'old'): Outstanding => ({
  accountId,
  kind,
  lineId,
  amount: minor(amount),
})

describe('the change of a fiscal year', () => {
  const account = {
    id: 'old',
    nextId: 'new',
    sums: sums({ allotted: 1000, reserved: 100, committed: 250, spent: 400, accrued: 50 }),
    outstanding: [standing('reserved', 'r', 100), standing('committed', 'c', 250), standing('accrued', 'c', 50)],
  }

  it('carries what is open, line by line, and leaves what was spent', () => {
    const move = changeYear(account, { carryBudget: false, carryRest: false })
    expect(move).to.deep.include({ carried: minor(350), budget: minor(0), rest: minor(0) })
    expect(move.entries).to.deep.equal([
      { accountId: 'old', kind: 'reserved', lineId: 'r', amount: minor(-100) },
      { accountId: 'new', kind: 'reserved', lineId: 'r', amount: minor(100) },
      { accountId: 'old', kind: 'committed', lineId: 'c', amount: minor(-250) },
      { accountId: 'new', kind: 'committed', lineId: 'c', amount: minor(250) },
      { accountId: 'old', kind: 'accrued', lineId: 'c', amount: minor(-50) },
      { accountId: 'new', kind: 'accrued', lineId: 'c', amount: minor(50) },
    ])
  })

  it('takes the budget of it along, if set, and what is left, if set', () => {
    expect(changeYear(account, { carryBudget: true, carryRest: false })).to.deep.include({
      budget: minor(350),
      rest: minor(0),
    })
    expect(changeYear(account, { carryBudget: true, carryRest: true })).to.deep.include({
      budget: minor(350),
      rest: minor(250),
    })
    expect(changeYear(account, { carryBudget: false, carryRest: true })).to.deep.include({
      budget: minor(0),
      rest: minor(600),
    })
  })

  it('passes over what stands on other accounts', () => {
    const other = { ...account, outstanding: [standing('committed', 'c', 250, 'elsewhere')] }
    expect(changeYear(other, { carryBudget: true, carryRest: false }).entries).to.deep.equal([])
  })

  it('adds up to nothing over both years, and keeps what is available in sum', () => {
    const amounts = fc.array(
      fc.tuple(fc.constantFrom<BudgetKind>('reserved', 'committed', 'accrued'), fc.integer({ min: -500, max: 900 })),
      { maxLength: 8 },
    )
    fc.assert(
      fc.property(
        amounts,
        fc.integer({ min: 0, max: 5000 }),
        fc.boolean(),
        fc.boolean(),
        (open, allotted, carryBudget, carryRest) => {
          const outstanding = open.map(([kind, amount], index) => standing(kind, `l${index}`, amount))
          const before = sumBudget([{ kind: 'allotted', amount: minor(allotted) }, ...outstanding])
          const move = changeYear({ id: 'old', nextId: 'new', sums: before, outstanding }, { carryBudget, carryRest })
          const of = (id: string): BudgetSums => sumBudget(move.entries.filter(entry => entry.accountId === id))
          for (const kind of ['reserved', 'committed', 'accrued', 'transferred'] as const)
            expect(of('old')[kind] + of('new')[kind]).to.equal(0n)
          const after = sumBudget([
            { kind: 'allotted', amount: minor(allotted) },
            ...outstanding,
            ...move.entries.filter(entry => entry.accountId === 'old'),
          ])
          expect([after.reserved, after.committed, after.accrued]).to.deep.equal([0n, 0n, 0n])
          expect(available(after) + available(of('new'))).to.equal(available(before))
          if (carryRest) expect(available(after)).to.equal(0n)
        },
      ),
    )
  })
})

describe('a transfer', () => {
  const side = (id: string, open = true) => ({ id, label: id, open })
  const codes = (amount: number, from = side('a'), to = side('b')): string[] =>
    checkTransfer(from, to, sums({ allotted: 100, reserved: 40 }), minor(amount), String).map(reason => reason.code)

  it('needs the money, two different open accounts and an amount above zero', () => {
    expect(codes(60)).to.deep.equal([])
    expect(codes(61)).to.deep.equal(['transfer.notThere'])
    expect(codes(0)).to.deep.equal(['transfer.amount'])
    expect(codes(10, side('a'), side('a'))).to.deep.equal(['transfer.same'])
    expect(codes(10, side('a', false))).to.deep.equal(['budget.closed'])
    expect(codes(10, side('a'), side('b', false))).to.deep.equal(['budget.closed'])
  })

  it('takes from one account what it gives the other', () => {
    expect(transferEntries('a', 'b', minor(60))).to.deep.equal([
      { accountId: 'a', kind: 'transferred', amount: minor(-60) },
      { accountId: 'b', kind: 'transferred', amount: minor(60) },
    ])
  })

  it('waits until somebody decides, and is final then', () => {
    expect(actionsFrom(TRANSFER_STATES, 'waiting')).to.deep.equal(['approve', 'refuse', 'withdraw'])
    for (const state of ['approved', 'refused', 'withdrawn'] as const)
      expect(transition(TRANSFER_STATES, 'budgetTransfer', state, 'approve').ok).to.equal(false)
  })
})

describe('a row of a budget file', () => {
  const codes = { costCentres: new Set(['LS-210']), accounts: new Set(['6020']), projects: new Set(['SKID-26']) }
  const row = {
    cost_centre: 'ls-210',
    account: '6020',
    year: '2027',
    project: '',
    amount: '12 500,50',
    check: '',
    tolerance_percent: '',
  }
  const faults = (changed: Partial<typeof row>): string[] =>
    readBudgetRow({ ...row, ...changed }, 2, codes).reasons.map(reason => `${reason.code} ${reason.details.column}`)

  it('says what an account’s allotment shall be', () => {
    expect(readBudgetRow(row, 2, codes).budget).to.deep.equal({
      costCentre: 'LS-210', account: '6020', year: 2027, project: null, amount: '12500.50', level: null, tolerancePercent: null,
    }) // prettier-ignore
    expect(readBudgetRow({ ...row, project: 'SKID-26', check: 'stop', tolerance_percent: '2,5', amount: '0' }, 2, codes).budget).to.deep.include({
      project: 'SKID-26', level: 'stop', tolerancePercent: 2.5, amount: '0',
    }) // prettier-ignore
  })

  it('names each fault with its column', () => {
    expect(faults({ cost_centre: 'XX-1' })).to.deep.equal(['import.unknownCode cost_centre'])
    expect(faults({ account: '' })).to.deep.equal(['import.missing account'])
    expect(faults({ project: 'NOPE' })).to.deep.equal(['import.unknownCode project'])
    expect(faults({ year: '27' })).to.deep.equal(['import.year year'])
    expect(faults({ amount: '1,200' })).to.deep.equal(['import.ambiguousNumber amount'])
    expect(faults({ amount: '-5' })).to.deep.equal(['import.number amount'])
    expect(faults({ amount: 'plenty' })).to.deep.equal(['import.number amount'])
    expect(faults({ check: 'maybe' })).to.deep.equal(['import.checkLevel check'])
    expect(faults({ tolerance_percent: '101' })).to.deep.equal(['import.number tolerance_percent'])
  })
})
