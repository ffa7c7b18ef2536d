import type { Consent } from '#core/consent/consent.ts'
import type { LineSplit, Outstanding } from '#core/ledger/commitments.ts'
import type { QuantitySums } from '#core/ledger/quantity.ts'
import type { Minor } from '#core/money/amount.ts'
import type { ChargeItem, ChargeKind } from '#core/order/charges.ts'
import type { OrderState } from '#core/order/states.ts'
import type { ResponseLine } from '#core/order/revision.ts'
import type { DatedQuantity, Delivery } from '#core/order/schedule.ts'
import type { Reason } from '#core/reasons.ts'
import type { LineKind, Proof } from '#core/request/kinds.ts'
import type { MatchLevel, OrderChannel } from '#core/source/defaults.ts'
import type { RequestedFacts } from '#core/request/reservation.ts'

/** One line of an order with what the ledgers say of it. */
export interface OrderLine {
  readonly id: string
  readonly position: number
  readonly kind: LineKind
  readonly description: string
  readonly proof: Proof
  /** It stands for a charge of the order, freight for example, that has a line of its own. */
  readonly charge?: ChargeKind
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  /** In the order's currency. */
  readonly amount: Minor
  /** In the base currency, at the order's rate. */
  readonly baseAmount: Minor
  readonly needBy: string | null
  /** Where it is delivered to, with the name of that place. */
  readonly addressId: string | null
  readonly place: string
  /** Its deliveries, where it comes in several; then `needBy` is the day of the first. */
  readonly schedule: readonly Delivery[]
  /** The last day that the supplier promised for it. */
  readonly promisedDate: string | null
  /** What it promised for which day, where that are several. */
  readonly promisedParts: readonly DatedQuantity[]
  /** Per cent of the ordered quantity that may come in above it. */
  readonly overReceiptPercent: number
  /** Its bills wait until what came has passed an inspection. */
  readonly inspects?: boolean
  /** How far its bills are held against, by what was agreed with the supplier. */
  readonly matchLevel?: MatchLevel
  readonly splits: readonly LineSplit[]
  /** The line of a request that it buys. */
  readonly requestLineId: string | null
  /** Who asked for it; work is accepted by them. */
  readonly requesterId: string | null
  readonly sums: QuantitySums
  /** What is committed and accrued on it, by account. */
  readonly standing: readonly Outstanding[]
}

/** A question about what an order costs above what was approved for it. */
export interface AskedExcess {
  readonly consent: Consent
  /** By line: up to what value a yes goes, in the base currency's smallest unit. */
  readonly upTo: ReadonlyMap<string, Minor>
  /** The revision of the order that it was asked about. */
  readonly revision: number
}

/** A supplier's answer that waits for the buyer. */
export interface WaitingAnswer {
  readonly id: string
  readonly revision: number
  readonly lines: readonly ResponseLine[]
}

/** What is known of an order when somebody wants to do something with it. */
export interface OrderFacts {
  readonly id: string
  readonly number: string
  readonly title: string
  readonly message: string
  readonly state: OrderState
  readonly revision: number
  readonly supplierId: string
  readonly supplier: string
  /** The place of the supplier that it goes to, where one was chosen, and how that reads. */
  readonly locationId: string | null
  readonly location: string
  readonly buyerId: string
  readonly currency: string
  /** Base currency for one unit of `currency`, kept from when the order was made. */
  readonly rate: string
  readonly base: string
  /** Freight and other charges of the whole order less its discounts, in its currency. */
  readonly charges: Minor
  readonly chargeItems: readonly ChargeItem[]
  /** The first day by which something that has not come is needed; once all is in, the first of all. */
  readonly needBy: string | null
  readonly issuedAt: string | null
  /** How its revisions reach the supplier. */
  readonly channel: OrderChannel
  /** The last revision of which somebody said that the supplier was told; null where none was, or where they go by mail. */
  readonly toldRevision: number | null
  /** When the supplier was last asked for what is missing. */
  readonly chasedAt: string | null
  readonly lines: readonly OrderLine[]
  /** It was written without a request: whatever of it buys nothing that was requested has to be approved. */
  readonly direct: boolean
  /** The invoice for which it was written afterwards: it was billed without an order. */
  readonly forInvoiceId?: string | null
  /** The lines of requests that it buys. */
  readonly requests: readonly RequestedFacts[]
  readonly answer: WaitingAnswer | null
  /** What stands in the way of ordering from this supplier at all. */
  readonly supplierReasons: readonly Reason[]
  /** What stands against calling off what it calls off: a ceiling, an agreement that is no longer in force. */
  readonly agreementReasons: readonly Reason[]
  /** The last question about what it costs above what was approved. */
  readonly excess: AskedExcess | null
  /** Numbers of its invoices that are not settled. */
  readonly openInvoices: readonly string[]
}
