import type { InvoiceFacts } from '#core/bill/facts.ts'
import { allocate } from '#core/money/allocate.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'

/** A line of an invoice in the base currency: its own value, and its share of charges and allowances of the document. */
export interface SpentParts {
  readonly own: Minor
  readonly charges: Minor
}

/**
 * Net value of each line with its share of charges and allowances of the document, in the base currency at the invoice's rate. The parts
 * re-add to the document's net; charges are shared by the size of the lines, equally where all are nothing.
 */
export const spentValues = (invoice: Spent): Minor[] =>
  spentParts(invoice).map(({ own, charges }) => minor(own + charges))

type Spent = Pick<InvoiceFacts, 'net' | 'currency' | 'rate' | 'base'> & {
  readonly lines: readonly { readonly net: Minor }[]
}

/** The same in its two parts. */
export function spentParts(invoice: Spent): SpentParts[] {
  const total = toBase(invoice.net, invoice.currency, invoice.rate, invoice.base)
  const own = invoice.lines.map(line => toBase(line.net, invoice.currency, invoice.rate, invoice.base))
  const rest = minor(total - sumMinor(own))
  if (rest === 0n) return own.map(value => ({ own: value, charges: minor(0) }))
  const sizes = invoice.lines.map(line => (line.net < 0n ? -line.net : line.net).toString())
  const shares = allocate(rest, sizes.every(size => size === '0') ? sizes.map(() => '1') : sizes)
  return own.map((value, index) => ({ own: value, charges: shares[index]! }))
}
