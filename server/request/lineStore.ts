import type { RequestSettings } from '#contract/request/forms.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import type { BusinessCalendar } from '#core/calendar/days.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import {
  agreementOf,
  earliestOf,
  freightWanted,
  offerChange,
  proofOfLine,
  routesOfLine,
  type Surroundings,
  termOfLine,
} from '#core/request/lineChecks.ts'
import type { Read } from '#server/call.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { readSetting } from '#server/house/house.ts'
import { baseRates } from '#server/house/rates.ts'
import { agreementNumbers } from '#server/ledger/agreedTermsStore.ts'
import { accountLabel, type AccountRow } from '#server/ledger/budgetStore.ts'
import type { AddressRow } from '#server/request/addressStore.ts'
import { type OfferRow, offersById } from '#server/request/offerStore.ts'
import type { RequisitionLine } from '#server/request/requisitionStore.ts'
import { requestSettings, routeRules } from '#server/request/settingsStore.ts'
import { categoriesOf } from '#server/source/categoryStore.ts'

/** What lines stand among, as the core wants it, with offers as they are kept. */
export interface LineContext extends Surroundings {
  readonly offers: ReadonlyMap<string, OfferRow>
}

/** Terms, routes and working days, in one query. */
async function settingsOf(call: Read): Promise<{ settings: RequestSettings; calendar: BusinessCalendar }> {
  const settings = requestSettings(await readSetting(call, 'request'))
  return { settings, calendar: await teamCalendar(call) }
}

/** `checked`: also what only the check of a draft needs, accounts and addresses. */
export async function lineContext(call: Read, lines: readonly RequisitionLine[], checked = true): Promise<LineContext> {
  const { settings, calendar } = await settingsOf(call)
  const names = someIds(lines.map(line => line.category))
  return {
    today: call.today,
    base: call.base,
    offers: await offersById(call, someIds(lines.map(line => line.offerId))),
    agreed: await agreementNumbers(call, someIds(lines.map(line => line.agreementLineId))),
    suppliers: await suppliersOf(call, someIds(lines.map(line => line.supplierId))),
    categories: new Map(
      names.length === 0 ? [] : (await categoriesOf(call, names)).map(category => [category.name, category]),
    ),
    accounts: checked
      ? await accountsOf(call, someIds(lines.flatMap(line => line.splits.map(split => split.accountId))))
      : new Map(),
    addresses: checked ? await addressesOf(call, someIds(lines.map(line => line.addressId))) : new Map(),
    rates: await baseRates(
      call,
      lines.map(line => line.currency),
    ),
    calendar,
    fiscalYearFrom: call.house.fiscalYearFrom ?? 1,
    terms: settings.terms,
    rules: routeRules(settings, call.base),
  }
}

async function suppliersOf(call: Read, ids: readonly string[]): Promise<LineContext['suppliers']> {
  if (ids.length === 0) return new Map()
  const rows = await call
    .trx('suppliers')
    .whereIn('id', [...ids])
    .select('id', 'name', 'state', 'defaults')
  return byId(
    rows.map(({ defaults, ...supplier }) => ({
      ...supplier,
      incoterm: defaults.incoterm ?? null,
      incotermPlace: defaults.incotermPlace ?? null,
      billing: defaults.workBilling ?? null,
    })),
  )
}

async function accountsOf(call: Read, ids: readonly string[]): Promise<LineContext['accounts']> {
  if (ids.length === 0) return new Map()
  const rows = await call
    .trx('budgetAccounts')
    .leftJoin('projects', 'projects.code', 'budgetAccounts.project')
    .whereIn('budgetAccounts.id', [...ids])
    .select<(AccountRow & { projectOpen: boolean | null })[]>('budgetAccounts.*', 'projects.open as projectOpen')
  return byId(rows.map(row => ({ ...row, label: accountLabel(row) })))
}

async function addressesOf(call: Read, ids: readonly string[]): Promise<LineContext['addresses']> {
  if (ids.length === 0) return new Map()
  return byId(
    await call
      .trx('addresses')
      .whereIn('id', [...ids])
      .select<Pick<AddressRow, 'id' | 'open' | 'purposes' | 'name'>[]>('id', 'open', 'purposes', 'name'),
  )
}

/** What is shown beside a line's fields. */
export function factsOf(context: LineContext, line: RequisitionLine): LineFacts {
  return {
    id: line.id,
    price: line.price,
    quantity: line.quantity,
    unit: line.unit,
    currency: line.currency,
    amount: formatAmount(minor(line.amount), line.currency),
    baseAmount: formatAmount(minor(line.baseAmount), context.base),
    rate: context.rates.get(line.currency) ?? null,
    earliest: earliestOf(context, line) ?? null,
    term: termOfLine(context, line),
    freightWanted: freightWanted(context, line),
    proof: proofOfLine(context, line),
    routes: [...routesOfLine(context, line).routes],
    agreement: agreementOf(context, line),
    offerNow: offerChange(context, line),
  }
}
