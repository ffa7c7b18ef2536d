import { clockSays } from '#core/consent/watch.ts'
import { reminder } from '#core/decide/remindHolders.ts'
import type { Read, Write } from '#server/call.ts'
import { clockFor, decideSettings } from '#server/consent/clock.ts'
import {
  consentsById,
  keepStanding,
  type KeptConsent,
  type KeptStep,
  originOfStep,
  withStalls,
} from '#server/consent/consentStore.ts'
import { hold } from '#server/documents/hold.ts'
import { inTransaction, type JobParts, outside, settingOf } from '#server/jobs/parts.ts'
import { record } from '#server/documents/history.ts'
import { say } from '#server/mail/mail.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { heldRequisition } from '#server/request/requisitionStore.ts'

/** Open questions of which something may have changed by time alone: a time that ends, somebody who goes away or comes back. */
async function questionsToWatch(call: Read): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select distinct c.id from consents c join consent_steps s on s.consent_id = c.id and s.state = 'open'
     where c.state = 'open' and (s.due_at is not null or s.stall is not null
       or exists (select 1 from away_times t where t.person_id = any(s.approver_ids) and t.from_day <= :today::date and t.to_day >= :today::date - 2)) order by c.id`,
    { today: call.today },
  )
  return rows.map(row => row.id)
}

/** Questions that are looked at in one go. */
const AT_ONCE = 200

/**
 * Looks every few minutes at what cannot move by itself any more, reminds whoever decides after a part of their time, and tells the next in
 * the chain when it is over. It is looked at without holding anything; what there is to do is done for each question by itself. Answers how
 * many were reminded or told.
 */
export async function watchDecisions(parts: Pick<JobParts, 'db' | 'clock'>): Promise<number> {
  const call = outside(parts, await settingOf(parts))
  const ids = await questionsToWatch(call)
  let told = 0
  for (let start = 0; start < ids.length; start += AT_ONCE) {
    const consents = [...(await consentsById(call, ids.slice(start, start + AT_ONCE))).values()]
    for (const consent of await withStalls(call, consents))
      if (consent.kept.some(step => step.stall !== step.before) || (await timesOver(call, consent)).length > 0)
        told += await inTransaction(parts, inside => lookAgain(inside, consent))
  }
  return told
}

/** Steps about whose time there is something to say. */
async function timesOver(call: Read, consent: KeptConsent): Promise<{ step: KeptStep; says: 'remind' | 'late' }[]> {
  if (consent.purpose !== 'approval') return []
  const over: { step: KeptStep; says: 'remind' | 'late' }[] = []
  for (const step of consent.kept.filter(one => one.state === 'open' && one.dueAt !== null)) {
    const timed = { ...step, dueAt: step.dueAt!, remindAt: await remindAt(call, step), paused: step.pausedAt !== null }
    const says = clockSays(timed, call.now)
    if (says !== null) over.push({ step, says })
  }
  return over
}

/** The same with the document held, as it is then. */
async function lookAgain(call: Write, { id, purpose, documentId }: KeptConsent): Promise<number> {
  if (purpose === 'approval') await hold(call, 'requisition', documentId)
  const consent = (await consentsById(call, [id])).get(id)!
  await keepStanding(call, [consent])
  const over = await timesOver(call, consent)
  for (const { step, says } of over) {
    if (says === 'remind') await remindOf(call, consent, step)
    else await tellLate(call, consent, step)
  }
  return over.length
}

/** When the time of a step has gone so far that whoever decides is reminded. */
async function remindAt(call: Read, step: KeptStep): Promise<string | null> {
  const { remindPercent } = await decideSettings(call)
  const { hours } = originOfStep(step)
  if (remindPercent === 0 || hours === null || step.openedAt === null) return null
  const [who] = step.approverIds
  return (await clockFor(call, step.approverIds)).after(who, step.openedAt, (hours * remindPercent) / 100)
}

async function remindOf(call: Write, consent: KeptConsent, step: KeptStep): Promise<void> {
  await call.trx('consentSteps').where({ id: step.id }).update({ remindedAt: call.now })
  const request = await heldRequisition(call, consent.documentId)
  const decided = reminder(request, call.house.name, call.now)
  if (!decided.ok) return
  const says = decided.says.filter(message => step.approverIds.includes(message.to.id))
  await record(call, { kind: 'requisition', id: request.id, ...decided.did })
  await sayOfRequest(call, request.id, says)
}

/** Tells the next in the chain of those who let the time go by; the stewards see it among what stands still. */
async function tellLate(call: Write, consent: KeptConsent, step: KeptStep): Promise<void> {
  await call.trx('consentSteps').where({ id: step.id }).update({ lateToldAt: call.now })
  const request = await heldRequisition(call, consent.documentId)
  const rows = await call
    .trx('people')
    .join('people as manager', 'manager.id', 'people.managerId')
    .whereIn('people.id', [...step.approverIds])
    .where('manager.active', true)
    .whereNot('manager.id', request.requesterId)
    .distinct<{ id: string }[]>('manager.id')
  await record(call, {
    kind: 'requisition',
    id: request.id,
    action: 'late',
    changes: { rule: step.label, who: step.who },
  })
  const details = { number: request.number, title: request.title, who: step.who, requester: request.requester, path: `/decide/${request.id}` } // prettier-ignore
  await say(
    call,
    rows.map(({ id }) => ({ template: 'requisition.late', to: { kind: 'person' as const, id }, key: `late:${step.id}:${id}`, details })), // prettier-ignore
    { kind: 'requisition', id: request.id },
  )
}
