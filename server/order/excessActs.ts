import type { BodyOf } from '#contract/endpoint.ts'
import type { AnswerExcess, AskExcess } from '#contract/order/endpoints.ts'
import { minor } from '#core/money/amount.ts'
import type { OverApproved } from '#core/order/againstRequest.ts'
import { askExcess, decideExcess, excessAmount, type Payer, withdrawExcess, wouldBe } from '#core/order/excess.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { RuleBroken } from '#core/reasons.ts'
import type { Done, Read, Write } from '#server/call.ts'
import { ask } from '#server/consent/consentStore.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { wantedOf } from '#server/order/changeActs.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder, type KnownOrder } from '#server/order/orderStore.ts'
import { decidedRequests } from '#server/request/decidedStore.ts'
import { linesOfRequests } from '#server/request/requisitionStore.ts'
import { type Decided, ruled } from '#server/rules/ruledStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Asks whether an order may cost more than was approved for what it buys: those whom the rules name, else the holders of what pays. */
export async function askForExcess(
  call: Write,
  id: string,
  { version, reason, wanted }: BodyOf<typeof AskExcess>,
): Promise<Done> {
  const order = await heldOrder(call, id, version)
  const next = wouldBe(order, wanted && (await wantedOf(call, order, { wanted })))
  if (next.reasons.length > 0) throw new RuleBroken(next.reasons)
  return await askAbout(call, order, next.order, wanted, reason)
}

/** Asks those who pay for an order, as it would be, whether it may cost so much. */
export async function askAbout(
  call: Write,
  order: KnownOrder,
  next: OrderFacts,
  wanted: BodyOf<typeof AskExcess>['wanted'],
  reason: string,
): Promise<Done> {
  const { id } = order
  const payers = await payersOf(call, next.lines.flatMap(line => line.splits.map(split => split.accountId))) // prettier-ignore
  const decided = obey(askExcess(order, next, payers, { wanted }, call.actor, reason))
  const { asks, above } = decided.next
  const { question, origins } = await ruled(call, asks, await decidedExcess(call, order, above))
  const about = {
    number: order.number,
    title: order.title,
    who: call.actor.name,
    extra: reason,
    amount: excessAmount(above),
    currency: call.base,
    needBy: order.needBy,
    path: pathOf('order', id),
  }
  const asked = await ask(call, question, about, { origins })
  const done = await move(call, 'order', order.row, { excessId: asked.id }, decided.did)
  await refreshThread(call, { orderIds: [id] })
  return done
}

/** Decides about it, or takes the question back. */
export async function answerExcess(
  call: Write,
  id: string,
  { version, answer, reason }: BodyOf<typeof AnswerExcess>,
): Promise<Done> {
  const order = await heldOrder(call, id, version)
  const decision =
    answer === 'withdraw' ? withdrawExcess(order, call.actor, reason) : decideExcess(order, call.actor, answer, reason)
  return await carryOut(call, order, decision)
}

async function payersOf(call: Read, accountIds: readonly string[]): Promise<Map<string, Payer & { id: string }>> {
  return byId(
    await call
      .trx('budgetAccounts')
      .join('costCentres', 'costCentres.code', 'budgetAccounts.costCentre')
      .whereIn('budgetAccounts.id', [...new Set(accountIds)])
      .select<(Payer & { id: string })[]>('budgetAccounts.id', 'costCentre', 'holderId'),
  )
}

/**
 * What rules see: the requested lines that it buys too dear, each with what it costs above what was approved; asked by who requested them, so that
 * the next in the chain decides where that is who would.
 */
async function decidedExcess(call: Read, order: KnownOrder, above: readonly OverApproved[]): Promise<Decided> {
  const byRequest = new Map(above.map(one => [one.line.requestLineId, minor(one.value - one.approved)]))
  const requestIds = order.requests.filter(one => byRequest.has(one.id)).map(one => one.requisitionId)
  const lines = (await linesOfRequests(call, [...new Set(requestIds)])).flatMap(line => {
    const excess = byRequest.get(line.id)
    return excess === undefined
      ? []
      : [{ ...line, requisitionId: order.id, supplierId: order.supplierId, baseAmount: excess }]
  })
  const requesters = new Set(someIds(above.map(one => one.line.requesterId)))
  const requesterId = requesters.size === 1 ? [...requesters][0]! : call.actor.id
  const head = { id: order.id, requesterId, total: excessAmount(above) }
  const decided = (await decidedRequests(call, [head], lines)).get(order.id)!
  return { ...decided, kind: 'orderExcess' }
}
