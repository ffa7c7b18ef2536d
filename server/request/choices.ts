import type { ResponseOf } from '#contract/endpoint.ts'
import type { FindSupplierChoices, ReadChoices } from '#contract/request/endpoints.ts'
import { currencies } from '#core/money/currency.ts'
import { UNITS } from '#core/units/units.ts'
import type { Call } from '#server/call.ts'
import { accountLabel, type AccountRow } from '#server/ledger/budgetStore.ts'

/** The account and address this person used last. */
export async function usualChoices(call: Call): Promise<{ accountId: string | null; addressId: string | null }> {
  const last = (await call
    .trx('requisitionLines')
    .join('requisitions', 'requisitions.id', 'requisitionLines.requisitionId')
    .where({ requesterId: call.actor.id })
    .whereRaw('jsonb_array_length(splits) > 0')
    .orderBy('requisitions.changedAt', 'desc')
    .first('splits', 'addressId')) as { splits: { accountId: string }[]; addressId: string | null } | undefined
  const open = last?.splits[0] ? await call.trx('budgetAccounts').where({ id: last.splits[0].accountId, open: true }).first('id') : undefined
  const place = last?.addressId ? await call.trx('addresses').where({ id: last.addressId, open: true }).first('id') : undefined
  return { accountId: open ? last!.splits[0]!.accountId : null, addressId: place ? last!.addressId : null }
}

/** An account in words: `LS-210 / 6020, 2026: Life support, salt & water chemistry`; so it is found by number and by words. */
export function accountWords(
  account: AccountRow,
  names: { accounts: ReadonlyMap<string, string>; costCentres: ReadonlyMap<string, string>; projects: ReadonlyMap<string, string> },
): string {
  const words = [names.costCentres.get(account.costCentre), names.accounts.get(account.naturalAccount), account.project ? names.projects.get(account.project) : ''].filter(Boolean)
  return `${accountLabel(account)}: ${words.join(', ')}`
}

export async function accountNames(call: Call) {
  const of = async (table: string): Promise<Map<string, string>> =>
    new Map(((await call.trx(table).select('code', 'name')) as { code: string; name: string }[]).map(row => [row.code, row.name]))
  return { accounts: await of('naturalAccounts'), costCentres: await of('costCentres'), projects: await of('projects') }
}

interface AddressRow {
  id: string
  name: string
  dock: string
  street: string
  postalCode: string
  city: string
  hours: string
  contact: string
  phone: string
  purposes: string[]
}
const SUPPLIERS_SHOWN = 500

/** What fields offer to choose from. */
export async function readChoices(call: Call): Promise<ResponseOf<typeof ReadChoices>> {
  const accounts = (await call
    .trx('budgetAccounts')
    .where({ open: true })
    .andWhere('fiscalYear', '>=', Number(call.today.slice(0, 4)))
    .whereRaw('(project is null or exists (select 1 from projects where code = project and open))')
    .orderBy(['costCentre', 'naturalAccount', 'fiscalYear'])) as AccountRow[]
  const names = await accountNames(call)
  const addresses = (await call.trx('addresses').where({ open: true }).orderBy(['name', 'dock'])) as AddressRow[]
  const people = (await call.trx('people').where({ active: true, realm: 'team' }).orderBy('name').select('id', 'name as label')) as { id: string; label: string }[]
  const { rows: buyers } = (await call.trx.raw(
    "select id, name as label from people where active and realm = 'team' and exists (select 1 from person_roles pr join roles on roles.code = pr.role where pr.person_id = people.id and 'order.write' = any(permissions)) order by name",
  )) as { rows: { id: string; label: string }[] }
  const categories = (await call.trx('supplyCategories').orderBy('name').pluck('name')) as string[]
  const projects = (await call.trx('projects').where({ open: true }).orderBy('code').select('code', 'name')) as { code: string; name: string }[]
  return {
    accounts: accounts.map(account => ({
      id: account.id,
      label: accountWords(account, names),
      costCentre: account.costCentre,
      naturalAccount: account.naturalAccount,
      year: account.fiscalYear,
      project: account.project,
      open: account.open,
    })),
    addresses: addresses.map(row => ({
      id: row.id,
      label: `${row.name}, ${row.dock}`,
      detail: [`${row.street}, ${row.postalCode} ${row.city}`, row.hours, [row.contact, row.phone].filter(Boolean).join(' ')].filter(Boolean).join('; '),
      purposes: row.purposes,
    })),
    suppliers: await chosenSuppliers(call, '', SUPPLIERS_SHOWN),
    people,
    buyers,
    units: Object.entries(UNITS).map(([code, unit]) => ({ code, label: unit.label })),
    currencies: [...currencies],
    costCentres: [...names.costCentres].map(([code, name]) => ({ code, name })).sort((a, b) => (a.code < b.code ? -1 : 1)),
    projects,
    categories,
    usual: await usualChoices(call),
  }
}

type Supplier = ResponseOf<typeof FindSupplierChoices>['suppliers'][number]

async function chosenSuppliers(call: Call, q: string, most: number): Promise<Supplier[]> {
  const query = call
    .trx('suppliers')
    .whereIn('state', ['active', 'proposed', 'onboarding'])
    .whereNull('mergedInto')
    .orderBy('name')
    .limit(most)
    .select('id', 'name as label', 'currency')
  if (q !== '') query.whereRaw('search ilike ?', [`%${q.replace(/[\\%_]/g, '\\$&')}%`])
  return (await query) as Supplier[]
}

export const findSupplierChoices = async (call: Call, q: string): Promise<ResponseOf<typeof FindSupplierChoices>> => ({ suppliers: await chosenSuppliers(call, q.trim(), 40) })
