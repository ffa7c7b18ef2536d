import type { ConsentNext } from '#core/consent/consent.ts'
import type { HoldChange } from '#core/bill/holds.ts'
import type { InvoiceState } from '#core/bill/states.ts'

/** What of an invoice is written anew after an act. */
export interface InvoiceNext {
  readonly state: InvoiceState
  readonly holds?: HoldChange
  /** A hold that a person clears, with the reason given. */
  readonly clears?: { readonly holdId: string; readonly reason: string }
  /** What becomes of the question whether a hold may be cleared. */
  readonly asked?: { readonly holdId: string; readonly consent: ConsentNext }
  /** A line that is linked to an order line, in its unit. */
  readonly links?: {
    readonly lineId: string
    readonly orderLineId: string
    readonly quantity: string
    readonly unit: string
    readonly priceBase: string
  }
  /** It is posted now, and due on that day. */
  readonly posts?: { readonly dueOn: string }
}
