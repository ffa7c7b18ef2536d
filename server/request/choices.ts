import type { ResponseOf } from '#contract/endpoint.ts'
import type { FindSupplierChoices, ReadChoices } from '#contract/request/endpoints.ts'
import { fiscalYearOf } from '#core/calendar/days.ts'
import { currencies } from '#core/money/currency.ts'
import { offeredUnits } from '#server/house/registerStore.ts'
import { unitLabel } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'
import { accountLabel, type AccountRow } from '#server/ledger/budgetStore.ts'

/** The account and address this person used last. */
export async function usualChoices(call: Read): Promise<{ accountId: string | null; addressId: string | null }> {
  const { rows } = await call.trx
    .raw<{ rows: { accountId: string | null; addressId: string | null }[] }>(
      `select b.id as account_id, a.id as address_id from requisition_lines l join requisitions r on r.id = l.requisition_id join line_splits s on s.requisition_line_id = l.id
       left join budget_accounts b on b.id = s.account_id and b.open left join addresses a on a.id = l.address_id and a.open where r.requester_id = ? order by r.changed_at desc, l.position, s.position limit 1`,
      [call.actor.id],
    )
    .options({ name: 'usual-choices' })
  return rows[0] ?? { accountId: null, addressId: null }
}

/** An account in words: `LS-210 / 6020, 2026: Life support, salt & water chemistry`; so it is found by number and by words. */
export function accountWords(
  account: AccountRow,
  names: {
    accounts: ReadonlyMap<string, string>
    costCentres: ReadonlyMap<string, string>
    projects: ReadonlyMap<string, string>
  },
): string {
  const words = [
    names.costCentres.get(account.costCentre),
    names.accounts.get(account.naturalAccount),
    account.project ? names.projects.get(account.project) : '',
  ].filter(Boolean)
  return `${accountLabel(account)}: ${words.join(', ')}`
}

/** Names of what accounts are made of, by code. */
export async function accountNames(call: Read) {
  const named = (rows: readonly { code: string; name: string }[]): Map<string, string> =>
    new Map(rows.map(row => [row.code, row.name]))
  return {
    accounts: named(await call.trx('naturalAccounts').select('code', 'name')),
    costCentres: named(await call.trx('costCentres').select('code', 'name')),
    projects: named(await call.trx('projects').select('code', 'name')),
  }
}

const SUPPLIERS_SHOWN = 500

/** What fields offer to choose from. */
export async function readChoices(call: Read): Promise<ResponseOf<typeof ReadChoices>> {
  const accounts = await call
    .trx('budgetAccounts')
    .where({ open: true })
    .andWhere('fiscalYear', '>=', fiscalYearOf(call.today, call.house.fiscalYearFrom))
    .whereRaw('(project is null or exists (select 1 from projects where code = project and open))')
    .orderBy(['costCentre', 'naturalAccount', 'fiscalYear'])
  const names = await accountNames(call)
  const addresses = await call.trx('addresses').where({ open: true }).orderBy(['name', 'dock'])
  const people = await call
    .trx('people')
    .where({ active: true, realm: 'team' })
    .orderBy('name')
    .select<{ id: string; label: string }[]>('id', 'name as label')
  const { rows: buyers } = await call.trx.raw<{ rows: { id: string; label: string }[] }>(
    "select id, name as label from people where active and realm = 'team' and exists (select 1 from person_roles pr join roles on roles.code = pr.role where pr.person_id = people.id and 'order.write' = any(permissions)) order by name",
  )
  const categories = await call.trx('supplyCategories').orderBy('name').pluck<string[]>('name')
  const projects = await call.trx('projects').where({ open: true }).orderBy('code').select<
    {
      code: string
      name: string
    }[]
  >('code', 'name')
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
      detail: [
        `${row.street}, ${row.postalCode} ${row.city}`,
        row.hours,
        [row.contact, row.phone].filter(Boolean).join(' '),
      ]
        .filter(Boolean)
        .join('; '),
      purposes: row.purposes,
    })),
    suppliers: await chosenSuppliers(call, '', SUPPLIERS_SHOWN),
    people,
    buyers,
    units: (await offeredUnits(call)).map(code => ({ code, label: unitLabel(code) })),
    currencies: [...currencies],
    costCentres: [...names.costCentres]
      .map(([code, name]) => ({ code, name }))
      .sort((a, b) => (a.code < b.code ? -1 : 1)),
    projects,
    categories,
    usual: await usualChoices(call),
  }
}

type Supplier = ResponseOf<typeof FindSupplierChoices>['suppliers'][number]

async function chosenSuppliers(call: Read, q: string, most: number): Promise<Supplier[]> {
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

export const findSupplierChoices = async (call: Read, q: string): Promise<ResponseOf<typeof FindSupplierChoices>> => ({
  suppliers: await chosenSuppliers(call, q.trim(), 40),
})
