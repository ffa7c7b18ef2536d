import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import {
  answerConsent,
  type Consent,
  type ConsentNext,
  type NewConsent,
  secondYes,
  whyNotDecide,
} from '#core/consent/consent.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { type Minor, minor, portion } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Kinds of entries of the stock ledger: movements of items between what comes in and what is used. */
export const STOCK_KINDS = ['received', 'issued', 'moved', 'counted', 'returned'] as const
export type StockKind = (typeof STOCK_KINDS)[number]

/** Where some of an item lies: a site, a bin in it, a batch. */
export interface Lot {
  readonly itemId: string
  readonly placeId: string
  readonly bin: string
  readonly batch: string
}
/** One signed, append-only entry: quantity in the item's unit, value in the smallest unit of the base currency. */
export interface StockEntry extends Lot {
  readonly kind: StockKind
  readonly quantity: string
  readonly value: Minor
}

/** Sums of an item at a site, whatever bin or batch: its average cost is value ÷ quantity. */
export interface Holding {
  readonly quantity: string
  readonly value: Minor
}
export const NO_HOLDING: Holding = { quantity: '0', value: minor(0) }

export const lotKey = ({ itemId, placeId, bin, batch }: Lot): string => JSON.stringify([itemId, placeId, bin, batch])
export const holdingKey = ({ itemId, placeId }: Pick<Lot, 'itemId' | 'placeId'>): string => `${itemId} ${placeId}`

/** What lies in each lot and what each item is worth at each site, from the entries; their order does not matter. */
export function sumStock(entries: Iterable<StockEntry>): {
  lots: Map<string, string>
  holdings: Map<string, Holding>
} {
  const lots = new Map<string, string>()
  const holdings = new Map<string, Holding>()
  for (const entry of entries) {
    const [lot, holding] = [lotKey(entry), holdingKey(entry)]
    lots.set(lot, tidy(new Decimal(lots.get(lot) ?? '0').plus(entry.quantity)))
    const before = holdings.get(holding) ?? NO_HOLDING
    holdings.set(holding, {
      quantity: tidy(new Decimal(before.quantity).plus(entry.quantity)),
      value: minor(before.value + entry.value),
    })
  }
  return { lots, holdings }
}

/**
 * What so much of a holding is worth at its average cost, rounded half away from zero; all of it is worth all that is left, so that nothing is worth
 * nothing.
 *
 * worthOf({ quantity: '3', value: 1000n }, '1') //=> 333n
 */
export const worthOf = (holding: Holding, quantity: string): Minor =>
  new Decimal(holding.quantity).isZero()
    ? minor(0)
    : new Decimal(quantity).equals(holding.quantity)
      ? holding.value
      : portion(holding.value, quantity, holding.quantity)

/** What is known of the stock that an act touches. */
export interface StockFacts {
  readonly lots: ReadonlyMap<string, string>
  readonly holdings: ReadonlyMap<string, Holding>
  /** What is set apart of an item at a site for others than whoever acts. */
  readonly reserved: ReadonlyMap<string, string>
}

/** So much out of a lot. */
export interface Wanted extends Lot {
  readonly quantity: string
}
export interface StockNext {
  readonly entries: readonly StockEntry[]
}

const onHand = (facts: StockFacts, lot: Lot): Decimal => new Decimal(facts.lots.get(lotKey(lot)) ?? '0')

/** What stands against taking so much out of lots: no quantity, more than lies there, what is set apart for others. */
export function whyNotTake(facts: StockFacts, wanted: readonly Wanted[]): Reason[] {
  if (wanted.length === 0) return [stop('stock.nothing')]
  const faults = wanted.flatMap((one, index): Reason[] => {
    const place = { place: `lines.${index}.quantity` }
    if (!isHeldDecimal(one.quantity) || new Decimal(one.quantity).lte(0)) return [stop('stock.quantity', {}, place)]
    const together = sum(wanted.filter(other => lotKey(other) === lotKey(one)))
    const there = onHand(facts, one)
    return together.gt(there) ? [stop('stock.notThere', { there: tidy(there) }, place)] : []
  })
  if (faults.length > 0) return faults
  return [...new Set(wanted.map(holdingKey))].flatMap((key, index): Reason[] => {
    const left = new Decimal(facts.holdings.get(key)?.quantity ?? '0').minus(
      sum(wanted.filter(one => holdingKey(one) === key)),
    )
    const reserved = facts.reserved.get(key) ?? '0'
    return left.lt(reserved)
      ? [stop('stock.reserved', { reserved: tidy(reserved), left: tidy(left) }, { place: `lines.${index}.quantity` })]
      : []
  })
}

const sum = (some: readonly { readonly quantity: string }[]): Decimal =>
  some.reduce((total, one) => total.plus(one.quantity), new Decimal(0))

/** Entries that take so much out, at average cost; one after the other, so that their values re-add. */
export function takeOut(facts: StockFacts, wanted: readonly Wanted[], kind: StockKind): StockEntry[] {
  const holdings = new Map(facts.holdings)
  return wanted.map(({ quantity, ...lot }) => {
    const key = holdingKey(lot)
    const before = holdings.get(key) ?? NO_HOLDING
    const value = worthOf(before, quantity)
    holdings.set(key, {
      quantity: tidy(new Decimal(before.quantity).minus(quantity)),
      value: minor(before.value - value),
    })
    return { ...lot, kind, quantity: tidy(new Decimal(quantity).negated()), value: minor(-value) }
  })
}

/** Hands out of stock to a cost centre, a project or a build. */
export function issueStock(
  facts: StockFacts,
  wanted: readonly Wanted[],
  to: string,
  actor: ActorFacts,
): Decision<StockNext> {
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...(to.trim() === '' ? [stop('stock.forWhom', {}, { place: 'to' })] : []),
    ...whyNotTake(facts, wanted),
  ]
  if (against.length > 0) return refused(against)
  return done(
    { entries: takeOut(facts, wanted, 'issued') },
    { action: 'stockIssued', changes: { to, lines: wanted.length } },
  )
}

/** Puts some of a lot into another bin or to another site; it takes its cost along. */
export function moveStock(
  facts: StockFacts,
  wanted: readonly (Wanted & { readonly toPlaceId: string; readonly toBin: string })[],
  actor: ActorFacts,
): Decision<StockNext> {
  const nowhere = wanted.findIndex(one => one.placeId === one.toPlaceId && one.bin === one.toBin)
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...(nowhere < 0 ? [] : [stop('stock.sameBin', {}, { place: `lines.${nowhere}.toBin` })]),
    // what is set apart at a site may be moved within it
    ...whyNotTake(
      facts,
      wanted.map(({ toPlaceId: _place, toBin: _bin, ...one }) => one),
    ).filter(reason => reason.code !== 'stock.reserved' || wanted.some(one => one.placeId !== one.toPlaceId)),
  ]
  if (against.length > 0) return refused(against)
  const out = takeOut(
    facts,
    wanted.map(({ toPlaceId: _place, toBin: _bin, ...one }) => one),
    'moved',
  )
  const entries = out.flatMap((entry, index) => {
    const { toPlaceId, toBin } = wanted[index]!
    return [
      entry,
      {
        ...entry,
        placeId: toPlaceId,
        bin: toBin,
        quantity: tidy(new Decimal(entry.quantity).negated()),
        value: minor(-entry.value),
      },
    ]
  })
  return done({ entries }, { action: 'stockMoved', changes: { lines: wanted.length } })
}

/** What somebody found in a lot when they counted it. */
export interface FoundLot extends Lot {
  readonly found: string
}
export interface StockDifference extends FoundLot {
  readonly known: string
  readonly difference: string
  readonly value: Minor
}
export interface StockCounted extends StockNext {
  readonly differences: readonly StockDifference[]
  /** Somebody else has to say yes before it is booked. */
  readonly asks: NewConsent | null
}

/**
 * Counts what lies there. Where it is what is known nothing is booked; differences are booked once somebody else has said yes. More than there was
 * is worth the average cost, or nothing where there was none.
 */
export function countStock(facts: StockFacts, found: readonly FoundLot[], actor: ActorFacts): Decision<StockCounted> {
  const keys = found.map(lotKey)
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...(found.length === 0 ? [stop('stock.nothing')] : []),
    ...(new Set(keys).size === keys.length ? [] : [stop('stock.lotTwice')]),
    ...found.flatMap((one, index) =>
      isHeldDecimal(one.found) && new Decimal(one.found).gte(0)
        ? []
        : [stop('stock.quantity', {}, { place: `lines.${index}.found` })],
    ),
  ]
  if (against.length > 0) return refused(against)
  const differences = differencesOf(facts, found)
  const asks =
    differences.length === 0
      ? null
      : secondYes(
          { purpose: 'stockCount', documentKind: 'stockMove', documentId: '', reason: '' },
          'delivery.receive',
          [actor.id],
        )
  return done<StockCounted>(
    { entries: [], differences, asks },
    { action: asks ? 'stockAsked' : 'stockCounted', changes: { lots: found.length, differences: differences.length } },
  )
}

/** How what was found differs from what is known now. */
export function differencesOf(facts: StockFacts, found: readonly FoundLot[]): StockDifference[] {
  const holdings = new Map(facts.holdings)
  return found.flatMap((one): StockDifference[] => {
    const known = onHand(facts, one)
    const difference = new Decimal(one.found).minus(known)
    if (difference.isZero()) return []
    const key = holdingKey(one)
    const before = holdings.get(key) ?? NO_HOLDING
    const worth = worthOf(before, difference.abs().toString())
    const value = minor(difference.lt(0) ? -worth : worth)
    holdings.set(key, {
      quantity: tidy(new Decimal(before.quantity).plus(difference)),
      value: minor(before.value + value),
    })
    return [{ ...one, known: tidy(known), difference: tidy(difference), value }]
  })
}

export interface CountAnswered extends StockNext {
  readonly state: 'posted' | 'refused'
  readonly consent: ConsentNext
}

/** Somebody else answers for the differences of a count: they are booked as they are now, whatever moved since, or never. */
export function answerCount(
  facts: StockFacts,
  found: readonly FoundLot[],
  consent: Consent | null,
  actor: ActorFacts,
  answer: 'approve' | 'reject',
  reason: string,
): Decision<CountAnswered> {
  const against = [
    ...whyNotDecide(consent, actor),
    ...(saysWhy(reason) ? [] : [stop('stock.whyDiffers', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const answered = answerConsent(consent!, actor, answer, reason)
  if (!answered.ok) return refused(answered.reasons)
  const differences = answer === 'approve' ? differencesOf(facts, found) : []
  const entries = differences.map(({ found: _found, known: _known, difference, value, ...lot }): StockEntry => ({
    ...lot,
    kind: 'counted',
    quantity: difference,
    value,
  }))
  return done<CountAnswered>(
    { state: answer === 'approve' ? 'posted' : 'refused', consent: answered.next, entries },
    {
      action: answer === 'approve' ? 'stockCounted' : 'stockRefused',
      changes: { differences: differences.length },
      reason,
    },
  )
}
