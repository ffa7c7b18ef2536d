import type { BodyOf } from '#contract/endpoint.ts'
import type { EditLines } from '#contract/decide/endpoints.ts'
import { stepOf } from '#core/consent/consent.ts'
import { changesBetween } from '#core/decide/changes.ts'
import { waitingMails } from '#core/decide/decideRequisition.ts'
import { editWhileDeciding, whyNotEditWhileDeciding } from '#core/decide/editWhileDeciding.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Done, Write } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { originOfStep, retellConsent } from '#server/consent/consentStore.ts'
import { aboutTotal, askAnew, sinceSubmitted } from '#server/decide/askAnew.ts'
import { move } from '#server/documents/move.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { writeLines } from '#server/request/draftStore.ts'
import { examine } from '#server/request/examineStore.ts'
import { readersLines } from '#server/request/readersLinesStore.ts'
import {
  askedFor,
  heldRequisition,
  type KnownRequisition,
  knownRequisition,
  liveLines,
} from '#server/request/requisitionStore.ts'
import { contentOf } from '#server/request/seenStore.ts'
import { standingDecisions } from '#server/request/standingStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

type Body = BodyOf<typeof EditLines>

/** Somebody who decides changes lines, or refuses some of them; whoever has to decide anew because of that is asked. */
export async function editLines(call: Write, id: string, body: Body): Promise<Done & { askedAgain: number }> {
  const request = await heldRequisition(call, id, body.version)
  const { editing } = await decideSettings(call)
  refuse(whyNotEditWhileDeciding(request, call.actor, editing))
  await holdAccounts(call, accountsOf(request, body))
  await write(call, request, body)
  const after = await knownRequisition(call, id)
  const { reasons, path } = await examine(call, after.row, sinceSubmitted(request))
  const { standing, steps } = await standingDecisions(call, after)
  const decided = obey(
    editWhileDeciding(
      request,
      {
        after,
        version: body.version + 1,
        changes: changesBetween(contentOf(request), contentOf(after)),
        own: await readersLines(call, request),
        reasons: [...reasons, ...path.reasons],
        path: path.steps,
        standing,
        asked: request.consent!.kept.map(step => ({ state: step.state, rules: originOfStep(step).rules })),
      },
      call.actor,
      body.reason,
      editing,
    ),
  )
  await postLedgers(call, { kind: 'requisition', id }, decided)
  const { asks } = decided.next
  const stood = asks?.stands.map(one => (one === null ? null : steps.get(one.id)!)) ?? []
  const asked = asks
    ? await askAnew(call, after, { ...asks, path, stands: stood })
    : await retellConsent(call, request.consent!, aboutTotal(after))
  const given = asked.state === 'given' ? { state: 'approved' as const, decidedAt: call.now } : {}
  const done = await move(
    call,
    'requisition',
    request.row,
    { ...given, ...(asks ? { round: asks.round } : {}) },
    { ...decided.did, onBehalfOf: stepOf(request.consent!, call.actor)?.onBehalfOf ?? null },
  )
  await sayOfRequest(call, id, decided.says)
  if (asks) {
    const open = asked.kept.filter(step => step.state === 'open').map(step => step.id)
    await sayOfRequest(call, id, waitingMails({ ...after, consent: asked }, open, asks.round))
  }
  await refreshThread(call, { requisitionIds: [id] })
  return { ...done, askedAgain: asks?.stands.filter(one => one === null).length ?? 0 }
}

const accountsOf = (request: KnownRequisition, body: Body): string[] => [
  ...new Set([...request.rows, ...body.lines].flatMap(line => (line.splits ?? []).map(split => split.accountId))),
]

/** Writes lines as they are to be; whoever asked for them stays who asks. */
async function write(call: Write, request: KnownRequisition, body: Body): Promise<void> {
  const live = liveLines(request.rows)
  const edits = new Map(body.lines.map(line => [line.id, line]))
  const unknown = body.lines.find(line => !live.some(one => one.id === line.id))
  if (unknown) throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
  const priced = live.find(line => line.offerId !== null && edits.get(line.id)?.price !== undefined)
  if (priced) throw new RuleBroken(stop('decide.priceOfOffer', { line: priced.description }))
  const refused = body.lines.filter(line => line.refuse).map(line => line.id)
  await call.trx('requisitionLines').whereIn('id', refused).update({ state: 'cancelled' })
  const { id, title, reason, number } = request.row
  const lines = live
    .filter(line => !refused.includes(line.id))
    .map(line => {
      const { refuse: _refuse, ...edit } = edits.get(line.id) ?? {}
      return { ...askedFor(line), ...edit, id: line.id }
    })
  await writeLines(call, { id, number, requester: request.requester }, { title, reason, lines }, request.row.version)
}
