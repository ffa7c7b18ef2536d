import type { TakenBack } from '#core/receive/reverseReceipt.ts'
import type { Write } from '#server/call.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'
import type { ReceiptLineRow } from '#server/receive/receiptStore.ts'

/** A receipt, as whatever its counts become takes it. */
export interface Taken {
  readonly id: string
  readonly number: string
  readonly receivedOn: string
  readonly placeId: string
}
/** What is done with counts once they count, and when they no longer do: stock moves, pieces, inspections. */
export interface Becomes {
  readonly taken: (call: Write, order: KnownOrder, receipt: Taken, parts: readonly ReceiptLineRow[]) => Promise<void>
  readonly back: (
    call: Write,
    order: KnownOrder,
    receipt: Taken,
    parts: readonly (ReceiptLineRow & { out: TakenBack })[],
  ) => Promise<void>
}
