import type { EffectiveTerms } from '#core/receive/terms.ts'
import { effectiveTerms } from '#core/receive/terms.ts'
import { converts, type PackConversion } from '#core/units/units.ts'

/** What has to be known of an order's line when something of it is counted. */
export interface CountedLine {
  readonly itemId: string | null
  /** The unit in which its item is counted, with its packs; those of the line where it buys no item. */
  readonly itemUnit: string
  readonly packs: readonly PackConversion[]
  readonly terms: EffectiveTerms
  /** Nothing of its item has come from its supplier before. */
  readonly first: boolean
}

/** What counting is held against beside the order. */
export interface ReceivingFacts {
  readonly lines: ReadonlyMap<string, CountedLine>
  /** The first day of the period that is open; null: none was closed. */
  readonly openFrom: string | null
  /** Serial numbers among those told that are here already, by item. */
  readonly knownSerials: ReadonlySet<string>
}

/** A serial number as it is told from all others: of an item, or of a line that buys none. */
export const serialKey = (of: string, serial: string): string => `${of} ${serial.trim().toUpperCase()}`

/** A line without an item, received as usual. */
export const plainLine = (unit: string): CountedLine => ({
  itemId: null,
  itemUnit: unit,
  packs: [],
  terms: effectiveTerms([]),
  first: false,
})
export const NOTHING_ELSE: ReceivingFacts = { lines: new Map(), openFrom: null, knownSerials: new Set() }

/** Units in which a line can be counted: its own, and where that is said in its item's unit, that and the item's packs. */
export const countableUnits = (own: string, { itemUnit, packs }: Pick<CountedLine, 'itemUnit' | 'packs'>): string[] => [
  ...new Set([own, ...(converts(own, itemUnit, packs) ? [itemUnit, ...packs.map(pack => pack.unit)] : [])]),
]
