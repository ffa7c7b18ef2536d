import type { Decision } from '#core/acts/decision.ts'
import { addBusinessDays } from '#core/calendar/days.ts'
import { reminder, remindHolders } from '#core/decide/remindHolders.ts'
import { type Done, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { obey } from '#server/documents/obey.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { sayOfRequest } from '#server/request/decisionMailStore.ts'
import { heldRequisition, type KnownRequisition } from '#server/request/requisitionStore.ts'
import { readRequestSettings } from '#server/request/settingsStore.ts'

async function carryOut(
  call: Write,
  request: KnownRequisition,
  decision: Decision<{ remindedAt: string }>,
): Promise<Done> {
  const decided = obey(decision)
  await call.trx('requisitions').where({ id: request.id }).update({ remindedAt: decided.next.remindedAt })
  await record(call, { kind: 'requisition', id: request.id, ...decided.did })
  await sayOfRequest(call, request.id, decided.says)
  return { id: request.id, version: request.row.version }
}

/** The requester reminds whoever holds the request. */
export async function remind(call: Write, id: string): Promise<Done> {
  const request = await heldRequisition(call, id)
  return await carryOut(call, request, remindHolders(request, call.actor, call.now))
}

/** Once a night: whoever has held a request for longer than Setup says, counted in working days, is reminded. */
export async function remindOfWaiting(call: Write): Promise<number> {
  const { remindAfterDays } = await readRequestSettings(call)
  if (remindAfterDays === 0) return 0
  const calendar = await teamCalendar(call)
  const { rows: waiting } = await call.trx.raw<{ rows: { id: string; since: string }[] }>(
    `select r.id, greatest(min(s.opened_at), r.reminded_at) as since from requisitions r join consents c on c.document_id = r.id and c.purpose = 'approval' and c.state = 'open'
     join consent_steps s on s.consent_id = c.id and s.state = 'open' group by r.id order by r.id`,
  )
  const due = waiting.filter(one => addBusinessDays(one.since.slice(0, 10), remindAfterDays, calendar) <= call.today)
  for (const { id } of due) {
    const request = await heldRequisition(call, id)
    await carryOut(call, request, reminder(request, call.actor.name, call.now))
  }
  return due.length
}
