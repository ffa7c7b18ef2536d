import { formatAmount, minor } from '#core/money/amount.ts'
import { waitingMails } from '#core/decide/decideRequisition.ts'
import { actOnRequisition, type OwnAct } from '#core/request/actOnRequisition.ts'
import { submitRequisition, whyNotCopy } from '#core/request/submitRequisition.ts'
import type { Path } from '#core/rules/path.ts'
import type { Done, Write } from '#server/call.ts'
import { ask, settleConsent } from '#server/consent/consentStore.ts'
import { originOf } from '#server/consent/stepJson.ts'
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
  putIntoPool,
  takeFromPool,
} from '#server/request/requisitionStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Submits: reserves the budget, opens the first stage of decisions and tells those who decide. */
export async function submit(call: Write, id: string, version: number, checkReason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  await holdAccounts(call, [...new Set(request.rows.flatMap(line => line.splits.map(split => split.accountId)))])
  const examined = await examine(call, request.row)
  const quantities = new Map(request.rows.map(line => [line.id, line.quantity]))
  const decided = obey(
    submitRequisition(request, quantities, { ...examined, path: examined.path.steps }, call.actor, checkReason),
  )
  const { state, round, asks } = decided.next
  await postLedgers(call, { kind: 'requisition', id }, decided)
  const done = await move(
    call,
    'requisition',
    request.row,
    { state, round, submittedAt: call.now, decidedAt: asks === null ? call.now : null },
    decided.did,
  )
  if (asks === null) await putIntoPool(call, id)
  else await askDeciders(call, request, asks, round, examined.path)
  await refreshThread(call, { requisitionIds: [id] })
  return done
}

async function askDeciders(
  call: Write,
  request: KnownRequisition,
  question: Parameters<typeof ask>[1],
  round: number,
  path: Path,
): Promise<void> {
  await ask(
    call,
    question,
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
    { round, origins: path.steps.map(step => originOf(step, path)) },
  )
  const asked = await knownRequisition(call, request.id)
  const open = asked.consent?.steps.filter(step => step.state === 'open').map(step => step.id) ?? []
  await sayOfRequest(call, request.id, waitingMails(asked, open, round))
}

/** The requester withdraws, takes back, takes up again or cancels. */
export async function act(call: Write, id: string, action: OwnAct, version: number, reason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const decided = obey(actOnRequisition(request, action, call.actor, reason))
  const { state, reopensLines, consent } = decided.next
  await postLedgers(call, { kind: 'requisition', id }, decided)
  if (consent) await settleConsent(call, request.consent!, consent)
  if (reopensLines) {
    await closeQuestions(call, id)
    await takeFromPool(call, id)
  }
  const done = await move(call, 'requisition', request.row, { state }, decided.did)
  await refreshThread(call, { requisitionIds: [id] })
  return done
}

/** Makes a new draft of the same lines. */
export async function copy(call: Write, id: string): Promise<Done> {
  const request = await knownRequisition(call, id)
  refuse(whyNotCopy(request, call.actor))
  return await createRequisition(call, {
    title: request.row.title,
    reason: request.row.reason,
    lines: request.rows.map(line => ({ ...askedFor(line), proof: null, needBy: null })),
  })
}
