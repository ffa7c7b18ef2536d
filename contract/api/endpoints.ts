import type { Endpoint } from '#contract/endpoint.ts'
import * as account from '#contract/account/endpoints.ts'
import * as bill from '#contract/bill/endpoints.ts'
import * as consent from '#contract/consent/endpoints.ts'
import * as decideSettings from '#contract/consent/settings.ts'
import * as decide from '#contract/decide/endpoints.ts'
import * as demo from '#contract/demo/endpoints.ts'
import * as desk from '#contract/desk/endpoints.ts'
import * as glances from '#contract/glances/endpoints.ts'
import * as files from '#contract/files/endpoints.ts'
import * as insight from '#contract/insight/endpoints.ts'
import type { defineList } from '#contract/lists/list.ts'
import * as together from '#contract/documents/together.ts'
import * as views from '#contract/lists/views.ts'
import * as order from '#contract/order/endpoints.ts'
import * as pay from '#contract/pay/endpoints.ts'
import * as people from '#contract/people/endpoints.ts'
import * as preferences from '#contract/people/preferences.ts'
import * as arrivals from '#contract/receive/arrivals.ts'
import * as assets from '#contract/receive/assets.ts'
import * as despatch from '#contract/receive/despatch.ts'
import * as handheld from '#contract/receive/handheld.ts'
import * as receive from '#contract/receive/endpoints.ts'
import * as reports from '#contract/receive/reports.ts'
import * as overdue from '#contract/receive/overdue.ts'
import * as setAside from '#contract/receive/setAside.ts'
import * as inspections from '#contract/receive/inspections.ts'
import * as returns from '#contract/receive/returns.ts'
import * as billJournal from '#contract/bill/journal.ts'
import * as billCoding from '#contract/bill/coding.ts'
import * as billTerms from '#contract/bill/terms.ts'
import * as billTaxes from '#contract/bill/taxes.ts'
import * as billDrafts from '#contract/bill/drafts.ts'
import * as billEntry from '#contract/bill/entry.ts'
import * as billRecurring from '#contract/bill/recurring.ts'
import * as billDisputes from '#contract/bill/disputes.ts'
import * as billCredits from '#contract/bill/credits.ts'
import * as billingSettings from '#contract/bill/settings.ts'
import * as receivingSettings from '#contract/receive/settings.ts'
import * as stock from '#contract/receive/stock.ts'
import * as request from '#contract/request/endpoints.ts'
import * as rules from '#contract/rules/endpoints.ts'
import * as house from '#contract/setup/house.ts'
import * as budgetChecks from '#contract/setup/budgetChecks.ts'
import * as letterhead from '#contract/setup/letterhead.ts'
import * as setupPeople from '#contract/setup/people.ts'
import * as rateService from '#contract/setup/rateService.ts'
import * as registers from '#contract/setup/registers.ts'
import * as setupRoles from '#contract/setup/roles.ts'
import * as setup from '#contract/setup/endpoints.ts'
import * as company from '#contract/source/company.ts'
import * as duplicates from '#contract/source/duplicates.ts'
import * as source from '#contract/source/endpoints.ts'
import * as budgets from '#contract/budgets/endpoints.ts'
import * as pool from '#contract/order/pool.ts'
import * as catalogue from '#contract/request/catalogue.ts'
import * as keeping from '#contract/request/keeping.ts'
import * as forms from '#contract/request/forms.ts'
import * as asked from '#contract/source/asked.ts'
import * as comparing from '#contract/source/comparing.ts'
import * as knownPrices from '#contract/order/knownPrices.ts'
import * as plans from '#contract/award/plans.ts'
import * as agreements from '#contract/agreements/agreements.ts'
import * as following from '#contract/order/following.ts'
import * as buyingLists from '#contract/order/buyingLists.ts'
import * as clauses from '#contract/order/clauses.ts'
import * as supplierOrders from '#contract/order/supplierOrders.ts'
import * as exchange from '#contract/order/exchange.ts'
import * as workbook from '#contract/order/workbook.ts'
import * as builds from '#contract/build/costings.ts'
import * as day from '#contract/source/day.ts'
import * as eventKinds from '#contract/source/eventKinds.ts'
import * as events from '#contract/source/events.ts'
import * as awarded from '#contract/order/awarded.ts'
import * as onboarding from '#contract/source/onboarding.ts'

const isEndpoint = (value: unknown): value is Endpoint =>
  typeof value === 'object' && value !== null && 'permission' in value && 'path' in value
const isList = (value: unknown): value is ReturnType<typeof defineList> =>
  typeof value === 'object' && value !== null && 'page' in value && isEndpoint(value.page)

const DECLARED: readonly unknown[] = [
  bill,
  consent,
  decideSettings,
  decide,
  demo,
  files,
  insight,
  order,
  pay,
  people,
  preferences,
  desk,
  glances,
  views,
  together,
  account,
  receive,
  arrivals,
  assets,
  stock,
  despatch,
  handheld,
  receivingSettings,
  billingSettings,
  billCredits,
  billCoding,
  billEntry,
  billTerms,
  billDrafts,
  billTaxes,
  billDisputes,
  billRecurring,
  billJournal,
  inspections,
  setAside,
  overdue,
  returns,
  reports,
  request,
  setup,
  rules,
  house,
  budgetChecks,
  letterhead,
  rateService,
  setupPeople,
  registers,
  setupRoles,
  source,
  duplicates,
  onboarding,
  company,
  budgets,
  pool,
  catalogue,
  keeping,
  forms,
  asked,
  comparing,
  knownPrices,
  plans,
  agreements,
  builds,
  buyingLists,
  clauses,
  exchange,
  supplierOrders,
  workbook,
  following,
  day,
  eventKinds,
  events,
  awarded,
].flatMap(stage => Object.values(stage) as unknown[])

/** Every list, by its name. */
export const LISTS: ReadonlyMap<string, ReturnType<typeof defineList>> = new Map(
  DECLARED.flatMap(value => (isList(value) ? [[value.name, value] as const] : [])),
)

/** Every endpoint there is. */
export const ENDPOINTS: readonly Endpoint[] = DECLARED.flatMap(value =>
  isEndpoint(value) ? [value] : isList(value) ? [value.page, value.filters, value.sums, value.ids, value.export] : [],
)
