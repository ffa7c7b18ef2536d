import { type Address, addressText } from '#core/text/address.ts'

/** A place of a supplier that an order can go to. */
export interface SupplierPlace extends Address {
  readonly id: string
  readonly name: string
  readonly roles: readonly string[]
}

/** The place that takes an order and whose conditions hold for it: the one that was chosen, else the first that takes orders. `places`: in the supplier's order. */
export const takesOrder = <P extends SupplierPlace>(places: readonly P[], chosen: string | null): P | undefined =>
  places.find(one => one.id === chosen) ?? places.find(one => one.roles.includes('takesOrders'))

/** Where an order is sent: the place that takes it, and the supplier's first where none does. */
export const sentTo = <P extends SupplierPlace>(places: readonly P[], chosen: string | null): P | undefined =>
  takesOrder(places, chosen) ?? places[0]

/** A place on one line; nothing for none. */
export const placeText = (place: SupplierPlace | undefined): string =>
  place ? [place.name, addressText(place)].filter(Boolean).join(', ') : ''
