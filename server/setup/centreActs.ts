import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type {
  ReadOrganisation,
  SaveAccount,
  SaveCostCentre,
  SaveProject,
  SaveRate,
  SaveSignIn,
} from '#contract/setup/house.ts'
import { whyNotRate } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { moveSteps } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { HOUSE, readSetting, SIGN_IN, writeSetting } from '#server/house/house.ts'
import { endStreams } from '#server/people/sessions.ts'
import { checkRoles } from '#server/setup/rolesActs.ts'

type Nothing = Record<string, never>

export async function readOrganisation(call: Read): Promise<ResponseOf<typeof ReadOrganisation>> {
  const signIn = (await readSetting(call, 'signIn')) ?? SIGN_IN
  return {
    base: call.base,
    fiscalYearFrom: call.house.fiscalYearFrom ?? 1,
    costCentres: await call
      .trx('costCentres')
      .leftJoin('people', 'people.id', 'costCentres.holderId')
      .orderBy('code')
      .select<ResponseOf<typeof ReadOrganisation>['costCentres']>(
        'costCentres.id',
        'code',
        'costCentres.name',
        'holderId',
        'people.name as holder',
        'costCentres.version',
      ),
    accounts: await call.trx('naturalAccounts').orderBy('code').select('code', 'name'),
    projects: await call.trx('projects').orderBy('code').select('code', 'name', 'open'),
    rates: await call
      .trx('exchangeRates')
      .orderBy([{ column: 'validFrom', order: 'desc' }, 'currency'])
      .limit(60)
      .select('currency', 'validFrom', 'rate'),
    signIn: { ...signIn, secondFactorRoles: [...signIn.secondFactorRoles] },
  }
}

type Centre = BodyOf<typeof SaveCostCentre>

/** A cost centre without its holder, made or renamed; and the holder that is wanted, where that is another one. */
export async function saveCentre(
  call: Write,
  body: Centre,
): Promise<{ id: string; version: number; newHolder: string | null }> {
  if (body.holderId)
    found(await call.trx('people').where({ id: body.holderId, active: true, realm: 'team' }).first('id'), 'person')
  const known = await call.trx('costCentres').where({ code: body.code }).first('id')
  if (!known) {
    if (body.version !== 0) throw new RuleBroken(stop('document.notFound', { kind: 'costCentre' }))
    const id = randomUUID()
    await call.trx('costCentres').insert({ id, code: body.code, name: body.name })
    await record(call, {
      kind: 'costCentre',
      id,
      action: 'created',
      changes: { after: { code: body.code, name: body.name } },
    })
    return { id, version: 1, newHolder: body.holderId }
  }
  const centre = await hold(call, 'costCentre', known.id)
  await guardVersion(call, centre, body.version)
  const newHolder = body.holderId === centre.holderId ? null : body.holderId
  const cleared = body.holderId === null && centre.holderId !== null
  const changes = {
    before: { name: centre.name, holderId: centre.holderId },
    after: { name: body.name, holderId: cleared ? null : centre.holderId },
  }
  const columns = { name: body.name, ...(cleared ? { holderId: null } : {}) }
  const done = await move(call, 'costCentre', centre, columns, { action: 'changed', changes, reason: null })
  return { ...done, newHolder }
}

/** Gives a cost centre to another holder: what waits for the old one because of it waits for the new one from now on. */
export async function setHolderOf(
  call: Write,
  id: string,
  holderId: string,
  askedBy?: string,
): Promise<{ id: string; version: number }> {
  const centre = await hold(call, 'costCentre', id)
  const changes = {
    before: { holderId: centre.holderId },
    after: { holderId },
    ...(askedBy === undefined ? {} : { askedBy }),
  }
  const done = await move(call, 'costCentre', centre, { holderId }, { action: 'holderChanged', changes, reason: null })
  if (centre.holderId !== null) await moveSteps(call, centre.code, centre.holderId, holderId)
  for (const person of [holderId, ...(centre.holderId === null ? [] : [centre.holderId])])
    await endStreams(call, person)
  return done
}

export async function saveAccount(call: Write, body: BodyOf<typeof SaveAccount>): Promise<Nothing> {
  await call.trx('naturalAccounts').insert(body).onConflict('code').merge(['name'])
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { account: body } })
  return {}
}

export async function saveProject(call: Write, body: BodyOf<typeof SaveProject>): Promise<Nothing> {
  await call.trx('projects').insert(body).onConflict('code').merge(['name', 'open'])
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { project: body } })
  return {}
}

export async function saveRate(call: Write, body: BodyOf<typeof SaveRate>): Promise<Nothing> {
  const { currency, validFrom } = body
  const known = await call.trx('exchangeRates').where({ currency, validFrom }).first('rate')
  refuse(whyNotRate(body, call.base, known?.rate))
  await call.trx('exchangeRates').insert(body)
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { rate: body } })
  return {}
}

export async function saveSignIn(call: Write, body: BodyOf<typeof SaveSignIn>): Promise<Nothing> {
  await checkRoles(
    call,
    body.secondFactorRoles.map(role => ({ role, costCentre: null })),
  )
  const before = (await readSetting(call, 'signIn')) ?? SIGN_IN
  await writeSetting(call, 'signIn', body)
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes: { before, after: body } })
  return {}
}
