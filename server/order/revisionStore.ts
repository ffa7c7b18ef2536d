import { formatAmount, minor } from '#core/money/amount.ts'
import { isCancelledLine } from '#core/order/measures.ts'
import type { RevisionCharge, RevisionLine } from '#core/order/revision.ts'
import { unitLabel } from '#core/units/units.ts'
import type { OrderClause } from '#server/order/clauseStore.ts'
import type { OrderLineRow, OrderRow } from '#server/order/orderStore.ts'

export interface RevisionRow {
  orderId: string
  revision: number
  content: RevisionContent
  issuedAt: string
  issuedBy: string
  reason: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    orderRevisions: RevisionRow
  }
}

/** What is frozen when a revision is issued: all that the supplier sees. */
export interface RevisionContent {
  readonly title: string
  readonly message: string
  /** All charges less all discounts. */
  readonly charges: string
  /** One by one; revisions of old have their sum only. */
  readonly chargeItems?: readonly RevisionCharge[]
  /** Where it goes at the supplier; revisions of old do not say. */
  readonly location?: string
  readonly clauses?: readonly OrderClause[]
  readonly total: string
  readonly lines: RevisionLine[]
}

/** A line's own terms in words, as they stand on the order: they win over the order's. */
export function lineTerms(
  line: Pick<OrderLineRow, 'kind' | 'details' | 'incoterm' | 'incotermPlace' | 'proof' | 'unit'>,
  currency: string,
): string {
  const instalments = (line.details.instalments ?? []).map(
    one => `${one.title}: ${currency} ${one.amount}${one.due ? ` by ${one.due}` : ''}`,
  )
  return [
    line.incoterm ? `${line.incoterm} ${line.incotermPlace} (Incoterms 2020)` : '',
    line.details.deliverable ?? '',
    instalments.length > 0 ? `in instalments: ${instalments.join('; ')}` : '',
    line.kind === 'workByRate'
      ? `a ceiling${line.details.expected ? `; expected are ${line.details.expected} ${unitLabel(line.unit)}` : ''}`
      : '',
    line.proof === 'billFirst' ? 'may be billed at once' : '',
  ]
    .filter(Boolean)
    .join('. ')
}

/** An order's text and lines as a revision shows them. */
export function revisionContent(
  order: Pick<OrderRow, 'title' | 'message' | 'currency' | 'charges' | 'chargeItems' | 'total'>,
  rows: readonly (OrderLineRow & { readonly place: string })[],
): RevisionContent {
  return {
    title: order.title,
    message: order.message,
    charges: formatAmount(order.charges, order.currency),
    chargeItems: order.chargeItems.map(({ kind, words, percent, amount }) => ({
      kind,
      words,
      percent,
      amount: formatAmount(minor(BigInt(amount)), order.currency),
    })),
    total: formatAmount(order.total, order.currency),
    lines: rows
      .filter(row => !isCancelledLine(row))
      .map(row => {
        const terms = lineTerms(row, order.currency)
        return {
          lineId: row.id,
          position: row.position,
          description: row.description,
          quantity: row.quantity,
          unit: row.unit,
          price: row.price,
          priceBase: row.priceBase,
          amount: formatAmount(row.amount, order.currency),
          needBy: row.needBy,
          place: row.place,
          ...(row.schedule.length > 0
            ? { schedule: row.schedule.map(({ quantity, date, place }) => ({ quantity, date, place })) }
            : {}),
          ...(terms === '' ? {} : { terms }),
        }
      }),
  }
}
