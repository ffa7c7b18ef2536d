import { compute } from '#server/compute/compute.ts'
import { type Costed, type CostingAsked, costingOf } from '#server/compute/tasks.ts'
import { factsOf, type KnownCosting } from '#server/build/costingStore.ts'

/** Up to so many offers and lines a costing takes no longer than a reading may hold up others; larger ones go to a thread. */
const AT_ONCE = 600

/** What a costing comes to, as it is kept. */
export async function costed(costing: KnownCosting): Promise<Costed> {
  const asked: CostingAsked = { facts: factsOf(costing), settings: costing.row.settings, parts: costing.row.parts }
  const small = asked.facts.offers.length + asked.facts.lines.length <= AT_ONCE && asked.settings.policy !== 'fewest'
  return small ? costingOf(asked) : compute('costingOf', asked)
}
