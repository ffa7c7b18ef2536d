import { formatAmount } from '#core/money/amount.ts'
import type { Call } from '#server/call.ts'
import { mail } from '#server/outbox/post.ts'
import type { RequisitionRow } from '#server/request/requisitionStore.ts'

type Head = Pick<RequisitionRow, 'id' | 'number' | 'title' | 'total' | 'needBy' | 'round' | 'requesterId'>

/** Mails those whose decision is wanted now. */
export async function tellApprovers(call: Call, requisition: Head, approverIds: readonly string[]): Promise<void> {
  if (approverIds.length === 0) return
  const people = (await call
    .trx('people')
    .whereIn('id', [...approverIds, requisition.requesterId])
    .where({ active: true })
    .select('id', 'name', 'email')) as { id: string; name: string; email: string }[]
  const requester = people.find(person => person.id === requisition.requesterId)?.name ?? call.actor.name
  for (const person of people.filter(one => approverIds.includes(one.id)))
    await mail(
      call,
      `decide:${requisition.id}:${requisition.round}:${person.id}`,
      { kind: 'requisition', id: requisition.id },
      {
        to: person.email,
        subject: `${requisition.number} waits for you: ${requisition.title}`,
        text: `Dear ${person.name},\n\n${requester} asks for ${requisition.title}: ${call.base} ${formatAmount(requisition.total, call.base)}${requisition.needBy ? `, needed by ${requisition.needBy}` : ''}.\n\nYou decide it on your Desk: /decide/${requisition.id}\n`,
      },
    )
}

export async function tellRequester(call: Call, requisition: Head, outcome: 'approved' | 'rejected' | 'returned', reason: string): Promise<void> {
  const person = (await call.trx('people').where({ id: requisition.requesterId }).first('name', 'email')) as { name: string; email: string }
  await mail(
    call,
    `decided:${requisition.id}:${requisition.round}:${outcome}`,
    { kind: 'requisition', id: requisition.id },
    {
      to: person.email,
      subject: `${requisition.number} was ${outcome}: ${requisition.title}`,
      text: `Dear ${person.name},\n\n${requisition.number}, ${requisition.title}, was ${outcome} by ${call.actor.name}.${reason ? `\n\n"${reason}"` : ''}\n\n/request/${requisition.id}\n`,
    },
  )
}
