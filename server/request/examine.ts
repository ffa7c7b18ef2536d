import type { BudgetFigures, StepJson } from '#contract/fields.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import type { Step } from '#core/consent/path.ts'
import { formatAmount, minor, type Minor } from '#core/money/amount.ts'
import type { Reason } from '#core/reasons.ts'
import { headReasons, lineReasons } from '#core/request/lineChecks.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import type { Read } from '#server/call.ts'
import { pathOfApproval } from '#server/consent/approval.ts'
import { byId } from '#server/database/rows.ts'
import { budgetFigures, checkBudgets } from '#server/ledger/budgetStore.ts'
import { factsOf, lineContext } from '#server/request/lineStore.ts'
import { type RequisitionLine, requisitionLines, type RequisitionRow } from '#server/request/requisitionStore.ts'

export interface Checked {
  readonly reasons: Reason[]
  readonly amounts: Map<string, Minor>
  readonly path: Step[]
  readonly lines: RequisitionLine[]
  readonly facts: LineFacts[]
}

/** Everything that is known before submitting: what stops, what wants a reason, the budget and who will decide. */
export async function examine(call: Read, requisition: RequisitionRow): Promise<Checked> {
  const lines = await requisitionLines(call, requisition.id)
  const context = await lineContext(call, lines)
  const reasons = [
    ...headReasons({ title: requisition.title, lines: lines.length }),
    ...lines.flatMap(line => lineReasons(context, line)),
  ]
  const amounts = amountsByAccount(lines.map(line => ({ amount: minor(line.baseAmount), splits: line.splits })))
  const known = amounts.size > 0 && [...amounts.keys()].every(id => context.accounts.has(id))
  if (known) reasons.push(...withoutClosedTwice(reasons, await checkBudgets(call, amounts)))
  const path = known ? await pathOfApproval(call, requisition.requesterId, amounts) : { steps: [], reasons: [] }
  return {
    reasons: [...reasons, ...path.reasons],
    amounts,
    path: path.steps,
    lines,
    facts: lines.map(line => factsOf(context, line)),
  }
}

/** An account that is closed is said once, at the line that names it. */
const withoutClosedTwice = (said: readonly Reason[], budget: readonly Reason[]): Reason[] =>
  budget.filter(reason => reason.code !== 'budget.closed' || !said.some(one => one.code === 'budget.closed'))

/** The same, as the page shows it before submitting. */
export async function preview(
  call: Read,
  requisition: RequisitionRow,
): Promise<{
  reasons: Reason[]
  budgets: BudgetFigures[]
  steps: StepJson[]
  total: string
  currency: string
  lines: LineFacts[]
}> {
  const examined = await examine(call, requisition)
  const people = byId(
    await call
      .trx('people')
      .whereIn(
        'id',
        examined.path.map(step => step.approverId),
      )
      .select('id', 'name'),
  )
  return {
    reasons: examined.reasons,
    lines: examined.facts,
    budgets: await budgetFigures(call, examined.amounts, false),
    total: formatAmount(requisition.total, call.base),
    currency: call.base,
    steps: examined.path.map(step => ({
      stage: step.stage,
      approverId: step.approverId,
      approver: people.get(step.approverId)?.name ?? '',
      rule: step.ruleName,
      costCentre: step.costCentre,
      because: step.because,
      state: 'later',
      stalled: step.stalled,
      decidedBy: null,
      decidedAt: null,
      reason: null,
    })),
  }
}
