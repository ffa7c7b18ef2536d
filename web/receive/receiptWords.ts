import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import { Decimal, sumDecimals, tidy } from '#core/money/decimal.ts'

export type ReceiptPart = ResponseOf<typeof ReadDelivery>['receipts'][number]['parts'][number]

type Counted = Pick<ReceiptPart, 'quantity' | 'reversed' | 'returned'>

/** What still stands of a count. leftOf({ quantity: '5', reversed: '2', returned: '0' }) //=> '3' */
export const leftOf = ({ quantity, reversed, returned }: Counted): string =>
  tidy(new Decimal(quantity).minus(reversed).minus(returned))

/** How much stands of all counts, to know whether anything does. */
export const sumLeft = (parts: readonly Counted[]): number => sumDecimals(parts.map(leftOf)).toNumber()
