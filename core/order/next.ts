import type { Minor } from '#core/money/amount.ts'
import type { ConsentNext } from '#core/consent/consent.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { DatedQuantity, Delivery } from '#core/order/schedule.ts'
import type { AnswerState, OrderState } from '#core/order/states.ts'

/** How an order's line reads after a change. */
export interface LineChange {
  readonly id: string
  readonly description: string
  readonly quantity: string
  readonly price: string
  readonly needBy: string | null
  readonly addressId: string | null
  readonly place: string
  readonly schedule: readonly Delivery[]
  readonly amount: Minor
  readonly baseAmount: Minor
}

export interface LinePromise {
  readonly lineId: string
  readonly date: string
  readonly parts?: readonly DatedQuantity[]
}

/** What of an order is written anew after an act. */
export interface OrderNext {
  readonly state: OrderState
  readonly revision: number
  /** The head's own text and figures, where they changed. */
  readonly head?: Pick<OrderFacts, 'title' | 'message' | 'charges' | 'chargeItems' | 'locationId' | 'needBy'> & {
    readonly total: Minor
    readonly baseTotal: Minor
  }
  readonly lines?: readonly LineChange[]
  readonly removed?: readonly string[]
  /** The revision is frozen as it is now and goes to the supplier, with why. */
  readonly issues?: { readonly reason: string }
  /** What becomes of the supplier's answer that waits. */
  readonly answer?: { readonly state: AnswerState; readonly reason: string }
  /** The supplier was told of a revision by word, or was given it. */
  readonly toldRevision?: number
  /** What had come in and was billed of lines before the order was taken over. */
  readonly before?: readonly { readonly lineId: string; readonly received: string; readonly billed: string }[]
  /** The supplier was asked for what is missing. */
  readonly chasedAt?: string
  /** Days promised by the supplier, by line; `parts` where it promised several, `date` being the last of them. */
  readonly promises?: readonly LinePromise[]
  /** What becomes of the question about what it costs above what was approved. */
  readonly excess?: ConsentNext
  /** Requested lines that end with it. */
  readonly endedRequests?: readonly string[]
}
