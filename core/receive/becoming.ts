import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { proven } from '#core/order/measures.ts'
import { isWork, provenBy } from '#core/request/kinds.ts'
import type { CountedLine } from '#core/receive/facts.ts'
import type { Becoming } from '#core/receive/counts.ts'

/** What becomes of a count of a line: by its own word, its item's or its category's. Money that was promised is counted only, work is accepted. */
export function becoming(
  line: Pick<OrderLine, 'kind' | 'matchLevel'>,
  { terms: { terms }, itemId, first }: CountedLine,
): Becoming {
  if (isWork(line.kind)) return { becomes: 'work', inspect: false, billsWait: false }
  // stock is kept by item: what has none is counted only
  const becomes =
    line.kind === 'goodsByAmount' || (terms.becomes === 'stock' && itemId === null) ? 'counted' : terms.becomes
  const inspect = terms.inspect === 'all' || terms.inspect === 'sample' || (terms.inspect === 'first' && first)
  return { becomes, inspect, billsWait: terms.inspect !== 'none' && (terms.billsWait || line.matchLevel === '4') }
}

/** What a count is in the ledger of quantities. */
interface Entered extends Becoming {
  readonly lineId: string
  readonly quantity: string
}

/**
 * Entries of a count: goods are received, work is accepted. Of a line whose bills wait for inspection that counts as accepted which need not be
 * inspected; the first time, so does all that came before.
 */
export function countEntries(order: Pick<OrderFacts, 'lines'>, parts: readonly Entered[]): QuantityEntry[] {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const begun = new Set<string>()
  return parts.flatMap(({ lineId, quantity, inspect, billsWait }): QuantityEntry[] => {
    const line = lines.get(lineId)!
    const counted: QuantityEntry = { lineId, kind: provenBy(line.kind), quantity }
    if (isWork(line.kind) || !(billsWait || line.inspects)) return [counted]
    const before = line.inspects || begun.has(lineId) ? '0' : proven(line)
    begun.add(lineId)
    const accepted = new Decimal(before).plus(inspect ? 0 : quantity)
    return [
      counted,
      ...(accepted.isZero() ? [] : [{ lineId, kind: 'accepted' as const, quantity: accepted.toString() }]),
    ]
  })
}
