import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { stop } from '#core/reasons.ts'
import { type AnswerContent, type AnswerTier, emptyAnswer, priceAt } from '#core/source/answer.ts'
import { askedLines, type EventFacts, type EventLine } from '#core/source/event.ts'
import { type EventNext, whyNotCompareKnown } from '#core/source/eventActs.ts'
import { type PackConversion, unitsIn } from '#core/units/units.ts'

/** A price that is known without asking: an offer of the catalogue, or a row of a file. Quantities in the unit of the line; empty texts say nothing. */
export interface KnownPrice {
  readonly supplierId: string
  readonly lineId: string
  readonly currency: string
  readonly price: string
  readonly priceBase: string
  readonly tiers: readonly AnswerTier[]
  /** The most that can be had; empty: all that is asked for. */
  readonly capacity: string
  readonly minimum: string
  readonly multiple: string
  readonly leadDays: number | null
  readonly validUntil: string
}

/** An offer of the catalogue as it is kept, in its own unit. */
export interface CatalogueOffer {
  readonly supplierId: string
  readonly unit: string
  readonly itemUnit: string
  readonly packs: readonly PackConversion[]
  readonly currency: string
  readonly priceBase: string
  readonly minimum: string
  readonly multiple: string
  readonly leadTimeDays: number
  readonly validTo: string | null
  readonly tiers: readonly AnswerTier[]
}

/** An offer in the unit of a line; null where the one cannot be counted in the other. Exact. */
export function offerFor(line: Pick<EventLine, 'id' | 'unit'>, offer: CatalogueOffer): KnownPrice | null {
  const sold = unitsIn(offer.unit, offer.itemUnit, offer.packs)
  const asked = unitsIn(line.unit, offer.itemUnit, offer.packs)
  const [first, ...tiers] = [...offer.tiers].sort((one, other) => new Decimal(one.from).comparedTo(other.from))
  if (sold === undefined || asked === undefined || first === undefined) return null
  const factor = new Decimal(sold).dividedBy(asked)
  const inLine = (quantity: string): string => tidy(new Decimal(quantity).times(factor))
  return {
    supplierId: offer.supplierId,
    lineId: line.id,
    currency: offer.currency,
    price: first.price,
    priceBase: inLine(offer.priceBase),
    tiers: tiers.map(tier => ({ from: inLine(tier.from), price: tier.price })),
    capacity: '',
    minimum: inLine(offer.minimum),
    multiple: inLine(offer.multiple),
    leadDays: offer.leadTimeDays,
    validUntil: offer.validTo ?? '',
  }
}

/** What known prices come to: an answer of each supplier, and how many prices could not be used. */
export interface KnownAnswers {
  readonly answers: ReadonlyMap<string, AnswerContent>
  readonly left: number
}

/**
 * Known prices as answers: of a supplier those in the currency that most of its prices are in; of several for one line the cheapest for what is asked, then
 * the first. A part of a quantity only where the kind allows it. Valid as long as all of them are.
 */
export function knownAnswers(event: EventFacts, prices: readonly KnownPrice[]): KnownAnswers {
  const lines = new Map(askedLines(event).map(line => [line.id, line]))
  const usable = prices.filter(one => lines.has(one.lineId) && whole(event, lines.get(one.lineId)!, one))
  const suppliers = [...new Set(usable.map(one => one.supplierId))]
  const chosen = suppliers.map(id => {
    const own = usable.filter(one => one.supplierId === id)
    const currency = mostOf(own.map(one => one.currency))
    return [id, cheapest(lines, own.filter(one => one.currency === currency))] as const // prettier-ignore
  })
  return {
    answers: new Map(chosen.map(([id, own]) => [id, answerWith(event, own)])),
    left: prices.length - chosen.reduce((sum, [, own]) => sum + own.length, 0),
  }
}

const whole = (event: EventFacts, line: EventLine, price: KnownPrice): boolean =>
  event.kind.partQuantity || price.capacity === '' || new Decimal(price.capacity).gte(line.quantity)

/** What is there most often; of equal ones what comes first in the alphabet. */
function mostOf(values: readonly string[]): string {
  const count = (value: string): number => values.filter(one => one === value).length
  return [...new Set(values)].sort((a, b) => count(b) - count(a) || (a < b ? -1 : 1))[0]!
}

function cheapest(lines: ReadonlyMap<string, EventLine>, prices: readonly KnownPrice[]): KnownPrice[] {
  const best = new Map<string, KnownPrice>()
  const each = (one: KnownPrice): Decimal =>
    new Decimal(priceAt(one, lines.get(one.lineId)!.quantity)).dividedBy(one.priceBase)
  for (const one of prices) {
    const other = best.get(one.lineId)
    if (!other || each(one).lt(each(other))) best.set(one.lineId, one)
  }
  return [...best.values()]
}

function answerWith(event: EventFacts, prices: readonly KnownPrice[]): AnswerContent {
  const byLine = new Map(prices.map(one => [one.lineId, one]))
  const empty = emptyAnswer(event, prices[0]!.currency)
  const until = prices.flatMap(one => (one.validUntil === '' ? [] : [one.validUntil])).sort()
  return {
    ...empty,
    validUntil: until[0] ?? '',
    lines: empty.lines.map(line => {
      const known = byLine.get(line.lineId)
      if (!known) return { ...line, declined: true }
      const { price, priceBase, minimum, multiple, tiers, leadDays, capacity } = known
      const asked = event.lines.find(one => one.id === line.lineId)!.quantity
      const part = capacity !== '' && new Decimal(capacity).lt(asked) ? capacity : ''
      return { ...line, price, priceBase, minimum, multiple, tiers, leadDays, quantity: part }
    }),
  }
}

/** Compares what is known now, at the rates of today: nobody is asked, and the award, its approval and the orders follow as after asking. */
export function compareKnown(
  event: EventFacts,
  known: KnownAnswers,
  actor: ActorFacts,
  at: string,
): Decision<EventNext> {
  const against = whyNotCompareKnown(event, actor)
  if (against.length > 0) return refused(against)
  if (known.answers.size === 0) return refused([stop('known.nothing')])
  return done<EventNext>(
    { state: 'over', endsAt: at },
    { action: 'compareKnown', changes: { suppliers: known.answers.size, left: known.left } },
  )
}
