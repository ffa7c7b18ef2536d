import type { InvoiceFacts } from '#core/bill/facts.ts'
import { allocate } from '#core/money/allocate.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'

/**
 * Net value of each line with its share of charges and allowances of the document, in the base currency at the invoice's rate. The parts
 * re-add to the document's net; charges are shared by the size of the lines, equally where all are nothing.
 */
export function spentValues(
  invoice: Pick<InvoiceFacts, 'net' | 'currency' | 'rate' | 'base'> & {
    readonly lines: readonly { readonly net: Minor }[]
  },
): Minor[] {
  const total = toBase(invoice.net, invoice.currency, invoice.rate, invoice.base)
  const own = invoice.lines.map(line => toBase(line.net, invoice.currency, invoice.rate, invoice.base))
  const rest = minor(total - sumMinor(own))
  if (rest === 0n) return own
  const sizes = invoice.lines.map(line => (line.net < 0n ? -line.net : line.net).toString())
  const shares = allocate(rest, sizes.every(size => size === '0') ? sizes.map(() => '1') : sizes)
  return own.map((value, index) => minor(value + shares[index]!))
}
