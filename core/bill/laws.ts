import type { InvoiceFacts } from '#core/bill/facts.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import { spentValues } from '#core/bill/spent.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type Breach, breach } from '#core/ledger/law.ts'
import { sumMinor } from '#core/money/amount.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import { isIn } from '#core/states.ts'

/**
 * What must hold of an invoice in the ledgers: posted, it has billed what its lines bill and spent what they cost, order line by order line;
 * not posted or taken back, nothing of it stands. While it waits, its holds are those that it has now.
 */
export function invoiceLaws(invoice: InvoiceFacts & { readonly number: string }): Breach[] {
  const posted = isIn(INVOICE_GROUPS.posted, invoice.state)
  const values = spentValues(invoice)
  const lineIds = new Set([
    ...invoice.lines.flatMap(line => line.orderLineId ?? []),
    ...invoice.posted.quantities.map(entry => entry.lineId),
    ...invoice.posted.spent.flatMap(entry => entry.lineId ?? []),
  ])
  const ledgers = [...lineIds].flatMap(lineId => {
    const own = invoice.lines
      .map((line, index) => ({ line, value: values[index]! }))
      .filter(one => one.line.orderLineId === lineId)
    const name = `${invoice.number} on ${lineId}`
    const billed = posted ? sumDecimals(own.map(one => one.line.quantity)) : new Decimal(0)
    const spent = posted ? sumMinor(own.map(one => one.value)) : 0n
    const foundBilled = sumDecimals(
      invoice.posted.quantities.filter(one => one.lineId === lineId).map(one => one.quantity),
    )
    const foundSpent = sumMinor(invoice.posted.spent.filter(one => one.lineId === lineId).map(one => one.amount))
    return [
      ...(foundBilled.equals(billed)
        ? []
        : [breach('billedByInvoice', name, billed.toString(), foundBilled.toString())]),
      ...(foundSpent === spent ? [] : [breach('spentByInvoice', name, spent.toString(), foundSpent.toString())]),
    ]
  })
  return [...ledgers, ...holdLaws(invoice)]
}

function holdLaws(invoice: InvoiceFacts & { readonly number: string }): Breach[] {
  const now = matchInvoice(invoice)
  const kinds = (holds: readonly { readonly kind: string }[]): string =>
    holds
      .map(hold => hold.kind)
      .sort()
      .join(' ')
  return [
    ...(now.state === invoice.state ? [] : [breach('matchedState', invoice.number, now.state, invoice.state)]),
    ...(now.holds.open.length === 0 ? [] : [breach('missingHold', invoice.number, kinds(now.holds.open), 'nothing')]),
    ...(now.holds.end.length === 0
      ? []
      : [breach('endedHold', invoice.number, 'nothing', String(now.holds.end.length))]),
  ]
}
