import { accountsOf } from '#core/order/after.ts'
import { type OrderMessage, togetherMails } from '#core/order/togetherMails.ts'
import { actsIn, type KnownPlace, planActs, planOrder, type WantedRow } from '#core/order/workbookOrder.ts'
import { type Reason, RuleBroken } from '#core/reasons.ts'
import { type Write, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import type { LongWork } from '#server/jobs/longJobs.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { say } from '#server/mail/mail.ts'
import { merged, refreshThread, type Touched } from '#server/thread/refresh.ts'
import { withObstacles } from '#server/order/callOffStore.ts'
import { carryOut, type PutOff } from '#server/order/orderActs.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { readyRows } from '#server/order/workbookActs.ts'
import { buyerNames, workbookPlaces } from '#server/order/workbookStore.ts'

/** Orders of which everything that shows them is brought along at once. */
const SHOWN_TOGETHER = 100

/** Does what is ready of a workbook that came back: order by order, what is refused is left and said; suppliers get one mail each. */
export const applyWorkbook: LongWork = async (outside, params, progress) => {
  const { id, reason } = params as { id: string; reason: string }
  const { orders } = await readyRows(outside, id)
  const lists = { buyers: await buyerNames(outside), places: await workbookPlaces(outside) }
  return async call => {
    const said: OrderMessage[] = []
    const failed = new Map<string, readonly Reason[]>()
    const inOrder = [...orders].sort(([a], [b]) => (a < b ? -1 : 1))
    let done = 0
    for (let from = 0; from < inOrder.length; from += SHOWN_TOGETHER) {
      const touched: Partial<Touched>[] = []
      for (const [orderId, rows] of inOrder.slice(from, from + SHOWN_TOGETHER)) {
        const did = await tried(call, trx => applyOne(trx, orderId, rows, lists, reason))
        if ('reasons' in did) for (const row of rows) failed.set(row.lineId, did.reasons)
        else {
          said.push(...did.says.map(message => ({ orderId, message })))
          touched.push(...did.touched)
        }
        await progress(++done, orders.size)
      }
      await refreshThread(call, merged(...touched))
    }
    const mails = togetherMails(said, `workbook:${id}`)
    for (const { message, orderId } of mails) await say(call, [message], { kind: 'order', id: orderId })
    return await settle(call, id, orders, failed, mails.length)
  }
}

/** Does what is wanted of one order; what shows it is left to whoever does many. */
async function applyOne(
  call: Write,
  orderId: string,
  rows: readonly WantedRow[],
  {
    buyers,
    places,
  }: { readonly buyers: ReadonlyMap<string, string>; readonly places: ReadonlyMap<string, KnownPlace> },
  reason: string,
): Promise<PutOff> {
  const later: PutOff = { says: [], touched: [] }
  const known = await heldOrder(call, orderId)
  const plan = planOrder(known, rows, places)
  refuse(plan.reasons)
  // each act is decided on the order as the one before it left it, with all that is kept beside its rows
  for (let at = 0; at < actsIn(plan); at++) {
    if (at > 0) await refreshThread(call, merged(...later.touched))
    const order = at === 0 ? known : await heldOrder(call, orderId)
    const judged = plan.wanted === null || at > 0 ? order : await withObstacles(call, order)
    const accounts = await holdAccounts(call, accountsOf(order))
    await carryOut(call, judged, planActs(judged, plan, accounts, call.actor, reason)[at]!, later)
  }
  if (plan.buyer !== null) {
    const order = actsIn(plan) === 0 ? known : await heldOrder(call, orderId)
    const buyerId = buyers.get(plan.buyer)!
    await move(call, 'order', order.row, { buyerId }, { action: 'handedOn', changes: { to: plan.buyer }, reason })
    later.touched.push({ orderIds: [orderId] })
  }
  return later
}

/** What it wrote is taken back if it is refused. */
async function tried<T>(
  call: Write,
  work: (call: Write) => Promise<T>,
): Promise<T | { readonly reasons: readonly Reason[] }> {
  try {
    return await call.trx.transaction(trx => work(writing(trx, call)))
  } catch (error) {
    if (error instanceof RuleBroken) return { reasons: error.reasons }
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
