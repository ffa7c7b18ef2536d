import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOrder, WantedOrderBody } from '#contract/order/endpoints.ts'
import type { DefaultsJson } from '#contract/source/record.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import { type DatedQuantity, fitted } from '#core/order/schedule.ts'

/** An order as it is being changed. */
export interface OrderForm {
  title: string
  message: string
  charges: WantedOrderBody['charges']
  /** The place of the supplier that it goes to; null: the usual one. */
  locationId: string | null
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
    kind: string
    unit: string
    addressId: string | null
    place: string
    schedule: (DatedQuantity & { addressId: string | null; place: string })[]
    /** Deliveries or place were changed here; else they follow quantity and day. */
    planned: boolean
    /** What has come in or is billed of it. */
    done: string
  }[]
}

/** What a form wants of its order. */
export const wantedOf = ({ title, message, charges, locationId, lines }: OrderForm): WantedOrderBody => ({
  title,
  message,
  charges,
  locationId,
  lines: lines.map(({ id, description, quantity, price, needBy, addressId, schedule, planned }) => ({
    id,
    description,
    quantity,
    price,
    needBy,
    ...(planned ? { addressId, schedule: partsOf(schedule, quantity) } : {}),
  })),
})

/** Deliveries as they are sent, for the quantity that the line has by now. */
const partsOf = (schedule: OrderForm['lines'][number]['schedule'], quantity: string) =>
  fitted(schedule, isDecimalText(quantity) ? quantity : '0').map(({ quantity: own, date, addressId }) => ({
    quantity: own,
    date,
    addressId,
  }))

/** What stands in an order, to be changed; an empty form before there is one. */
export const orderForm = (order?: ResponseOf<typeof ReadOrder>): OrderForm => ({
  title: order?.title ?? '',
  message: order?.message ?? '',
  charges: (order?.charges ?? []).map(item => ({ ...item, splits: [...item.splits] })),
  locationId: order?.locationId ?? null,
  reason: '',
  version: order?.version ?? 1,
  conditions: { ...order?.conditions },
  needRemains: true,
  lines: (order?.lines ?? []).map(line => ({
    id: line.id,
    position: line.position,
    description: line.description,
    quantity: line.quantity,
    price: line.price,
    needBy: line.needBy,
    kind: line.kind,
    unit: line.unit,
    addressId: line.addressId,
    place: line.address ?? '',
    schedule: line.schedule.map(({ quantity, date, addressId, place }) => ({ quantity, date, addressId, place })),
    planned: false,
    done: line.done,
  })),
})

/** A form with what somebody has written of the order before; lines that they left out are left out. */
export function withWanted(
  form: OrderForm,
  { lines, locationId = form.locationId, ...head }: WantedOrderBody,
): OrderForm {
  const wanted = new Map(lines.map(line => [line.id, line]))
  return {
    ...form,
    ...head,
    locationId,
    lines: form.lines.flatMap(line => {
      const own = wanted.get(line.id)
      if (!own) return []
      const { schedule, addressId = line.addressId, ...figures } = own
      const place = addressId === line.addressId ? line.place : ''
      return {
        ...line,
        ...figures,
        ...(schedule
          ? { schedule: schedule.map(one => ({ ...one, place: '' })), addressId, place, planned: true }
          : {}),
      }
    }),
  }
}
