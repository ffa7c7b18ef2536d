import type { BodyOf } from '#contract/endpoint.ts'
import type { ChooseDeciders } from '#contract/request/endpoints.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { standsFor } from '#core/decide/askAgain.ts'
import { changeMails } from '#core/decide/changeMails.ts'
import { waitingMails } from '#core/decide/decideRequisition.ts'
import type { NewConsent } from '#core/consent/consent.ts'
import { actOnRequisition, type OwnAct } from '#core/request/actOnRequisition.ts'
import { submitRequisition, whyNotCopy } from '#core/request/submitRequisition.ts'
import { chooseDeciders } from '#core/request/chooseDeciders.ts'
import type { Path } from '#core/rules/path.ts'
import type { Done, Write } from '#server/call.ts'
import { ask, type KeptStep, settleConsent } from '#server/consent/consentStore.ts'
import { originOf } from '#server/consent/stepJson.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { json } from '#server/database/json.ts'
import { move } from '#server/documents/move.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { createRequisition } from '#server/request/draftActs.ts'
import { examine } from '#server/request/examineStore.ts'
import {
  askedFor,
  closeQuestions,
  heldRequisition,
  type KnownRequisition,
  knownRequisition,
  liveLines,
  putIntoPool,
  takeFromPool,
} from '#server/request/requisitionStore.ts'
import { keepSeen } from '#server/request/seenStore.ts'
import { pathWorld } from '#server/rules/ruleStore.ts'
import { changesOf, contentBefore, standingDecisions } from '#server/request/standingStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Submits: reserves the budget, opens the first stage of decisions and tells those who decide. */
export async function submit(call: Write, id: string, version: number, checkReason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  await holdAccounts(call, [...new Set(request.rows.flatMap(line => line.splits.map(split => split.accountId)))])
  const examined = await examine(call, request.row)
  const { standing, steps } = await standingDecisions(call, request)
  const path = examined.path.steps
  const stands = path.map(step => standsFor(step, standing))
  const quantities = new Map(request.rows.map(line => [line.id, line.quantity]))
  const decided = obey(
    submitRequisition(request, quantities, { ...examined, path, stands: stands.map(Boolean) }, call.actor, checkReason),
  )
  const { state, round, asks } = decided.next
  await postLedgers(call, { kind: 'requisition', id }, decided)
  const done = await move(
    call,
    'requisition',
    request.row,
    { state, round, submittedAt: call.now, decidedAt: state === 'approved' ? call.now : null },
    decided.did,
  )
  if (state === 'approved') await putIntoPool(call, id)
  const stood = stands.map(one => (one === null ? null : steps.get(one.id)!))
  if (asks) {
    const asked = await askDeciders(call, request, asks, { round, path: examined.path, stands: stood })
    const told = {
      standing: standing.filter(one => stands.some(step => step?.id === one.id)),
      changes: await changesOf(call, asked),
    }
    const { editing } = await decideSettings(call)
    await sayOfRequest(call, id, changeMails(asked, done.version, told, editing, call.actor, checkReason))
  }
  await refreshThread(call, { requisitionIds: [id] })
  return done
}

async function askDeciders(
  call: Write,
  request: KnownRequisition,
  question: NewConsent,
  { round, path, stands }: { round: number; path: Path; stands: (KeptStep | null)[] },
): Promise<KnownRequisition> {
  const asked = await keepSeen(call, request)
  await ask(
    call,
    { ...question, subject: { asked, before: await contentBefore(call, request) } },
    {
      number: request.number,
      title: request.title,
      who: request.requester,
      extra: formatAmount(request.total, call.base),
      amount: minor(request.total),
      currency: call.base,
      needBy: request.needBy,
      path: `/decide/${request.id}`,
    },
    { round, origins: path.steps.map(step => originOf(step, path)), stands },
  )
  const known = await knownRequisition(call, request.id)
  const open = known.consent?.steps.filter(step => step.state === 'open').map(step => step.id) ?? []
  await sayOfRequest(call, request.id, waitingMails(known, open, round))
  return known
}

/** The requester withdraws, takes back, takes up again or cancels. */
export async function act(call: Write, id: string, action: OwnAct, version: number, reason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const decided = obey(actOnRequisition(request, action, call.actor, reason))
  const { state, reopensLines, consent, standsFrom } = decided.next
  await postLedgers(call, { kind: 'requisition', id }, decided)
  if (consent) await settleConsent(call, request.consent!, consent)
  if (reopensLines) {
    await closeQuestions(call, id)
    await takeFromPool(call, id)
  }
  const change = { state, ...(standsFrom === null ? {} : { standsFrom }) }
  const done = await move(call, 'requisition', request.row, change, decided.did)
  await refreshThread(call, { requisitionIds: [id] })
  return done
}

/** Keeps whom the requester chose and added; the way is found with them from now on. */
export async function keepDeciders(
  call: Write,
  id: string,
  { version, chosen, added }: BodyOf<typeof ChooseDeciders>,
): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const { path } = await examine(call, request.row)
  const { people } = await pathWorld(call, 'requisition')
  const { addByHand } = await decideSettings(call)
  const decided = obey(chooseDeciders(request, { chosen, added }, path.choices, people, call.actor, addByHand))
  const { chosen: kept, added: others } = decided.next
  return await move(call, 'requisition', request.row, { chosen: json({ ...kept }), added: [...others] }, decided.did)
}

/** Makes a new draft of the same lines. */
export async function copy(call: Write, id: string): Promise<Done> {
  const request = await knownRequisition(call, id)
  refuse(whyNotCopy(request, call.actor))
  return await createRequisition(call, {
    title: request.row.title,
    reason: request.row.reason,
    lines: liveLines(request.rows).map(line => ({ ...askedFor(line), proof: null, needBy: null })),
  })
}
