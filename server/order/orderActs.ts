import type { BodyOf } from '#contract/endpoint.ts'
import type { ChangeOrder, TellSupplier } from '#contract/order/endpoints.ts'
import { accountsOf } from '#core/order/after.ts'
import { cancelOrder } from '#core/order/cancelOrder.ts'
import { changeLines } from '#core/order/changeLines.ts'
import { chaseOrder, missing } from '#core/order/chaseOrder.ts'
import { closeOrder } from '#core/order/closeOrder.ts'
import { excessAfter } from '#core/order/excess.ts'
import { editDraft } from '#core/order/editDraft.ts'
import { issueOrder } from '#core/order/issueOrder.ts'
import type { OrderNext } from '#core/order/next.ts'
import { reopenOrder } from '#core/order/reopenOrder.ts'
import { reviseOrder } from '#core/order/reviseOrder.ts'
import { sealOrder } from '#core/order/sealOrder.ts'
import { acceptAnswer, refuseAnswer } from '#core/order/settleAnswer.ts'
import { tellSupplier } from '#core/order/tellSupplier.ts'
import { endConsent } from '#core/consent/consent.ts'
import type { Decision, Message } from '#core/acts/decision.ts'
import type { Done, Write } from '#server/call.ts'
import { latestConsent, settleConsent } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { say } from '#server/mail/mail.ts'
import { addAsides } from '#server/order/asideStore.ts'
import { orderClauses } from '#server/order/clauseStore.ts'
import { newDayLink } from '#server/order/dayLinkStore.ts'
import { orderCallOffs, withObstacles } from '#server/order/callOffStore.ts'
import { forgetChange, wantedCharges, wantedOf } from '#server/order/changeActs.ts'
import { channelOf, orderConditions } from '#server/order/conditionStore.ts'
import {
  chargeRows,
  heldOrder,
  knownOrder,
  type KnownOrder,
  type OrderRow,
  orderRows,
} from '#server/order/orderStore.ts'
import { revisionContent } from '#server/order/revisionStore.ts'
import { refreshThread, type Touched } from '#server/thread/refresh.ts'

/** What is put off until many acts are done: mails, to go out with others, and what shows their documents. */
export interface PutOff {
  readonly says: Message[]
  readonly touched: Partial<Touched>[]
}

/** Carries out what was decided about an order: rows, ledgers, history, mails, and everything that shows it. */
export async function carryOut(
  call: Write,
  order: KnownOrder,
  decision: Decision<OrderNext>,
  later?: PutOff,
): Promise<Done> {
  const decided = obey(decision)
  const { next } = decided
  await postLedgers(call, { kind: 'order', id: order.id }, decided)
  await writeLines(call, next)
  if (next.answer && order.answer) await settleAnswer(call, order, next.answer)
  const excess = next.excess ?? excessAfter(order, decided.did.action)
  if (excess && order.excess) await settleConsent(call, order.excess.consent, excess)
  if (next.endedRequests && next.endedRequests.length > 0)
    await call
      .trx('requisitionLines')
      .whereIn('id', [...next.endedRequests])
      .update({ state: 'cancelled' })
  const done = await move(
    call,
    'order',
    order.row,
    {
      state: next.state,
      revision: next.revision,
      ...chased(next),
      ...headRow(next),
      ...(await whenIssued(call, order, next)),
    },
    decided.did,
  )
  if (next.issues) await freeze(call, order.id, next)
  const touched = {
    orderIds: [order.id],
    requisitionIds: [...new Set(order.requests.map(request => request.requisitionId))],
  }
  if (later) {
    later.says.push(...decided.says)
    later.touched.push(touched)
    return done
  }
  await say(call, decided.says, { kind: 'order', id: order.id })
  await refreshThread(call, touched)
  return done
}

const headRow = ({ head }: OrderNext): object =>
  head === undefined ? {} : { ...head, chargeItems: json(chargeRows(head.chargeItems)) }

const chased = ({ chasedAt, toldRevision }: OrderNext): { chasedAt?: string; toldRevision?: number } => ({
  ...(chasedAt === undefined ? {} : { chasedAt }),
  ...(toldRevision === undefined ? {} : { toldRevision }),
})

async function writeLines(call: Write, next: OrderNext): Promise<void> {
  if (next.lines && next.lines.length > 0)
    await call.trx
      .raw(
        `update order_lines l set description = n.description, quantity = n.quantity, price = n.price, need_by = n."needBy", address_id = n."addressId", schedule = n.schedule, amount = n.amount, base_amount = n."baseAmount"
         from jsonb_to_recordset(?::jsonb) as n (id uuid, description text, quantity numeric, price numeric, "needBy" date, "addressId" uuid, schedule jsonb, amount bigint, "baseAmount" bigint) where l.id = n.id`,
        [JSON.stringify(next.lines, (_key, value: unknown) => (typeof value === 'bigint' ? value.toString() : value))],
      )
      .options({ name: 'write-order-lines' })
  if (next.removed && next.removed.length > 0)
    await call
      .trx('orderLines')
      .whereIn('id', [...next.removed])
      .delete()
  for (const { lineId, received, billed } of next.before ?? [])
    await call.trx('orderLines').where({ id: lineId }).update({ receivedBefore: received, billedBefore: billed })
  for (const { lineId, date, parts = [] } of next.promises ?? [])
    await call
      .trx('orderLines')
      .where({ id: lineId })
      .update({ promisedDate: date, promisedParts: json([...parts]) })
}

/** What becomes of the answer that waited, and of the question about it. */
async function settleAnswer(call: Write, order: KnownOrder, answer: NonNullable<OrderNext['answer']>): Promise<void> {
  await call
    .trx('orderResponses')
    .where({ id: order.answer!.id })
    .update({
      state: answer.state,
      ...(answer.state === 'superseded'
        ? {}
        : { answeredBy: call.actor.id, answeredAt: call.now, answerReason: answer.reason }),
    })
  const question = await latestConsent(call, order.id, 'orderAnswer')
  if (question?.state !== 'open') return
  const step = question.steps[0]!
  await settleConsent(
    call,
    question,
    answer.state === 'superseded'
      ? endConsent(question, 'dropped')
      : {
          state: answer.state === 'refused' ? 'refused' : 'given',
          answers: [
            {
              stepId: step.id,
              state: answer.state === 'refused' ? 'rejected' : 'approved',
              decidedBy: call.actor.id,
              onBehalfOf: null,
              reason: answer.reason,
            },
          ],
          opens: [],
          drops: [],
        },
  )
}

/** The first time that an order goes out, its conditions and clauses are frozen as they are; one that was taken over has those of its own paper. */
async function whenIssued(
  call: Write,
  order: KnownOrder,
  next: OrderNext,
): Promise<Partial<Pick<OrderRow, 'issuedAt' | 'agreed' | 'channel' | 'clauses'>>> {
  if (!next.issues || order.state !== 'draft') return {}
  await call.trx('suppliers').where({ id: order.supplierId }).update({ lastOrderOn: call.today })
  const clauses = order.row.formerNumber === null ? await orderClauses(call, order.row) : []
  return {
    issuedAt: call.now,
    agreed: json(await orderConditions(call, order.row)),
    channel: order.channel,
    clauses: json([...clauses]),
  }
}

/** Keeps a revision as the supplier sees it, for good. */
async function freeze(call: Write, orderId: string, next: OrderNext): Promise<void> {
  const order = await call.trx('orders').where({ id: orderId }).first()
  await call.trx('orderRevisions').insert({
    orderId,
    revision: next.revision,
    content: json({
      ...revisionContent(order!, await orderRows(call, orderId)),
      location: (await knownOrder(call, orderId)).location,
      clauses: order!.clauses ?? [],
    }),
    issuedAt: call.now,
    issuedBy: call.actor.id,
    reason: next.issues!.reason,
  })
}

/** Issues a draft: commits its value in place of the reservation, freezes revision 0 and mails it. */
export async function issue(call: Write, id: string, version: number | undefined, checkReason = ''): Promise<Done> {
  const known = await heldOrder(call, id, version)
  const channel = channelOf(await orderConditions(call, known.row))
  const order = { ...(await withObstacles(call, known)), channel }
  const accounts = await holdAccounts(call, accountsOf(order))
  return await carryOut(call, order, issueOrder(order, accounts, call.actor, checkReason))
}

type Change = Omit<BodyOf<typeof ChangeOrder>, 'version'>

/** Edits a draft; of an issued order it makes the next revision, asks the supplier again and moves the commitment. */
export async function change(call: Write, id: string, body: Change, version: number): Promise<Done> {
  const order = await heldOrder(call, id, version)
  const wanted = await wantedOf(call, order, { wanted: body, needRemains: body.needRemains ?? true })
  if (order.state !== 'draft') {
    const accounts = await holdAccounts(call, accountsOf(order))
    const changed = { ...order, agreementReasons: await orderCallOffs(call, changeLines(order, wanted).order) }
    const made = await carryOut(call, order, reviseOrder(changed, wanted, accounts, call.actor, body.reason))
    await forgetChange(call, id)
    return made
  }
  const done = await carryOut(call, order, editDraft(order, wanted, call.actor))
  if (body.conditions)
    await call
      .trx('orders')
      .where({ id })
      .update({ conditions: json(body.conditions) })
  return done
}

/** Gives lines of an order other prices: a draft is written anew, an issued order gets its next revision. */
export async function reprice(
  call: Write,
  id: string,
  prices: ReadonlyMap<string, string>,
  reason: string,
): Promise<Done> {
  const order = await knownOrder(call, id)
  const lines = order.lines.map(({ id: lineId, description, quantity, price, needBy }) => ({
    id: lineId,
    description,
    quantity,
    price: prices.get(lineId) ?? price,
    needBy,
  }))
  const wanted = {
    title: order.title,
    message: order.message,
    charges: wantedCharges(order),
    lines,
  }
  return await change(call, id, { ...wanted, reason }, order.row.version)
}

/** Keeps who was told of the revision in force. */
export async function tell(
  call: Write,
  id: string,
  { version, note, told }: BodyOf<typeof TellSupplier>,
): Promise<Done> {
  const order = await heldOrder(call, id, version)
  return await carryOut(call, order, tellSupplier(order, call.actor, { ...told, note }, call.today))
}

/** Asks the supplier for what is missing. */
export async function chase(call: Write, id: string, version: number | undefined, note: string): Promise<Done> {
  const order = await heldOrder(call, id, version)
  const link = missing(order, call.today) === 'delivery' ? `/day/${await newDayLink(call, order)}` : ''
  const done = await carryOut(call, order, chaseOrder(order, call.actor, call, note, link))
  await addAsides(call, id, [{ lineId: null, source: 'reminder', text: note }])
  return done
}

export type EndAction = 'cancel' | 'close' | 'reopen' | 'seal'

/** Cancels, closes, reopens or seals. */
export async function end(
  call: Write,
  id: string,
  action: EndAction,
  version: number | undefined,
  reason: string,
  needRemains: boolean,
): Promise<Done> {
  const order = await heldOrder(call, id, version)
  const takes = action === 'cancel' || action === 'reopen'
  const accounts = takes ? await holdAccounts(call, accountsOf(order)) : []
  const decide = {
    cancel: () => cancelOrder(order, accounts, call.actor, reason, needRemains),
    close: () => closeOrder(order, call.actor, reason),
    reopen: () => reopenOrder(order, accounts, call.actor, reason),
    seal: () => sealOrder(order, call.actor, reason),
  }[action]
  return await carryOut(call, order, decide())
}

/** The buyer accepts or refuses what the supplier proposed. */
export async function settle(
  call: Write,
  id: string,
  answerId: string,
  version: number,
  answer: 'accept' | 'refuse',
  reason: string,
  only?: readonly string[],
): Promise<Done> {
  const order = await heldOrder(call, id, version)
  if (answer === 'refuse') return await carryOut(call, order, refuseAnswer(order, answerId, call.actor, reason))
  const accounts = await holdAccounts(call, accountsOf(order))
  return await carryOut(call, order, acceptAnswer(order, answerId, accounts, call.actor, reason, only))
}
