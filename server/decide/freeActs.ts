import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadCandidates } from '#contract/decide/endpoints.ts'
import { answerConsent } from '#core/consent/consent.ts'
import { addStep } from '#core/decide/addStep.ts'
import { askAgain } from '#core/decide/askAgain.ts'
import { waitingMails } from '#core/decide/decideRequisition.ts'
import { type SkipNext, skipped, skipStep } from '#core/decide/skipStep.ts'
import { sendBack } from '#core/decide/takeBackStalled.ts'
import type { Decision } from '#core/acts/decision.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { APPROVAL_RIGHT } from '#core/request/submitRequisition.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { decideSettings } from '#server/consent/clock.ts'
import { addConsentStep, ask, latestConsent, settleConsent, skipConsentStep } from '#server/consent/consentStore.ts'
import { askAnew, sinceSubmitted } from '#server/decide/askAnew.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { teamMember } from '#server/people/peopleStore.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { examine } from '#server/request/examineStore.ts'
import {
  heldRequisition,
  type KnownRequisition,
  knownRequisition,
  putIntoPool,
  takeFromPool,
} from '#server/request/requisitionStore.ts'
import { standingDecisions } from '#server/request/standingStore.ts'
import { pathWorld } from '#server/rules/ruleStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Those who may decide the request, whoever has a high enough limit, is there and has least to do first. */
export async function readCandidates(call: Read, id: string): Promise<ResponseOf<typeof ReadCandidates>> {
  await needVisible(call, 'requisition', id)
  const request = await knownRequisition(call, id)
  const world = await pathWorld(call, 'requisition')
  const able = [...world.people.values()].filter(one => one.able && one.id !== request.requesterId)
  const ids = able.map(one => one.id)
  const { rows } = await call.trx.raw<{ rows: { id: string; waiting: number; awayUntil: string | null }[] }>(
    `select p.id, (select count(*)::int from consent_steps s join consents c on c.id = s.consent_id and c.state = 'open' where s.state = 'open' and p.id = any(s.approver_ids)) as waiting,
       (select max(to_day)::text from away_times t where t.person_id = p.id and t.away and t.from_day <= :today and t.to_day >= :today) as away_until
     from people p where p.id = any(:ids)`,
    { ids, today: call.today },
  )
  const busy = new Map(rows.map(row => [row.id, row]))
  const candidates = able.map(({ id: personId, name, limits }) => {
    const limit = limits.requisition
    return {
      id: personId,
      name,
      limit: limit === undefined ? null : formatAmount(limit, call.base),
      enough: limit === undefined || request.total <= limit,
      waiting: busy.get(personId)?.waiting ?? 0,
      awayUntil: busy.get(personId)?.awayUntil ?? null,
    }
  })
  const rank = (one: (typeof candidates)[number]): string =>
    `${one.enough ? 0 : 1}${one.awayUntil === null ? 0 : 1}${String(one.waiting).padStart(6, '0')}${one.name}`
  return { currency: call.base, candidates: candidates.sort((a, b) => (rank(a) < rank(b) ? -1 : 1)) }
}

/** Refuses somebody whose limit is below what is decided, where nobody decides after them. */
export async function needLimit(call: Read, request: KnownRequisition, personId: string): Promise<void> {
  const person = (await pathWorld(call, 'requisition')).people.get(personId)
  const limit = person?.limits.requisition
  if (limit !== undefined && request.total > limit)
    throw new RuleBroken(stop('decide.belowLimit', { person: person!.name, limit: formatAmount(limit, call.base) }))
}

/** A steward skips a step: at once, or when a second one agrees. */
export async function skip(
  call: Write,
  id: string,
  stepId: string,
  version: number,
  reason: string,
): Promise<Done & { waits: boolean }> {
  const request = await heldRequisition(call, id, version)
  const { secondFrom } = await decideSettings(call)
  const decided = obey(skipStep(request, stepId, call.actor, reason, minor(BigInt(secondFrom))))
  if (decided.next.kind === 'skipped') return { ...(await carryOut(call, request, decided as Skipped)), waits: false }
  const { about } = request.consent!
  await ask(call, decided.next.question, { ...about, amount: minor(request.total) }, { round: request.round })
  return { ...(await move(call, 'requisition', request.row, {}, decided.did)), waits: true }
}

/** A second steward says whether a step is skipped. */
export async function answerSkip(
  call: Write,
  id: string,
  version: number,
  agrees: boolean,
  reason: string,
): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const question = await latestConsent(call, id, 'skip')
  const answered = answerConsent(found(question, 'consent'), call.actor, agrees ? 'approve' : 'reject', reason)
  if (!answered.ok) throw new RuleBroken(answered.reasons)
  await settleConsent(call, question!, answered.next)
  if (!agrees) return await move(call, 'requisition', request.row, {}, { action: 'skipRefused', changes: {}, reason })
  const stepId = String(question!.subject.stepId)
  const decided = obey(skipped(request, stepId, question!.reason, question!.askedBy))
  return await carryOut(call, request, decided as Skipped)
}

type Skipped = Extract<Decision<Extract<SkipNext, { kind: 'skipped' }>>, { ok: true }>
async function carryOut(call: Write, request: KnownRequisition, decided: Skipped): Promise<Done> {
  const { stepId, consent, approved } = decided.next
  await skipConsentStep(call, request.consent!, stepId, consent)
  if (approved) await putIntoPool(call, request.id)
  const change = approved ? { state: 'approved' as const, decidedAt: call.now } : {}
  const done = await move(call, 'requisition', request.row, change, decided.did)
  await sayOfRequest(call, request.id, decided.says)
  await refreshThread(call, { requisitionIds: [request.id] })
  return done
}

/** One person more has to decide. */
export async function add(call: Write, id: string, personId: string, version: number, reason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const to = await teamMember(call, personId, APPROVAL_RIGHT)
  const { addByHand } = await decideSettings(call)
  const decided = obey(addStep(request, to, call.actor, reason, addByHand))
  await addConsentStep(call, request.consent!, {
    stage: decided.next.stage,
    asked: { kind: 'person', personId, right: APPROVAL_RIGHT },
    notBy: [request.requesterId],
    label: '',
  })
  const done = await move(call, 'requisition', request.row, {}, decided.did)
  await sayOfRequest(call, id, decided.says)
  return done
}

/** A steward sends what cannot move back to its requester, or has it asked for anew. */
export const free = (
  call: Write,
  id: string,
  how: 'sendBack' | 'askAgain',
  version: number,
  reason: string,
): Promise<Done> => (how === 'sendBack' ? back(call, id, version, reason) : again(call, id, version, reason))

async function back(call: Write, id: string, version: number, reason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const decided = obey(sendBack(request, call.actor, reason))
  await postLedgers(call, { kind: 'requisition', id }, decided)
  if (decided.next.consent) await settleConsent(call, request.consent!, decided.next.consent)
  await takeFromPool(call, id)
  const done = await move(call, 'requisition', request.row, { state: decided.next.state }, decided.did)
  await sayOfRequest(call, id, decided.says)
  await refreshThread(call, { requisitionIds: [id] })
  return done
}

async function again(call: Write, id: string, version: number, reason: string): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const { path } = await examine(call, request.row, sinceSubmitted(request))
  const { standing, steps } = await standingDecisions(call, request)
  const decided = obey(askAgain(request, path.steps, path.reasons, standing, call.actor, reason))
  const { ends, round, stands } = decided.next
  const asked = await askAnew(call, request, {
    ends,
    round,
    path,
    stands: stands.map(one => (one === null ? null : steps.get(one.id)!)),
  })
  const change = asked.state === 'given' ? { state: 'approved' as const, decidedAt: call.now, round } : { round }
  const done = await move(call, 'requisition', request.row, change, decided.did)
  const open = asked.kept.filter(step => step.state === 'open').map(step => step.id)
  await sayOfRequest(call, id, waitingMails({ ...request, consent: asked }, open, round))
  await refreshThread(call, { requisitionIds: [id] })
  return done
}
