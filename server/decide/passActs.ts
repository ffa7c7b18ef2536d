import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { PassQuestion, ReadPassCandidates } from '#contract/decide/endpoints.ts'
import { type Permission } from '#contract/permissions.ts'
import { passQuestion, rightOfStep } from '#core/consent/passQuestion.ts'
import type { Successor } from '#core/consent/passStep.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { consentsById, type KeptConsent, passStep } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { obey } from '#server/documents/obey.ts'

/** Questions about requests have an act of their own, which writes to whoever is asked. */
async function questionOf(call: Read, id: string): Promise<KeptConsent> {
  const consent = found((await consentsById(call, [id])).get(id), 'consent')
  if (consent.purpose === 'approval') throw new RuleBroken(stop('document.notFound', { kind: 'decision' }))
  return consent
}

/** Everybody of the team whose account is open, and whether they may decide such a question. */
async function successors(call: Read, right: string | null): Promise<Successor[]> {
  const { rows } = await call.trx.raw<{ rows: Successor[] }>(
    `select p.id, p.name, :right::text is null or exists (select 1 from person_roles g join roles on roles.code = g.role where g.person_id = p.id and :right = any(permissions)) as able
     from people p where p.active and p.realm = 'team' order by p.name`,
    { right: right as Permission },
  )
  return rows
}

/** Who could decide a step of a question instead. */
export async function readPassCandidates(
  call: Read,
  id: string,
  stepId: string,
): Promise<ResponseOf<typeof ReadPassCandidates>> {
  const consent = await questionOf(call, id)
  const notBy = consent.steps.find(step => step.id === stepId)?.notBy ?? []
  const able = (await successors(call, rightOfStep(consent, stepId))).filter(one => one.able && !notBy.includes(one.id))
  return { candidates: able.map(({ id: personId, name }) => ({ id: personId, name })) }
}

/** A steward passes a step of a question to somebody else who may decide it. */
export async function passOn(
  call: Write,
  id: string,
  stepId: string,
  { version, toPersonId, reason }: BodyOf<typeof PassQuestion>,
): Promise<Done> {
  const seen = await questionOf(call, id)
  await hold(call, seen.documentKind as DocumentKind, seen.documentId)
  const consent = await questionOf(call, id)
  await guardVersion(call, consent, version)
  const to = (await successors(call, rightOfStep(consent, stepId))).find(one => one.id === toPersonId)
  const decided = obey(passQuestion(consent, stepId, found(to, 'person'), call.actor, reason))
  await passStep(call, id, stepId, decided.next.personId)
  await call
    .trx('consents')
    .where({ id })
    .update({ version: version + 1, changedAt: call.now })
  await record(call, { kind: seen.documentKind as DocumentKind, id: seen.documentId, ...decided.did })
  return { id, version: version + 1 }
}
