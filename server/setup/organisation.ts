import { randomUUID } from 'node:crypto'
import type { BusinessCalendar } from '#core/calendar/days.ts'
import type { CheckLevel } from '#core/ledger/budget.ts'
import { houseEntries } from '#core/setup/calendarOf.ts'
import { readEntry, type Values } from '#core/setup/registers.ts'
import { parseAmount } from '#core/money/amount.ts'
import type { House, Write } from '#server/call.ts'
import { type PartyDocument, writeSetting } from '#server/house/house.ts'
import { postBudget } from '#server/ledger/budgetStore.ts'
import { localeAt } from '#server/mail/recipients.ts'
import type { OwnAccount } from '#core/pay/ownAccounts.ts'
import { addEntry } from '#server/setup/registers.ts'
import type { AddressRow } from '#server/request/addressStore.ts'

/** What a team enters once, before the first request: who it is, its cost centres, accounts, sites and money. */
export interface Organisation {
  readonly company: PartyDocument
  readonly house: Pick<House, 'zone' | 'base' | 'languages' | 'fiscalYearFrom'>
  /** The account that we pay from; it can be set later. */
  readonly payFrom?: OwnAccount
  readonly calendar: BusinessCalendar
  /** Entries of the register; nothing may differ where there is none. */
  readonly tolerances?: readonly Values[]
  readonly costCentres: readonly { code: string; name: string }[]
  readonly accounts: readonly { code: string; name: string }[]
  readonly projects: readonly { code: string; name: string }[]
  readonly addresses: readonly Omit<AddressRow, 'contact' | 'phone' | 'purposes' | 'open'>[]
  readonly rates: readonly { currency: string; validFrom: string; rate: string }[]
}

export async function setUpOrganisation(call: Write, organisation: Organisation): Promise<void> {
  const { company, payFrom, calendar, tolerances = [] } = organisation
  const { name, country, vat } = company
  await writeSetting(call, 'house', { name, country, vat, ...organisation.house })
  await writeSetting(call, 'company', company)
  if (payFrom) await addEntry(call, 'ownAccounts', { code: 'MAIN', ...payFrom })
  await writeCalendar(call, calendar)
  for (const values of tolerances) await addEntry(call, 'tolerances', readEntry('tolerances', values, new Map()).values)
  await call.trx('costCentres').insert([...organisation.costCentres])
  await call.trx('naturalAccounts').insert([...organisation.accounts])
  if (organisation.projects.length > 0) await call.trx('projects').insert([...organisation.projects])
  await call.trx('addresses').insert([...organisation.addresses])
  if (organisation.rates.length > 0) await call.trx('exchangeRates').insert([...organisation.rates])
}

async function writeCalendar(call: Write, calendar: BusinessCalendar): Promise<void> {
  const { calendars, holidays } = houseEntries(calendar)
  for (const values of calendars) await addEntry(call, 'calendars', values)
  for (const values of holidays) await addEntry(call, 'holidays', values)
}

/** Allots money to an account of a year; a second allotment adds to the first. */
export async function allot(
  call: Write,
  budget: {
    costCentre: string
    account: string
    year: number
    project: string | null
    amount: string
    level: CheckLevel
    tolerancePercent: number
  },
): Promise<string> {
  const where = {
    costCentre: budget.costCentre,
    naturalAccount: budget.account,
    fiscalYear: budget.year,
    project: budget.project,
  }
  const known = await call.trx('budgetAccounts').where(where).first('id')
  const id = known?.id ?? randomUUID()
  if (!known)
    await call
      .trx('budgetAccounts')
      .insert({ id, ...where, checkLevel: budget.level, tolerancePercent: String(budget.tolerancePercent) })
  await postBudget(call, { kind: 'allotment', id }, [
    { accountId: id, kind: 'allotted', amount: parseAmount(budget.amount, call.base) },
  ])
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

export async function addPerson(call: Write, person: NewPerson): Promise<void> {
  await call.trx('people').insert({
    id: person.id,
    name: person.name,
    email: person.email,
    realm: person.supplierId ? 'supplier' : 'team',
    supplierId: person.supplierId,
    active: person.active,
    managerId: person.managerId,
    passwordHash: person.passwordHash,
    ...(person.supplierId ? { locale: await localeAt(call, person.supplierId, person) } : {}),
  })
  if (person.roles.length > 0)
    await call.trx('personRoles').insert(person.roles.map(role => ({ personId: person.id, ...role })))
}

export const setHolder = (call: Write, costCentre: string, personId: string): Promise<number> =>
  call.trx('costCentres').where({ code: costCentre }).update({ holderId: personId })
