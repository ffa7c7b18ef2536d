import { addDays } from '#core/calendar/days.ts'
import { moment } from '#demo/load.ts'
import type { Team } from '#demo/runThread.ts'
import { senders } from '#server/app/jobs.ts'
import { sendOutgoing } from '#server/outbox/send.ts'
import { fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import { approve, propose } from '#server/pay/runActs.ts'

/** Pays what is due by the day before, through the bank stand-in: proposed, approved, sent and answered. */
export async function payWhatIsDue(team: Team, day: string): Promise<boolean> {
  const at = (after: number, hour: number): string => moment(addDays(day, after), hour, team.now)
  const run = await team.as('casimir', at(0, 9), call => propose(call, addDays(day, -1), call.today))
  if (!run.id) return false
  await team.as('adaeze', at(0, 11), call => approve(call, run.id!, run.version))
  const file = await team.parts.db('outbox').where({ documentId: run.id, kind: 'bankFile' }).first('id')
  await sendOutgoing({ ...team.parts, clock: () => at(0, 12) }, senders, file!.id)
  await fetchBankAnswers({ ...team.parts, clock: () => at(1, 8) })
  return true
}
