import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import { Decimal, sumDecimals, tidy } from '#core/money/decimal.ts'

export type ReceiptPart = ResponseOf<typeof ReadDelivery>['receipts'][number]['parts'][number]

/** What still stands of a count. leftOf({ quantity: '5', reversed: '2' }) //=> '3' */
export const leftOf = (part: Pick<ReceiptPart, 'quantity' | 'reversed'>): string =>
  tidy(new Decimal(part.quantity).minus(part.reversed))

/** How much stands of all counts, to know whether anything does. */
export const sumLeft = (parts: readonly Pick<ReceiptPart, 'quantity' | 'reversed'>[]): number =>
  sumDecimals(parts.map(leftOf)).toNumber()
