import type { Stall } from '#core/consent/stalled.ts'
import type { BudgetFigures, StepJson } from '#contract/fields.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import { formatAmount, minor, type Minor, sumMinor } from '#core/money/amount.ts'
import type { Reason } from '#core/reasons.ts'
import { headReasons, lineReasons } from '#core/request/lineChecks.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import { approvalPath, type Path, turnsOf } from '#core/rules/path.ts'
import type { Read } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { originOf, whyJson } from '#server/consent/stepJson.ts'
import { budgetFigures, checkBudgets } from '#server/ledger/budgetStore.ts'
import { personNames } from '#server/people/peopleStore.ts'
import { requestCallOffs } from '#server/request/callOffChecks.ts'
import { decidedRequests } from '#server/request/decidedStore.ts'
import { factsOf, lineContext } from '#server/request/lineStore.ts'
import { type RequisitionLine, requisitionLines, type RequisitionRow } from '#server/request/requisitionStore.ts'
import { compiledRules, pathWorld } from '#server/rules/ruleStore.ts'

export interface Checked {
  readonly reasons: Reason[]
  readonly amounts: Map<string, Minor>
  readonly path: Path
  readonly lines: RequisitionLine[]
  readonly facts: LineFacts[]
}

/** Everything that is known before submitting: what stops, what wants a reason, the budget and who will decide. `since`: people added by hand since it was submitted, and what it has reserved already. */
export async function examine(
  call: Read,
  requisition: RequisitionRow,
  since: { readonly added: readonly string[]; readonly reserved: ReadonlyMap<string, Minor> } = NOTHING_SINCE,
): Promise<Checked> {
  const lines = (await requisitionLines(call, requisition.id)).filter(line => line.state !== 'cancelled')
  const context = await lineContext(call, lines)
  const reasons = [
    ...headReasons({ title: requisition.title, lines: lines.length }),
    ...lines.flatMap(line => lineReasons(context, line)),
    ...(await requestCallOffs(call, requisition, lines)),
  ]
  const amounts = amountsByAccount(lines.map(line => ({ amount: minor(line.baseAmount), splits: line.splits })))
  const known = amounts.size > 0 && [...amounts.keys()].every(id => context.accounts.has(id))
  const budgets = known ? await checkBudgets(call, amounts, since.reserved) : []
  reasons.push(...withoutClosedTwice(reasons, budgets))
  const path = known ? await pathOf(call, requisition, lines, budgets, [...requisition.added, ...since.added]) : NO_PATH
  return {
    reasons: [...reasons, ...path.reasons],
    amounts,
    path,
    lines,
    facts: lines.map(line => factsOf(context, line)),
  }
}

const NOTHING_SINCE = { added: [], reserved: new Map<string, Minor>() }
const NO_PATH: Path = { steps: [], leftOut: [], choices: [], reasons: [] }

/** Who decides it, by the rules of today. */
async function pathOf(
  call: Read,
  requisition: RequisitionRow,
  lines: readonly RequisitionLine[],
  budgets: readonly Reason[],
  added: readonly string[],
): Promise<Path> {
  const over = new Set(budgets.some(reason => reason.code === 'budget.over') ? [requisition.id] : [])
  const document = (await decidedRequests(call, [requisition], lines, over)).get(requisition.id)!
  const total = sumMinor(lines.map(line => minor(line.baseAmount)))
  const world = await pathWorld(call, 'requisition')
  return approvalPath(await compiledRules(call), { ...document, total }, world, {
    chosen: requisition.chosen,
    added: [...new Set(added)],
  })
}

/** An account that is closed is said once, at the line that names it. */
const withoutClosedTwice = (said: readonly Reason[], budget: readonly Reason[]): Reason[] =>
  budget.filter(reason => reason.code !== 'budget.closed' || !said.some(one => one.code === 'budget.closed'))

interface Named {
  readonly id: string
  readonly name: string
}

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
  choices: { ruleId: string; rule: string; people: Named[]; chosen: string | null }[]
  added: Named[]
  mayAdd: boolean
}> {
  const examined = await examine(call, requisition)
  const { choices } = examined.path
  const named = [...choices.flatMap(one => one.personIds), ...requisition.added]
  const names = await namesOf(call, examined.path, named)
  const people = (ids: readonly string[]): Named[] => ids.map(id => ({ id, name: names.get(id) ?? '' }))
  const turns = turnsOf(examined.path.steps)
  return {
    reasons: examined.reasons,
    lines: examined.facts,
    choices: choices.map(({ ruleId, rule, personIds }) => ({
      ruleId,
      rule,
      people: people(personIds),
      chosen: requisition.chosen[ruleId] ?? null,
    })),
    added: people(requisition.added),
    mayAdd: (await decideSettings(call)).addByHand,
    budgets: await budgetFigures(call, examined.amounts, false),
    total: formatAmount(requisition.total, call.base),
    currency: call.base,
    steps: examined.path.steps.map((step, index) => ({
      stage: turns[index]!,
      approvers: step.approvers.map(({ personId, because }) => ({
        id: personId,
        name: names.get(personId) ?? '',
        because: because.kind,
        of: 'personId' in because ? (names.get(because.personId) ?? '') : '',
      })),
      ...whyJson(call.base, originOf(step, examined.path), names),
      state: 'later',
      stalled: step.stalled,
      stall: step.stalled ? ('closed' satisfies Stall) : null,
      openedAt: null,
      dueAt: null,
      paused: false,
      channel: null,
      inPlaceOf: null,
      decidedBy: null,
      decidedAt: null,
      reason: null,
    })),
  }
}

/** Everybody whom a path names. */
const namesOf = (call: Read, path: Path, others: readonly string[]): Promise<Map<string, string>> =>
  personNames(call, [
    ...others,
    ...path.steps.flatMap(step =>
      step.approvers.flatMap(one =>
        'personId' in one.because ? [one.personId, one.because.personId] : [one.personId],
      ),
    ),
    ...path.leftOut.map(one => one.personId),
  ])
