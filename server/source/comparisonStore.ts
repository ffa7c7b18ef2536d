import { LRUCache } from 'lru-cache'
import type { AnswerContent } from '#core/source/answer.ts'
import { Decimal } from '#core/money/decimal.ts'
import { bidAnswers } from '#core/source/bidAnswers.ts'
import { compareAnswers, type Comparison, type ComparedSupplier } from '#core/source/compareAnswers.ts'
import { answersOpen, isOver, standingOfInvited } from '#core/source/event.ts'
import type { CountryCosts } from '#core/source/landedBy.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { baseRates } from '#server/house/rates.ts'
import { countingAnswers, handedIn } from '#server/source/answerStore.ts'
import { lotStandings } from '#server/source/eventLogStore.ts'
import type { KnownEvent } from '#server/source/eventStore.ts'

/** What an event has to compare: answers that count, or bids that stand. */
export const answersTo = async (call: Read, event: KnownEvent): Promise<Map<string, AnswerContent>> =>
  event.kind.format === 'quotes'
    ? await countingAnswers(call, event)
    : answersOpen(event, call.now)
      ? bidAnswers(event, await lotStandings(call, event))
      : new Map()

/** The day whose rates count: that of the end, or today while it has not come. */
const ratesOn = (call: Read, event: KnownEvent): string => {
  const end = event.endsAt?.slice(0, 10) ?? call.today
  return end < call.today ? end : call.today
}

/** One unit of each currency in that of the event, on the day of its end; null where there is no rate. */
async function ratesOf(call: Read, event: KnownEvent): Promise<{ on: string; rates: Map<string, string | null> }> {
  const on = ratesOn(call, event)
  const currencies = [event.currency, ...event.invited.map(one => one.currency)]
  const base = await baseRates(call, currencies, on)
  const own = base.get(event.currency) ?? null
  return {
    on,
    rates: new Map(
      [...base].map(([currency, rate]) => [
        currency,
        currency === event.currency ? '1' : rate === null || own === null ? null : new Decimal(rate).dividedBy(own).toString(), // prettier-ignore
      ]),
    ),
  }
}

/** Rules of Setup for the countries of goods, and where each supplier ships from. */
interface CostFacts {
  readonly rules: readonly Readonly<Record<string, string>>[]
  readonly countries: Readonly<Record<string, string>>
}
async function costFacts(call: Read, event: KnownEvent): Promise<CostFacts> {
  const entries = await call
    .trx('setupEntries')
    .where({ register: 'countryCosts', open: true })
    .orderBy('id')
    .select('values')
  const places = await call
    .trx('supplierLocations')
    .whereIn(
      'supplierId',
      event.invited.map(one => one.supplierId),
    ) // prettier-ignore
    .orderByRaw("('shipsFrom' = any(roles)) desc, position")
    .select('supplierId', 'country')
  return {
    rules: entries.map(one => one.values),
    countries: Object.fromEntries(places.reverse().map(one => [one.supplierId, one.country])),
  }
}

/** What goods from the countries of suppliers cost beside their price, by Setup: a rule for the category before one for all. */
function costsBy({ rules, countries }: CostFacts): (supplierId: string) => (category: string) => CountryCosts {
  const byCountry = groupBy(rules, one => one.country!)
  return supplierId => category => {
    const known = byCountry.get(countries[supplierId] ?? '') ?? []
    const rule = known.find(one => one.category === category) ?? known.find(one => (one.category ?? '') === '')
    return { freightPercent: rule?.freight ?? '0', dutyPercent: rule?.duty ?? '0' }
  }
}

export interface Compared {
  readonly comparison: Comparison
  readonly suppliers: readonly ComparedSupplier[]
  readonly answers: ReadonlyMap<string, AnswerContent>
  readonly ratesOn: string
}

/** Comparisons that were made last, each with the facts that it was made of: what nothing has changed of is not reckoned again. */
const MOST_KEPT = 12
const made = new LRUCache<string, { readonly facts: string; readonly compared: Compared }>({ max: MOST_KEPT })

/** The answers of an event beside each other. Nothing of a sealed one before its end. */
export async function compared(call: Read, event: KnownEvent): Promise<Compared> {
  const { on, rates } = await ratesOf(call, event)
  const costs = await costFacts(call, event)
  const facts = await factsOf(call, event, { on, rates: [...rates], costs })
  const before = made.get(event.id)
  if (facts !== null && before?.facts === facts) return before.compared
  const answers = await answersTo(call, event)
  const over = isOver(event, call.now)
  const costOf = costsBy(costs)
  const suppliers = event.invited.map((one): ComparedSupplier => {
    const answer = answers.get(one.supplierId) ?? null
    const standing = standingOfInvited(one, over)
    return {
      supplierId: one.supplierId,
      name: one.name,
      // a bid that stands is an answer
      standing: event.kind.format === 'auction' && answer !== null && standing !== 'suspended' ? 'answered' : standing,
      onBehalf: one.onBehalf,
      answer,
      rate: answer === null ? null : (rates.get(answer.currency) ?? null),
      costs: costOf(one.supplierId),
    }
  })
  const all = { comparison: compareAnswers(event, suppliers), suppliers, answers, ratesOn: on }
  if (facts !== null) made.set(event.id, { facts, compared: all })
  return all
}

/** Everything that a comparison of answers depends on, as one text: an answer that was handed in is never changed. Bids change all the time: none. */
async function factsOf(call: Read, event: KnownEvent, beside: object): Promise<string | null> {
  if (event.kind.format === 'auction') return null
  const answers = await handedIn(call, event).select('id', 'state')
  const over = isOver(event, call.now)
  const invited = event.invited.map(one => [one.supplierId, one.name, one.onBehalf, standingOfInvited(one, over)])
  const { kindRow, row, lots, lines, currency } = event
  const open = answersOpen(event, call.now)
  return JSON.stringify([kindRow.id, row.criteria, row.formula, row.landed, currency, lots, lines, invited, open, answers, beside]) // prettier-ignore
}

/** Landed cost of what all answered in common, by supplier. */
export async function comparedCosts(call: Read, event: KnownEvent): Promise<Map<string, Decimal>> {
  const { comparison } = await compared(call, event)
  return new Map(comparison.totals.flatMap(one => (one.common === null ? [] : [[one.supplierId, one.common] as const])))
}

/** Who scores an event, and whether they are done. */
export const scorersOf = async (
  call: Read,
  eventId: string,
): Promise<{ personId: string; name: string; done: boolean }[]> =>
  await call
    .trx('eventScorers')
    .join('people', 'people.id', 'eventScorers.personId')
    .where({ eventId })
    .orderBy('people.name')
    .select<{ personId: string; name: string; done: boolean }[]>('personId', 'people.name', call.trx.raw('done_at is not null as done')) // prettier-ignore
