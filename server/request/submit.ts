import { randomUUID } from 'node:crypto'
import { formatAmount, minor, type Minor } from '#core/money/amount.ts'
import { approvalPath, nextToOpen, type Step } from '#core/decide/path.ts'
import { releaseAll, spread } from '#core/ledger/commitments.ts'
import { checks, type Reason, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import { REQUISITION_STATES, type RequisitionAction } from '#core/request/states.ts'
import { transition } from '#core/states.ts'
import type { BudgetFigures, StepJson } from '#contract/fields.ts'
import { type Call, type Done, guardVersion } from '#server/call.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import { decisionFacts } from '#server/decide/facts.ts'
import { remindHolders } from '#server/decide/reminders.ts'
import { tellApprovers } from '#server/decide/notices.ts'
import { budgetFigures, checkBudgets, outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { createRequisition, lockOwnDraft } from '#server/request/draft.ts'
import { closeQuestions } from '#server/request/questions.ts'
import { factsOf, lineContext, reasonsOf } from '#server/request/lineContext.ts'
import { askedFor, lockRequisition, putIntoPool, requisitionLines, type RequisitionLineRow, type RequisitionRow } from '#server/request/requisitionStore.ts'

export interface Checked {
  readonly reasons: Reason[]
  readonly amounts: Map<string, Minor>
  readonly steps: Step[]
  readonly lines: RequisitionLineRow[]
  readonly facts: LineFacts[]
}

/** Everything that is known before submitting: what stops, what wants a reason, the budget and who will decide. */
export async function examine(call: Call, requisition: RequisitionRow, lock: boolean): Promise<Checked> {
  const lines = await requisitionLines(call, requisition.id)
  const reasons: Reason[] = []
  if (requisition.title.trim() === '') reasons.push(stop('requisition.noTitle', {}, { place: 'title' }))
  if (lines.length === 0) reasons.push(stop('requisition.noLines', {}, { place: 'lines' }))
  const context = await lineContext(call, lines)
  reasons.push(...lines.flatMap(line => reasonsOf(context, line)))
  const amounts = amountsByAccount(lines.map(line => ({ amount: minor(line.baseAmount), splits: line.splits })))
  const known = [...amounts.keys()].every(id => context.accounts.has(id))
  if (amounts.size > 0 && known)
    reasons.push(...(await checkBudgets(call, amounts, lock)).filter(reason => reason.code !== 'budget.closed' || !reasons.some(one => one.code === 'budget.closed')))
  const path = amounts.size > 0 && known ? approvalPath(await decisionFacts(call, requisition.requesterId, amounts)) : { steps: [], reasons: [] }
  return { reasons: [...reasons, ...path.reasons], amounts, steps: path.steps, lines, facts: lines.map(line => factsOf(context, line)) }
}

/** The same, as the page shows it before submitting. */
export async function preview(
  call: Call,
  requisition: RequisitionRow,
): Promise<{ reasons: Reason[]; budgets: BudgetFigures[]; steps: StepJson[]; total: string; currency: string; lines: LineFacts[] }> {
  const examined = await examine(call, requisition, false)
  const people = new Map(
    (
      (await call
        .trx('people')
        .whereIn(
          'id',
          examined.steps.map(step => step.approverId),
        )
        .select('id', 'name')) as { id: string; name: string }[]
    ).map(person => [person.id, person.name]),
  )
  return {
    reasons: examined.reasons,
    lines: examined.facts,
    budgets: await budgetFigures(call, examined.amounts, false),
    total: formatAmount(requisition.total, call.base),
    currency: call.base,
    steps: examined.steps.map(step => ({
      stage: step.stage,
      approverId: step.approverId,
      approver: people.get(step.approverId) ?? '',
      rule: step.ruleName,
      costCentre: step.costCentre,
      because: step.because,
      state: 'later',
      stalled: step.stalled,
      decidedAt: null,
      reason: null,
    })),
  }
}

/** Submits: reserves the budget, opens the first stage of decisions and tells those who decide. */
export async function submitRequisition(call: Call, id: string, version: number, checkReason: string | undefined): Promise<Done> {
  const requisition = await lockOwnDraft(call, id)
  await guardVersion(call, requisition, version)
  const examined = await examine(call, requisition, true)
  refuseStops(examined.reasons)
  const asking = checks(examined.reasons)
  if (asking.length > 0 && (checkReason ?? '').trim().length < 3) throw new RuleBroken([stop('requisition.wantsReason', { count: asking.length }), ...asking])
  const round = requisition.round + 1
  const opened = nextToOpen(examined.steps.map(step => ({ stage: step.stage, state: 'later' as const })))
  const steps = examined.steps.map((step, index) => ({
    id: randomUUID(),
    requisitionId: id,
    round,
    stage: step.stage,
    approverId: step.approverId,
    ruleId: step.ruleId,
    ruleName: step.ruleName,
    costCentre: step.costCentre,
    because: step.because,
    state: opened.open.includes(index) ? 'open' : 'later',
    openedAt: opened.open.includes(index) ? call.now : null,
  }))
  if (steps.length > 0) await call.trx('approvalSteps').insert(steps)
  await postQuantities(
    call,
    { kind: 'requisition', id },
    examined.lines.map(line => ({ lineId: line.id, kind: 'requested', quantity: line.quantity })),
  )
  await postBudget(
    call,
    { kind: 'requisition', id },
    examined.lines.flatMap(line => spread('reserved', line.id, minor(line.baseAmount), line.splits)),
  )
  const state = opened.done ? 'approved' : 'waiting'
  await call
    .trx('requisitions')
    .where({ id })
    .update({ state, round, version: version + 1, submittedAt: call.now, decidedAt: opened.done ? call.now : null, changedAt: call.now })
  if (opened.done) await putIntoPool(call, id)
  await record(call, {
    kind: 'requisition',
    id,
    action: 'submitted',
    changes: { round, checks: asking.map(reason => ({ code: reason.code, details: reason.details })) },
    reason: checkReason ?? null,
  })
  await tellApprovers(
    call,
    { ...requisition, round },
    steps.filter(step => step.state === 'open').map(step => step.approverId),
  )
  return { id, version: version + 1 }
}

/** Takes back what a submission put into the ledgers. */
export async function releaseRequisition(call: Call, id: string, lineIds: readonly string[]): Promise<void> {
  await postBudget(call, { kind: 'requisition', id }, releaseAll(await outstanding(call, lineIds), ['reserved']))
  const sums = await quantitySums(call, lineIds)
  await postQuantities(
    call,
    { kind: 'requisition', id },
    lineIds.map(lineId => ({ lineId, kind: 'requested' as const, quantity: `-${sums(lineId).requested}` })).filter(entry => entry.quantity !== '-0'),
  )
}

export async function actOnRequisition(
  call: Call,
  id: string,
  action: 'withdraw' | 'change' | 'reopen' | 'cancel' | 'copy' | 'remind',
  version: number,
  reason: string | undefined,
): Promise<Done> {
  const requisition = await lockRequisition(call, id)
  if (requisition.requesterId !== call.actor.id) throw new RuleBroken(stop('right.notYours'))
  if (action === 'copy') return await copyRequisition(call, requisition)
  if (action === 'remind') return await remindHolders(call, requisition)
  await guardVersion(call, requisition, version)
  const next = transition(REQUISITION_STATES, 'requisition', requisition.state, action as RequisitionAction)
  if (!next.ok) throw new RuleBroken(next.reasons)
  if (action === 'withdraw' || action === 'change') {
    const lines = await requisitionLines(call, id)
    if (lines.some(line => !['open', 'toBuy'].includes(line.state))) throw new RuleBroken(stop('requisition.beingBought', {}, { clearedBy: ['buyer'] }))
    await releaseRequisition(
      call,
      id,
      lines.map(line => line.id),
    )
    await call.trx('approvalSteps').where({ requisitionId: id, round: requisition.round }).whereIn('state', ['open', 'later']).update({ state: 'dropped' })
    await closeQuestions(call, id)
    await call.trx('requisitionLines').where({ requisitionId: id }).update({ state: 'open' })
  }
  await call
    .trx('requisitions')
    .where({ id })
    .update({ state: next.state, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'requisition', id, action, reason: reason ?? null })
  return { id, version: version + 1 }
}

async function copyRequisition(call: Call, requisition: RequisitionRow): Promise<Done> {
  const lines = await requisitionLines(call, requisition.id)
  return await createRequisition(call, {
    title: requisition.title,
    reason: requisition.reason,
    lines: lines.map(line => ({
      ...askedFor(line),
      proof: null,
      needBy: null,
    })),
  })
}
