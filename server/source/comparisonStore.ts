import type { AnswerContent } from '#core/source/answer.ts'
import { Decimal } from '#core/money/decimal.ts'
import { bidAnswers } from '#core/source/bidAnswers.ts'
import { compareAnswers, type Comparison, type ComparedSupplier } from '#core/source/compareAnswers.ts'
import { answersOpen, isOver, standingOfInvited } from '#core/source/event.ts'
import type { CountryCosts } from '#core/source/landedBy.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { baseRates } from '#server/house/rates.ts'
import { countingAnswers } from '#server/source/answerStore.ts'
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

/** What goods from the countries of suppliers cost beside their price, by Setup: a rule for the category before one for all. */
async function costsOf(
  call: Read,
  event: KnownEvent,
): Promise<(supplierId: string) => (category: string) => CountryCosts> {
  const entries = await call.trx('setupEntries').where({ register: 'countryCosts', open: true }).select('values')
  const byCountry = groupBy(
    entries.map(one => one.values),
    one => one.country!,
  )
  const places = await call
    .trx('supplierLocations')
    .whereIn(
      'supplierId',
      event.invited.map(one => one.supplierId),
    ) // prettier-ignore
    .orderByRaw("('shipsFrom' = any(roles)) desc, position")
    .select('supplierId', 'country')
  const country = new Map(places.reverse().map(one => [one.supplierId, one.country]))
  return supplierId => category => {
    const known = byCountry.get(country.get(supplierId) ?? '') ?? []
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

/** The answers of an event beside each other. Nothing of a sealed one before its end. */
export async function compared(call: Read, event: KnownEvent): Promise<Compared> {
  const answers = await answersTo(call, event)
  const { on, rates } = await ratesOf(call, event)
  const costs = await costsOf(call, event)
  const over = isOver(event, call.now)
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
      costs: costs(one.supplierId),
    }
  })
  return { comparison: compareAnswers(event, suppliers), suppliers, answers, ratesOn: on }
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
