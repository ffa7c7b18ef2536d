import type { ConsentAnswer } from '#core/consent/consent.ts'
import { decideRequisition } from '#core/decide/decideRequisition.ts'
import { passRequisition } from '#core/decide/passRequisition.ts'
import type { Done, Write } from '#server/call.ts'
import { passStep as passConsentStep, settleConsent } from '#server/consent/consentStore.ts'
import { needLimit } from '#server/decide/freeActs.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { teamMember } from '#server/people/peopleStore.ts'
import { keepSeen } from '#server/request/seenStore.ts'
import { closeQuestionsOfSteps, heldRequisition, putIntoPool } from '#server/request/requisitionStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Takes a person's decision about a request. */
export async function decide(
  call: Write,
  id: string,
  answer: ConsentAnswer,
  version: number | undefined,
  reason: string,
  stepId?: string,
): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const decided = obey(decideRequisition(request, call.actor, answer, reason, stepId))
  const { state, consent, intoPool, standsFrom } = decided.next
  await postLedgers(call, { kind: 'requisition', id }, decided)
  if (intoPool) await putIntoPool(call, id)
  await settleConsent(call, request.consent!, consent, {
    version: request.row.version,
    hash: await keepSeen(call, request),
  })
  await closeQuestionsOfSteps(call, [...consent.answers.map(one => one.stepId), ...consent.drops])
  const ended = {
    ...(state === request.state ? {} : { state, decidedAt: call.now }),
    ...(standsFrom === null ? {} : { standsFrom }),
  }
  const onBehalfOf = consent.answers[0]?.onBehalfOf ?? null
  const done = await move(call, 'requisition', request.row, ended, { ...decided.did, onBehalfOf })
  await sayOfRequest(call, id, decided.says)
  await refreshThread(call, { requisitionIds: [id] })
  return done
}

/** A steward passes a step to another person, with a reason; a stalled step is freed so. */
export async function passStep(
  call: Write,
  id: string,
  stepId: string,
  toPersonId: string,
  version: number,
  reason: string,
): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const to = await teamMember(call, toPersonId, 'requisition.decide')
  const decided = obey(passRequisition(request, stepId, to, call.actor, reason))
  await needLimit(call, request, to.id)
  await passConsentStep(call, request.consent!.id, decided.next.stepId, decided.next.personId)
  const done = await move(call, 'requisition', request.row, {}, decided.did)
  await sayOfRequest(call, id, decided.says)
  return done
}
