import { addBusinessDays, type BusinessCalendar, fiscalYearOf } from '#core/calendar/days.ts'
import { Decimal, sameDecimal } from '#core/money/decimal.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'
import { effectiveProof, type EffectiveProof, isWork, type LineKind, type Proof } from '#core/request/kinds.ts'
import { checkLine, type RequestedLine } from '#core/request/lines.ts'
import { allowedQuantity, type Offer, tierAt } from '#core/request/offer.ts'
import { type AllowedRoutes, allowedRoutes, type Route, type RouteRule } from '#core/request/routes.ts'
import {
  checkTerm,
  type EffectiveTerm,
  effectiveTerm,
  type FreightAnswer,
  type TermSettings,
  wantsFreight,
} from '#core/request/terms.ts'
import { SUPPLIER_GROUPS, type SupplierState } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'

/** A line of a draft with everything that its form holds. */
export interface CheckedLine extends RequestedLine {
  readonly offerId: string | null
  /** The line of an agreement that it may call off. */
  readonly agreementLineId: string | null
  readonly category: string
  readonly incoterm: string | null
  readonly incotermPlace: string
  readonly freight: FreightAnswer
  readonly routes: readonly Route[]
  /** How it is proven, where somebody with the right to has said so. */
  readonly proof: Proof
  readonly proofSet: boolean
  /** In the smallest unit of the base currency. */
  readonly baseAmount: bigint
}

export interface LineOffer extends Offer {
  readonly unit: string
  readonly agreement: string
  readonly incoterm: string | null
  readonly incotermPlace: string
}

export interface LineSupplier {
  readonly name: string
  readonly state: SupplierState
  readonly incoterm: string | null
  readonly incotermPlace: string | null
  readonly billing: 'afterAcceptance' | 'direct' | null
}

export interface LineAccount {
  readonly label: string
  readonly open: boolean
  readonly fiscalYear: number
  /** Its project, and whether that is open; null where it has none. */
  readonly project: string | null
  readonly projectOpen: boolean | null
}

export interface LineAddress {
  readonly name: string
  readonly open: boolean
  readonly purposes: readonly string[]
}

/** Everything around lines that says what stands against them: found once for all of them, by id, name or currency. */
export interface Surroundings {
  readonly offers: ReadonlyMap<string, LineOffer>
  /** Numbers of agreements by their lines. */
  readonly agreed: ReadonlyMap<string, string>
  readonly suppliers: ReadonlyMap<string, LineSupplier>
  readonly categories: ReadonlyMap<string, { readonly proof: Readonly<Partial<Record<LineKind, Proof>>> }>
  readonly accounts: ReadonlyMap<string, LineAccount>
  readonly addresses: ReadonlyMap<string, LineAddress>
  /** Base currency for one unit of a currency; null where no rate is known. */
  readonly rates: ReadonlyMap<string, string | null>
  readonly calendar: BusinessCalendar
  /** The month in which the fiscal year begins. */
  readonly fiscalYearFrom: number
  readonly terms: TermSettings
  readonly rules: readonly RouteRule[]
  readonly today: string
  readonly base: string
}

const offerOf = (around: Surroundings, line: CheckedLine): LineOffer | undefined =>
  line.offerId === null ? undefined : around.offers.get(line.offerId)
const supplierOf = (around: Surroundings, line: CheckedLine): LineSupplier | undefined =>
  line.supplierId === null ? undefined : around.suppliers.get(line.supplierId)

/** The Incoterm of a line with its origin: its own, its offer's, its supplier's. Work has none. */
export function termOfLine(around: Surroundings, line: CheckedLine): EffectiveTerm {
  const [offer, supplier] = [offerOf(around, line), supplierOf(around, line)]
  if (isWork(line.kind)) return { incoterm: '', place: '', from: 'none' }
  return effectiveTerm(
    { incoterm: line.incoterm ?? '', place: line.incotermPlace },
    offer ? { incoterm: offer.incoterm ?? '', place: offer.incotermPlace, agreement: offer.agreement } : null,
    supplier ? { incoterm: supplier.incoterm ?? '', place: supplier.incotermPlace ?? '' } : null,
  )
}

/** The agreement that a line, or its offer, belongs to; empty where it belongs to none. */
export const agreementOf = (around: Surroundings, line: CheckedLine): string =>
  offerOf(around, line)?.agreement ?? around.agreed.get(line.agreementLineId ?? '') ?? ''

export const routesOfLine = (around: Surroundings, line: CheckedLine): AllowedRoutes =>
  allowedRoutes(
    {
      position: line.position,
      category: line.category,
      amount: line.baseAmount,
      agreement: agreementOf(around, line),
      wanted: line.routes,
    },
    around.rules,
  )

/** What a line keeps of its offer, and what is another by now. */
export interface OfferChange {
  readonly kept: string
  /** The price now; null where it is the same. */
  readonly now: string | null
  /** Its last day, where that is past. */
  readonly endedOn: string | null
}

/** The offer as it is now, where it differs from what the line keeps. */
export function offerChange(around: Surroundings, line: CheckedLine): OfferChange | null {
  const offer = offerOf(around, line)
  if (!offer) return null
  const ended = offer.validTo !== null && offer.validTo < around.today
  const now = tierAt(offer.tiers, line.quantity).price
  const changed =
    !sameDecimal(now, line.price) ||
    !sameDecimal(offer.priceBase, line.priceBase) ||
    offer.currency !== line.currency ||
    offer.unit !== line.unit
  return ended || changed
    ? { kept: line.price, now: changed ? now : null, endedOn: ended ? offer.validTo : null }
    : null
}

/** The first day on which what the offer promises can be there, when it is ordered today. */
export function earliestOf(around: Surroundings, line: CheckedLine): string | undefined {
  const offer = offerOf(around, line)
  return offer ? addBusinessDays(around.today, offer.leadTimeDays, around.calendar) : undefined
}

export const proofOfLine = (around: Surroundings, line: CheckedLine): EffectiveProof =>
  effectiveProof(line.kind, {
    line: line.proofSet ? line.proof : null,
    category: around.categories.get(line.category)?.proof[line.kind] ?? null,
    supplierBilling: supplierOf(around, line)?.billing ?? null,
  })

/** Whether the line has to say who pays its carriage: its term leaves that to us. */
export const freightWanted = (around: Surroundings, line: CheckedLine): boolean =>
  wantsFreight(termOfLine(around, line), { moves: !isWork(line.kind), freight: line.freight })

/** Only ways of buying that begin with asking for prices: then the supplier is still open. */
const onlyAsks = (routes: readonly Route[]): boolean =>
  routes.length > 0 && routes.every(route => route === 'askForQuotes' || route === 'setUpAgreement')

/** Everything that stops a line, wants a reason or is worth knowing; places are `lines.<position>.<field>`. */
export const lineReasons = (around: Surroundings, line: CheckedLine): Reason[] => [
  ...checkLine({ ...line, onlyQuotes: onlyAsks(line.routes) }, around.today, earliestOf(around, line)),
  ...offerReasons(around, line),
  ...accountReasons(around, line),
  ...routesOfLine(around, line).reasons,
  ...checkTerm(termOfLine(around, line), around.terms, line.position),
  ...rateReasons(around, line),
  ...addressReasons(around, line),
  ...freightReasons(around, line),
  ...supplierReasons(around, line),
]

const at = (line: CheckedLine, field: string): { place: string } => ({ place: `lines.${line.position}.${field}` })

function offerReasons(around: Surroundings, line: CheckedLine): Reason[] {
  const offer = offerOf(around, line)
  if (!offer) return []
  const change = offerChange(around, line)
  const allowed = allowedQuantity(offer, line.quantity)
  return [
    ...(change?.endedOn ? [check('line.offerExpired', { validTo: change.endedOn }, at(line, 'price'))] : []),
    ...(change?.now ? [check('line.priceChanged', { kept: line.price, now: change.now }, at(line, 'price'))] : []),
    ...(new Decimal(line.quantity).gt(0) && !new Decimal(allowed).equals(line.quantity)
      ? [
          check(
            'offer.quantityRule',
            { quantity: line.quantity, minimum: offer.minimum, multiple: offer.multiple, allowed },
            at(line, 'quantity'),
          ),
        ]
      : []),
  ]
}

const accountReasons = (around: Surroundings, line: CheckedLine): Reason[] =>
  line.splits.flatMap(split => accountReason(around, around.accounts.get(split.accountId), line))

function accountReason(around: Surroundings, account: LineAccount | undefined, line: CheckedLine): Reason[] {
  const place = at(line, 'splits')
  if (!account) return [stop('budget.unknownAccount', {}, place)]
  if (!account.open) return [stop('budget.closed', { account: account.label }, place)]
  if (account.projectOpen === false)
    return [stop('line.projectClosed', { project: account.project ?? '', account: account.label }, place)]
  const year = line.needBy ? fiscalYearOf(line.needBy, around.fiscalYearFrom) : account.fiscalYear
  return year === account.fiscalYear
    ? []
    : [note('line.accountYear', { account: account.label, year, needBy: line.needBy ?? '' }, place)]
}

const rateReasons = (around: Surroundings, line: CheckedLine): Reason[] =>
  (around.rates.get(line.currency) ?? null) === null
    ? [stop('line.noRate', { currency: line.currency, base: around.base }, at(line, 'currency'))]
    : []

function addressReasons(around: Surroundings, line: CheckedLine): Reason[] {
  const address = line.addressId === null ? undefined : around.addresses.get(line.addressId)
  if (!address) return []
  if (!address.open) return [stop('line.addressClosed', { address: address.name }, at(line, 'addressId'))]
  const wanted = isWork(line.kind) ? 'performance' : 'delivery'
  return address.purposes.includes(wanted)
    ? []
    : [stop(`line.addressNot.${wanted}`, { address: address.name }, at(line, 'addressId'))]
}

function freightReasons(around: Surroundings, line: CheckedLine): Reason[] {
  const { incoterm, place } = termOfLine(around, line)
  return freightWanted(around, line) ? [check('line.freight', { incoterm, place }, at(line, 'freight'))] : []
}

/** One that is not a supplier yet is worth knowing, one that is paused wants a reason, from any other nothing is bought. */
function supplierReasons(around: Surroundings, line: CheckedLine): Reason[] {
  const supplier = supplierOf(around, line)
  if (!supplier || isIn(SUPPLIER_GROUPS.orderable, supplier.state)) return []
  const level = supplier.state === 'paused' ? check : isIn(SUPPLIER_GROUPS.coming, supplier.state) ? note : stop
  return [level(`line.supplier.${supplier.state}`, { supplier: supplier.name }, at(line, 'supplierId'))]
}

/** What a whole request lacks, whatever its lines say. */
export const headReasons = (request: { readonly title: string; readonly lines: number }): Reason[] => [
  ...(request.title.trim() === '' ? [stop('requisition.noTitle', {}, { place: 'title' })] : []),
  ...(request.lines === 0 ? [stop('requisition.noLines', {}, { place: 'lines' })] : []),
]
