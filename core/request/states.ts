import { Decimal } from '#core/money/decimal.ts'
import type { StateTable } from '#core/states.ts'

export type RequisitionState =
  | 'draft'
  | 'waiting'
  | 'approved'
  | 'inPurchasing'
  | 'ordered'
  | 'finished'
  | 'returned'
  | 'rejected'
  | 'withdrawn'
  | 'cancelled'
export type RequisitionAction = 'submit' | 'approve' | 'return' | 'reject' | 'withdraw' | 'change' | 'cancel' | 'reopen'

/** What people do to a requisition; `change` takes it back to be edited and submitted anew, `withdraw` because it is not wanted now. How far purchasing has come (`inPurchasing` … `finished`) follows from its lines: see headState. */
export const REQUISITION_STATES: StateTable<RequisitionState, RequisitionAction> = {
  draft: { submit: 'waiting', cancel: 'cancelled' },
  returned: { submit: 'waiting', cancel: 'cancelled' },
  waiting: { approve: 'approved', return: 'returned', reject: 'rejected', withdraw: 'withdrawn', change: 'draft' },
  approved: { withdraw: 'withdrawn', change: 'draft', return: 'returned' },
  inPurchasing: {},
  ordered: {},
  finished: {},
  rejected: { reopen: 'draft' },
  withdrawn: { reopen: 'draft', cancel: 'cancelled' },
  cancelled: {},
}

/** A line's own state; a line is `bought` when nothing is left to order and `done` when it is proven and billed. */
export type LineState = 'open' | 'toBuy' | 'onDraftOrder' | 'bought' | 'done' | 'cancelled'

export const LINE_STATES = [
  'open',
  'toBuy',
  'onDraftOrder',
  'bought',
  'done',
  'cancelled',
] as const satisfies readonly LineState[]
/** Line states in which purchasing is at work. */
export const BEING_BOUGHT: readonly LineState[] = ['onDraftOrder', 'bought', 'done']
/** Line states in which nothing is left to order. */
export const ALL_BOUGHT: readonly LineState[] = ['bought', 'done']

/** Groups of states by what they mean for the work. */
export const REQUISITION_GROUPS = {
  /** The requester's own: nobody else has it. */
  drafts: ['draft', 'returned'],
  /** Counted in ledgers: something is requested on it. */
  counted: ['waiting', 'approved', 'inPurchasing', 'ordered', 'finished'],
  /** Decided in its favour. */
  decided: ['approved', 'inPurchasing', 'ordered', 'finished'],
  /** Those who decide have it. */
  deciding: ['waiting'],
  /** It came back to the requester. */
  cameBack: ['returned', 'rejected'],
  /** Somebody may still do something with it. */
  open: ['draft', 'returned', 'waiting', 'approved', 'inPurchasing', 'ordered'],
} as const satisfies Readonly<Record<string, readonly RequisitionState[]>>

/** What a line's orders say of it. */
export interface LineProgress {
  readonly state: LineState
  /** Requested less ordered. */
  readonly toOrder: string
  readonly ordered: string
  /** It is on an order that is not issued yet. */
  readonly drafted: boolean
  /** Each of its order lines that count: whether it is settled. */
  readonly settled: readonly boolean[]
}

/**
 * A line's own state after something happened to its orders: on a draft order, still to buy, bought, or done when every order line of it is
 * settled. A line that nobody approved yet, or that was cancelled, stays as it is.
 */
export function lineState(line: LineProgress): LineState {
  if (line.state === 'cancelled' || line.state === 'open') return line.state
  if (line.drafted) return 'onDraftOrder'
  if (new Decimal(line.toOrder).gt(0)) return 'toBuy'
  return new Decimal(line.ordered).gt(0) && line.settled.length > 0 && line.settled.every(Boolean) ? 'done' : 'bought'
}

/**
 * The head shows the least advanced open line (domain page, section 3). Cancelled lines do not count unless all are.
 *
 * headState(['bought', 'toBuy']) //=> 'inPurchasing'
 */
export function headState(lines: readonly LineState[]): RequisitionState {
  const live = lines.filter(state => state !== 'cancelled')
  if (live.length === 0) return 'cancelled'
  if (live.every(state => state === 'done')) return 'finished'
  if (live.every(state => state === 'done' || state === 'bought')) return 'ordered'
  return live.every(state => state === 'toBuy') ? 'approved' : 'inPurchasing'
}
