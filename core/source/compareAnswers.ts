import { Decimal, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import {
  type Alternative,
  type AnswerContent,
  type AnswerLine,
  knockedOut,
  offeredLines,
  priceAt,
} from '#core/source/answer.ts'
import { answersOpen, askedLines, type EventFacts, type EventLine, type InvitedStanding } from '#core/source/event.ts'
import { isIn } from '#core/states.ts'
import { type CountryCosts, landedBy, type LandedTier, landedTiers, quantityOffered } from '#core/source/landedBy.ts'
import { EVENT_GROUPS } from '#core/source/eventStates.ts'
import type { LandedLine } from '#core/source/landedCost.ts'

/** A supplier in the comparison: how it stands, and its answer where one is in and may be read. */
export interface ComparedSupplier {
  readonly supplierId: string
  readonly name: string
  readonly standing: InvitedStanding
  readonly onBehalf: boolean
  readonly answer: AnswerContent | null
  /** One unit of the answer's currency in that of the event; null: there was none on the day. */
  readonly rate: string | null
  readonly costs: (category: string) => CountryCosts
}

/** What a supplier offers for a line, as given and as it costs when it is here. */
export interface ComparedCell {
  readonly supplierId: string
  readonly price: string
  readonly priceBase: string
  /** For how many; less than asked where only a part is offered. */
  readonly quantity: string
  readonly part: boolean
  readonly leadDays: number | null
  readonly note: string
  /** Null: nobody can say, because there is no rate. */
  readonly landed: LandedLine | null
  /** Landed unit costs by quantity, where the price goes by it. */
  readonly tiers: readonly LandedTier[]
  readonly best: boolean
  readonly alternatives: readonly Alternative[]
}
export interface ComparedLine {
  readonly line: EventLine
  readonly cells: ReadonlyMap<string, ComparedCell>
  /** Between the dearest and the cheapest, in per cent of the cheapest; null where there are not two. */
  readonly spread: string | null
}
/** What one supplier's offers cost in all, in the currency of the event. */
export interface ComparedTotal {
  readonly supplierId: string
  readonly lines: number
  /** For what it has. */
  readonly own: Decimal
  /** For the lines that all have who answered; null: there are none. */
  readonly common: Decimal | null
  /** For the same lines by their reference prices; null: none has one. */
  readonly reference: Decimal | null
  readonly knockedOut: boolean
}
export interface Comparison {
  readonly lines: readonly ComparedLine[]
  readonly totals: readonly ComparedTotal[]
  /** How many lines all have who answered. */
  readonly common: number
}

/**
 * Lines × suppliers. Landed unit costs compare, in the event's currency and the unit that is asked for; the best of a line is the lowest, all that are
 * equally low. Who is suspended, withdrawn or knocked out stands beside it and is never the best. Exact; whoever shows it rounds.
 */
export function compareAnswers(event: EventFacts, suppliers: readonly ComparedSupplier[]): Comparison {
  const lines = askedLines(event)
  const offers = suppliers.map(one => offersOf(event, lines, one))
  const compared = lines.map(line => comparedLine(line, offers))
  const counted = offers.filter(one => one.counts)
  const common = lines.filter(line => counted.length > 0 && counted.every(one => one.landed.has(line.id)))
  return { lines: compared, totals: offers.map(one => totalOf(one, lines, common)), common: common.length }
}

interface Offers {
  readonly supplier: ComparedSupplier
  readonly given: ReadonlyMap<string, AnswerLine>
  readonly landed: ReadonlyMap<string, LandedLine>
  readonly tiers: ReadonlyMap<string, readonly LandedTier[]>
  /** Can be awarded and sets the best. */
  readonly counts: boolean
  readonly knockedOut: boolean
}

function offersOf(event: EventFacts, lines: readonly EventLine[], supplier: ComparedSupplier): Offers {
  const { answer, rate, costs } = supplier
  if (answer === null)
    return { supplier, given: new Map(), landed: new Map(), tiers: new Map(), counts: false, knockedOut: false }
  const offered = offeredLines(event, answer)
  const out = knockedOut(event.kind, answer)
  const facts = rate === null ? null : { kind: event.kind, lots: event.lots, lines, rate, costs }
  return {
    supplier,
    given: new Map(offered.map(line => [line.lineId, line])),
    landed: facts === null ? new Map() : landedBy(facts, answer, offered),
    tiers: facts === null ? new Map() : landedTiers(facts, answer, offered),
    counts: supplier.standing === 'answered' && !out,
    knockedOut: out,
  }
}

function comparedLine(line: EventLine, offers: readonly Offers[]): ComparedLine {
  const counted = offers.flatMap(one => (one.counts ? (one.landed.get(line.id)?.perUnit ?? []) : []))
  const lowest = counted.length > 0 ? Decimal.min(...counted) : null
  const highest = counted.length > 0 ? Decimal.max(...counted) : null
  const cells = offers.flatMap(one => {
    const given = one.given.get(line.id)
    const alternatives = one.supplier.answer?.alternatives.filter(other => other.lineId === line.id) ?? []
    if (!given && alternatives.length === 0) return []
    const landed = one.landed.get(line.id) ?? null
    const best = one.counts && landed !== null && lowest !== null && landed.perUnit.equals(lowest)
    return [
      [
        one.supplier.supplierId,
        cellOf(one.supplier.supplierId, line, given, landed, one.tiers.get(line.id) ?? [], best, alternatives),
      ] as const,
    ]
  })
  return { line, cells: new Map(cells), spread: spreadOf(lowest, highest, counted.length) }
}

const cellOf = (
  supplierId: string,
  line: EventLine,
  given: AnswerLine | undefined,
  landed: LandedLine | null,
  tiers: readonly LandedTier[],
  best: boolean,
  alternatives: readonly Alternative[],
): ComparedCell => {
  const quantity = given ? quantityOffered(line, given) : '0'
  return {
    supplierId,
    price: given ? priceAt(given, quantity) : '',
    priceBase: given?.priceBase || '1',
    quantity,
    part: given !== undefined && new Decimal(quantity).lt(line.quantity),
    leadDays: given?.leadDays ?? null,
    note: given?.note ?? '',
    landed,
    tiers,
    best,
    alternatives,
  }
}

const spreadOf = (lowest: Decimal | null, highest: Decimal | null, count: number): string | null =>
  count < 2 || lowest === null || highest === null || lowest.isZero()
    ? null
    : tidy(highest.minus(lowest).dividedBy(lowest).times(100).toDecimalPlaces(1))

function totalOf(offers: Offers, lines: readonly EventLine[], common: readonly EventLine[]): ComparedTotal {
  const sum = (among: readonly EventLine[]): Decimal =>
    among.reduce((total, line) => total.plus(offers.landed.get(line.id)?.total ?? 0), new Decimal(0))
  const own = lines.filter(line => offers.landed.has(line.id))
  const known = own.filter(line => line.reference !== '')
  return {
    supplierId: offers.supplier.supplierId,
    lines: own.length,
    own: sum(own),
    common: common.length > 0 && offers.counts ? sum(common) : null,
    reference:
      known.length === 0
        ? null
        : known.reduce((total, line) => total.plus(new Decimal(line.quantity).times(line.reference)), new Decimal(0)),
    knockedOut: offers.knockedOut,
  }
}

/** Why nothing of an event can be compared yet. */
export function whyNotCompare(event: EventFacts, answered: number, at: string): Reason[] {
  if (event.sentAt === null && !isIn(EVENT_GROUPS.judged, event.state)) return [stop('event.notSent')]
  if (!answersOpen(event, at)) return [stop('compare.sealed', { at: event.endsAt ?? '' })]
  return answered === 0 ? [stop('compare.nothing')] : []
}

/** Who of those compared can be awarded: an answer is in, and nothing knocks it out. */
export const whoCounts = (comparison: Comparison, suppliers: readonly ComparedSupplier[]): ReadonlySet<string> => {
  const out = new Set(comparison.totals.filter(one => one.knockedOut).map(one => one.supplierId))
  return new Set(suppliers.filter(one => one.standing === 'answered' && !out.has(one.supplierId)).map(one => one.supplierId)) // prettier-ignore
}
