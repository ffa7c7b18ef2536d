import { type BudgetEntry } from '#core/ledger/budget.ts'
import { adjustTo, releaseShare, spread } from '#core/ledger/commitments.ts'
import { openFigures } from '#core/ledger/quantity.ts'
import { allocate } from '#core/money/allocate.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { refuseStops } from '#core/reasons.ts'
import { type Call } from '#server/call.ts'
import { checkBudgets, outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { type NewQuantity, postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { type OrderLineRow, type OrderRow } from '#server/order/orderStore.ts'
import { type RequisitionLineRow } from '#server/request/requisitionStore.ts'

/** Net value of each line with its share of the order's charges, in the base currency. */
export function committedValues(order: Pick<OrderRow, 'charges' | 'currency' | 'rate'>, lines: readonly OrderLineRow[], base: string): Map<string, Minor> {
  const charges = toBase(minor(order.charges), order.currency, order.rate, base)
  const weights = lines.map(line => line.baseAmount.toString())
  const shares = charges === 0n ? lines.map(() => 0n) : allocate(charges, weights.every(weight => weight === '0') ? lines.map(() => '1') : weights)
  return new Map(lines.map((line, index) => [line.id, minor(line.baseAmount + shares[index]!)]))
}

export const orderedEntries = (lines: readonly OrderLineRow[], quantity: (line: OrderLineRow) => string): NewQuantity[] =>
  lines.flatMap(line => [
    { lineId: line.id, kind: 'ordered' as const, quantity: quantity(line) },
    ...(line.requisitionLineId ? [{ lineId: line.requisitionLineId, kind: 'ordered' as const, quantity: quantity(line) }] : []),
  ])

/** Checks what entries take from each account beyond what they give back; only an account that stops refuses here. */
async function refuseOverdraft(call: Call, entries: readonly BudgetEntry[]): Promise<void> {
  const net = new Map<string, Minor>()
  for (const entry of entries) net.set(entry.accountId, minor((net.get(entry.accountId) ?? 0n) + entry.amount))
  const taking = new Map([...net].filter(([, amount]) => amount > 0n))
  if (taking.size > 0) refuseStops(await checkBudgets(call, taking, true))
}

export async function commit(call: Call, order: OrderRow, lines: readonly OrderLineRow[]): Promise<void> {
  const requestIds = lines.map(line => line.requisitionLineId).filter(id => id !== null)
  const [reserved, sums] = [await outstanding(call, requestIds), await quantitySums(call, requestIds)]
  const values = committedValues(order, lines, call.base)
  const releases = lines.flatMap(line =>
    line.requisitionLineId
      ? releaseShare(
          reserved.filter(part => part.lineId === line.requisitionLineId),
          'reserved',
          line.quantity,
          openFigures(sums(line.requisitionLineId)).toOrder,
        )
      : [],
  )
  const commitments = lines.flatMap(line => spread('committed', line.id, values.get(line.id)!, line.splits))
  await refuseOverdraft(call, [...releases, ...commitments])
  await postBudget(call, { kind: 'order', id: order.id }, [...releases, ...commitments])
  await postQuantities(
    call,
    { kind: 'order', id: order.id },
    orderedEntries(lines, line => line.quantity),
  )
}

export async function recommit(call: Call, order: OrderRow, before: readonly OrderLineRow[], changed: OrderRow, after: readonly OrderLineRow[]): Promise<void> {
  const [old, next] = [committedValues(order, before, call.base), committedValues(changed, after, call.base)]
  const sums = await quantitySums(
    call,
    after.map(line => line.id),
  )
  const entries = after.flatMap(line => spread('committed', line.id, minor(next.get(line.id)! - (old.get(line.id) ?? 0n)), line.splits))
  await refuseOverdraft(call, entries)
  await postBudget(call, { kind: 'order', id: order.id }, entries)
  const quantities = new Map(before.map(line => [line.id, line.quantity]))
  await postQuantities(call, { kind: 'order', id: order.id }, [
    ...orderedEntries(after, line => new Decimal(line.quantity).minus(quantities.get(line.id) ?? 0).toString()),
    ...after.map(line => ({ lineId: line.id, kind: 'confirmed' as const, quantity: new Decimal(0).minus(sums(line.id).confirmed).toString() })),
  ])
}

export async function recommitOpen(call: Call, order: OrderRow, lines: readonly OrderLineRow[]): Promise<void> {
  const values = committedValues(order, lines, call.base)
  const [left, sums] = [
    await outstanding(
      call,
      lines.map(line => line.id),
    ),
    await quantitySums(
      call,
      lines.map(line => line.id),
    ),
  ]
  const entries = lines.flatMap(line => {
    const open = Decimal.max(0, new Decimal(1).minus(new Decimal(sums(line.id).billed).dividedBy(line.quantity)))
    return adjustTo(
      left.filter(part => part.lineId === line.id),
      'committed',
      line.id,
      minor(BigInt(open.times(values.get(line.id)!.toString()).toFixed(0, Decimal.ROUND_HALF_UP))),
      line.splits,
    )
  })
  await refuseOverdraft(call, entries)
  await postBudget(call, { kind: 'order', id: order.id }, entries)
}

/** The need remains: what this order had taken is reserved again, and its lines go back to be bought. */
export async function reserveAgain(call: Call, order: OrderRow, lines: readonly OrderLineRow[], requested: readonly RequisitionLineRow[]): Promise<void> {
  const entries = lines.flatMap(line => {
    const request = requested.find(one => one.id === line.requisitionLineId)
    if (!request) return []
    const share = new Decimal(request.baseAmount.toString()).times(line.quantity).dividedBy(request.quantity).toDecimalPlaces(0)
    return spread('reserved', request.id, minor(BigInt(share.toFixed(0))), request.splits)
  })
  await refuseOverdraft(call, entries)
  await postBudget(call, { kind: 'order', id: order.id }, entries)
}
