import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { spread } from '#core/ledger/commitments.ts'
import { allocate } from '#core/money/allocate.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { chargesByLine, spreadCharges } from '#core/order/charges.ts'

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
  /** What it comes to in the base currency, where that is not its net at its rate. */
  readonly baseNet?: Minor
  /** `size`: what the charges are shared by, where that is not the line's own value. */
  readonly lines: readonly { readonly net: Minor; readonly size?: Minor }[]
}

/** The same in its two parts. */
export function spentParts(invoice: Spent): SpentParts[] {
  const total = invoice.baseNet ?? toBase(invoice.net, invoice.currency, invoice.rate, invoice.base)
  const own = invoice.lines.map(line => toBase(line.net, invoice.currency, invoice.rate, invoice.base))
  const rest = minor(total - sumMinor(own))
  if (rest === 0n) return own.map(value => ({ own: value, charges: minor(0) }))
  const sizes = invoice.lines.map(({ net, size = net }) => (size < 0n ? -size : size).toString())
  const shares = allocate(rest, sizes.every(size => size === '0') ? sizes.map(() => '1') : sizes)
  return own.map((value, index) => ({ own: value, charges: shares[index]! }))
}

interface SpentOn extends Omit<Spent, 'lines'> {
  readonly lines: readonly { readonly orderLineId: string | null; readonly net: Minor; readonly size?: Minor }[]
  readonly orders: InvoiceFacts['orders']
}

/** What lines with their share of the charges spend, on which account: of each line its own value, and its part of the charges by what was agreed about them. */
export function spentOn(bill: SpentOn): BudgetEntry[] {
  const charged = new Map(bill.orders.flatMap(order => [...chargesByLine(order)]))
  const ordered = new Map(bill.orders.flatMap(order => order.lines.map(line => [line.id, line] as const)))
  const parts = spentParts(bill)
  return bill.lines.flatMap((line, index) => {
    const known = ordered.get(line.orderLineId ?? '')
    if (!known) return []
    const { own, charges } = parts[index]!
    return [
      ...spread('spent', known.id, own, known.splits),
      ...spreadCharges(known.id, charges, known.splits, charged.get(known.id)!),
    ]
  })
}
