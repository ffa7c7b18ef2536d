import type { DatedQuantity } from '#core/order/schedule.ts'

/** What a supplier answers on a line: how much, at which price, when. */
export interface LineAnswer {
  quantity: string
  price: string
  date: string
  /** What comes on which day, where it comes on several. */
  parts?: readonly DatedQuantity[]
}
