import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import { TEAM_PERMISSIONS } from '#contract/permissions.ts'
import type { SaveLimits } from '#contract/rules/endpoints.ts'
import type { SaveCostCentre } from '#contract/setup/house.ts'
import type { SaveRole } from '#contract/setup/roles.ts'
import type { AnswerPowerChange, PowerChange } from '#contract/setup/people.ts'
import { answerConsent, endConsent, secondYes, whyNotDecide, whyNotWithdraw } from '#core/consent/consent.ts'
import { rightsAdded } from '#core/people/ownRoles.ts'
import { loosened } from '#core/rules/limits.ts'
import { addedPower, type GivenRole, howToGive } from '#core/people/roles.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { limitsOf, readLimitRows, setLimits } from '#server/rules/limitActs.ts'
import { checkPublish, publishRules } from '#server/rules/ruleActs.ts'
import { ask, consentsById, type KeptConsent, settleConsent } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { refuse } from '#server/documents/obey.ts'
import { saveCentre, setHolderOf } from '#server/setup/centreActs.ts'
import { addRole, changeRole, checkRole, powerOfRole } from '#server/setup/ownRoles.ts'
import { applyRoles, rightsOfRoles } from '#server/setup/rolesActs.ts'

/** What a second person's yes carries out, and on which version: what was changed meanwhile is never written over by an older wish. */
export type PowerSubject =
  | {
      readonly what: 'roles'
      readonly personId: string
      readonly active: boolean
      readonly roles: readonly GivenRole[]
      readonly version: number
    }
  | {
      readonly what: 'rules'
      readonly setId: string
      readonly fromDay: string
      readonly note: string
      readonly version: number
    }
  | {
      readonly what: 'role'
      readonly roleId: string
      readonly permissions: readonly string[]
      readonly version: number
    }
  | {
      readonly what: 'limits'
      readonly personId: string
      readonly limits: BodyOf<typeof SaveLimits>['limits']
      readonly version: number
    }
  | { readonly what: 'holder'; readonly centreId: string; readonly holderId: string; readonly version: number }

/**
 * How the change is made, for whom: at once, or by a second person. Whoever can agree is noted, so that taking that from the last other one
 * does not make it a house of one person. @throws RuleBroken person.ownPower
 */
export async function needsSecond(call: Write, power: readonly unknown[], forPerson: string | null): Promise<boolean> {
  await noteWhoAgrees(call)
  const others = await call.trx('people').where({ couldAgree: true, leftAt: null }).pluck<string[]>('id')
  const how = howToGive(power, forPerson, call.actor.id, others)
  if (how.how === 'never') throw new RuleBroken(how.reasons)
  return how.how === 'secondPerson'
}

/** Who has not chosen a password yet, and has no single sign-on, is not there to agree. */
const noteWhoAgrees = (call: Write): Promise<unknown> =>
  call.trx.raw(
    `update people set could_agree = true where active and not could_agree and (password_hash is not null or subject is not null)
       and exists (select 1 from person_roles join roles on roles.code = role where person_id = people.id and 'setup.agree' = any(permissions))`,
  )

/**
 * Whoever runs the machine says that the house goes on with those who can agree now: nobody waits any more for people who once could.
 * Answers whom that lets go, by name.
 */
export async function goOnWithout(call: Write): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string; name: string }[] }>(
    `update people set could_agree = false where could_agree and not (active
       and exists (select 1 from person_roles join roles on roles.code = role where person_id = people.id and 'setup.agree' = any(permissions))) returning id, name`,
  )
  for (const { id } of rows) await record(call, { kind: 'person', id, action: 'agreesNoMore' })
  return rows.map(row => row.name)
}

/** Keeps a change until a second person says yes; the one that it gives power to is not asked. */
export async function askSecond(
  call: Write,
  subject: PowerSubject,
  name: string,
): Promise<{ id: string; version: number }> {
  const id = randomUUID()
  const notBy = [
    call.actor.id,
    ...(subject.what === 'roles' || subject.what === 'limits'
      ? [subject.personId]
      : subject.what === 'holder'
        ? [subject.holderId]
        : []),
  ]
  const question = secondYes(
    { purpose: 'power', documentKind: 'secondYes', documentId: id, reason: '', subject },
    'setup.agree',
    notBy,
  )
  const about = {
    number: '',
    title: name,
    who: call.actor.name,
    extra: subject.what,
    amount: null,
    currency: null,
    needBy: null,
    path: '/setup',
  }
  return { id, version: (await ask(call, question, about, { id })).version }
}

const subjectOf = (question: KeptConsent): PowerSubject => question.subject as PowerSubject

export async function listPowerChanges(call: Read): Promise<{ changes: PowerChange[] }> {
  const ids = await call
    .trx('consents')
    .where({ purpose: 'power', state: 'open' })
    .orderBy('askedAt')
    .pluck<string[]>('id')
  const changes: PowerChange[] = []
  for (const question of (await consentsById(call, ids)).values()) {
    const asker = await call.trx('people').where({ id: question.askedBy }).first('name')
    changes.push({
      id: question.id,
      what: subjectOf(question).what,
      name: question.about.title,
      gives: await givenBy(call, subjectOf(question)),
      askedBy: asker?.name ?? '',
      askedAt: question.askedAt,
      mine: question.askedBy === call.actor.id,
      mayAnswer: whyNotDecide(question, call.actor).length === 0,
      version: question.version,
    })
  }
  return { changes }
}

async function givenBy(call: Read, subject: PowerSubject): Promise<string[]> {
  if (subject.what === 'holder') {
    const holder = await call.trx('people').where({ id: subject.holderId }).first('name')
    return [holder?.name ?? '']
  }
  if (subject.what === 'role') {
    const role = await call.trx('roles').where({ id: subject.roleId }).first('permissions')
    return rightsAdded(role?.permissions ?? [], subject.permissions)
  }
  if (subject.what === 'rules') return [subject.fromDay]
  if (subject.what === 'limits') return subject.limits.map(one => `${one.kind} ${one.amount}`)
  const person = await call.trx('people').where({ id: subject.personId }).first('active')
  const roles = await call.trx('personRoles').where({ personId: subject.personId }).select('role', 'costCentre')
  const before = { active: person?.active ?? false, roles }
  return addedPower(before, subject, await rightsOfRoles(call)).map(
    one => `${one.role}${one.costCentre ? `@${one.costCentre}` : ''}`,
  )
}

/**
 * Says yes, no, or takes the change back. It is carried out as it was asked for, or not at all where what it is about was changed meanwhile.
 *
 * @throws RuleBroken document.changed
 */
export async function answerPowerChange(
  call: Write,
  id: string,
  { version, answer, reason }: BodyOf<typeof AnswerPowerChange>,
): Promise<Record<string, never>> {
  await hold(call, 'secondYes', id)
  const question = found((await consentsById(call, [id])).get(id), 'secondYes')
  if (question.purpose !== 'power') throw new RuleBroken(stop('document.notFound', { kind: 'secondYes' }))
  refuse(answer === 'withdraw' ? whyNotWithdraw(question, call.actor) : whyNotDecide(question, call.actor))
  await guardVersion(call, question, version)
  if (answer === 'withdraw') await settleConsent(call, question, endConsent(question, 'withdrawn'))
  else {
    const answered = answerConsent(question, call.actor, answer === 'agree' ? 'approve' : 'reject', reason)
    if (!answered.ok) throw new RuleBroken(answered.reasons)
    await settleConsent(call, question, answered.next)
    if (answer === 'agree') await carryOut(call, subjectOf(question), question.askedBy)
  }
  return {}
}

async function carryOut(call: Write, subject: PowerSubject, askedBy: string): Promise<void> {
  if (subject.what === 'roles') {
    await hold(call, 'person', subject.personId, subject.version)
    await applyRoles(call, subject.personId, subject, askedBy)
  } else if (subject.what === 'role') {
    const role = await hold(call, 'role', subject.roleId, subject.version)
    await checkRole(call, { name: role.code, permissions: subject.permissions }, role)
    await changeRole(call, subject.roleId, subject.permissions, subject.version, askedBy)
  } else if (subject.what === 'holder') {
    await hold(call, 'costCentre', subject.centreId, subject.version)
    await setHolderOf(call, subject.centreId, subject.holderId, askedBy)
  } else if (subject.what === 'limits') await setLimits(call, subject.personId, subject, askedBy)
  else await publishRules(call, subject.setId, subject, askedBy)
}

interface Changed {
  readonly id: string
  readonly version: number
  readonly waits: boolean
}

/** A draft of rules put in force, at once or when a second person has agreed: rules decide over money. */
export async function giveRules(
  call: Write,
  setId: string,
  body: { version: number; fromDay: string; note: string },
): Promise<Changed> {
  const set = await checkPublish(call, setId, body.version, body.fromDay)
  if (!(await needsSecond(call, [set], null))) return { ...(await publishRules(call, setId, body)), waits: false }
  await askSecond(call, { what: 'rules', setId, ...body }, String(set.number))
  return { id: setId, version: body.version, waits: true }
}

/** What somebody decides alone: less at once, more when a second person has agreed. */
export async function giveLimits(call: Write, personId: string, body: BodyOf<typeof SaveLimits>): Promise<Changed> {
  const person = await hold(call, 'person', personId, body.version)
  const more = loosened(await limitsOf(call, personId), readLimitRows(call, body.limits))
  if (more.length === 0 || !(await needsSecond(call, more, personId)))
    return { ...(await setLimits(call, personId, body)), waits: false }
  await askSecond(call, { what: 'limits', personId, ...body }, person.name)
  return { id: personId, version: body.version, waits: true }
}

/** A role, made or changed; more power over money for people who have it takes a second person. */
export async function saveRole(call: Write, { id, version, ...entry }: BodyOf<typeof SaveRole>): Promise<Changed> {
  const before = id === null ? undefined : await hold(call, 'role', id, version)
  // what is no right of the team's own work, such as reading the demo, stays as it is
  const kept = (before?.permissions ?? []).filter(one => !TEAM_PERMISSIONS.includes(one))
  const role = { name: entry.name.trim(), permissions: [...new Set([...entry.permissions, ...kept])].sort() }
  await checkRole(call, role, before)
  if (!before) return { ...(await addRole(call, role)), waits: false }
  const power = await powerOfRole(call, before, role.permissions)
  const has = call.actor.roles.includes(before.code) ? call.actor.id : null
  if (!(await needsSecond(call, power, has)))
    return { ...(await changeRole(call, before.id, role.permissions, version)), waits: false }
  const subject = { what: 'role', roleId: before.id, permissions: role.permissions, version } as const
  await askSecond(call, subject, before.code)
  return { id: before.id, version, waits: true }
}

/** A cost centre, made or changed; another holder decides over its money and takes a second person. */
export async function saveCostCentre(call: Write, body: BodyOf<typeof SaveCostCentre>): Promise<Changed> {
  const { newHolder, ...saved } = await saveCentre(call, body)
  if (newHolder === null) return { ...saved, waits: false }
  if (!(await needsSecond(call, [newHolder], newHolder)))
    return { ...(await setHolderOf(call, saved.id, newHolder)), waits: false }
  const subject = { what: 'holder', centreId: saved.id, holderId: newHolder, version: saved.version } as const
  await askSecond(call, subject, `${body.code} ${body.name}`)
  return { ...saved, waits: true }
}
