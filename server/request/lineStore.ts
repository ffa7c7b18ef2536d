import type { LineFacts } from '#contract/request/lines.ts'
import type { RequestSettings } from '#contract/request/forms.ts'
import { addBusinessDays, type BusinessCalendar, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'
import { effectiveProof, isWork } from '#core/request/kinds.ts'
import { checkLine } from '#core/request/lines.ts'
import { allowedQuantity, tierAt } from '#core/request/offer.ts'
import { allowedRoutes, type RouteRule } from '#core/request/routes.ts'
import { checkTerm, effectiveTerm, type TermSettings, wantsFreight } from '#core/request/terms.ts'
import type { Read } from '#server/call.ts'
import { accountLabel, type AccountRow } from '#server/ledger/budgetStore.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { readSettings } from '#server/house/house.ts'
import { baseRates } from '#server/house/rates.ts'
import { type OfferRow, offersById } from '#server/request/offerStore.ts'
import type { RequisitionLine } from '#server/request/requisitionStore.ts'
import { requestSettings, routeRules } from '#server/request/settingsStore.ts'
import type { AddressRow } from '#server/request/addressStore.ts'
import { categoriesOf, type CategoryRow } from '#server/source/categoryStore.ts'

interface SupplierFacts {
  readonly id: string
  readonly name: string
  readonly state: string
  readonly incoterm: string | null
  readonly incotermPlace: string | null
  readonly billing: 'afterAcceptance' | 'direct' | null
}

/** Everything around lines that their facts and reasons are made from, loaded once for all of them. */
export interface LineContext {
  readonly call: Read
  readonly offers: ReadonlyMap<string, OfferRow>
  readonly suppliers: ReadonlyMap<string, SupplierFacts>
  readonly categories: ReadonlyMap<string, CategoryRow>
  readonly accounts: ReadonlyMap<string, AccountRow & { projectOpen: boolean | null }>
  readonly addresses: ReadonlyMap<string, Pick<AddressRow, 'open' | 'purposes' | 'name'>>
  readonly rates: ReadonlyMap<string, string | null>
  readonly calendar: BusinessCalendar
  readonly terms: TermSettings
  readonly rules: readonly RouteRule[]
}

/** Terms, routes and working days, in one query. */
async function settingsOf(call: Read): Promise<{ settings: RequestSettings; calendar: BusinessCalendar }> {
  const set = await readSettings(call, ['request', 'calendar'])
  return { settings: requestSettings(set.request), calendar: set.calendar ?? PLAIN_CALENDAR }
}

/** `checked`: also what only the check of a draft needs, accounts and addresses. */
export async function lineContext(call: Read, lines: readonly RequisitionLine[], checked = true): Promise<LineContext> {
  const { settings, calendar } = await settingsOf(call)
  const names = someIds(lines.map(line => line.category))
  return {
    call,
    offers: await offersById(call, someIds(lines.map(line => line.offerId))),
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
  return byId(
    await call
      .trx('budgetAccounts')
      .leftJoin('projects', 'projects.code', 'budgetAccounts.project')
      .whereIn('budgetAccounts.id', [...ids])
      .select<(AccountRow & { projectOpen: boolean | null })[]>('budgetAccounts.*', 'projects.open as projectOpen'),
  )
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

const termOf = (context: LineContext, line: RequisitionLine) => {
  const [offer, supplier] = [
    line.offerId ? context.offers.get(line.offerId) : undefined,
    line.supplierId ? context.suppliers.get(line.supplierId) : undefined,
  ]
  if (isWork(line.kind)) return { incoterm: '', place: '', from: 'none' as const }
  return effectiveTerm(
    { incoterm: line.incoterm ?? '', place: line.incotermPlace },
    offer ? { incoterm: offer.incoterm ?? '', place: offer.incotermPlace, agreement: offer.agreement } : null,
    supplier ? { incoterm: supplier.incoterm ?? '', place: supplier.incotermPlace ?? '' } : null,
  )
}

const routesOf = (context: LineContext, line: RequisitionLine) =>
  allowedRoutes(
    {
      position: line.position,
      category: line.category,
      amount: line.baseAmount,
      agreement: (line.offerId ? context.offers.get(line.offerId)?.agreement : '') ?? '',
      wanted: line.routes,
    },
    context.rules,
  )

/** The offer as it is now, where it differs from what the line keeps. */
function offerNow(context: LineContext, line: RequisitionLine): LineFacts['offerNow'] {
  const offer = line.offerId ? context.offers.get(line.offerId) : undefined
  if (!offer) return null
  const ended = offer.validTo !== null && offer.validTo < context.call.today
  const now = tierAt(offer.tiers, line.quantity).price
  const changed =
    now !== line.price ||
    offer.priceBase !== line.priceBase ||
    offer.currency !== line.currency ||
    offer.unit !== line.unit
  return ended || changed
    ? { kept: line.price, now: changed ? now : null, endedOn: ended ? offer.validTo : null }
    : null
}

const earliest = (context: LineContext, line: RequisitionLine): string | undefined => {
  const offer = line.offerId ? context.offers.get(line.offerId) : undefined
  return offer ? addBusinessDays(context.call.today, offer.leadTimeDays, context.calendar) : undefined
}

/** What is shown beside a line's fields. */
export function factsOf(context: LineContext, line: RequisitionLine): LineFacts {
  const term = termOf(context, line)
  const supplier = line.supplierId ? context.suppliers.get(line.supplierId) : undefined
  const proof = effectiveProof(line.kind, {
    line: line.proofSet ? line.proof : null,
    category: context.categories.get(line.category)?.proof[line.kind] ?? null,
    supplierBilling: supplier?.billing ?? null,
  })
  return {
    id: line.id,
    price: line.price,
    quantity: line.quantity,
    unit: line.unit,
    currency: line.currency,
    amount: formatAmount(minor(line.amount), line.currency),
    baseAmount: formatAmount(minor(line.baseAmount), context.call.base),
    rate: context.rates.get(line.currency) ?? null,
    earliest: earliest(context, line) ?? null,
    term,
    freightWanted: wantsFreight(term, { moves: !isWork(line.kind), freight: line.freight }),
    proof,
    routes: [...routesOf(context, line).routes],
    agreement: (line.offerId ? context.offers.get(line.offerId)?.agreement : '') ?? '',
    offerNow: offerNow(context, line),
  }
}

/** Everything that stops a line, wants a reason or is worth knowing; places are `lines.<position>.<field>`. */
export function reasonsOf(context: LineContext, line: RequisitionLine): Reason[] {
  const at = (field: string): { place: string } => ({ place: `lines.${line.position}.${field}` })
  const term = termOf(context, line)
  const quotesOnly =
    line.routes.length > 0 && line.routes.every(route => route === 'askForQuotes' || route === 'setUpAgreement')
  const reasons = [
    ...checkLine({ ...line, onlyQuotes: quotesOnly }, context.call.today, earliest(context, line)),
    ...offerReasons(context, line),
    ...accountReasons(context, line),
    ...routesOf(context, line).reasons,
    ...checkTerm(term, context.terms, line.position),
  ]
  if ((context.rates.get(line.currency) ?? null) === null)
    reasons.push(stop('line.noRate', { currency: line.currency, base: context.call.base }, at('currency')))
  const address = line.addressId ? context.addresses.get(line.addressId) : undefined
  if (address && !address.open) reasons.push(stop('line.addressClosed', { address: address.name }, at('addressId')))
  const wanted = isWork(line.kind) ? 'performance' : 'delivery'
  if (address?.open && !address.purposes.includes(wanted))
    reasons.push(stop(`line.addressNot.${wanted}`, { address: address.name }, at('addressId')))
  if (wantsFreight(term, { moves: !isWork(line.kind), freight: line.freight }))
    reasons.push(check('line.freight', { incoterm: term.incoterm, place: term.place }, at('freight')))
  const supplier = line.supplierId ? context.suppliers.get(line.supplierId) : undefined
  if (supplier && supplier.state !== 'active')
    reasons.push(
      (supplier.state === 'paused'
        ? check
        : supplier.state === 'proposed' || supplier.state === 'onboarding'
          ? note
          : stop)(`line.supplier.${supplier.state}`, { supplier: supplier.name }, at('supplierId')),
    )
  return reasons
}

function offerReasons(context: LineContext, line: RequisitionLine): Reason[] {
  const offer = line.offerId ? context.offers.get(line.offerId) : undefined
  const now = offerNow(context, line)
  if (!offer) return []
  const reasons: Reason[] = []
  const price = { place: `lines.${line.position}.price` }
  if (now?.endedOn) reasons.push(check('line.offerExpired', { validTo: now.endedOn }, price))
  if (now?.now) reasons.push(check('line.priceChanged', { kept: line.price, now: now.now }, price))
  const allowed = allowedQuantity(offer, line.quantity)
  if (Number(line.quantity) > 0 && Number(allowed) !== Number(line.quantity))
    reasons.push(
      check(
        'offer.quantityRule',
        { quantity: line.quantity, minimum: offer.minimum, multiple: offer.multiple, allowed },
        { place: `lines.${line.position}.quantity` },
      ),
    )
  return reasons
}

function accountReasons(context: LineContext, line: RequisitionLine): Reason[] {
  const extra = { place: `lines.${line.position}.splits` }
  return line.splits.flatMap(split => {
    const account = context.accounts.get(split.accountId)
    if (!account) return [stop('budget.unknownAccount', {}, extra)]
    const label = accountLabel(account)
    if (!account.open) return [stop('budget.closed', { account: label }, extra)]
    if (account.projectOpen === false)
      return [stop('line.projectClosed', { project: account.project ?? '', account: label }, extra)]
    const year = line.needBy ? Number(line.needBy.slice(0, 4)) : account.fiscalYear
    return year === account.fiscalYear
      ? []
      : [note('line.accountYear', { account: label, year, needBy: line.needBy ?? '' }, extra)]
  })
}
