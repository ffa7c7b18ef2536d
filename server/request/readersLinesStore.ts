import { inWhoseName } from '#core/consent/consent.ts'
import { ownLines } from '#core/decide/ownLines.ts'
import type { Read } from '#server/call.ts'
import { costCentresOf } from '#server/ledger/budgetStore.ts'
import type { KnownRequisition } from '#server/request/requisitionStore.ts'
import { originOfStep } from '#server/consent/consentStore.ts'

/** The lines because of which the reader is asked; all of them, where they are not. */
export async function readersLines(call: Read, request: KnownRequisition): Promise<Set<string>> {
  const steps = (request.consent?.kept ?? []).filter(
    step => step.state === 'open' && inWhoseName(request.consent!, step, call.actor) !== undefined,
  )
  if (steps.length === 0) return new Set(request.rows.map(line => line.id))
  const accountIds = request.rows.flatMap(line => line.splits.map(split => split.accountId))
  const centres = await costCentresOf(call, accountIds)
  return ownLines(
    steps.map(originOfStep).map(({ rules, lineIds }) => ({ costCentres: rules.map(rule => rule.costCentre), lineIds })),
    request.rows.map(line => ({
      id: line.id,
      costCentres: line.splits.flatMap(split => centres.get(split.accountId) ?? []),
    })),
  )
}
