import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadAccount, ReadLink, SavePersonal } from '#contract/account/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { readSetting, SIGN_IN } from '#server/house/house.ts'
import { mail } from '#server/mail/mail.ts'
import { newLink, openLink, useLink as useUp } from '#server/people/oneTimeLinks.ts'
import { newSecret, takeCode } from '#server/people/secondFactor.ts'
import { endSessions, findSession, isToken } from '#server/people/sessions.ts'
import { checkPassword, chosenPassword } from '#server/people/signIn.ts'

/** Whether one of a person's roles must have a second factor. */
export async function secondFactorDue(call: Read, personId: string): Promise<boolean> {
  const { secondFactorRoles } = (await readSetting(call, 'signIn')) ?? SIGN_IN
  if (secondFactorRoles.length === 0) return false
  return (
    (await call
      .trx('personRoles')
      .where({ personId })
      .whereIn('role', [...secondFactorRoles])
      .first('role')) !== undefined
  )
}

export async function readAccount(call: Read, token: string | undefined): Promise<ResponseOf<typeof ReadAccount>> {
  const person = found(await call.trx('people').where({ id: call.actor.id }).first(), 'person')
  const sessions = await call.trx('sessions').where({ personId: person.id, proven: true }).orderBy('seenAt', 'desc')
  return {
    name: person.name,
    email: person.email,
    hasPassword: person.passwordHash !== null,
    secondFactorSince: person.secondFactorAt,
    secondFactorDue: await secondFactorDue(call, person.id),
    sessions: sessions.map(row => ({
      id: row.id,
      createdAt: row.createdAt,
      seenAt: row.seenAt,
      expiresAt: row.expiresAt,
      agent: row.agent,
      network: row.network,
      current: isToken(row, token),
    })),
  }
}

/** Chooses another password; every session but this one ends. */
export async function changePassword(
  call: Write,
  present: string,
  password: string,
  token: string | undefined,
): Promise<Record<string, never>> {
  await checkPassword(call.trx, call.actor.email, present).catch((error: unknown) => {
    throw error instanceof RuleBroken ? new RuleBroken(stop('password.present', {}, { place: 'present' })) : error
  })
  await setPassword(call, call.actor.id, password, 'passwordChanged', token)
  return {}
}

/** Gives a person a new password and ends what was opened with the old one, but for the session named. */
async function setPassword(
  call: Write,
  personId: string,
  password: string,
  action: string,
  but?: string,
): Promise<void> {
  const person = await hold(call, 'person', personId)
  const passwordHash = await chosenPassword(password, person)
  await call.trx('people').where({ id: personId }).update({ passwordHash })
  await endSessions(call, personId, { but })
  await record(call, { kind: 'person', id: personId, action })
}

export async function endSession(call: Write, id: string): Promise<Record<string, never>> {
  await hold(call, 'person', call.actor.id)
  if ((await endSessions(call, call.actor.id, { only: id })) > 0)
    await record(call, { kind: 'person', id: call.actor.id, action: 'sessionsEnded', changes: { ended: 1 } })
  return {}
}

export async function endOtherSessions(call: Write, token: string | undefined): Promise<{ ended: number }> {
  await hold(call, 'person', call.actor.id)
  const ended = await endSessions(call, call.actor.id, { but: token })
  await record(call, { kind: 'person', id: call.actor.id, action: 'sessionsEnded', changes: { ended } })
  return { ended }
}

/** Whose second factor this session may set: their own, be it only because their role must have one. */
async function enrolling(call: Read, token: string | undefined): Promise<string> {
  const { actor, pending } = await findSession(call.trx, token, call.now)
  const id = actor?.id ?? (pending?.secondFactor === null ? pending.personId : undefined)
  if (id === undefined) throw new RuleBroken(stop('session.none'))
  return id
}

export async function startSecondFactor(call: Read, token: string | undefined) {
  const id = await enrolling(call, token)
  const person = found(await call.trx('people').where({ id }).first('email', 'secondFactor'), 'person')
  if (person.secondFactor !== null) throw new RuleBroken(stop('secondFactor.there'))
  return await newSecret(person.email, call.house.name)
}

export async function confirmSecondFactor(
  call: Write,
  token: string | undefined,
  secret: string,
  code: string,
): Promise<string> {
  const id = await enrolling(call, token)
  const person = await hold(call, 'person', id)
  if (person.secondFactor !== null) throw new RuleBroken(stop('secondFactor.there'))
  await takeCode(call, id, secret, code)
  await call.trx('people').where({ id }).update({ secondFactor: secret, secondFactorAt: call.now })
  await record(asSelf(call, person), { kind: 'person', id, action: 'secondFactorSet' })
  return id
}

/** Who has not come in yet acts as themselves all the same. */
const asSelf = (call: Write, person: { id: string; name: string }): Write => ({
  ...call,
  actor: { ...call.actor, id: person.id, name: person.name },
})

export async function endSecondFactor(call: Write, code: string): Promise<Record<string, never>> {
  const person = await hold(call, 'person', call.actor.id)
  if (person.secondFactor === null) return {}
  if (await secondFactorDue(call, person.id)) throw new RuleBroken(stop('secondFactor.due'))
  await takeCode(call, person.id, person.secondFactor, code)
  await call.trx('people').where({ id: person.id }).update({ secondFactor: null, secondFactorAt: null })
  await record(call, { kind: 'person', id: person.id, action: 'secondFactorEnded' })
  return {}
}

/** Sends a link to whoever asks for it with an address that has an account; nobody is told whether it has. */
export async function askReset(call: Write, email: string): Promise<Record<string, never>> {
  const person = await call
    .trx('people')
    .whereRaw('lower(email) = ?', [email.trim().toLowerCase()])
    .where({ active: true })
    .first('id', 'name', 'email', 'locale')
  if (person) {
    await hold(call, 'person', person.id)
    await sendLink(asSelf(call, person), person, 'reset')
    await record(asSelf(call, person), { kind: 'person', id: person.id, action: 'resetAsked' })
  }
  return {}
}

/** Mails somebody a link to choose their password. */
export async function sendLink(
  call: Write,
  person: { id: string; name: string; email: string; locale: string },
  purpose: 'invitation' | 'reset',
): Promise<void> {
  const token = await newLink(call.trx, purpose, person.id, call.now)
  const to = { name: person.name, email: person.email, language: person.locale.slice(0, 2) }
  const key = `link:${person.id}:${call.now}`
  await mail(
    call,
    to,
    `account.${purpose}`,
    key,
    { kind: 'person', id: person.id },
    {
      by: call.actor.name,
      path: `/password/${token}`,
    },
  )
}

export async function readLink(call: Read, token: string): Promise<ResponseOf<typeof ReadLink>> {
  const link = await openLink(call, token)
  if (link.personId === null || link.purpose === 'first') throw new RuleBroken(stop('link.unknown'))
  const person = found(await call.trx('people').where({ id: link.personId }).first('name', 'email'), 'person')
  return { purpose: link.purpose, name: person.name, email: person.email, until: link.until }
}

/** Chooses the password that a link is for; says whose it is. The link is checked before anything costly is done. */
export async function useLink(call: Write, token: string, password: string): Promise<string> {
  const { personId, purpose } = await useUp(call, token)
  if (personId === null || purpose === 'first') throw new RuleBroken(stop('link.unknown'))
  const person = await hold(call, 'person', personId)
  if (!person.active) throw new RuleBroken(stop('link.unknown'))
  await setPassword(asSelf(call, person), personId, password, purpose === 'reset' ? 'passwordReset' : 'registered')
  return personId
}

/** How dates and figures are written for this person from now on. */
export async function savePersonal(call: Write, body: BodyOf<typeof SavePersonal>): Promise<Record<string, never>> {
  const person = await hold(call, 'person', call.actor.id)
  await call.trx('people').where({ id: person.id }).update(body)
  await record(call, { kind: 'person', id: person.id, action: 'changed', changes: { after: body } })
  return {}
}
