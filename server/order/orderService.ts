import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ChangeOrder } from '#contract/order/endpoints.ts'
import { adjustTo, releaseAll, releaseShare, spread } from '#core/ledger/commitments.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { openFigures } from '#core/ledger/quantity.ts'
import { allocate } from '#core/money/allocate.ts'
import { formatAmount, lineAmount, minor, type Minor, parseAmount, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { compareRevisions } from '#core/order/revision.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { refuseStops, type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { rematchForOrders } from '#server/bill/matchService.ts'
import { type Call, found, guardVersion } from '#server/call.ts'
import { checkBudgets, outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'
import { type NewQuantity, postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { mail } from '#server/outbox/post.ts'
import { lockOrder, orderContact, type OrderLineRow, orderLines, type OrderRow, refreshExtents, revisionContent } from '#server/order/orderStore.ts'
import { refreshRequisitions, type RequisitionLineRow } from '#server/request/requisitionStore.ts'
import { baseRate } from '#server/request/rates.ts'

type Done = { id: string; version: number }

/** How much dearer than approved, in per cent, an order line may be before the request has to be decided again. */
const OVER_APPROVED_PERCENT = 10

/** Groups approved lines by supplier and currency into draft orders; what was ordered of a line already stays out. */
export async function draftOrders(call: Call, lineIds: readonly string[]): Promise<(Done & { number: string })[]> {
  const lines = (await call
    .trx('requisitionLines')
    .whereIn('id', [...lineIds])
    .orderBy('id')
    .forNoKeyUpdate()) as RequisitionLineRow[]
  if (lines.length !== new Set(lineIds).size) throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
  const taken = lines.filter(line => line.state !== 'toBuy')
  if (taken.length > 0) throw new RuleBroken(taken.map(line => stop('order.lineNotToBuy', { line: line.description, state: line.state })))
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const groups = new Map<string, RequisitionLineRow[]>()
  for (const line of lines) groups.set(`${line.supplierId} ${line.currency}`, [...(groups.get(`${line.supplierId} ${line.currency}`) ?? []), line])
  const made = []
  for (const group of groups.values()) made.push(await draftOrder(call, group, id => openFigures(sums(id)).toOrder))
  await refreshRequisitions(call, lineIds)
  return made
}

async function draftOrder(call: Call, group: readonly RequisitionLineRow[], toOrder: (lineId: string) => string): Promise<Done & { number: string }> {
  const first = group[0]!
  const supplier = found(
    (await call.trx('suppliers').where({ id: first.supplierId }).first('id', 'name', 'state', 'overReceiptPercent')) as
      { id: string; name: string; state: string; overReceiptPercent: number } | undefined,
    'supplier',
  )
  const heads = (await call
    .trx('requisitions')
    .whereIn(
      'id',
      group.map(line => line.requisitionId),
    )
    .orderBy('number')
    .select('number', 'title')) as { number: string; title: string }[]
  const rate = await baseRate(call, first.currency)
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'O-' || nextval('order_numbers') as number`)) as { rows: [{ number: string }] }
  const number = rows[0].number
  const lines = [...group]
    .sort((a, b) => (a.requisitionId < b.requisitionId ? -1 : a.requisitionId > b.requisitionId ? 1 : a.position - b.position))
    .map((line, index) => {
      const quantity = toOrder(line.id)
      const amount = lineAmount({ ...line, quantity })
      return {
        id: randomUUID(),
        orderId: id,
        position: index + 1,
        requisitionLineId: line.id,
        kind: line.kind,
        itemId: line.itemId,
        description: line.description,
        quantity,
        unit: line.unit,
        price: line.price,
        priceBase: line.priceBase,
        amount,
        baseAmount: toBase(amount, line.currency, rate, call.base),
        needBy: line.needBy,
        addressId: line.addressId,
        splits: JSON.stringify(line.splits),
        overReceiptPercent: supplier.overReceiptPercent,
      }
    })
  const title = heads.length === 1 ? heads[0]!.title : `${heads[0]!.title} and ${heads.length - 1} more`
  const total = sumMinor(lines.map(line => line.amount))
  await call.trx('orders').insert({
    id,
    number,
    title,
    state: 'draft',
    supplierId: supplier.id,
    buyerId: call.actor.id,
    currency: first.currency,
    rate,
    total,
    baseTotal: sumMinor(lines.map(line => line.baseAmount)),
    addressId: first.addressId,
    needBy:
      lines
        .map(line => line.needBy)
        .filter(day => day !== null)
        .sort()[0] ?? null,
    createdAt: call.now,
    changedAt: call.now,
    search: `${number} ${title} ${supplier.name} ${heads.map(head => head.number).join(' ')} ${lines.map(line => line.description).join(' ')}`.toLowerCase().slice(0, 4000),
  })
  await call.trx.batchInsert('orderLines', lines as unknown as Record<string, unknown>[], 200)
  await record(call, { kind: 'order', id, action: 'drafted', changes: { from: heads.map(head => head.number) } })
  return { id, version: 1, number }
}

/** Issues a draft: commits the budget in place of the reservation, freezes revision 0 and mails it. */
export async function issueOrder(call: Call, id: string, version: number): Promise<Done> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const next = transition(ORDER_STATES, 'order', order.state, 'issue')
  if (!next.ok) throw new RuleBroken(next.reasons)
  const supplier = found((await call.trx('suppliers').where({ id: order.supplierId }).first('name', 'state')) as { name: string; state: string } | undefined, 'supplier')
  if (supplier.state !== 'active') throw new RuleBroken(stop(`order.supplier.${supplier.state}`, { supplier: supplier.name }, { clearedBy: ['buyer'] }))
  const lines = await orderLines(call, id)
  refuseStops(await checkAgainstRequest(call, lines))
  await commit(call, order, lines)
  await call
    .trx('orders')
    .where({ id })
    .update({ state: next.state, issuedAt: call.now, version: version + 1, changedAt: call.now })
  await freeze(call, { ...order, revision: 0 }, lines, '', supplier.name)
  await record(call, { kind: 'order', id, action: 'issued', changes: { revision: 0, total: formatAmount(order.total, order.currency) } })
  await refreshRequisitions(
    call,
    lines.map(line => line.requisitionLineId).filter(one => one !== null),
  )
  return { id, version: version + 1 }
}

async function checkAgainstRequest(call: Call, lines: readonly OrderLineRow[]): Promise<Reason[]> {
  const ids = lines.map(line => line.requisitionLineId).filter(id => id !== null)
  const requested = new Map(
    ((await call.trx('requisitionLines').whereIn('id', ids).select('id', 'quantity', 'baseAmount')) as { id: string; quantity: string; baseAmount: bigint }[]).map(row => [
      row.id,
      row,
    ]),
  )
  const sums = await quantitySums(call, ids)
  const ordered = (await call.trx.raw(
    `select requisition_line_id as id, sum(quantity) as quantity from order_lines join orders on orders.id = order_id where requisition_line_id = any(?) and orders.state not in ('draft', 'cancelled') and order_lines.id <> all(?) group by 1`,
    [ids, lines.map(line => line.id)],
  )) as { rows: { id: string; quantity: string }[] }
  const elsewhere = new Map(ordered.rows.map(row => [row.id, row.quantity]))
  return lines.flatMap(line => {
    const request = line.requisitionLineId ? requested.get(line.requisitionLineId) : undefined
    if (!request || !line.requisitionLineId) return []
    const open = new Decimal(sums(line.requisitionLineId).requested).minus(elsewhere.get(line.requisitionLineId) ?? 0)
    const place = `lines.${line.position}`
    if (new Decimal(line.quantity).gt(open))
      return [stop('order.overRequested', { line: line.description, open: open.toString(), wanted: line.quantity }, { place: `${place}.quantity`, clearedBy: ['requester'] })]
    const approved = new Decimal(request.baseAmount.toString()).times(line.quantity).dividedBy(request.quantity)
    const limit = approved.times(100 + OVER_APPROVED_PERCENT).dividedBy(100)
    return new Decimal(line.baseAmount.toString()).gt(limit)
      ? [
          stop(
            'order.overApproved',
            {
              line: line.description,
              approved: formatAmount(BigInt(approved.toFixed(0)), call.base),
              wanted: formatAmount(line.baseAmount, call.base),
              percent: OVER_APPROVED_PERCENT,
            },
            { place: `${place}.price`, clearedBy: ['requester'] },
          ),
        ]
      : []
  })
}

/** Net value of each line with its share of the order's charges, in the base currency. */
export function committedValues(order: Pick<OrderRow, 'charges' | 'currency' | 'rate'>, lines: readonly OrderLineRow[], base: string): Map<string, Minor> {
  const charges = toBase(minor(order.charges), order.currency, order.rate, base)
  const weights = lines.map(line => line.baseAmount.toString())
  const shares = charges === 0n ? lines.map(() => 0n) : allocate(charges, weights.every(weight => weight === '0') ? lines.map(() => '1') : weights)
  return new Map(lines.map((line, index) => [line.id, minor(line.baseAmount + shares[index]!)]))
}

async function commit(call: Call, order: OrderRow, lines: readonly OrderLineRow[]): Promise<void> {
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

const orderedEntries = (lines: readonly OrderLineRow[], quantity: (line: OrderLineRow) => string): NewQuantity[] =>
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

async function freeze(call: Call, order: OrderRow, lines: readonly OrderLineRow[], reason: string, supplier: string): Promise<void> {
  const content = revisionContent(order, lines)
  await call.trx('orderRevisions').insert({ orderId: order.id, revision: order.revision, content: JSON.stringify(content), issuedAt: call.now, issuedBy: call.actor.id, reason })
  const contact = await orderContact(call, order.supplierId)
  const what = order.revision === 0 ? `order ${order.number}` : `revision ${order.revision} of order ${order.number}, which replaces the earlier one`
  await mail(
    call,
    `order:${order.id}:${order.revision}`,
    { kind: 'order', id: order.id },
    {
      to: contact.email,
      subject: `Order ${order.number}, revision ${order.revision}: ${order.title}`,
      attach: { orderId: order.id, revision: order.revision },
      text: `Dear ${contact.name || supplier},\n\nplease find ${what}: ${order.currency} ${content.total}.${reason ? `\nWhat changed: ${reason}` : ''}\n\nYou can confirm it, propose a change and make your invoice on your pages: /supplier/orders/${order.id}\n\n${call.actor.name}\nSaltmere Aquarium Trust\n`,
    },
  )
}

type Change = Omit<BodyOf<typeof ChangeOrder>, 'version'>

/** Edits a draft; of an issued order it makes the next revision, asks the supplier again and moves the commitment by the difference. */
export async function changeOrder(call: Call, id: string, change: Change, version: number): Promise<Done> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const issued = order.state !== 'draft'
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

async function recommit(call: Call, order: OrderRow, before: readonly OrderLineRow[], changed: OrderRow, after: readonly OrderLineRow[]): Promise<void> {
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

/** Cancels, closes, reopens or seals. Cancelling releases the budget; closing releases what is left of it. */
export async function actOnOrder(call: Call, id: string, action: 'cancel' | 'close' | 'reopen' | 'seal', version: number, reason: string, needRemains: boolean): Promise<Done> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const next = transition(ORDER_STATES, 'order', order.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  const lines = await orderLines(call, id)
  if (action === 'cancel') await cancel(call, order, lines, reason, needRemains)
  if (action === 'close')
    await postBudget(
      call,
      { kind: 'order', id },
      releaseAll(
        await outstanding(
          call,
          lines.map(line => line.id),
        ),
        ['committed'],
      ),
    )
  if (action === 'reopen') await recommitOpen(call, order, lines)
  if (action === 'seal') await refuseOpenInvoices(call, lines)
  await call
    .trx('orders')
    .where({ id })
    .update({ state: next.state, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'order', id, action, reason, changes: action === 'cancel' ? { needRemains } : {} })
  await refreshRequisitions(
    call,
    lines.map(line => line.requisitionLineId).filter(one => one !== null),
  )
  return { id, version: version + 1 }
}

async function cancel(call: Call, order: OrderRow, lines: readonly OrderLineRow[], reason: string, needRemains: boolean): Promise<void> {
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const started = lines.some(line => [sums(line.id).received, sums(line.id).accepted, sums(line.id).billed].some(quantity => !new Decimal(quantity).isZero()))
  if (started) throw new RuleBroken(stop('order.startedAlready', {}, { clearedBy: ['buyer'] }))
  const requestIds = lines.map(line => line.requisitionLineId).filter(id => id !== null)
  const source = { kind: 'order', id: order.id }
  if (order.state !== 'draft') {
    await postBudget(
      call,
      source,
      releaseAll(
        await outstanding(
          call,
          lines.map(line => line.id),
        ),
        ['committed'],
      ),
    )
    await postQuantities(call, source, [
      ...orderedEntries(lines, line => `-${line.quantity}`),
      ...lines.map(line => ({ lineId: line.id, kind: 'confirmed' as const, quantity: new Decimal(0).minus(sums(line.id).confirmed).toString() })),
    ])
    const contact = await orderContact(call, order.supplierId)
    await mail(call, `order-cancelled:${order.id}`, source, {
      to: contact.email,
      subject: `Order ${order.number} is cancelled`,
      text: `Dear ${contact.name},\n\nwe cancel order ${order.number}, ${order.title}. ${reason}\n\n${call.actor.name}\nSaltmere Aquarium Trust\n`,
    })
  }
  const requested = (await call.trx('requisitionLines').whereIn('id', requestIds).orderBy('id').forNoKeyUpdate()) as RequisitionLineRow[]
  if (needRemains) return order.state === 'draft' ? undefined : await reserveAgain(call, order, lines, requested)
  const left = await quantitySums(call, requestIds)
  const ended = requested.filter(line => new Decimal(left(line.id).ordered).isZero())
  await postBudget(
    call,
    source,
    releaseAll(
      await outstanding(
        call,
        ended.map(line => line.id),
      ),
      ['reserved'],
    ),
  )
  await postQuantities(
    call,
    source,
    ended.map(line => ({ lineId: line.id, kind: 'requested' as const, quantity: new Decimal(0).minus(left(line.id).requested).toString() })),
  )
  await call
    .trx('requisitionLines')
    .whereIn(
      'id',
      ended.map(line => line.id),
    )
    .update({ state: 'cancelled' })
}

/** The need remains: what this order had taken is reserved again, and its lines go back to be bought. */
async function reserveAgain(call: Call, order: OrderRow, lines: readonly OrderLineRow[], requested: readonly RequisitionLineRow[]): Promise<void> {
  const entries = lines.flatMap(line => {
    const request = requested.find(one => one.id === line.requisitionLineId)
    if (!request) return []
    const share = new Decimal(request.baseAmount.toString()).times(line.quantity).dividedBy(request.quantity).toDecimalPlaces(0)
    return spread('reserved', request.id, minor(BigInt(share.toFixed(0))), request.splits)
  })
  await refuseOverdraft(call, entries)
  await postBudget(call, { kind: 'order', id: order.id }, entries)
}

async function recommitOpen(call: Call, order: OrderRow, lines: readonly OrderLineRow[]): Promise<void> {
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

async function refuseOpenInvoices(call: Call, lines: readonly OrderLineRow[]): Promise<void> {
  const open = (await call
    .trx('invoices')
    .whereIn(
      'id',
      call
        .trx('invoiceLines')
        .whereIn(
          'orderLineId',
          lines.map(line => line.id),
        )
        .select('invoiceId'),
    )
    .whereNotIn('state', ['paid', 'rejected', 'voided'])
    .pluck('number')) as string[]
  if (open.length > 0) throw new RuleBroken(stop('order.openInvoices', { invoices: open.join(', ') }, { clearedBy: ['invoiceClerk', 'treasurer'] }))
}
