import type { BudgetEntry } from '#core/ledger/budget.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { checks, type Reason, stop, stops } from '#core/reasons.ts'

/** Who is told: a person, or those at a supplier who get this kind of message. */
export type Addressee =
  | { readonly kind: 'person'; readonly id: string }
  | { readonly kind: 'supplier'; readonly id: string; readonly message: SupplierMessage }

/** What a supplier's people can be told about; each address says which of these it wants. */
export const SUPPLIER_MESSAGES = ['orders', 'invoices', 'payments', 'certificates', 'company'] as const
export type SupplierMessage = (typeof SUPPLIER_MESSAGES)[number]

/** A revision of an order, as a document. */
export interface RevisionAttached {
  readonly orderId: string
  readonly revision: number
  /** The order is cancelled, and why. */
  readonly cancelled?: string
}

/** Something that somebody is told because of an act: a template and what fills it. The words are in contract/messages. */
export interface Message {
  readonly template: string
  readonly to: Addressee
  /** Says what it is once and for all: the same key is never sent twice. */
  readonly key: string
  readonly details: Readonly<Record<string, string | number>>
  /** Revisions of orders that go along as documents. */
  readonly attach?: RevisionAttached | readonly RevisionAttached[]
  /** Before the @ of the address to which an answer goes, where a mail can be answered. */
  readonly answerTo?: string
}

/** What goes into the document's history. */
export interface Deed {
  readonly action: string
  readonly changes: Readonly<Record<string, unknown>>
  readonly reason: string | null
}

/** An act that can be done: what follows from it, as data. Nothing has happened yet. */
export interface Done<Next> {
  readonly ok: true
  readonly next: Next
  readonly quantity: readonly QuantityEntry[]
  readonly budget: readonly BudgetEntry[]
  readonly says: readonly Message[]
  readonly did: Deed
}

/** An act that cannot be done, and why. `keep` is stored although the act is refused. */
export interface Refused<Keep = never> {
  readonly ok: false
  readonly reasons: readonly Reason[]
  readonly keep?: Keep
}

/** What follows from an act, or why it cannot be done. The Sheet shows it, the service obeys it. */
export type Decision<Next, Keep = never> = Done<Next> | Refused<Keep>

type Follows = Partial<Pick<Done<unknown>, 'quantity' | 'budget' | 'says'>>

/** done({ state: 'closed' }, { action: 'close', reason: 'All in.' }, { budget: [] }) */
export function done<Next>(
  next: Next,
  did: { action: string; changes?: Deed['changes']; reason?: string | null },
  follows: Follows = {},
): Done<Next> {
  return {
    ok: true,
    next,
    quantity: follows.quantity ?? [],
    budget: follows.budget ?? [],
    says: follows.says ?? [],
    did: { action: did.action, changes: did.changes ?? {}, reason: did.reason || null },
  }
}

export const refused = (reasons: readonly Reason[]): Refused => ({ ok: false, reasons })

/** Letters of a reason that count as one: fewer say nothing. */
const SHORTEST_REASON = 3
export const saysWhy = (reason: string | null | undefined): boolean => (reason ?? '').trim().length >= SHORTEST_REASON

/**
 * What stands in the way of an act: everything that stops, else what has to be looked at and has no reason yet. With the reason given,
 * checks no longer stand in the way and are recorded with it.
 *
 * obstacles([check('receive.over')], '', stop('receive.wantsReason')) //=> [receive.wantsReason, receive.over]
 */
export function obstacles(reasons: readonly Reason[], given: string | null | undefined, ask: Reason): Reason[] {
  const stopping = stops(reasons)
  if (stopping.length > 0) return stopping
  const asking = checks(reasons)
  return asking.length > 0 && !saysWhy(given) ? [ask, ...asking] : []
}

/** Something that could be done with a document: now, or why not. */
export interface Action {
  readonly action: string
  /** What most people come for. */
  readonly primary: boolean
  readonly reasons: readonly Reason[]
}

export const action = (name: string, reasons: readonly Reason[], primary = false): Action => ({
  action: name,
  primary,
  reasons: stops(reasons),
})

/** The answer to somebody whose rights do not reach. */
export const NOT_YOURS: Reason = stop('right.notYours')
