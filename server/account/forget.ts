import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { endSessions } from '#server/people/sessions.ts'

/** Everything that is kept about a person of the team, for them to read: their account, what they wrote, and what they did. */
export async function exportPerson(call: Read, id: string): Promise<Record<string, unknown>> {
  const { passwordHash, secondFactor, ...person } = found(await call.trx('people').where({ id }).first(), 'person')
  return {
    person: {
      ...person,
      codesUsed: undefined,
      hasPassword: passwordHash !== null,
      hasSecondFactor: secondFactor !== null,
    },
    roles: await call.trx('personRoles').where({ personId: id }).select('role', 'costCentre'),
    sessions: await call.trx('sessions').where({ personId: id }).select('createdAt', 'seenAt', 'agent', 'network'),
    notes: await call.trx('notes').where({ byId: id }).orderBy('at').select('documentKind', 'documentId', 'text', 'at'),
    namedIn: await call
      .trx('noteMentions')
      .join('notes', 'notes.id', 'noteMentions.noteId')
      .where({ personId: id })
      .orderBy('notes.at')
      .select('documentKind', 'documentId', 'notes.at', 'seenAt'),
    files: await call.trx('files').where({ byId: id }).orderBy('at').select('name', 'mediaType', 'size', 'at'),
    history: await call
      .trx('history')
      .where({ actorId: id })
      .orderBy('at')
      .select('at', 'documentKind', 'documentId', 'action', 'reason'),
  }
}

/** The name under which somebody who was forgotten stands in the history: the same for all that they did, and nobody's. */
export const pseudonym = (id: string): string => `Former colleague ${id.slice(0, 6)}`

/**
 * Takes a person who left out: name, address, password, second factor, sign-on, sessions and links go; documents, ledgers and the history
 * stay whole under a pseudonym. Only somebody whose account is closed can be forgotten, and it cannot be undone.
 *
 * @throws RuleBroken person.stillHere | person.forgotten
 */
export async function forgetPerson(call: Write, id: string, reason: string): Promise<string> {
  const person = await hold(call, 'person', id)
  if (id === SYSTEM_PERSON || person.realm !== 'team')
    throw new RuleBroken(stop('document.notFound', { kind: 'person' }))
  if (person.active) throw new RuleBroken(stop('person.stillHere', { name: person.name }))
  if (person.leftAt !== null) throw new RuleBroken(stop('person.forgotten'))
  const name = pseudonym(id)
  await endSessions(call, id)
  await call.trx('oneTimeLinks').where({ personId: id }).delete()
  await call.trx('personRoles').where({ personId: id }).delete()
  await call.trx('signInTries').where('key', 'like', `%${person.email}`).delete()
  await call
    .trx('people')
    .where({ id })
    .update({
      name,
      email: `${id}@gone.invalid`,
      passwordHash: null,
      secondFactor: null,
      secondFactorAt: null,
      subject: null,
      leftAt: call.now,
      version: person.version + 1,
    })
  await record(call, { kind: 'person', id, action: 'forgotten', reason })
  return name
}
