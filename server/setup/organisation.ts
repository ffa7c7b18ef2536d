import { randomUUID } from 'node:crypto'
import type { BusinessCalendar } from '#core/calendar/days.ts'
import type { CheckLevel } from '#core/ledger/budget.ts'
import type { ToleranceProfile } from '#core/bill/match.ts'
import { parseAmount } from '#core/money/amount.ts'
import type { Call } from '#server/call.ts'
import { postBudget } from '#server/ledger/budgetStore.ts'
import type { PartyDocument } from '#server/formats/ublOrder.ts'

/** What a team enters once, before the first request: who it is, its cost centres, accounts, sites and money. */
export interface Organisation {
  readonly company: PartyDocument
  readonly payFrom: { readonly name: string; readonly iban: string; readonly bic: string }
  readonly calendar: BusinessCalendar
  readonly tolerances: ToleranceProfile
  readonly costCentres: readonly { code: string; name: string }[]
  readonly accounts: readonly { code: string; name: string }[]
  readonly projects: readonly { code: string; name: string }[]
  readonly addresses: readonly { id: string; code: string; name: string; dock: string; street: string; postalCode: string; city: string; country: string; hours: string }[]
  readonly rates: readonly { currency: string; validFrom: string; rate: string }[]
}

export async function setUpOrganisation(call: Call, organisation: Organisation): Promise<void> {
  const { company, payFrom, calendar, tolerances } = organisation
  await call
    .trx('settings')
    .insert(Object.entries({ company, payFrom, calendar, tolerances }).map(([key, value]) => ({ key, value: JSON.stringify(value) })))
    .onConflict('key')
    .merge()
  await call.trx('costCentres').insert([...organisation.costCentres])
  await call.trx('naturalAccounts').insert([...organisation.accounts])
  await call.trx('projects').insert([...organisation.projects])
  await call.trx('addresses').insert([...organisation.addresses])
  await call.trx('exchangeRates').insert([...organisation.rates])
}

/** Allots money to an account of a year; a second allotment adds to the first. */
export async function allot(
  call: Call,
  budget: { costCentre: string; account: string; year: number; project: string | null; amount: string; level: CheckLevel; tolerancePercent: number },
): Promise<string> {
  const where = { costCentre: budget.costCentre, naturalAccount: budget.account, fiscalYear: budget.year, project: budget.project }
  const known = (await call.trx('budgetAccounts').where(where).first('id')) as { id: string } | undefined
  const id = known?.id ?? randomUUID()
  if (!known) await call.trx('budgetAccounts').insert({ id, ...where, checkLevel: budget.level, tolerancePercent: budget.tolerancePercent })
  await postBudget(call, { kind: 'allotment', id }, [{ accountId: id, kind: 'allotted', amount: parseAmount(budget.amount, call.base) }])
  return id
}

export interface NewPerson {
  readonly id: string
  readonly name: string
  readonly email: string
  readonly roles: readonly { role: string; costCentre: string | null }[]
  readonly managerId: string | null
  readonly supplierId: string | null
  readonly active: boolean
  readonly passwordHash: string | null
}

export async function addPerson(call: Call, person: NewPerson): Promise<void> {
  await call.trx('people').insert({
    id: person.id,
    name: person.name,
    email: person.email,
    realm: person.supplierId ? 'supplier' : 'team',
    supplierId: person.supplierId,
    active: person.active,
    managerId: person.managerId,
    passwordHash: person.passwordHash,
  })
  if (person.roles.length > 0) await call.trx('personRoles').insert(person.roles.map(role => ({ personId: person.id, ...role })))
}

export const setHolder = (call: Call, costCentre: string, personId: string): Promise<number> => call.trx('costCentres').where({ code: costCentre }).update({ holderId: personId })
