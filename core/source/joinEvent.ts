import { type Reason, stop } from '#core/reasons.ts'
import { askedLines, type EventFacts, isAsking } from '#core/source/event.ts'
import type { SupplierState } from '#core/source/states.ts'

/** A supplier that looks at an event which nobody invited it to. */
export interface JoiningSupplier {
  readonly supplierId: string
  readonly name: string
  readonly state: SupplierState
  /** What it is qualified for. */
  readonly categories: readonly string[]
}
type Joined = Pick<EventFacts, 'kind' | 'state' | 'endsAt' | 'invited' | 'lines'> & { readonly category: string }

const categoriesOf = (event: Joined): Set<string> =>
  new Set([event.category, ...askedLines(event).map(line => line.category)].filter(one => one !== ''))

/** Whether an event stands open to a supplier: its kind is open to all of the category, it is being asked, and the supplier is active and qualified. */
export const isOpenTo = (event: Joined, one: JoiningSupplier, at: string): boolean =>
  event.kind.open &&
  isAsking(event, at) &&
  one.state === 'active' &&
  [...categoriesOf(event)].some(category => one.categories.includes(category))

/** What stands against taking part uninvited. An event that is not open to the supplier is as if it were not there. */
export const whyNotJoin = (event: Joined, one: JoiningSupplier, at: string): Reason[] => {
  if (!isOpenTo(event, one, at)) return [stop('document.notFound', { kind: 'event' })]
  return event.invited.some(other => other.supplierId === one.supplierId) ? [stop('event.askedAlready')] : []
}
