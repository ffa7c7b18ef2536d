import type { Write } from '#server/call.ts'

/** What an agreement has done to orders by those who know how. */
export interface OrderHands {
  /** Gives lines of an order other prices: a draft is written anew, an issued order gets its next revision. */
  readonly reprice: (call: Write, id: string, prices: ReadonlyMap<string, string>, reason: string) => Promise<unknown>
  readonly end: (call: Write, id: string, action: 'cancel' | 'close' | 'seal', reason: string) => Promise<unknown>
}

let given: OrderHands | undefined

/** The stage of orders says once how these are done. */
export const worksOnOrders = (hands: OrderHands): void => void (given = hands)

export function orderHands(): OrderHands {
  if (!given) throw new Error('Nobody said how orders are changed for an agreement.')
  return given
}
