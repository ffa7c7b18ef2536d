import type { Message } from '#core/acts/decision.ts'
import { accountsOf } from '#core/order/after.ts'
import { type OrderMessage, togetherMails } from '#core/order/togetherMails.ts'
import { actsIn, planActs, planOrder, type WantedRow } from '#core/order/workbookOrder.ts'
import { type Reason, RuleBroken } from '#core/reasons.ts'
import { type Write, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import type { LongWork } from '#server/jobs/longJobs.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { say } from '#server/mail/mail.ts'
import { refreshThread } from '#server/thread/refresh.ts'
import { withObstacles } from '#server/order/callOffStore.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { readyRows } from '#server/order/workbookActs.ts'
import { buyerNames } from '#server/order/workbookStore.ts'

/** Does what is ready of a workbook that came back: order by order, what is refused is left and said; suppliers get one mail each. */
export const applyWorkbook: LongWork = async (outside, params, progress) => {
  const { id, reason } = params as { id: string; reason: string }
  const { orders } = await readyRows(outside, id)
  const buyers = await buyerNames(outside)
  return async call => {
    const said: OrderMessage[] = []
    const failed = new Map<string, readonly Reason[]>()
    let done = 0
    for (const [orderId, rows] of [...orders].sort(([a], [b]) => (a < b ? -1 : 1))) {
      const reasons = await tried(call, trx => applyOne(trx, orderId, rows, buyers, reason, said))
      if (reasons.length > 0) for (const row of rows) failed.set(row.lineId, reasons)
      await progress(++done, orders.size)
    }
    const mails = togetherMails(said, `workbook:${id}`)
    for (const { message, orderId } of mails) await say(call, [message], { kind: 'order', id: orderId })
    return await settle(call, id, orders, failed, mails.length)
  }
}

async function applyOne(
  call: Write,
  orderId: string,
  rows: readonly WantedRow[],
  buyers: ReadonlyMap<string, string>,
  reason: string,
  said: OrderMessage[],
): Promise<void> {
  const own: Message[] = []
  const known = await heldOrder(call, orderId)
  const plan = planOrder(known, rows)
  refuse(plan.reasons)
  // each act is decided on the order as the one before it left it
  for (let at = 0; at < actsIn(plan); at++) {
    const order = at === 0 ? known : await heldOrder(call, orderId)
    const judged = plan.wanted === null || at > 0 ? order : await withObstacles(call, order)
    const accounts = await holdAccounts(call, accountsOf(order))
    await carryOut(call, judged, planActs(judged, plan, accounts, call.actor, reason)[at]!, own)
  }
  if (plan.buyer !== null) {
    const order = await heldOrder(call, orderId)
    const buyerId = buyers.get(plan.buyer)!
    await move(call, 'order', order.row, { buyerId }, { action: 'handedOn', changes: { to: plan.buyer }, reason })
    await refreshThread(call, { orderIds: [orderId] })
  }
  said.push(...own.map(message => ({ orderId, message })))
}

/** What it wrote is taken back if it is refused. */
async function tried(call: Write, work: (call: Write) => Promise<void>): Promise<readonly Reason[]> {
  try {
    await call.trx.transaction(trx => work(writing(trx, call)))
    return []
  } catch (error) {
    if (error instanceof RuleBroken) return error.reasons
    throw error
  }
}

async function settle(
  call: Write,
  id: string,
  orders: ReadonlyMap<string, readonly WantedRow[]>,
  failed: ReadonlyMap<string, readonly Reason[]>,
  mails: number,
): Promise<Record<string, unknown>> {
  const row = (await call.trx('workbookReturns').where({ id }).forNoKeyUpdate().first())!
  const tried = new Set([...orders.values()].flat().map(one => one.lineId))
  const rows = row.returned.map(one => {
    if (one.lineId === null || !tried.has(one.lineId)) return one
    const against = failed.get(one.lineId)
    return against ? { ...one, against } : { ...one, settled: true }
  })
  const lines = [...tried].filter(lineId => !failed.has(lineId)).length
  const outcome = {
    orders: [...orders.values()].filter(own => !failed.has(own[0]!.lineId)).length,
    lines,
    failed: failed.size,
    mails,
  }
  await call
    .trx('workbookReturns')
    .where({ id })
    .update({
      returned: json(rows),
      outcome: json(outcome),
      state: failed.size > 0 ? 'open' : 'settled',
      version: row.version + 1,
      changedAt: call.now,
    })
  return outcome
}
