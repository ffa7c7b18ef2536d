import { randomUUID } from 'node:crypto'
import type { NewHouse } from '#contract/setup/house.ts'
import { PERMISSIONS } from '#contract/permissions.ts'
import { currencies } from '#core/money/currency.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { holderRule } from '#core/rules/rule.ts'
import { type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { newLink, openLink, useLink } from '#server/people/oneTimeLinks.ts'
import { getActor } from '#server/people/sessions.ts'
import { chosenPassword } from '#server/people/signIn.ts'
import { HOUSE } from '#server/house/house.ts'
import { addPerson, setUpOrganisation } from '#server/setup/organisation.ts'
import { firstRules } from '#server/rules/ruleActs.ts'

/** Whether nobody has an account yet, but the one that jobs act under. */
export const isEmptyHouse = async (call: Pick<Read, 'trx'>): Promise<boolean> =>
  (await call.trx('people').whereNot({ id: SYSTEM_PERSON }).first('id')) === undefined

/** A link to the page that sets an empty house up; earlier ones end. It is shown to whoever starts the program, and to nobody else. */
export async function firstLink(call: Pick<Read, 'trx' | 'now'>): Promise<string> {
  return `/first/${await newLink(call.trx, 'first', null, call.now)}`
}

export async function readFirst(call: Read, token: string) {
  const open = (await isEmptyHouse(call)) && (await openLink(call, token)).purpose === 'first'
  return { open, zones: open ? Intl.supportedValuesOf('timeZone') : [], currencies: open ? [...currencies] : [] }
}

/**
 * Sets an empty house up, once: who it is, its cost centres and accounts, a rule by which holders decide, its own address as the place of
 * delivery, and the first steward. Says who that is, and the link by which they choose a password where none was given.
 */
export async function setUpHouse(
  call: Write,
  body: NewHouse,
  token?: string,
): Promise<{ personId: string; path: string }> {
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('first'))`)
  if (!(await isEmptyHouse(call))) throw new RuleBroken(stop('first.there'))
  if (token !== undefined && (await useLink(call, token)).purpose !== 'first')
    throw new RuleBroken(stop('link.unknown'))
  const { name, email, password } = body.administrator
  const passwordHash = password === undefined ? null : await chosenPassword(password, { name, email })
  const system = await getActor(call.trx, SYSTEM_PERSON, call.now)
  const { zone, base, fiscalYearFrom, ...company } = body.house
  const house = {
    name: company.name,
    country: company.country,
    vat: company.vat,
    zone,
    base,
    languages: ['en'],
    fiscalYearFrom,
  }
  const inside: Write = { ...call, actor: { ...system, rights: new Set(PERMISSIONS) }, house, base }
  twice(body.costCentres, 'costCentres')
  twice(body.accounts, 'accounts')
  await setUpOrganisation(inside, {
    house,
    company,
    calendar: { restDays: [0, 6], holidays: [] },
    costCentres: body.costCentres,
    accounts: body.accounts,
    projects: [],
    addresses: [
      {
        id: randomUUID(),
        code: 'MAIN',
        name: company.name,
        dock: '',
        street: company.street,
        postalCode: company.postalCode,
        city: company.city,
        country: company.country,
        hours: '',
      },
    ],
    rates: [],
  })
  const personId = randomUUID()
  const roles = ['steward'].map(role => ({ role, costCentre: null }))
  await addPerson(inside, {
    id: personId,
    name,
    email: email.trim().toLowerCase(),
    roles,
    managerId: null,
    supplierId: null,
    active: true,
    passwordHash,
  })
  await firstRules(inside, [holderRule('', 'Holder of the cost centre')])
  await record(inside, {
    kind: 'house',
    id: HOUSE,
    action: 'created',
    changes: { after: { ...house, administrator: name } },
  })
  await record(inside, { kind: 'person', id: personId, action: 'created', changes: { after: { name, email, roles } } })
  const path = passwordHash === null ? `/password/${await newLink(call.trx, 'invitation', personId, call.now)}` : '/'
  return { personId, path }
}

function twice(list: readonly { code: string }[], place: string): void {
  const seen = new Set<string>()
  for (const [index, { code }] of list.entries()) {
    if (seen.has(code)) throw new RuleBroken(stop('first.twice', { code }, { place: `${place}.${index}.code` }))
    seen.add(code)
  }
}
