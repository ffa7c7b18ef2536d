/** A supplier that could be asked, with what is known of it. */
export interface ProposalFacts {
  readonly supplierId: string
  readonly name: string
  /** Categories of the event that it is qualified for. */
  readonly categories: readonly string[]
  /** Items of the event that it offers or has sold. */
  readonly offers: number
  /** Orders in the last year and a half with items or categories of the event. */
  readonly orders: number
  readonly lastOrder: string | null
  /** Signals that are good and bad. */
  readonly good: number
  readonly bad: number
  /** Whether it can be dealt with. */
  readonly orderable: boolean
}

export type ProposalReason =
  | { readonly code: 'proposal.category'; readonly details: { readonly categories: string } }
  | { readonly code: 'proposal.offers'; readonly details: { readonly count: number } }
  | { readonly code: 'proposal.orders'; readonly details: { readonly count: number; readonly day: string } }
  | { readonly code: 'proposal.signals'; readonly details: { readonly good: number; readonly bad: number } }

export interface Proposal {
  readonly supplierId: string
  readonly name: string
  readonly reasons: readonly ProposalReason[]
}

/** Who can be asked with reasons, the best founded first: what was bought there weighs most, then offers, then the category; bad signals weigh against. */
export const proposeSuppliers = (known: readonly ProposalFacts[]): Proposal[] =>
  known
    .filter(one => one.orderable && one.categories.length + one.offers + one.orders > 0)
    .map(one => ({ one, weight: weightOf(one) }))
    .sort((a, b) => b.weight - a.weight || (a.one.name < b.one.name ? -1 : 1))
    .map(({ one }) => ({ supplierId: one.supplierId, name: one.name, reasons: reasonsOf(one) }))

const MOST_COUNTED = 10
const weightOf = (one: ProposalFacts): number =>
  3 * Math.min(one.orders, MOST_COUNTED) + 2 * one.offers + one.categories.length + one.good - 2 * one.bad

const reasonsOf = (one: ProposalFacts): ProposalReason[] => [
  ...(one.orders > 0 ? [{ code: 'proposal.orders' as const, details: { count: one.orders, day: one.lastOrder ?? '' } }] : []), // prettier-ignore
  ...(one.offers > 0 ? [{ code: 'proposal.offers' as const, details: { count: one.offers } }] : []),
  ...(one.categories.length > 0
    ? [{ code: 'proposal.category' as const, details: { categories: one.categories.join(', ') } }]
    : []),
  ...(one.good + one.bad > 0 ? [{ code: 'proposal.signals' as const, details: { good: one.good, bad: one.bad } }] : []),
]
