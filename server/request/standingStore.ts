import { type Change, changesBetween } from '#core/decide/changes.ts'
import { type SeenStep, stillStanding } from '#core/decide/stillStands.ts'
import type { Read } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { consentsOf, type KeptStep, originOfStep } from '#server/consent/consentStore.ts'
import { costCentresOf } from '#server/ledger/budgetStore.ts'
import type { KnownRequisition } from '#server/request/requisitionStore.ts'
import { contentOf, seenContents } from '#server/request/seenStore.ts'

/** Decisions of before that stand for a request as it is now, with the steps by their ids. */
export async function standingDecisions(
  call: Read,
  request: KnownRequisition,
): Promise<{ standing: SeenStep[]; steps: Map<string, KeptStep> }> {
  const consents = (await consentsOf(call, request.id, 'approval')).filter(one => one.round >= request.row.standsFrom)
  const steps = consents.flatMap(consent => consent.kept.map(step => ({ step, round: consent.round })))
  const taken = steps.map(({ step, round }): SeenStep => ({ ...step, ...originOfStep(step), round }))
  const contents = await seenContents(
    call,
    taken.flatMap(step => step.seenHash ?? []),
  )
  const now = contentOf(request)
  const accountIds = [now, ...contents.values()].flatMap(one =>
    one.lines.flatMap(line => line.splits.map(split => split.accountId)),
  )
  const centres = await costCentresOf(call, accountIds)
  const { editing } = await decideSettings(call)
  return {
    standing: stillStanding(taken, contents, now, editing, id => centres.get(id)),
    steps: new Map(steps.map(({ step }) => [step.id, step])),
  }
}

/** What a question asks about: the hash over the content, and over the one before where a change led to it. */
interface AskedContent {
  readonly asked?: string
  readonly before?: string | null
}

/** The content that a request is compared with when it is asked about anew: as it was asked about first, while decisions about that may stand. */
export async function contentBefore(call: Read, request: KnownRequisition): Promise<string | null> {
  const [last] = (await consentsOf(call, request.id, 'approval'))
    .filter(one => one.round >= request.row.standsFrom)
    .slice(-1)
  return last ? askedAbout(last.subject as AskedContent) : null
}

const askedAbout = ({ asked, before }: AskedContent): string | null => before ?? asked ?? null

/** What is otherwise in a request than when it was asked about: changed by whoever decides, or before it was asked about anew. */
export async function changesOf(call: Read, request: KnownRequisition): Promise<Change[]> {
  const hash = request.consent ? askedAbout(request.consent.subject as AskedContent) : null
  if (hash === null) return []
  const content = (await seenContents(call, [hash])).get(hash)
  return content ? changesBetween(content, contentOf(request)) : []
}
