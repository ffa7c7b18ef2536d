import { dayAfter, lastDay, type Month } from '#core/calendar/months.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'

/** What a document did to the accounts in a month, in the base currency: below zero where it gave back. */
export interface JournalDocument {
  readonly number: string
  readonly text: string
  readonly day: string
  readonly spent: readonly { readonly account: string; readonly amount: Minor }[]
  readonly tax: Minor
  readonly gross: Minor
}
/** The accounts that stand against those that pay: what suppliers are owed, tax that comes back, what came in and is not billed. */
export interface JournalAccounts {
  readonly payables: string
  readonly inputTax: string
  readonly accrued: string
  readonly rounding: string
}
export interface JournalLine {
  readonly day: string
  readonly document: string
  readonly account: string
  readonly text: string
  /** One of them is nothing. */
  readonly debit: Minor
  readonly credit: Minor
}

const line = (day: string, document: string, account: string, text: string, amount: bigint): JournalLine[] =>
  amount === 0n ? [] : [{ day, document, account, text, debit: minor(amount > 0n ? amount : 0n), credit: minor(amount < 0n ? -amount : 0n) }] // prettier-ignore

/**
 * The journal of a month: for each document what its accounts spend and the tax that comes back against what the supplier is owed, a cent of rounding by
 * itself; then what came in and is not billed, on the last day, and its reversal on the first of the next month. Every document balances.
 */
export function journalOf(
  month: Month,
  documents: readonly JournalDocument[],
  accruals: readonly { readonly account: string; readonly amount: Minor }[],
  accounts: JournalAccounts,
): JournalLine[] {
  // prettier-ignore
  const posted = documents.flatMap(({ number, text, day, spent, tax, gross }) => {
    const net = sumMinor(spent.map(one => one.amount))
    return [
      ...spent.flatMap(one => line(day, number, one.account, text, one.amount)),
      ...line(day, number, accounts.inputTax, text, tax),
      ...line(day, number, accounts.rounding, text, gross - net - tax),
      ...line(day, number, accounts.payables, text, -gross),
    ]
  })
  const entries = (day: string, sign: bigint, text: string): JournalLine[] =>
    accruals.flatMap(({ account, amount }) => [
      ...line(day, `A-${month}`, account, text, sign * amount),
      ...line(day, `A-${month}`, accounts.accrued, text, -sign * amount),
    ])
  return [
    ...posted,
    ...entries(lastDay(month), 1n, 'Received, not billed'),
    ...entries(dayAfter(month), -1n, 'Received, not billed: reversed'),
  ]
}

/** Documents of a journal whose lines do not balance, or whose accounts do not say what the ledger says. */
export function journalFaults(
  journal: readonly JournalLine[],
  ledger: ReadonlyMap<string, Minor>,
  accounts: JournalAccounts,
  month: Month,
): string[] {
  // prettier-ignore
  const own = new Set([accounts.payables, accounts.inputTax, accounts.accrued, accounts.rounding])
  const amountOf = (one: JournalLine): bigint => one.debit - one.credit
  const byDocument = new Map<string, bigint>()
  const byAccount = new Map<string, bigint>()
  for (const one of journal) {
    byDocument.set(one.document, (byDocument.get(one.document) ?? 0n) + amountOf(one))
    if (!own.has(one.account) && one.document !== `A-${month}`)
      byAccount.set(one.account, (byAccount.get(one.account) ?? 0n) + amountOf(one))
  }
  return [
    ...[...byDocument].filter(([, sum]) => sum !== 0n).map(([document]) => document),
    ...[...new Set([...byAccount.keys(), ...ledger.keys()])].filter(account => (byAccount.get(account) ?? 0n) !== (ledger.get(account) ?? 0n)), // prettier-ignore
  ].sort()
}
