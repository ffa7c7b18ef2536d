import type { InvoiceFacts, InvoiceLine } from '#core/bill/facts.ts'
import { type Hold, type HoldChange, type HoldKind, reconcileHolds, standingHolds } from '#core/bill/holds.ts'
import { lessCredits } from '#core/bill/lessCredits.ts'
import { matchCharges, matchDispute, matchParties, matchTax, matchTotals, matchTwin } from '#core/bill/matchHead.ts'
import { type MatchedAgainst, matchLine } from '#core/bill/matchLine.ts'
import { INVOICE_GROUPS, INVOICE_STATES, type InvoiceState } from '#core/bill/states.ts'
import { within } from '#core/bill/tolerance.ts'
import { amountToDecimal, sumMinor } from '#core/money/amount.ts'
import { sumDecimals } from '#core/money/decimal.ts'
import { isIn, transition } from '#core/states.ts'

/** What a line of an invoice is held against, or nothing where it belongs to no order line that is known. */
export function againstOf(invoice: Pick<InvoiceFacts, 'lines' | 'orders'>, line: InvoiceLine): MatchedAgainst | null {
  for (const order of invoice.orders) {
    const ordered = order.lines.find(one => one.id === line.orderLineId)
    if (!ordered) continue
    const before = invoice.lines.filter(
      other => other.orderLineId === line.orderLineId && other.position < line.position,
    )
    return { order, line: ordered, sameInvoice: sumDecimals(before.map(one => one.quantity)).toString() }
  }
  return null
}

/** Every difference of an invoice against its orders, what came in, and who we and the supplier are. */
export const differences = (billed: InvoiceFacts): Hold[] => differencesOf(lessCredits(billed))

const differencesOf = (invoice: InvoiceFacts): Hold[] =>
  withoutSmall(invoice, [
    ...invoice.lines.flatMap(line =>
      matchLine(
        line,
        againstOf(invoice, line),
        line.tolerances ?? invoice.tolerances,
        invoice.currency,
        invoice.issueDate,
      ),
    ),
    ...matchCharges(invoice),
    ...matchTax(invoice),
    ...matchTotals(invoice),
    ...matchParties(invoice),
    ...matchTwin(invoice),
    ...matchDispute(invoice),
  ])

/** Kinds that are let pass where all of them together are small; what did not come is never among them. */
const SMALL: readonly HoldKind[] = ['price', 'below', 'amount', 'quantity', 'charges', 'tax']

/** Without differences that are no more than the small total together. What is over an amount is counted as price or quantity already. */
function withoutSmall({ tolerances: { smallTotal }, net, currency }: InvoiceFacts, found: Hold[]): Hold[] {
  if (!smallTotal) return found
  const small = found.filter(hold => SMALL.includes(hold.kind))
  const counted = small.filter(hold => hold.kind !== 'amount' || !small.some(other => other.position === hold.position && (other.kind === 'price' || other.kind === 'quantity'))) // prettier-ignore
  const sum = sumMinor(counted.map(hold => hold.amount))
  const passes = within(amountToDecimal(sum, currency), amountToDecimal(net, currency), smallTotal)
  return passes ? found.filter(hold => !small.includes(hold)) : found
}

export interface Matched {
  readonly state: InvoiceState
  readonly holds: HoldChange
  /** Differences that stop it now. */
  readonly standing: readonly Hold[]
}

/**
 * Matches an invoice anew: opens the holds that are there now, ends those whose cause is gone, keeps what a person has cleared. An invoice
 * that is posted or over is left as it is.
 */
export function matchInvoice(invoice: InvoiceFacts): Matched {
  if (!isIn(INVOICE_GROUPS.waiting, invoice.state))
    return { state: invoice.state, holds: { open: [], end: [] }, standing: [] }
  const now = differences(invoice)
  const standing = standingHolds(invoice.holds, now)
  const next = transition(INVOICE_STATES, 'invoice', invoice.state, standing.length > 0 ? 'hold' : 'clear')
  return {
    state: next.ok ? next.state : invoice.state,
    holds: reconcileHolds(invoice.holds, now),
    standing,
  }
}
