import type { StateTable } from '#core/states.ts'

export type RequisitionState = 'draft' | 'waiting' | 'approved' | 'inPurchasing' | 'ordered' | 'finished' | 'returned' | 'rejected' | 'withdrawn' | 'cancelled'
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
