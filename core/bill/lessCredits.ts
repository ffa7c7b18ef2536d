import type { CreditFigures } from '#core/bill/creditFacts.ts'
import type { InvoiceFacts, InvoiceLine } from '#core/bill/facts.ts'
import { minor, sumMinor } from '#core/money/amount.ts'
import { Decimal, sumDecimals, tidy } from '#core/money/decimal.ts'

/**
 * An invoice as it is matched: what credit notes that wait for it take away is not billed. They post together with it, so that a difference that a credit
 * or debit note takes away stops nothing.
 */
export const lessCredits = (invoice: InvoiceFacts): InvoiceFacts =>
  invoice.credits.length === 0
    ? invoice
    : {
        ...invoice,
        charges: minor(invoice.charges - sumMinor(invoice.credits.map(one => one.charges))),
        lines: invoice.lines.map(line => lineLess(line, invoice.credits)),
      }

function lineLess(line: InvoiceLine, credits: readonly CreditFigures[]): InvoiceLine {
  const own = credits.flatMap(one => one.lines).filter(one => one.of === line.position)
  if (own.length === 0) return line
  const pieces = sumDecimals(own.filter(one => one.way === 'quantity').map(one => one.quantity))
  return {
    ...line,
    quantity: tidy(new Decimal(line.quantity).minus(pieces)),
    net: minor(line.net - sumMinor(own.map(one => one.net))),
  }
}
