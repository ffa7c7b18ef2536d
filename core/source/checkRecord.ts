import { type Reason, stop } from '#core/reasons.ts'
import { checkIdentifier } from '#core/source/identifiers.ts'
import type { IdentifierScheme } from '#core/source/schemes.ts'
import { SUPPLIER_GROUPS, type SupplierState } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'

interface Conditions {
  readonly incoterm?: string | undefined
  readonly incotermPlace?: string | undefined
}

/** What of a supplier's record is checked. */
export interface RecordFacts {
  readonly name: string
  readonly kind: 'company' | 'person'
  readonly identifiers: readonly { readonly scheme: IdentifierScheme; readonly value: string }[]
  readonly locations: readonly { readonly country: string; readonly defaults: Conditions }[]
  readonly defaults: Conditions
  readonly person: { readonly birthDate: string } | null
  readonly tax: { readonly number: string }
}

/** What a person who is paid a fee is asked beyond a company, before anything is ordered. */
export function personReasons(record: RecordFacts): Reason[] {
  if (record.kind !== 'person') return []
  return [
    ...(record.person === null ? [stop('source.personData', {}, { place: 'person' })] : []),
    ...(record.person?.birthDate === '' ? [stop('source.birthDate', {}, { place: 'person.birthDate' })] : []),
    ...(record.tax.number.trim() === '' ? [stop('source.taxNumber', {}, { place: 'tax.number' })] : []),
  ]
}

const placeMissing = (conditions: Conditions): boolean =>
  Boolean(conditions.incoterm) && !conditions.incotermPlace?.trim()

/** Faults of a supplier's record, each with its place. A person's data are wanted from when anything can be ordered. */
export const checkRecord = (record: RecordFacts, state: SupplierState): Reason[] => [
  ...(record.name.trim() === '' ? [stop('source.noName', {}, { place: 'name' })] : []),
  ...record.identifiers.flatMap((one, index) =>
    checkIdentifier(one.scheme, one.value, `identifiers.${index}.value`, record.locations[0]?.country ?? ''),
  ),
  ...(isIn(SUPPLIER_GROUPS.trading, state) ? personReasons(record) : []),
  ...record.locations.flatMap((one, index) =>
    placeMissing(one.defaults)
      ? [stop('source.incotermPlace', {}, { place: `locations.${index}.defaults.incotermPlace` })]
      : [],
  ),
  ...(placeMissing(record.defaults) ? [stop('source.incotermPlace', {}, { place: 'defaults.incotermPlace' })] : []),
]
