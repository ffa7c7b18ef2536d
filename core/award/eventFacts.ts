import type { PlanBid, PlanCharge, PlanFacts } from '#core/award/planFacts.ts'
import { MOST_MULTIPLES } from '#core/award/problem.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type AnswerContent, offeredLines } from '#core/source/answer.ts'
import type { ComparedSupplier } from '#core/source/compareAnswers.ts'
import { askedLines, type EventFacts } from '#core/source/event.ts'
import { landedBy, landedTiers, quantityOffered } from '#core/source/landedBy.ts'

/** What an event's answers are, for a plan: unit costs as far as they go with the quantity, everything else as charges. */
export interface EventBids {
  readonly bids: readonly PlanBid[]
  readonly charges: readonly PlanCharge[]
}

/** Digits of unit costs; what is left below them is less than a hundredth of a cent. */
const UNIT_DIGITS = 4
const CENT_DIGITS = 4

/**
 * The bids of an event at landed cost. What is priced for the line or for the whole lot falls due once, however much is awarded, with the insurance and
 * duty on it: it becomes a charge. So a plan that takes part of a line does not pay part of its tooling.
 *
 * @param suppliers those that can be awarded
 */
export function eventBids(event: EventFacts, suppliers: readonly ComparedSupplier[]): EventBids {
  const lines = askedLines(event)
  const bids: PlanBid[] = []
  const charges: PlanCharge[] = []
  for (const { supplierId, answer, rate, costs } of suppliers) {
    if (answer === null || rate === null) continue
    const facts = { kind: event.kind, lots: event.lots, lines, rate, costs }
    const costOf = (own: AnswerContent) => landedBy(facts, own, offeredLines(event, own))
    const whole = costOf(answer)
    const withLines = costOf({ ...answer, lump: withoutLumps(answer.lump) })
    const onlyUnits = costOf({
      ...answer,
      lump: withoutLumps(answer.lump),
      lines: answer.lines.map(line => withoutLines(event, line)),
    })
    const tiers = landedTiers(
      facts,
      { ...answer, lump: withoutLumps(answer.lump) },
      offeredLines(event, answer).map(line => withoutLines(event, line)),
    )
    for (const given of offeredLines(event, answer)) {
      const cost = onlyUnits.get(given.lineId)
      const line = lines.find(one => one.id === given.lineId)
      if (!cost || !line) continue
      const steps = tiers.get(line.id) ?? [{ from: '0', perUnit: cost.perUnit }]
      bids.push({
        lineId: line.id,
        supplierId,
        tiers: steps.map(({ from, perUnit }) => ({ from, unitCost: perUnit.toDecimalPlaces(UNIT_DIGITS).toString() })), // prettier-ignore
        tierPrices: 'allUnits',
        capacity: quantityOffered(line, given),
        minimum: given.minimum,
        ...multipleOf(given.multiple, line.quantity),
        leadDays: given.leadDays,
      })
      const once = withLines.get(line.id)!.total.minus(cost.total)
      if (once.gt(0)) charges.push({ supplierId, lineIds: [line.id], amount: text(once) })
    }
    for (const lot of event.lots) {
      const own = lines.filter(line => line.lotId === lot.id && whole.has(line.id))
      const once = own.reduce(
        (sum, line) => sum.plus(whole.get(line.id)!.total).minus(withLines.get(line.id)!.total),
        new Decimal(0),
      )
      if (once.gt(0)) charges.push({ supplierId, lineIds: own.map(line => line.id), amount: text(once) })
    }
  }
  return { bids, charges }
}

/** A multiple that goes into the line too often to be planned with is left to whoever awards. */
const multipleOf = (multiple: string | undefined, quantity: string): Pick<PlanBid, 'multiple'> =>
  multiple && new Decimal(quantity).div(multiple).lte(MOST_MULTIPLES) ? { multiple } : {}

const text = (amount: Decimal): string => amount.toDecimalPlaces(CENT_DIGITS).toString()

/** At nothing, not gone: who prices the freight of a lot is not reckoned another one. */
const withoutLumps = (lump: AnswerContent['lump']): AnswerContent['lump'] =>
  Object.fromEntries(
    Object.entries(lump).map(([lot, parts]) => [
      lot,
      Object.fromEntries(Object.entries(parts).map(([key, amount]) => [key, amount === '' ? '' : '0'])),
    ]),
  )

const withoutLines = (event: EventFacts, line: AnswerContent['lines'][number]): AnswerContent['lines'][number] => {
  const once = new Set(event.kind.components.filter(one => one.basis === 'perLine').map(one => one.key))
  return {
    ...line,
    components: Object.fromEntries(
      Object.entries(line.components).map(([key, amount]) => [key, once.has(key) && amount !== '' ? '0' : amount]),
    ),
  }
}

/** What the team adds to the bids of a plan, or tries with them. */
export interface PlanTerms {
  readonly suppliers: Readonly<Record<string, Pick<PlanFacts['suppliers'][number], 'charge' | 'rebates' | 'rebateOn'>>>
  /** By line and supplier, with a blank between. */
  readonly bids: Readonly<
    Record<
      string,
      {
        readonly unitCost: string
        readonly capacity: string
        readonly multiple?: string
        readonly tiers: PlanBid['tiers']
        readonly tierPrices: PlanBid['tierPrices']
      }
    >
  >
  readonly bundles: PlanFacts['bundles']
  /** Other quantities than those that are asked for, by line. */
  readonly quantities: Readonly<Record<string, string>>
}
export const NO_TERMS: PlanTerms = { suppliers: {}, bids: {}, bundles: [], quantities: {} }

/** Facts with what the team adds or tries: another unit cost, capacity, multiple, tiers, quantity; rebates, charges and bundles. Empty texts change nothing. */
export function withTerms(facts: PlanFacts, terms: PlanTerms): PlanFacts {
  return {
    ...facts,
    lines: facts.lines.map(line => ({ ...line, quantity: terms.quantities[line.id] || line.quantity })),
    suppliers: facts.suppliers.map(one => ({ ...one, ...terms.suppliers[one.id] })),
    bids: facts.bids.map(bid => {
      const own = terms.bids[`${bid.lineId} ${bid.supplierId}`]
      // who offers all of a line offers it, too, where more is tried
      const line = facts.lines.find(one => one.id === bid.lineId)!
      const tried = terms.quantities[bid.lineId]
      const all = tried && new Decimal(bid.capacity).gte(line.quantity) && new Decimal(tried).gt(bid.capacity)
      const capacity = own?.capacity || (all ? tried : bid.capacity)
      if (!own) return { ...bid, capacity }
      const tiers =
        own.tiers.length > 0 ? own.tiers : own.unitCost === '' ? bid.tiers : [{ from: '0', unitCost: own.unitCost }]
      const multiple = own.multiple ? { multiple: own.multiple } : {}
      return { ...bid, capacity, ...multiple, tiers, tierPrices: own.tierPrices }
    }),
    bundles: [...facts.bundles, ...terms.bundles],
  }
}
