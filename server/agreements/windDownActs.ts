import { endByAmendment, orderDeed, sealAgreement } from '#core/agreements/windDown.ts'
import type { AgreementNext } from '#core/agreements/next.ts'
import type { Decision } from '#core/acts/decision.ts'
import { type Reason, RuleBroken } from '#core/reasons.ts'
import { type Write, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { heldAgreement, keepAgreementDesk, type KnownAgreement } from '#server/agreements/agreementStore.ts'
import { hangingOn, ordersUnder } from '#server/agreements/hanging.ts'
import { bringInForce, keepStanding } from '#server/agreements/inForce.ts'
import { orderHands } from '#server/agreements/orderHands.ts'
import { type JobParts, SYSTEM_PERSON, settingOf } from '#server/jobs/parts.ts'
import { knownOrder, knownOrders } from '#server/order/orderStore.ts'

/** Lays down what is to be done, in order: the orders under it, then its end, then its seal. What is done already stays. */
async function planSteps(call: Write, agreement: KnownAgreement): Promise<void> {
  const { id } = agreement
  await call.trx('windDownSteps').where({ agreementId: id }).whereNot({ state: 'done' }).delete()
  const there = await call.trx('windDownSteps').where({ agreementId: id }).select('documentId', 'kind', 'position')
  const known = new Set(there.map(step => (step.kind === 'order' ? step.documentId : step.kind)))
  const orders = await knownOrders(call, await ordersUnder(call, id))
  const first = Math.max(0, ...there.map(step => step.position)) + 1
  const wanted = [
    ...[...orders.values()].map(order => ({ kind: 'order' as const, documentId: order.id, number: order.number })),
    { kind: 'end' as const, documentId: id, number: agreement.number },
    { kind: 'seal' as const, documentId: id, number: agreement.number },
  ].filter(step => !known.has(step.kind === 'order' ? step.documentId : step.kind))
  if (wanted.length > 0)
    await call
      .trx('windDownSteps')
      .insert(wanted.map((step, at) => ({ ...step, agreementId: id, position: first + at, state: 'todo' as const })))
}

const queue = (call: Write, id: string): Promise<unknown> =>
  call.trx.raw(
    `select graphile_worker.add_job('windDown', json_build_object('id', ?::text), job_key => ?, max_attempts => 10)`,
    [id, `windDown:${id}`],
  )

/** Begins to wind down: the steps are laid down and done in the background. */
export async function beginWindDown(call: Write, agreement: KnownAgreement): Promise<void> {
  await call.trx('agreements').where({ id: agreement.id }).update({ woundDownBy: call.actor.id })
  await goOnWindingDown(call, agreement)
}

/** Goes on after somebody has done what a step waited for. */
export async function goOnWindingDown(call: Write, agreement: KnownAgreement): Promise<void> {
  await planSteps(call, agreement)
  await queue(call, agreement.id)
  await keepAgreementDesk(call, agreement.id)
}

/**
 * Does the steps that are left, each in a transaction of its own: whatever is done stays done if the server dies in between, and the next run goes on
 * behind it. Orders that need a person are left for them, and the run ends before the agreement itself.
 */
export async function windDownJob(parts: JobParts, id: string): Promise<void> {
  const row = await parts.db('agreements').where({ id }).first('woundDownBy', 'state')
  if (row?.state !== 'windingDown') return
  const setting = await settingOf(parts, row.woundDownBy ?? SYSTEM_PERSON, 'job')
  const steps = await parts.db('windDownSteps').where({ agreementId: id }).orderBy('position')
  let stopped = false
  for (const step of steps) {
    if (step.state === 'done' || (step.kind !== 'order' && stopped)) continue
    const reasons = await parts.db.transaction(async trx => await doStep(writing(trx, setting), id, step))
    stopped ||= reasons.length > 0
  }
}

type Step = { position: number; kind: 'order' | 'end' | 'seal'; documentId: string }

async function doStep(call: Write, id: string, step: Step): Promise<readonly Reason[]> {
  const agreement = await heldAgreement(call, id)
  const reasons = await tried(call, async trx => {
    if (step.kind === 'order') return await doOrder(trx, step.documentId, agreement.number)
    if (step.kind === 'end') return await doEnd(trx, agreement)
    return await doSeal(trx, agreement)
  })
  await call
    .trx('windDownSteps')
    .where({ agreementId: id, position: step.position })
    .update({ state: reasons.length > 0 ? 'person' : 'done', reasons: json([...reasons]), at: call.now })
  await keepAgreementDesk(call, id)
  return reasons
}

/** What it wrote is taken back if it is refused. */
async function tried(call: Write, work: (call: Write) => Promise<readonly Reason[]>): Promise<readonly Reason[]> {
  try {
    return await call.trx.transaction(async trx => await work(writing(trx, call)))
  } catch (error) {
    if (error instanceof RuleBroken) return error.reasons
    throw error
  }
}

async function doOrder(call: Write, orderId: string, number: string): Promise<readonly Reason[]> {
  const { deed, reasons } = orderDeed(await knownOrder(call, orderId), call.actor)
  const why = `Wind-down of ${number}`
  const { end } = orderHands()
  if (deed === 'cancel') await end(call, orderId, 'cancel', why)
  if (deed === 'closeAndSeal') await end(call, orderId, 'close', why)
  if (deed === 'seal' || deed === 'closeAndSeal') await end(call, orderId, 'seal', why)
  return reasons
}

async function doEnd(call: Write, agreement: KnownAgreement): Promise<readonly Reason[]> {
  await carryOut(call, agreement, endByAmendment(agreement, call.today))
  return []
}

async function doSeal(call: Write, agreement: KnownAgreement): Promise<readonly Reason[]> {
  const decision = sealAgreement(agreement, await hangingOn(call, agreement.id))
  if (!decision.ok) return decision.reasons
  await carryOut(call, agreement, decision)
  return []
}

async function carryOut(call: Write, agreement: KnownAgreement, decision: Decision<AgreementNext>): Promise<void> {
  const { next, did } = obey(decision)
  if (next.inForce) await bringInForce(call, agreement, next.inForce, next.reason ?? '')
  await move(call, 'agreement', agreement.row, { state: next.state, amendment: next.amendment }, did)
  await keepStanding(call, agreement.id)
}

/** Wind-downs that stopped go on by themselves once a night. */
export async function resumeWindDowns(call: Write): Promise<void> {
  const rows = await call.trx('agreements').where({ state: 'windingDown' }).orderBy('id').select('id')
  for (const { id } of rows) await goOnWindingDown(call, await heldAgreement(call, id))
}
