import * as account from '#contract/account/endpoints.ts'
import { type PersonJson, ReadSession, SignIn, SignInDemo, SignOut } from '#contract/people/endpoints.ts'
import { KeepPreference, ReadPreferences } from '#contract/people/preferences.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Read, type Write, writing } from '#server/call.ts'
import { enter, noteSignIn, personJson } from '#server/account/enter.ts'
import { isDemo } from '#server/house/house.ts'
import { offeredUnits } from '#server/house/registerStore.ts'
import { signIns } from '#server/http/metrics.ts'
import { direct, reads, type Route, type Told, writes } from '#server/http/route.ts'
import {
  askReset,
  changePassword,
  confirmSecondFactor,
  endOtherSessions,
  endSecondFactor,
  endSession,
  readAccount,
  readLink,
  savePersonal,
  startSecondFactor,
  useLink,
} from '#server/account/accountActs.ts'
import { keepPreference, readPreferences } from '#server/people/preferences.ts'
import { takeCode } from '#server/people/secondFactor.ts'
import { closeSession, findSession } from '#server/people/sessions.ts'
import { checkPassword, countTry, forgiveTries } from '#server/people/signIn.ts'

interface DemoPerson {
  id: string
  name: string
  role: string
  company: string | null
}

const demoPeople = (call: Read): Promise<DemoPerson[]> =>
  call
    .trx('people')
    .leftJoin('suppliers', 'suppliers.id', 'people.supplierId')
    .where({ active: true })
    .whereNotNull('passwordHash')
    .orderByRaw("realm = 'supplier', people.name")
    .limit(40)
    .select<DemoPerson[]>(
      'people.id',
      'people.name',
      'suppliers.name as company',
      call.trx.raw(
        "coalesce((select string_agg(distinct role, ', ' order by role) from person_roles where person_id = people.id and role <> 'requester'), 'requester') as role",
      ),
    )

async function signIn(call: Write, email: string, password: string, told: Told) {
  const counted = { account: email, network: told.ip }
  await countTry(call.trx, counted)
  try {
    const known = await checkPassword(call.trx, email, password)
    await forgiveTries(call.trx, counted)
    return await enter(call, known.id, told, { secondFactor: known.secondFactor, action: 'signedIn' })
  } catch (error) {
    if (error instanceof RuleBroken) await noteRefused(call, email, told)
    throw error
  }
}

async function noteRefused(call: Write, email: string, told: Told): Promise<void> {
  const person = await call.trx('people').whereRaw('lower(email) = ?', [email.trim().toLowerCase()]).first('id')
  if (person) await noteSignIn(call, person.id, 'signInRefused', told)
  else signIns.inc({ outcome: 'unknown' })
}

/** The code after the password: counted as tries of this account, because six digits are soon guessed. */
async function proveCode(call: Write, code: string, told: Told): Promise<{ person: PersonJson }> {
  const { pending } = await findSession(call.trx, told.token, call.now)
  if (!pending?.secondFactor || !told.token) throw new RuleBroken(stop('session.none'))
  const counted = { account: `code ${pending.personId}`, network: told.ip }
  await countTry(call.trx, counted)
  await takeCode(call, pending.personId, pending.secondFactor, code).catch(async (error: unknown) => {
    await noteSignIn(call, pending.personId, 'signInRefused', told)
    throw error
  })
  await forgiveTries(call.trx, counted)
  return await proven(call, pending.personId, told)
}

/** Whoever has proven everything gets another session: what was known of the one that waited opens nothing. */
async function proven(call: Write, personId: string, told: Told): Promise<{ person: PersonJson }> {
  if (told.token) await closeSession(call.trx, told.token)
  const { person } = await enter(call, personId, told, { secondFactor: null, action: 'signedIn', trusted: true })
  return { person: person! }
}

/** Coming in, staying and going out. `single` names the single sign-on, where there is one. */
export const peopleRoutes = (single: string | null): Route[] => [
  writes(account.SavePersonal, (call, { body }) => savePersonal(call, body)),
  reads(ReadPreferences, call => readPreferences(call)),
  writes(KeepPreference, (call, { body }) => keepPreference(call, body)),
  reads(ReadSession, async (call, _input, told) => {
    const { actor, house, pending } = await findSession(call.trx, told.token, call.now)
    const demo = await isDemo(call)
    return {
      person: actor ? await personJson(call, actor) : null,
      preferences: actor?.realm === 'team' ? (await readPreferences({ ...call, actor })).preferences : [],
      pending: pending ? (pending.secondFactor ? ('code' as const) : ('enrol' as const)) : null,
      house: house.name,
      languages: [...house.languages],
      units: await offeredUnits(call),
      single,
      demo,
      demoPeople: demo && !actor ? await demoPeople(call) : [],
      at: call.now,
      today: call.today,
      baseCurrency: house.base,
    }
  }),
  direct(SignIn, (call, { body }, told) => signIn(call, body.email, body.password, told)),
  direct(SignInDemo, async (call, { body }, told) => {
    const person = (await isDemo(call))
      ? await call.trx('people').where({ id: body.personId, active: true }).first('id')
      : undefined
    if (!person) throw new RuleBroken(stop('session.noDemo'))
    const { person: entered } = await enter(call, person.id, told, { secondFactor: null, action: 'signedIn' })
    return { person: entered! }
  }),
  direct(SignOut, async (call, _input, told) => {
    if (told.token) await closeSession(call.trx, told.token)
    told.endSession()
    return {}
  }),
  direct(account.ProveCode, (call, { body }, told) => proveCode(call, body.code, told)),
  reads(account.ReadAccount, (call, _input, told) => readAccount(call, told.token)),
  writes(account.ChangePassword, (call, { body }, told) =>
    changePassword(call, body.present, body.password, told.token),
  ),
  writes(account.EndSession, (call, { params }) => endSession(call, params.id)),
  writes(account.EndOtherSessions, (call, _input, told) => endOtherSessions(call, told.token)),
  direct(account.StartSecondFactor, (call, _input, told) => startSecondFactor(call, told.token)),
  direct(account.ConfirmSecondFactor, async (call, { body }, told) => {
    const id = await call.trx.transaction(trx =>
      confirmSecondFactor(writing(trx, call), told.token, body.secret, body.code),
    )
    await proven(call, id, told)
    return {}
  }),
  writes(account.EndSecondFactor, (call, { body }) => endSecondFactor(call, body.code)),
  direct(account.AskReset, async (call, { body }, told) => {
    await countTry(call.trx, { account: `reset ${body.email}`, network: told.ip })
    return await call.trx.transaction(trx => askReset(writing(trx, call), body.email))
  }),
  reads(account.ReadLink, (call, { params }) => readLink(call, params.token)),
  direct(account.UseLink, async (call, { params, body }, told) => {
    const personId = await call.trx.transaction(trx => useLink(writing(trx, call), params.token, body.password))
    const known = await call.trx('people').where({ id: personId }).first('secondFactor')
    const { person } = await enter(call, personId, told, {
      secondFactor: known?.secondFactor ?? null,
      action: 'signedIn',
    })
    return { person }
  }),
]
