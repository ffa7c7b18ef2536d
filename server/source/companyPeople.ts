import { randomBytes, randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { InviteAdministrator } from '#contract/source/endpoints.ts'
import type { ReadCompanyPeople, ReadInvitation, Register, SaveAddresses, SaveCompanyPerson, SaveCompanyRole } from '#contract/source/company.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found, may } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import { hashPassword } from '#server/people/signIn.ts'
import { hashOf, inDays, type OnboardingRow } from '#server/source/onboarding.ts'
import { lockSupplier, touch } from '#server/source/supplierStore.ts'

const INVITATION_DAYS = 14

interface Invited {
  readonly supplierId: string
  readonly company: string
  readonly kind: 'company' | 'person'
  readonly name: string
  readonly email: string
  readonly until: string
  /** The onboarding that the link belongs to, or the person who was added by their administrator. */
  readonly onboarding: OnboardingRow | null
  readonly personId: string | null
}

/**
 * Whom a link invites. Unknown, used and expired links are refused, each with what to do.
 *
 * @throws RuleBroken invitation.unknown | invitation.used | invitation.expired
 */
async function invitationOf(trx: Knex, token: string, now: string): Promise<Invited> {
  const tokenHash = hashOf(token)
  const onboarding = (await trx('onboardings').where({ tokenHash }).forNoKeyUpdate().first()) as OnboardingRow | undefined
  const person = onboarding
    ? undefined
    : ((await trx('personInvitations')
        .join('people', 'people.id', 'personInvitations.personId')
        .where({ tokenHash })
        .forNoKeyUpdate('personInvitations')
        .first('people.id', 'people.name', 'people.email', 'people.supplierId', 'expires', 'usedAt')) as
        { id: string; name: string; email: string; supplierId: string; expires: string; usedAt: string | null } | undefined)
  if (!onboarding && !person) throw new RuleBroken(stop('invitation.unknown'))
  if (onboarding?.tokenUsedAt ?? person?.usedAt) throw new RuleBroken(stop('invitation.used'))
  const until = onboarding?.tokenExpires ?? person?.expires ?? ''
  if (until < now) throw new RuleBroken(stop('invitation.expired', { until: until.slice(0, 10) }))
  const supplierId = onboarding?.supplierId ?? person!.supplierId
  const supplier = (await trx('suppliers').where({ id: supplierId }).first('name', 'kind')) as { name: string; kind: 'company' | 'person' }
  return {
    supplierId,
    company: supplier.name,
    kind: supplier.kind,
    name: onboarding?.invitedName ?? person!.name,
    email: onboarding?.invitedEmail ?? person!.email,
    until,
    onboarding: onboarding ?? null,
    personId: person?.id ?? null,
  }
}

export async function readInvitation(call: Call, token: string): Promise<ResponseOf<typeof ReadInvitation>> {
  return call.trx.transaction(async trx => {
    const invited = await invitationOf(trx, token, call.now)
    const house = (await trx('settings').where({ key: 'company' }).first('value')) as { value: { name: string } } | undefined
    return { kind: invited.kind, company: invited.company, name: invited.name, email: invited.email, house: house?.value.name ?? '', until: invited.until }
  })
}

/** Uses the link up: makes or opens the account, once, and says whose it is. The same registration sent twice finds the link used. */
export async function register(call: Call, token: string, body: BodyOf<typeof Register>): Promise<string> {
  const passwordHash = await hashPassword(body.password)
  return call.trx.transaction(async trx => {
    const invited = await invitationOf(trx, token, call.now)
    const inside: Call = { ...call, trx, channel: 'supplierPages' }
    const personId = await accountFor(inside, invited, body.name, passwordHash)
    const actor = { ...call.actor, id: personId, name: body.name, realm: 'supplier' as const, supplierId: invited.supplierId }
    const as: Call = { ...inside, actor }
    if (invited.onboarding) {
      await trx('onboardings')
        .where({ id: invited.onboarding.id })
        .update({ tokenUsedAt: call.now, ...(invited.onboarding.state === 'invited' ? { state: 'answering' } : {}), version: invited.onboarding.version + 1, changedAt: call.now })
      await record(as, { kind: 'onboarding', id: invited.onboarding.id, action: 'register', changes: { email: invited.email } })
    } else {
      await trx('personInvitations')
        .where({ tokenHash: hashOf(token) })
        .update({ usedAt: call.now })
      await record(as, { kind: 'person', id: personId, action: 'registered' })
    }
    return personId
  })
}

async function accountFor(call: Call, invited: Invited, name: string, passwordHash: string): Promise<string> {
  const known = (await call.trx('people').whereRaw('lower(email) = ?', [invited.email.toLowerCase()]).forNoKeyUpdate().first('id', 'supplierId')) as
    { id: string; supplierId: string | null } | undefined
  if (known && known.supplierId !== invited.supplierId) throw new RuleBroken(stop('onboarding.mailTaken', { email: invited.email }))
  const id = known?.id ?? randomUUID()
  const administrator = (await call.trx('people').where({ supplierId: invited.supplierId, supplierAdministrator: true }).first('id')) as unknown
  const columns = { name, passwordHash, active: true, ...(administrator ? {} : { supplierAdministrator: true }) }
  if (known) await call.trx('people').where({ id }).update(columns)
  else await call.trx('people').insert({ id, email: invited.email, realm: 'supplier', supplierId: invited.supplierId, ...columns })
  return id
}

const ownId = (call: Call): string => found(call.actor.supplierId ?? undefined, 'supplier')

export async function readCompanyPeople(call: Call): Promise<ResponseOf<typeof ReadCompanyPeople>> {
  const supplierId = ownId(call)
  const people = (await call
    .trx('people')
    .where({ supplierId })
    .orderBy(['name', 'email'])
    .select(
      'id',
      'name',
      'email',
      'active',
      'supplierAdministrator as administrator',
      'supplierRoleId as roleId',
      'version',
      call.trx.raw('password_hash is not null as registered'),
    )) as Omit<ResponseOf<typeof ReadCompanyPeople>['people'][number], 'me'>[]
  const roles = (await call
    .trx('supplierRoles')
    .where({ supplierId })
    .orderBy('name')
    .select('id', 'name', 'permissions', call.trx.raw('(select count(*)::int from people where supplier_role_id = supplier_roles.id and active) as people'))) as ResponseOf<
    typeof ReadCompanyPeople
  >['roles']
  const addresses = (await call.trx('supplierAddresses').where({ supplierId }).orderBy(['message', 'email']).select('message', 'email', 'bouncedAt', 'bounce')) as ResponseOf<
    typeof ReadCompanyPeople
  >['addresses']
  return { people: people.map(person => ({ ...person, me: person.id === call.actor.id })), roles, addresses }
}

export async function saveCompanyRole(call: Call, body: BodyOf<typeof SaveCompanyRole>): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const supplier = await lockSupplier(call, supplierId)
  const id = body.id ?? randomUUID()
  const same = (await call.trx('supplierRoles').where({ supplierId, name: body.name }).whereNot({ id }).first('id')) as unknown
  if (same) throw new RuleBroken(stop('company.roleTwice', { name: body.name }, { place: 'name' }))
  if (body.id) found(await call.trx('supplierRoles').where({ id, supplierId }).first('id'), 'role')
  await call.trx('supplierRoles').insert({ id, supplierId, name: body.name, permissions: body.permissions }).onConflict('id').merge(['name', 'permissions'])
  await record(call, { kind: 'supplier', id: supplier.id, action: 'companyRole', changes: { name: body.name, permissions: body.permissions } })
  return { id }
}

/** Adds a person of the supplier's own, who gets a link to choose a password; or changes their role, or closes the account. */
export async function saveCompanyPerson(call: Call, body: BodyOf<typeof SaveCompanyPerson>): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const supplier = await lockSupplier(call, supplierId)
  if (body.roleId) found(await call.trx('supplierRoles').where({ id: body.roleId, supplierId }).first('id'), 'role')
  const taken = (await call.trx('people').whereRaw('lower(email) = ?', [body.email.toLowerCase()]).first('id')) as { id: string } | undefined
  if (taken && taken.id !== body.id) throw new RuleBroken(stop('onboarding.mailTaken', { email: body.email }, { place: 'email' }))
  const columns = { name: body.name, email: body.email, supplierRoleId: body.roleId, active: body.active }
  if (body.id) {
    const person = found(
      (await call.trx('people').where({ id: body.id, supplierId }).forNoKeyUpdate().first('supplierAdministrator', 'version')) as
        { supplierAdministrator: boolean; version: number } | undefined,
      'person',
    )
    if (person.supplierAdministrator && !body.active) throw new RuleBroken(stop('company.administratorStays'))
    await call
      .trx('people')
      .where({ id: body.id })
      .update({ ...columns, version: person.version + 1 })
    if (!body.active) await call.trx('sessions').where({ personId: body.id }).delete()
    await record(call, { kind: 'supplier', id: supplierId, action: 'companyPerson', changes: { name: body.name, active: body.active } })
    return { id: body.id }
  }
  const id = randomUUID()
  await call.trx('people').insert({ id, ...columns, realm: 'supplier', supplierId })
  await record(call, { kind: 'supplier', id: supplierId, action: 'companyPerson', changes: { name: body.name, added: true } })
  await sendLink(call, { id, name: body.name, email: body.email }, supplier)
  return { id }
}

/** A link to choose a password; it ends the ones before. */
async function sendLink(call: Call, person: { id: string; name: string; email: string }, supplier: { id: string; name: string }): Promise<void> {
  const token = randomBytes(24).toString('base64url')
  await call.trx('personInvitations').where({ personId: person.id }).whereNull('usedAt').delete()
  await call.trx('personInvitations').insert({ tokenHash: hashOf(token), personId: person.id, expires: inDays(call.now, INVITATION_DAYS) })
  await mail(
    call,
    `company-person:${hashOf(token)}`,
    { kind: 'supplier', id: supplier.id },
    {
      to: person.email,
      subject: `${call.actor.name} has opened an account for you`,
      text: `Dear ${person.name},\n\nyou can see what Saltmere Aquarium Trust orders from ${supplier.name} on these pages. Choose a password here; the link works once and for ${INVITATION_DAYS} days:\n/welcome/${token}\n`,
    },
  )
}

export async function sendPersonLink(call: Call, personId: string): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const supplier = await lockSupplier(call, supplierId)
  const person = found(
    (await call.trx('people').where({ id: personId, supplierId, active: true }).first('id', 'name', 'email')) as { id: string; name: string; email: string } | undefined,
    'person',
  )
  await sendLink(call, person, supplier)
  await record(call, { kind: 'supplier', id: supplierId, action: 'companyPerson', changes: { name: person.name, link: 'sent again' } })
  return { id: personId }
}

/** The administrator gives the office to another person of the supplier, who must have an account already. */
export async function handOver(call: Call, personId: string, reason: string): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const own = (await call.trx('people').where({ id: call.actor.id }).first('supplierAdministrator')) as { supplierAdministrator: boolean }
  if (!own.supplierAdministrator) throw new RuleBroken(stop('company.notAdministrator'))
  await makeAdministrator(call, supplierId, personId, reason, 'handedOver')
  return { id: personId }
}

/** A steward gives the administration to another one there, and records how that was checked. */
export async function reassignAdministrator(call: Call, supplierId: string, personId: string, check: string): Promise<Done> {
  await makeAdministrator(call, supplierId, personId, check, 'administratorReassigned')
  return touch(call, await lockSupplier(call, supplierId))
}

/** Makes an account for somebody at the supplier, who becomes its administrator and gets a link to choose a password. */
export async function inviteAdministrator(call: Call, supplierId: string, body: BodyOf<typeof InviteAdministrator>): Promise<Done> {
  const supplier = await lockSupplier(call, supplierId)
  if (!['onboarding', 'active', 'paused'].includes(supplier.state)) throw new RuleBroken(stop('onboarding.notRevising', { state: supplier.state }))
  const administrator = (await call.trx('people').where({ supplierId, supplierAdministrator: true, active: true }).first('name')) as { name: string } | undefined
  if (administrator && !may(call, 'supplier.steward')) throw new RuleBroken(stop('company.hasAdministrator', { name: administrator.name }, { clearedBy: ['steward'] }))
  if (!administrator && !may(call, 'supplier.write') && !may(call, 'supplier.steward')) throw new RuleBroken(stop('right.missing', { permission: 'supplier.write' }))
  const taken = (await call.trx('people').whereRaw('lower(email) = ?', [body.email.toLowerCase()]).first('id')) as unknown
  if (taken) throw new RuleBroken(stop('onboarding.mailTaken', { email: body.email }, { place: 'email' }))
  const id = randomUUID()
  await call.trx('people').insert({ id, name: body.name, email: body.email, realm: 'supplier', supplierId })
  await makeAdministrator(call, supplierId, id, body.check, administrator ? 'administratorReassigned' : 'administratorInvited')
  await sendLink(call, { id, name: body.name, email: body.email }, supplier)
  return touch(call, await lockSupplier(call, supplierId))
}

async function makeAdministrator(call: Call, supplierId: string, personId: string, reason: string, action: string): Promise<void> {
  const supplier = await lockSupplier(call, supplierId)
  const person = found(
    (await call.trx('people').where({ id: personId, supplierId }).forNoKeyUpdate().first('name', 'email', 'active', 'passwordHash')) as
      { name: string; email: string; active: boolean; passwordHash: string | null } | undefined,
    'person',
  )
  if (!person.active) throw new RuleBroken(stop('company.personClosed', { name: person.name }))
  const before = (await call.trx('people').where({ supplierId, supplierAdministrator: true }).first('id', 'name', 'email')) as
    { id: string; name: string; email: string } | undefined
  if (before?.id === personId) throw new RuleBroken(stop('company.alreadyAdministrator', { name: person.name }))
  await call.trx('people').where({ supplierId, supplierAdministrator: true }).update({ supplierAdministrator: false })
  await call.trx('people').where({ id: personId }).update({ supplierAdministrator: true })
  await record(call, { kind: 'supplier', id: supplierId, action, changes: { from: before?.name ?? '', to: person.name }, reason })
  for (const one of [person, ...(before ? [before] : [])])
    await mail(
      call,
      `administrator:${supplierId}:${supplier.version}:${one.email}`,
      { kind: 'supplier', id: supplierId },
      {
        to: one.email,
        subject: `${person.name} now looks after the accounts of ${supplier.name}`,
        text: `Dear ${one.name},\n\n${person.name} now administers the accounts of ${supplier.name} on our pages.\nReason: ${reason}\n\nIf this is wrong, please call us on the number that you know.\n`,
      },
    )
}

/** Which addresses get which kind of message. A bounced address stays marked until it is taken out; put in again it is tried again. */
export async function saveAddresses(call: Call, body: BodyOf<typeof SaveAddresses>): Promise<{ saved: number }> {
  const supplierId = ownId(call)
  await lockSupplier(call, supplierId)
  const wanted = [
    ...new Map(body.addresses.map(one => [`${one.message} ${one.email.toLowerCase()}`, { supplierId, message: one.message, email: one.email.toLowerCase() }])).values(),
  ]
  const old = (await call.trx('supplierAddresses').where({ supplierId }).select('message', 'email')) as { message: string; email: string }[]
  for (const one of old)
    if (!wanted.some(other => other.message === one.message && other.email === one.email))
      await call
        .trx('supplierAddresses')
        .where({ supplierId, ...one })
        .delete()
  if (wanted.length > 0) await call.trx('supplierAddresses').insert(wanted).onConflict(['supplierId', 'message', 'email']).ignore()
  await record(call, { kind: 'supplier', id: supplierId, action: 'addressesChanged', changes: { addresses: wanted.map(one => `${one.message}: ${one.email}`) } })
  return { saved: wanted.length }
}
