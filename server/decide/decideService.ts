import { nextToOpen, type StepState } from '#core/decide/path.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { tellApprovers, tellRequester } from '#server/decide/notices.ts'
import { ablePerson } from '#server/people/able.ts'
import { record } from '#server/ledger/history.ts'
import { lockRequisition, putIntoPool, requisitionLines, type RequisitionRow } from '#server/request/requisitionStore.ts'
import { releaseRequisition } from '#server/request/submit.ts'

interface StepRow {
  id: string
  stage: number
  state: StepState
  approverId: string
  ruleName: string
}

const stepsOf = async (call: Call, requisition: RequisitionRow): Promise<StepRow[]> =>
  (await call.trx('approvalSteps').where({ requisitionId: requisition.id, round: requisition.round }).orderBy(['stage', 'id'])) as StepRow[]

/** Takes a person's decision. Only a step that waits for this person can be decided, and nobody decides their own request. */
export async function decide(call: Call, id: string, decision: 'approve' | 'reject' | 'return', version: number, reason: string): Promise<Done> {
  const requisition = await lockRequisition(call, id)
  await guardVersion(call, requisition, version)
  if (requisition.state !== 'waiting')
    throw new RuleBroken(
      transition(REQUISITION_STATES, 'requisition', requisition.state, 'approve').ok
        ? stop('decide.notOpen')
        : stop('state.notNow', { kind: 'requisition', state: requisition.state, action: decision, possible: '' }),
    )
  if (requisition.requesterId === call.actor.id) throw new RuleBroken(stop('decide.own'))
  const steps = await stepsOf(call, requisition)
  const mine = steps.find(step => step.approverId === call.actor.id && step.state === 'open')
  if (!mine) throw new RuleBroken(stop('decide.notYours', { waitsFor: steps.filter(step => step.state === 'open').length }))
  if (decision !== 'approve' && reason.trim().length < 3) throw new RuleBroken(stop('decide.noReason', {}, { place: 'reason' }))
  await call
    .trx('approvalSteps')
    .where({ id: mine.id })
    .update({ state: { approve: 'approved', reject: 'rejected', return: 'returned' }[decision], decidedAt: call.now, reason: reason || null })
  if (decision === 'approve')
    await advance(
      call,
      requisition,
      steps.map(step => (step.id === mine.id ? { ...step, state: 'approved' } : step)),
      version,
      reason,
    )
  else await end(call, requisition, decision, version, reason)
  await record(call, { kind: 'requisition', id, action: decision, changes: { rule: mine.ruleName, stage: mine.stage }, reason: reason || null })
  return { id, version: version + 1 }
}

async function advance(call: Call, requisition: RequisitionRow, steps: readonly StepRow[], version: number, reason: string): Promise<void> {
  const next = nextToOpen(steps)
  if (next.done) {
    await putIntoPool(call, requisition.id)
    await call
      .trx('requisitions')
      .where({ id: requisition.id })
      .update({ state: 'approved', version: version + 1, decidedAt: call.now, changedAt: call.now })
    return await tellRequester(call, requisition, 'approved', reason)
  }
  const opening = next.open.map(index => steps[index]!)
  await call
    .trx('approvalSteps')
    .whereIn(
      'id',
      opening.map(step => step.id),
    )
    .update({ state: 'open', openedAt: call.now })
  await call
    .trx('requisitions')
    .where({ id: requisition.id })
    .update({ version: version + 1, changedAt: call.now })
  await tellApprovers(
    call,
    requisition,
    opening.map(step => step.approverId),
  )
}

async function end(call: Call, requisition: RequisitionRow, decision: 'reject' | 'return', version: number, reason: string): Promise<void> {
  const state = decision === 'reject' ? 'rejected' : 'returned'
  const lines = await requisitionLines(call, requisition.id)
  await releaseRequisition(
    call,
    requisition.id,
    lines.map(line => line.id),
  )
  await call.trx('approvalSteps').where({ requisitionId: requisition.id, round: requisition.round }).whereIn('state', ['open', 'later']).update({ state: 'dropped' })
  await call
    .trx('requisitions')
    .where({ id: requisition.id })
    .update({ state, version: version + 1, decidedAt: call.now, changedAt: call.now })
  await tellRequester(call, requisition, state, reason)
}

/** A steward passes a step to another person, with a reason; a stalled step is freed so. */
export async function passStep(call: Call, id: string, stepId: string, toPersonId: string, version: number, reason: string): Promise<Done> {
  const requisition = await lockRequisition(call, id)
  await guardVersion(call, requisition, version)
  const step = found(
    (await stepsOf(call, requisition)).find(one => one.id === stepId),
    'approvalStep',
  )
  if (step.state !== 'open' && step.state !== 'later') throw new RuleBroken(stop('decide.stepDecided'))
  if (toPersonId === requisition.requesterId) throw new RuleBroken(stop('decide.own'))
  const person = await ablePerson(call, toPersonId, 'requisition.decide', 'decide.withoutRight')
  await call.trx('approvalSteps').where({ id: stepId }).update({ approverId: person.id })
  await call
    .trx('requisitions')
    .where({ id })
    .update({ version: version + 1, changedAt: call.now })
  await record(call, { kind: 'requisition', id, action: 'passedOn', changes: { rule: step.ruleName, to: person.name }, reason })
  if (step.state === 'open') await tellApprovers(call, requisition, [person.id])
  return { id, version: version + 1 }
}
