import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { fittingDay } from '#core/receive/months.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type TagRange, whyNotTag } from '#core/receive/tags.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type AssetState = 'unfinished' | 'inUse' | 'returned' | 'disposed' | 'voided'
export type AssetAction = 'finish' | 'change' | 'giveBack' | 'dispose' | 'takeOut'

/** A piece waits until all that it needs is told; it goes back to its supplier, is disposed of, or never came: its receipt was taken back. */
export const ASSET_STATES: StateTable<AssetState, AssetAction> = {
  unfinished: { finish: 'inUse', change: 'unfinished', giveBack: 'returned', takeOut: 'voided' },
  inUse: { change: 'inUse', giveBack: 'returned', dispose: 'disposed', takeOut: 'voided' },
  returned: {},
  disposed: {},
  voided: {},
}
export const ASSET_GROUPS = {
  /** Ours, and here. */
  here: ['unfinished', 'inUse'],
  unfinished: ['unfinished'],
} as const satisfies Readonly<Record<string, readonly AssetState[]>>

/** What is told of a piece. */
export interface AssetEntry {
  readonly tag: string
  readonly serial: string
  readonly description: string
  readonly placeId: string | null
  readonly bin: string
  readonly personId: string | null
  readonly warrantyTo: string | null
  readonly serviceMonths: number
  /** The asset of which it is a part. */
  readonly parentId: string | null
  readonly note: string
}
export interface AssetFacts {
  readonly id: string
  readonly number: string
  readonly state: AssetState
  readonly entry: AssetEntry
  readonly needsSerial: boolean
  /** The range that its kind takes; empty: any. */
  readonly tagRange: string
  readonly receivedOn: string
}
/** What a piece is held against. */
export interface AssetAround {
  readonly ranges: readonly TagRange[]
  /** The number of another piece that has the tag, or the serial number of the same item. */
  readonly tagOf: string | null
  readonly serialOf: string | null
  /** The assets of which its parent is a part, up to the top. */
  readonly above: readonly string[]
}

/** What is missing before a piece is finished. */
export const missing = (
  asset: Pick<AssetFacts, 'needsSerial'>,
  entry: Pick<AssetEntry, 'tag' | 'serial'>,
): Reason[] => [
  ...(entry.tag.trim() === '' ? [stop('asset.needsTag', {}, { place: 'tag' })] : []),
  ...(asset.needsSerial && entry.serial.trim() === '' ? [stop('asset.needsSerial', {}, { place: 'serial' })] : []),
]

/** What is wrong with what is told of a piece; what is left open is not wrong. */
export function whyNotEntry(asset: AssetFacts, entry: AssetEntry, around: AssetAround): Reason[] {
  return [
    ...(entry.tag.trim() === '' ? [] : whyNotTag(entry.tag, asset.tagRange, around.ranges, around.tagOf)),
    ...(entry.serial.trim() !== '' && around.serialOf !== null
      ? [stop('asset.serialUsed', { serial: entry.serial, number: around.serialOf }, { place: 'serial' })]
      : []),
    ...(entry.parentId !== null && (entry.parentId === asset.id || around.above.includes(asset.id))
      ? [stop('asset.partOfItself', {}, { place: 'parentId' })]
      : []),
  ]
}

/** Tells what there is to tell of a piece: with all that it needs it is finished, else it waits; what was told is never lost. */
export function tellAsset(
  asset: AssetFacts,
  entry: AssetEntry,
  around: AssetAround,
  actor: ActorFacts,
): Decision<{ readonly state: AssetState; readonly entry: AssetEntry; readonly missing: readonly Reason[] }> {
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...notNow(ASSET_STATES, 'asset', asset.state, 'change'),
    ...whyNotEntry(asset, entry, around),
  ]
  if (against.length > 0) return refused(against)
  const left = missing(asset, entry)
  if (asset.state === 'inUse' && left.length > 0) return refused(left)
  const finishes = asset.state === 'unfinished' && left.length === 0
  return done(
    {
      state: finishes ? 'inUse' : asset.state,
      entry: { ...entry, tag: entry.tag.trim().toUpperCase(), serial: entry.serial.trim() },
      missing: left,
    },
    { action: finishes ? 'finished' : 'changed', changes: changesOf(asset.entry, entry) },
  )
}

function changesOf(before: AssetEntry, after: AssetEntry): Record<string, unknown> {
  const keys = (Object.keys(after) as (keyof AssetEntry)[]).filter(key => before[key] !== after[key])
  const pick = (entry: AssetEntry) => Object.fromEntries(keys.map(key => [key, entry[key]]))
  return { before: pick(before), after: pick(after) }
}

/** Ends a piece that is no longer used: sold, scrapped, lost. */
export function disposeAsset(
  asset: AssetFacts,
  actor: ActorFacts,
  reason: string,
): Decision<{ readonly state: AssetState }> {
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...notNow(ASSET_STATES, 'asset', asset.state, 'dispose'),
    ...(saysWhy(reason) ? [] : [stop('asset.whyDisposed', {}, { place: 'reason' })]),
  ]
  return against.length > 0 ? refused(against) : done({ state: 'disposed' }, { action: 'disposed', reason })
}

/** What a fresh piece starts with, from its receipt and the terms of its kind. */
export const firstEntry = (
  from: {
    readonly description: string
    readonly placeId: string
    readonly bin: string
    readonly serial: string
    readonly receivedOn: string
  },
  terms: { readonly warrantyMonths: number; readonly serviceMonths: number },
): AssetEntry => ({
  tag: '',
  serial: from.serial,
  description: from.description,
  placeId: from.placeId,
  bin: from.bin,
  personId: null,
  warrantyTo: terms.warrantyMonths > 0 ? fittingDay(from.receivedOn, terms.warrantyMonths) : null,
  serviceMonths: terms.serviceMonths,
  parentId: null,
  note: '',
})
