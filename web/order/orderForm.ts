import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOrder, WantedOrderBody } from '#contract/order/endpoints.ts'
import type { DefaultsJson } from '#contract/source/record.ts'

/** An order as it is being changed. */
export interface OrderForm {
  title: string
  message: string
  charges: string
  reason: string
  version: number
  conditions: DefaultsJson
  /** What is cancelled on lines is still needed. */
  needRemains: boolean
  lines: {
    id: string
    position: number
    description: string
    quantity: string
    price: string
    needBy: string | null
    /** What has come in or is billed of it. */
    done: string
  }[]
}

/** What a form wants of its order. */
export const wantedOf = ({ title, message, charges, lines }: OrderForm): WantedOrderBody => ({
  title,
  message,
  charges,
  lines: lines.map(({ id, description, quantity, price, needBy }) => ({ id, description, quantity, price, needBy })),
})

/** What stands in an order, to be changed; an empty form before there is one. */
export const orderForm = (order?: ResponseOf<typeof ReadOrder>): OrderForm => ({
  title: order?.title ?? '',
  message: order?.message ?? '',
  charges: order?.charges ?? '0',
  reason: '',
  version: order?.version ?? 1,
  conditions: { ...order?.conditions },
  needRemains: true,
  lines: (order?.lines ?? []).map(({ id, position, description, quantity, price, needBy, done }) => ({
    id,
    position,
    description,
    quantity,
    price,
    needBy,
    done,
  })),
})
