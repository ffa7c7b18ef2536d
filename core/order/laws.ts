import { type Breach, breach, neverBelowNothing, standsAs } from '#core/ledger/law.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { billExtent, billed, isSettled, neededNext, proven, receiveExtent } from '#core/order/measures.ts'
import { lineValues, payersByLine, standingOf } from '#core/order/standing.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { isIn } from '#core/states.ts'

/**
 * What must hold of an order in the ledgers: what is ordered stands there, nothing is below nothing, and what is committed and accrued is
 * what its lines make it: nothing where nothing is open.
 */
export function orderLaws(order: OrderFacts): Breach[] {
  const values = lineValues(order)
  const payers = payersByLine(order)
  const counted = isIn(ORDER_GROUPS.counted, order.state)
  return order.lines.flatMap(line => {
    const name = `${order.number} line ${line.position}`
    const { committed, accrued } = standingOf(line, values.get(line.id)!, order.state)
    const paid = { ...line, splits: payers.get(line.id)! }
    const ordered = counted ? line.quantity : '0'
    return [
      ...neverBelowNothing(name, line.sums),
      ...(new Decimal(line.sums.ordered).equals(ordered)
        ? []
        : [breach('orderedQuantity', name, ordered, line.sums.ordered)]),
      ...standsAs('committedAmount', name, paid, 'committed', committed),
      ...standsAs('accruedAmount', name, paid, 'accrued', accrued),
    ]
  })
}

/** What is kept on rows so that lists and threads can read it. */
export interface KeptFigures {
  readonly receiveExtent: string
  readonly billExtent: string
  readonly needBy: string | null
  readonly lines: readonly {
    readonly id: string
    readonly proven: string
    readonly billed: string
    readonly settled: boolean
  }[]
}

/** The figures that are kept beside an order: its extents, and of each line what is proven and billed and whether it is settled. */
export const keptFigures = (order: OrderFacts): KeptFigures => ({
  receiveExtent: receiveExtent(order.lines),
  billExtent: billExtent(order.lines),
  needBy: neededNext(order.lines),
  lines: order.lines.map(line => ({
    id: line.id,
    proven: proven(line),
    billed: billed(line),
    settled: isSettled(line, order.state),
  })),
})

/** The kept figures are those that the ledgers give. */
export function keptLaws(order: OrderFacts, kept: KeptFigures): Breach[] {
  const now = keptFigures(order)
  const lines = new Map(kept.lines.map(line => [line.id, line]))
  const differs = (law: string, name: string, expected: string, found: string | undefined): Breach[] =>
    expected === found ? [] : [breach(law, name, expected, found ?? 'nothing')]
  return [
    ...differs('receiveExtent', order.number, now.receiveExtent, kept.receiveExtent),
    ...differs('billExtent', order.number, now.billExtent, kept.billExtent),
    ...differs('neededNext', order.number, now.needBy ?? '', kept.needBy ?? ''),
    ...now.lines.flatMap((line, index) => {
      const name = `${order.number} line ${order.lines[index]!.position}`
      const found = lines.get(line.id)
      return [
        ...differs('provenQuantity', name, line.proven, found?.proven),
        ...differs('billedNet', name, line.billed, found?.billed),
        ...differs('settled', name, String(line.settled), String(found?.settled)),
      ]
    }),
  ]
}
