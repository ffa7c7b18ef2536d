import { type BodyOf } from '#contract/endpoint.ts'
import { type ChangeOrder } from '#contract/order/endpoints.ts'
import { formatAmount, lineAmount, parseAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { compareRevisions } from '#core/order/revision.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { rematchForOrders } from '#server/bill/matchService.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { checkAgainstRequest } from '#server/order/againstRequest.ts'
import { recommit } from '#server/order/commitment.ts'
import { freeze } from '#server/order/issueOrder.ts'
import { lockOrder, type OrderLineRow, orderLines, type OrderRow, refreshExtents, revisionContent } from '#server/order/orderStore.ts'
import { refreshRequisitions } from '#server/request/requisitionStore.ts'

type Change = Omit<BodyOf<typeof ChangeOrder>, 'version'>

/** Edits a draft; of an issued order it makes the next revision, asks the supplier again and moves the commitment by the difference. */
export async function changeOrder(call: Call, id: string, change: Change, version: number): Promise<Done> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const issued = order.state !== 'draft'
  if (!issued && change.conditions)
    await call
      .trx('orders')
      .where({ id })
      .update({ conditions: JSON.stringify(change.conditions) })
  if (issued) {
    const next = transition(ORDER_STATES, 'order', order.state, 'change')
    if (!next.ok) throw new RuleBroken(next.reasons)
    if (change.reason.trim().length < 3) throw new RuleBroken(stop('order.changeWantsReason', {}, { place: 'reason' }))
  }
  const before = await orderLines(call, id)
  const after = changedLines(order, before, change, call.base)
  const charges = parseAmount(change.charges, order.currency)
  if (charges < 0n) throw new RuleBroken(stop('order.charges', {}, { place: 'charges' }))
  const changed: OrderRow = { ...order, title: change.title, message: change.message, charges }
  const content = { before: revisionContent(order, before), after: revisionContent(changed, after) }
  const differences = compareRevisions(content.before.lines, content.after.lines)
  if (issued && differences.length === 0 && charges === order.charges && change.title === order.title && change.message === order.message)
    throw new RuleBroken(stop('order.nothingChanged'))
  if (issued) {
    await refuseBelowProgress(call, after)
    refuseStops(await checkAgainstRequest(call, after))
    await recommit(call, order, before, changed, after)
  }
  for (const line of after)
    await call
      .trx('orderLines')
      .where({ id: line.id })
      .update({ quantity: line.quantity, price: line.price, needBy: line.needBy, description: line.description, amount: line.amount, baseAmount: line.baseAmount })
  const removed = before.filter(line => !after.some(kept => kept.id === line.id))
  if (removed.length > 0) {
    if (issued) throw new RuleBroken(stop('order.lineCannotGo'))
    await call
      .trx('orderLines')
      .whereIn(
        'id',
        removed.map(line => line.id),
      )
      .delete()
  }
  const total = sumMinor([charges, ...after.map(line => line.amount)])
  const revision = issued ? order.revision + 1 : order.revision
  await call
    .trx('orders')
    .where({ id })
    .update({
      title: change.title,
      message: change.message,
      charges,
      total,
      baseTotal: toBase(total, order.currency, order.rate, call.base),
      needBy:
        after
          .map(line => line.needBy)
          .filter(day => day !== null)
          .sort()[0] ?? null,
      revision,
      state: issued ? 'issued' : 'draft',
      version: version + 1,
      changedAt: call.now,
    })
  if (issued) {
    const supplier = (await call.trx('suppliers').where({ id: order.supplierId }).first('name')) as { name: string }
    await call.trx('orderResponses').where({ orderId: id, state: 'waiting' }).update({ state: 'superseded' })
    await freeze(call, { ...changed, revision, total, state: 'issued' }, after, change.reason, supplier.name)
    await refreshExtents(call, id)
    await rematchForOrders(
      call,
      after.map(line => line.id),
    )
  }
  await record(call, {
    kind: 'order',
    id,
    action: issued ? 'revised' : 'edited',
    changes: { revision, differences, total: formatAmount(total, order.currency) },
    reason: change.reason || null,
  })
  await refreshRequisitions(
    call,
    before.map(line => line.requisitionLineId).filter(one => one !== null),
  )
  return { id, version: version + 1 }
}

function changedLines(order: OrderRow, before: readonly OrderLineRow[], change: Change, base: string): OrderLineRow[] {
  const old = new Map(before.map(line => [line.id, line]))
  return change.lines.map(wanted => {
    const line = found(old.get(wanted.id), 'orderLine')
    if (new Decimal(wanted.quantity).lte(0)) throw new RuleBroken(stop('line.quantity', { quantity: wanted.quantity }, { place: `lines.${line.position}.quantity` }))
    const amount = lineAmount({ quantity: wanted.quantity, price: wanted.price, priceBase: line.priceBase, currency: order.currency })
    return {
      ...line,
      quantity: wanted.quantity,
      price: wanted.price,
      needBy: wanted.needBy,
      description: wanted.description,
      amount,
      baseAmount: toBase(amount, order.currency, order.rate, base),
    }
  })
}

async function refuseBelowProgress(call: Call, lines: readonly OrderLineRow[]): Promise<void> {
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  refuseStops(
    lines.flatMap(line => {
      const done = Decimal.max(sums(line.id).received, sums(line.id).accepted, sums(line.id).billed)
      return done.gt(line.quantity) ? [stop('order.belowProgress', { done: done.toString(), wanted: line.quantity }, { place: `lines.${line.position}.quantity` })] : []
    }),
  )
}
