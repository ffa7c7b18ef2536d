import type { BusinessCalendar } from '#core/calendar/days.ts'
import type { BuildOffer } from '#core/build/offers.ts'
import type { PartLine } from '#core/build/partsList.ts'
import type { PackConversion } from '#core/units/units.ts'

/** What is known of an item that a costing may buy. */
export interface BuildItem {
  readonly id: string
  readonly number: string
  readonly name: string
  readonly unit: string
  readonly category: string
  readonly packs: readonly PackConversion[]
  readonly discontinued: boolean
  readonly replacedBy: string | null
}

export interface BuildSupplier {
  readonly id: string
  readonly name: string
  /** Per cent of what it delivered in time and in full; empty where nothing is known. */
  readonly score: string
}

/** Everything that a costing is computed from: a list, and what was known on the day that it is priced on. */
export interface BuildFacts {
  readonly lines: readonly PartLine[]
  readonly items: readonly BuildItem[]
  readonly offers: readonly BuildOffer[]
  readonly suppliers: readonly BuildSupplier[]
  /** What one unit of a currency is in the house's own; those without a rate are missing. */
  readonly rates: Readonly<Record<string, string>>
  readonly pricedOn: string
  readonly calendar: BusinessCalendar
}
