import { type Minor, minor } from '#core/money/amount.ts'

/** A credit note of which something is not set off yet. */
export interface OpenCredit {
  readonly id: string
  readonly issueDate: string
  /** The invoice that it is against. */
  readonly invoiceId: string
  readonly open: Minor
}
/** An invoice of the same supplier and currency of which something is to be paid. */
export interface OpenInvoice {
  readonly id: string
  readonly dueOn: string
  readonly open: Minor
}
export interface SetOff {
  readonly creditId: string
  readonly invoiceId: string
  readonly amount: Minor
}

/**
 * Sets open credits off against what is to be paid of a supplier in one currency: each first against its own invoice, then the oldest credit against what
 * is due first. Nothing is set off twice, and never more than either side has.
 *
 * setOff([credit of 30.00 against I-1], [I-1 of 20.00, I-2 of 50.00]) //=> 20.00 off I-1, 10.00 off I-2
 */
export function setOff(credits: readonly OpenCredit[], invoices: readonly OpenInvoice[]): SetOff[] {
  const left = new Map([...credits, ...invoices].map(one => [one.id, one.open as bigint]))
  const made: SetOff[] = []
  const take = (credit: OpenCredit, invoice: OpenInvoice): void => {
    const amount = least(left.get(credit.id)!, left.get(invoice.id)!)
    if (amount <= 0n) return
    left.set(credit.id, left.get(credit.id)! - amount)
    left.set(invoice.id, left.get(invoice.id)! - amount)
    made.push({ creditId: credit.id, invoiceId: invoice.id, amount: minor(amount) })
  }
  const oldest = [...credits].sort((a, b) => order(a.issueDate, b.issueDate) || order(a.id, b.id))
  const first = [...invoices].sort((a, b) => order(a.dueOn, b.dueOn) || order(a.id, b.id))
  for (const credit of oldest) for (const invoice of first) if (invoice.id === credit.invoiceId) take(credit, invoice)
  for (const credit of oldest) for (const invoice of first) if (invoice.id !== credit.invoiceId) take(credit, invoice)
  return made
}

const order = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0)
const least = (a: bigint, b: bigint): bigint => (a < b ? a : b)
