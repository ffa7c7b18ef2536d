import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadCompanyPeople, SaveAddresses, SaveCompanyPerson, SaveCompanyRole } from '#contract/source/company.ts'
import type { InviteAdministrator } from '#contract/source/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { whyNotChangeAccount } from '#core/source/companyPeople.ts'
import { SUPPLIER_GROUPS } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'
import { type Done, found, may, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { mail } from '#server/mail/mail.ts'
import { localeAt, readerAt } from '#server/mail/recipients.ts'
import { ownId } from '#server/source/companySheet.ts'
import { INVITATION_DAYS, newInvitation } from '#server/source/invitation.ts'
import { refuse } from '#server/documents/obey.ts'
import { endSessions, endStreams } from '#server/people/sessions.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'

export async function readCompanyPeople(call: Read): Promise<ResponseOf<typeof ReadCompanyPeople>> {
  const supplierId = ownId(call)
  const people = await call
    .trx('people')
    .where({ supplierId })
    .orderBy(['name', 'email'])
    .select<Omit<ResponseOf<typeof ReadCompanyPeople>['people'][number], 'me'>[]>(
      'id',
      'name',
      'email',
      'active',
      'supplierAdministrator as administrator',
      'supplierRoleId as roleId',
      'version',
      call.trx.raw('password_hash is not null as registered'),
    )
  const roles = await call
    .trx('supplierRoles')
    .where({ supplierId })
    .orderBy('name')
    .select<ResponseOf<typeof ReadCompanyPeople>['roles']>(
      'id',
      'name',
      'permissions',
      call.trx.raw(
        '(select count(*)::int from people where supplier_role_id = supplier_roles.id and active) as people',
      ),
    )
  const addresses = await call
    .trx('supplierAddresses')
    .where({ supplierId })
    .orderBy(['message', 'email'])
    .select<ResponseOf<typeof ReadCompanyPeople>['addresses']>('message', 'email', 'bouncedAt', 'bounce')
  return { people: people.map(person => ({ ...person, me: person.id === call.actor.id })), roles, addresses }
}

export async function saveCompanyRole(call: Write, body: BodyOf<typeof SaveCompanyRole>): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const supplier = await hold(call, 'supplier', supplierId)
  const id = body.id ?? randomUUID()
  const same = await call.trx('supplierRoles').where({ supplierId, name: body.name }).whereNot({ id }).first('id')
  if (same) throw new RuleBroken(stop('company.roleTwice', { name: body.name }, { place: 'name' }))
  if (body.id) found(await call.trx('supplierRoles').where({ id, supplierId }).first('id'), 'role')
  await call
    .trx('supplierRoles')
    .insert({ id, supplierId, name: body.name, permissions: body.permissions })
    .onConflict('id')
    .merge(['name', 'permissions'])
  await record(call, {
    kind: 'supplier',
    id: supplier.id,
    action: 'companyRole',
    changes: { name: body.name, permissions: body.permissions },
  })
  return { id }
}

/** Adds a person of the supplier's own, who gets a link to choose a password; or changes their role, or closes the account. */
export async function saveCompanyPerson(call: Write, body: BodyOf<typeof SaveCompanyPerson>): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const supplier = await hold(call, 'supplier', supplierId)
  if (body.roleId) found(await call.trx('supplierRoles').where({ id: body.roleId, supplierId }).first('id'), 'role')
  const taken = await call.trx('people').whereRaw('lower(email) = ?', [body.email.toLowerCase()]).first('id')
  if (taken && taken.id !== body.id)
    throw new RuleBroken(stop('onboarding.mailTaken', { email: body.email }, { place: 'email' }))
  const columns = {
    name: body.name,
    email: body.email.trim().toLowerCase(),
    supplierRoleId: body.roleId,
    active: body.active,
  }
  if (body.id) {
    const person = found(
      await call
        .trx('people')
        .where({ id: body.id, supplierId })
        .forNoKeyUpdate()
        .first('id', 'name', 'email', 'supplierAdministrator', 'version'),
      'person',
    )
    refuse(whyNotChangeAccount({ ...person, administrator: person.supplierAdministrator }, body, call.actor.id))
    await call
      .trx('people')
      .where({ id: body.id })
      .update({ ...columns, version: person.version + 1 })
    if (!body.active) await endSessions(call, body.id)
    await endStreams(call, body.id)
    if (person.email !== columns.email) await tellOldAddress(call, person, columns.email, supplier.id)
    await record(call, {
      kind: 'supplier',
      id: supplierId,
      action: 'companyPerson',
      changes: { name: body.name, active: body.active },
    })
    return { id: body.id }
  }
  const id = randomUUID()
  await call
    .trx('people')
    .insert({ id, ...columns, realm: 'supplier', supplierId, locale: await localeAt(call, supplierId, columns) })
  await record(call, {
    kind: 'supplier',
    id: supplierId,
    action: 'companyPerson',
    changes: { name: body.name, added: true },
  })
  await sendLink(call, { id, name: body.name, email: body.email }, supplier)
  return { id }
}

/** Whoever reads the old address learns that the account is reached by another one now. */
async function tellOldAddress(
  call: Write,
  person: { id: string; name: string; email: string },
  email: string,
  supplierId: string,
): Promise<void> {
  await mail(
    call,
    await readerAt(call, supplierId, person),
    'account.addressChanged',
    `address:${person.id}:${call.now}`,
    { kind: 'supplier', id: supplierId },
    { by: call.actor.name, email },
  )
}

/** A link to choose a password; it ends the ones before. */
async function sendLink(
  call: Write,
  person: { id: string; name: string; email: string },
  supplier: { id: string; name: string },
): Promise<void> {
  const { token, hash, expires } = newInvitation(call.now)
  await call.trx('personInvitations').where({ personId: person.id }).whereNull('usedAt').delete()
  await call.trx('personInvitations').insert({ tokenHash: hash, personId: person.id, expires })
  await mail(
    call,
    await readerAt(call, supplier.id, person),
    'company.invitation',
    `company-person:${hash}`,
    { kind: 'supplier', id: supplier.id },
    { by: call.actor.name, supplier: supplier.name, days: INVITATION_DAYS, path: `/welcome/${token}` },
  )
}

export async function sendPersonLink(call: Write, personId: string): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const supplier = await hold(call, 'supplier', supplierId)
  const person = found(
    await call.trx('people').where({ id: personId, supplierId, active: true }).first('id', 'name', 'email'),
    'person',
  )
  await sendLink(call, person, supplier)
  await record(call, {
    kind: 'supplier',
    id: supplierId,
    action: 'companyPerson',
    changes: { name: person.name, link: 'sent again' },
  })
  return { id: personId }
}

/** The administrator gives the office to another person of the supplier, who must have an account already. */
export async function handOver(call: Write, personId: string, reason: string): Promise<{ id: string }> {
  const supplierId = ownId(call)
  const own = await call.trx('people').where({ id: call.actor.id }).first('supplierAdministrator')
  if (!own?.supplierAdministrator) throw new RuleBroken(stop('company.notAdministrator'))
  await makeAdministrator(call, supplierId, personId, reason, 'handedOver')
  return { id: personId }
}

/** A steward gives the administration to another one there, and records how that was checked. */
export async function reassignAdministrator(
  call: Write,
  supplierId: string,
  personId: string,
  check: string,
): Promise<Done> {
  return await makeAdministrator(call, supplierId, personId, check, 'administratorReassigned')
}

/** Makes an account for somebody at the supplier, who becomes its administrator and gets a link to choose a password. */
export async function inviteAdministrator(
  call: Write,
  supplierId: string,
  body: BodyOf<typeof InviteAdministrator>,
): Promise<Done> {
  const supplier = await hold(call, 'supplier', supplierId)
  if (!isIn(SUPPLIER_GROUPS.withPeople, supplier.state))
    throw new RuleBroken(stop('onboarding.notRevising', { state: supplier.state }))
  const administrator = await call
    .trx('people')
    .where({ supplierId, supplierAdministrator: true, active: true })
    .first('name')
  if (administrator && !may(call, 'supplier.steward'))
    throw new RuleBroken(stop('company.hasAdministrator', { name: administrator.name }, { clearedBy: ['steward'] }))
  if (!administrator && !may(call, 'supplier.write') && !may(call, 'supplier.steward'))
    throw new RuleBroken(stop('right.missing', { permission: 'supplier.write' }))
  const email = body.email.trim().toLowerCase()
  const taken = await call.trx('people').whereRaw('lower(email) = ?', [email]).first('id')
  if (taken) throw new RuleBroken(stop('onboarding.mailTaken', { email: body.email }, { place: 'email' }))
  const id = randomUUID()
  await call.trx('people').insert({
    id,
    name: body.name,
    email,
    realm: 'supplier',
    supplierId,
    locale: await localeAt(call, supplierId, { name: body.name, email }),
  })
  const done = await makeAdministrator(
    call,
    supplierId,
    id,
    body.check,
    administrator ? 'administratorReassigned' : 'administratorInvited',
  )
  await sendLink(call, { id, name: body.name, email: body.email }, supplier)
  return done
}

async function makeAdministrator(
  call: Write,
  supplierId: string,
  personId: string,
  reason: string,
  action: string,
): Promise<Done> {
  const supplier = await hold(call, 'supplier', supplierId)
  const person = found(
    await call.trx('people').where({ id: personId, supplierId }).forNoKeyUpdate().first('name', 'email', 'active'),
    'person',
  )
  if (!person.active) throw new RuleBroken(stop('company.personClosed', { name: person.name }))
  const before = await call
    .trx('people')
    .where({ supplierId, supplierAdministrator: true })
    .first('id', 'name', 'email')
  if (before?.id === personId) throw new RuleBroken(stop('company.alreadyAdministrator', { name: person.name }))
  await call.trx('people').where({ supplierId, supplierAdministrator: true }).update({ supplierAdministrator: false })
  await call.trx('people').where({ id: personId }).update({ supplierAdministrator: true })
  for (const one of [personId, ...(before ? [before.id] : [])]) await endStreams(call, one)
  const changes = { from: before?.name ?? '', to: person.name }
  const done = await move(call, 'supplier', supplier, {}, { action, changes, reason })
  for (const one of [person, ...(before ? [before] : [])])
    await mail(
      call,
      await readerAt(call, supplierId, one),
      'company.administrator',
      `administrator:${supplierId}:${supplier.version}:${one.email}`,
      { kind: 'supplier', id: supplierId },
      { person: person.name, supplier: supplier.name, reason },
    )
  return done
}

/** Which addresses get which kind of message. A bounced address stays marked until it is taken out; put in again it is tried again. */
export async function saveAddresses(call: Write, body: BodyOf<typeof SaveAddresses>): Promise<{ saved: number }> {
  const supplierId = ownId(call)
  await hold(call, 'supplier', supplierId)
  const wanted = [
    ...new Map(
      body.addresses.map(one => [
        `${one.message} ${one.email.toLowerCase()}`,
        { supplierId, message: one.message, email: one.email.toLowerCase() },
      ]),
    ).values(),
  ]
  const old = await call.trx('supplierAddresses').where({ supplierId }).select('message', 'email')
  for (const one of old)
    if (!wanted.some(other => other.message === one.message && other.email === one.email))
      await call
        .trx('supplierAddresses')
        .where({ supplierId, ...one })
        .delete()
  if (wanted.length > 0)
    await call.trx('supplierAddresses').insert(wanted).onConflict(['supplierId', 'message', 'email']).ignore()
  await record(call, {
    kind: 'supplier',
    id: supplierId,
    action: 'addressesChanged',
    changes: { addresses: wanted.map(one => `${one.message}: ${one.email}`) },
  })
  await refreshSuppliers(call, [supplierId])
  return { saved: wanted.length }
}
