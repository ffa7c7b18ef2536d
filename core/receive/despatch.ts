import { type Decision, done, refused } from '#core/acts/decision.ts'
import { isSscc } from '#core/text/gs1.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import { whyNotCurrent } from '#core/order/answerOrder.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isWork } from '#core/request/kinds.ts'
import { twice } from '#core/receive/serials.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type DespatchState = 'draft' | 'sent' | 'received' | 'withdrawn'
export type DespatchAction = 'write' | 'send' | 'receive' | 'withdraw'
/** What a supplier announces: written, sent, corrected as long as nothing of it was received, or taken back. */
export const DESPATCH_STATES: StateTable<DespatchState, DespatchAction> = {
  draft: { write: 'draft', send: 'sent', withdraw: 'withdrawn' },
  sent: { send: 'sent', receive: 'received', withdraw: 'withdrawn' },
  received: {},
  withdrawn: {},
}

/** Kinds of packages (UN/ECE Recommendation 21). */
export const PACKAGE_KINDS = ['CT', 'BX', 'PX', 'PK', 'DR', 'BG', 'CR', 'TU'] as const

/** A package of a despatch. Weight in kilograms, sides in centimetres, as decimal text; empty where it is not said. */
export interface DespatchPackage {
  readonly kind: (typeof PACKAGE_KINDS)[number]
  readonly sscc: string
  readonly weight: string
  readonly size: string
}
/** What of a line is in it; several of one line where batches or packages differ. */
export interface DespatchLine {
  readonly lineId: string
  readonly quantity: string
  readonly batch: string
  readonly bestBefore: string | null
  readonly serials: readonly string[]
  /** Place of its package in the list; null where it is in none. */
  readonly package: number | null
}
export interface DespatchEntry {
  /** The supplier's own number of it. */
  readonly number: string
  readonly despatchedOn: string
  readonly arrivesOn: string
  readonly carrier: string
  readonly tracking: string
  readonly note: string
  readonly packages: readonly DespatchPackage[]
  readonly lines: readonly DespatchLine[]
}
export interface DespatchFacts {
  readonly number: string
  readonly state: DespatchState
  /** What it has announced so far. */
  readonly announced: readonly DespatchLine[]
}

/** What is wrong with an announcement; places are those of the form. */
export function whyNotDespatch(
  order: OrderFacts,
  entry: DespatchEntry,
  before: readonly DespatchLine[] = [],
): Reason[] {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return [
    ...(entry.lines.length === 0 ? [stop('despatch.nothing')] : []),
    ...(entry.arrivesOn < entry.despatchedOn ? [stop('despatch.arrivesEarly', {}, { place: 'arrivesOn' })] : []),
    ...entry.packages.flatMap((one, index): Reason[] => whyNotPackage(one, index)),
    ...entry.lines.flatMap((one, index): Reason[] => whyNotLine(one, lines.get(one.lineId), entry, index)),
    ...twice(entry.lines.flatMap(one => one.serials.map(serial => `${one.lineId} ${serial.toUpperCase()}`))).map(() =>
      stop('despatch.serialTwice'),
    ),
    ...whyTooMuch(lines, entry.lines, before),
  ]
}

function whyNotPackage({ sscc, weight }: DespatchPackage, index: number): Reason[] {
  const place = (field: string) => ({ place: `packages.${index}.${field}` })
  return [
    ...(sscc === '' || isSscc(sscc) ? [] : [stop('despatch.sscc', { sscc: sscc.slice(0, 20) }, place('sscc'))]),
    ...(weight === '' || (isHeldDecimal(weight) && new Decimal(weight).gt(0))
      ? []
      : [stop('despatch.weight', {}, place('weight'))]),
  ]
}

function whyNotLine(one: DespatchLine, line: OrderLine | undefined, entry: DespatchEntry, index: number): Reason[] {
  const place = { place: `lines.${index}.quantity` }
  if (!line || isWork(line.kind)) return [stop('despatch.foreignLine', {}, place)]
  if (!isHeldDecimal(one.quantity) || new Decimal(one.quantity).lte(0)) return [stop('despatch.quantity', {}, place)]
  if (new Decimal(one.quantity).lt(one.serials.length)) return [stop('despatch.tooManySerials', { told: one.serials.length, pieces: tidy(one.quantity) }, place)] // prettier-ignore
  return one.package !== null && !entry.packages[one.package] ? [stop('despatch.noPackage', {}, place)] : []
}

/** More is announced of a line than was ordered, over all announcements that stand. */
function whyTooMuch(
  lines: ReadonlyMap<string, OrderLine>,
  now: readonly DespatchLine[],
  before: readonly DespatchLine[],
): Reason[] {
  return [...new Set(now.map(one => one.lineId))].flatMap((id): Reason[] => {
    const line = lines.get(id)
    if (!line) return []
    const of = (some: readonly DespatchLine[]) => some.filter(one => one.lineId === id && isHeldDecimal(one.quantity)).reduce((sum, one) => sum.plus(one.quantity), new Decimal(0)) // prettier-ignore
    const total = new Decimal(line.sums.despatched).minus(of(before)).plus(of(now))
    return total.gt(line.quantity)
      ? [stop('despatch.tooMuch', { line: line.position, ordered: tidy(line.quantity), announced: tidy(total) }, { place: `lines.${now.findIndex(one => one.lineId === id)}.quantity` })] // prettier-ignore
      : []
  })
}

export interface DespatchNext {
  readonly state: DespatchState
  readonly entry: DespatchEntry | null
}

/** Keeps what is written; nobody is told. */
export function writeDespatch(despatch: DespatchFacts, entry: DespatchEntry): Decision<DespatchNext> {
  const against = notNow(DESPATCH_STATES, 'despatch', despatch.state, 'write')
  return against.length > 0 ? refused(against) : done({ state: despatch.state, entry }, { action: 'written' })
}

/** Announces it, or corrects what was announced: the ledger says by how much. */
export function sendDespatch(
  order: OrderFacts,
  revision: number,
  despatch: DespatchFacts,
  entry: DespatchEntry,
): Decision<DespatchNext> {
  const against = [
    ...notNow(DESPATCH_STATES, 'despatch', despatch.state, 'send'),
    ...whyNotCurrent(order, revision),
    ...whyNotDespatch(order, entry, despatch.announced),
  ]
  if (against.length > 0) return refused(against)
  const corrects = despatch.state === 'sent'
  return done(
    { state: 'sent', entry },
    {
      action: corrects ? 'corrected' : 'announced',
      changes: { despatch: despatch.number, arrivesOn: entry.arrivesOn },
    },
    follow(order, [...entriesOf(despatch.announced, -1), ...entriesOf(entry.lines, 1)]),
  )
}

const entriesOf = (lines: readonly DespatchLine[], sign: 1 | -1): QuantityEntry[] => {
  const sums = new Map<string, Decimal>()
  for (const { lineId, quantity } of lines) sums.set(lineId, (sums.get(lineId) ?? new Decimal(0)).plus(quantity))
  return [...sums].map(([lineId, quantity]) => ({
    lineId,
    kind: 'despatched',
    quantity: quantity.times(sign).toString(),
  }))
}

/** Takes an announcement back: it is not coming. */
export function withdrawDespatch(order: OrderFacts, despatch: DespatchFacts): Decision<DespatchNext> {
  const against = notNow(DESPATCH_STATES, 'despatch', despatch.state, 'withdraw')
  if (against.length > 0) return refused(against)
  return done(
    { state: 'withdrawn', entry: null },
    { action: 'despatchWithdrawn', changes: { despatch: despatch.number } },
    follow(order, entriesOf(despatch.announced, -1)),
  )
}

/** What comes when a line is despatched as far as it is not: all that is open, with nothing said of it. */
export const openDespatch = (order: OrderFacts): DespatchLine[] =>
  order.lines.flatMap(line => {
    const open = new Decimal(line.quantity).minus(Decimal.max(line.sums.despatched, line.sums.received))
    return isWork(line.kind) || line.kind === 'goodsByAmount' || open.lte(0)
      ? []
      : [{ lineId: line.id, quantity: tidy(open), batch: '', bestBefore: null, serials: [], package: null }]
  })
