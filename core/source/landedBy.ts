import { Decimal } from '#core/money/decimal.ts'
import { type AnswerContent, type AnswerLine, priceAt } from '#core/source/answer.ts'
import { type EventLine, type EventLot } from '#core/source/event.ts'
import type { EventKind } from '#core/source/eventKind.ts'
import { type CostComponent, type CostedLine, landedCost, type LandedLine } from '#core/source/landedCost.ts'

/** What getting goods from a country costs us beside their price, in per cent of the goods; by category where that is known. */
export interface CountryCosts {
  readonly freightPercent: string
  readonly dutyPercent: string
}

/**
 * What of freight, insurance and duty the buyer pays by Incoterms 2020 (A9/B9): EXW to FOB leave all of it to the buyer, CPT and CFR leave insurance and
 * duty, CIP, CIF, DAP and DPU leave duty, DDP nothing. Without a rule the price is taken as delivered, duty unpaid (DAP).
 */
export function oursByIncoterm(incoterm: string | null): { freight: boolean; insurance: boolean; duty: boolean } {
  if (incoterm === 'DDP') return { freight: false, insurance: false, duty: false }
  if (incoterm !== null && ['EXW', 'FCA', 'FAS', 'FOB'].includes(incoterm))
    return { freight: true, insurance: true, duty: true }
  return { freight: false, insurance: incoterm === 'CPT' || incoterm === 'CFR', duty: true }
}

/** What is needed to bring one supplier's prices to landed cost. */
export interface LandedFacts {
  readonly kind: EventKind
  readonly lots: readonly EventLot[]
  /** Lines that are compared, in their order. */
  readonly lines: readonly EventLine[]
  /** One unit of the answer's currency in that of the event, of the fixed day. */
  readonly rate: string
  readonly costs: (category: string) => CountryCosts
}

/** Landed cost of what one supplier offers, by line; lot by lot, because lump sums are shared inside theirs. */
export function landedBy(
  facts: LandedFacts,
  answer: Pick<AnswerContent, 'lump' | 'paymentDays'>,
  offered: readonly AnswerLine[],
): ReadonlyMap<string, LandedLine> {
  const byLine = new Map(offered.map(line => [line.lineId, line]))
  return new Map(
    facts.lots.flatMap(lot => {
      const own = facts.lines.filter(line => line.lotId === lot.id && byLine.has(line.id))
      return landedOfLot(facts, answer, lot, own, byLine).map(line => [line.id, line] as const)
    }),
  )
}

/** Landed cost of one unit from a quantity on; the first from nothing on. */
export interface LandedTier {
  readonly from: string
  readonly perUnit: Decimal
}

/** Landed unit costs by quantity of the lines that have tiers: each tier as if its price held for what is offered. */
export function landedTiers(
  facts: LandedFacts,
  answer: Pick<AnswerContent, 'lump' | 'paymentDays'>,
  offered: readonly AnswerLine[],
): ReadonlyMap<string, readonly LandedTier[]> {
  const tiered = offered.filter(line => (line.tiers?.length ?? 0) > 0)
  const most = Math.max(0, ...tiered.map(line => line.tiers!.length))
  const steps = Array.from({ length: tiered.length > 0 ? most + 1 : 0 }, (_one, index) =>
    landedBy(
      facts,
      answer,
      offered.map(({ tiers = [], ...line }) => ({ ...line, price: index === 0 ? line.price : (tiers[index - 1]?.price ?? line.price) })), // prettier-ignore
    ),
  )
  return new Map(
    tiered.map(({ lineId, tiers }) => [
      lineId,
      ['0', ...tiers!.map(tier => tier.from)].map((from, index) => ({ from, perUnit: steps[index]!.get(lineId)!.perUnit })), // prettier-ignore
    ]),
  )
}

function landedOfLot(
  { kind, rate, costs }: LandedFacts,
  answer: Pick<AnswerContent, 'lump' | 'paymentDays'>,
  lot: EventLot,
  lines: readonly EventLine[],
  byLine: ReadonlyMap<string, AnswerLine>,
): LandedLine[] {
  if (lines.length === 0) return []
  const lump = componentsOf(kind, answer.lump[lot.id] ?? {}, true)
  // rules differ by Incoterm line by line, lump sums are shared over the whole lot: each line is reckoned under its own rules in the whole
  const costed = lines.map(line => costedLine(kind, line, byLine.get(line.id)!, lump, costs(line.category)))
  const days = Math.max(0, answer.paymentDays ?? 0)
  const under = (insurancePercent: string): LandedLine[] =>
    landedCost(costed, lump, { ...kind.landed, insurancePercent, rate }, days)
  const insured = lines.some(line => oursByIncoterm(line.incoterm).insurance) ? under(kind.landed.insurancePercent) : []
  const free = lines.some(line => !oursByIncoterm(line.incoterm).insurance) ? under('0') : []
  return lines.map((line, index) => (oursByIncoterm(line.incoterm).insurance ? insured : free)[index]!)
}

function costedLine(
  kind: EventKind,
  line: EventLine,
  answer: AnswerLine,
  lump: readonly CostComponent[],
  costs: CountryCosts,
): CostedLine {
  const ours = oursByIncoterm(line.incoterm)
  const quantity = quantityOffered(line, answer)
  const price = priceAt(answer, quantity) || '0'
  const own = componentsOf(kind, answer.components, false)
  const freight = [...own, ...lump].some(one => one.kind === 'freight')
  return {
    id: line.id,
    quantity,
    price,
    priceBase: answer.priceBase === '' ? '1' : answer.priceBase,
    // where the rule leaves the freight to us and nobody prices it, for the line or for its lot, it is reckoned in per cent
    components:
      ours.freight && !freight && costs.freightPercent !== '0'
        ? [...own, reckoned(price, answer, costs.freightPercent)]
        : own,
    dutyPercent: ours.duty ? costs.dutyPercent : '0',
  }
}

export const quantityOffered = (line: Pick<EventLine, 'quantity'>, answer: Pick<AnswerLine, 'quantity'>): string =>
  answer.quantity === '' ? line.quantity : answer.quantity

const reckoned = (price: string, answer: AnswerLine, percent: string): CostComponent => ({
  name: 'freight',
  basis: 'perUnit',
  kind: 'freight',
  amount: percentOf(price, answer, percent).toString(),
})
const percentOf = (price: string, answer: AnswerLine, percent: string): Decimal =>
  new Decimal(price)
    .dividedBy(answer.priceBase === '' ? 1 : answer.priceBase)
    .times(percent)
    .dividedBy(100)

const componentsOf = (kind: EventKind, given: Readonly<Record<string, string>>, lump: boolean): CostComponent[] =>
  kind.components
    .filter(one => (one.basis === 'perLot') === lump && (given[one.key] ?? '') !== '')
    .map(one => ({ name: one.name, basis: one.basis, kind: one.kind, amount: given[one.key]! }))
