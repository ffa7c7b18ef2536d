import { addBusinessDays } from '#core/calendar/days.ts'
import { usualHours } from '#core/request/pool.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import type { RequisitionRow } from '#server/request/requisitionStore.ts'
import { readRequestSettings } from '#server/request/settings.ts'
import { teamCalendar } from '#server/setup/calendar.ts'

type Reminded = Pick<RequisitionRow, 'id' | 'number' | 'title' | 'state' | 'version' | 'remindedAt' | 'needBy'>
const DAY = 86_400_000

/** The requester reminds whoever holds the request, at most once a day. */
export async function remindHolders(call: Call, requisition: Reminded): Promise<Done> {
  if (requisition.state !== 'waiting') throw new RuleBroken(stop('remind.notWaiting'))
  if (requisition.remindedAt && Date.parse(call.now) - Date.parse(requisition.remindedAt) < DAY) throw new RuleBroken(stop('remind.already', { at: requisition.remindedAt }))
  await remind(call, requisition, call.actor.name)
  return { id: requisition.id, version: requisition.version }
}

async function remind(call: Call, requisition: Reminded, by: string): Promise<void> {
  const holders = (await call
    .trx('approvalSteps as step')
    .join('people', 'people.id', 'step.approverId')
    .join('requisitions', 'requisitions.id', 'step.requisitionId')
    .whereRaw("step.round = requisitions.round and step.state = 'open' and people.active and requisitions.id = ?", [requisition.id])
    .select('people.id', 'people.name', 'people.email')) as { id: string; name: string; email: string }[]
  for (const person of holders)
    await mail(
      call,
      `remind:${requisition.id}:${person.id}:${call.now}`,
      { kind: 'requisition', id: requisition.id },
      {
        to: person.email,
        subject: `Still waiting: ${requisition.number}, ${requisition.title}`,
        text: `Dear ${person.name},\n\n${by} asks you to decide ${requisition.number}, ${requisition.title}${requisition.needBy ? `, needed by ${requisition.needBy}` : ''}.\n\n/decide/${requisition.id}\n`,
      },
    )
  await call.trx('requisitions').where({ id: requisition.id }).update({ remindedAt: call.now })
  await record(call, { kind: 'requisition', id: requisition.id, action: 'reminded', changes: { to: holders.map(person => person.name) } })
}

/** Once a night: whoever has held a request for longer than Setup says, counted in working days, is reminded. */
export async function remindOfWaiting(call: Call): Promise<number> {
  const { remindAfterDays } = await readRequestSettings(call)
  if (remindAfterDays === 0) return 0
  const calendar = await teamCalendar(call)
  const waiting = (await call
    .trx('requisitions')
    .where({ state: 'waiting' })
    .select(
      '*',
      call.trx.raw("(select min(opened_at) from approval_steps s where s.requisition_id = requisitions.id and s.round = requisitions.round and s.state = 'open') as since"),
    )) as (Reminded & { since: string | null })[]
  const due = waiting.filter(one => {
    const from = [one.since, one.remindedAt]
      .filter(at => at !== null)
      .sort()
      .at(-1)
    return from !== undefined && addBusinessDays(from.slice(0, 10), remindAfterDays, calendar) <= call.today
  })
  for (const one of due) await remind(call, one, call.actor.name)
  return due.length
}

/** How many hours these people's decisions usually take, from their last ones; nothing where there are too few. */
export async function usualDecision(call: Call, approverIds: readonly string[]): Promise<number | null> {
  if (approverIds.length === 0) return null
  const { rows } = (await call.trx.raw(
    `select extract(epoch from decided_at - opened_at)::float8 / 3600 as hours from approval_steps where approver_id = any(?) and state in ('approved', 'rejected', 'returned') and opened_at is not null and decided_at is not null order by decided_at desc limit 20`,
    [[...approverIds]],
  )) as { rows: { hours: number }[] }
  return usualHours(rows.map(row => row.hours))
}
