/** What both sides can agree on: all is paid as billed, the supplier credits, or sends another invoice. */
export const OUTCOMES = ['payAll', 'creditNote', 'newInvoice'] as const
export type Outcome = (typeof OUTCOMES)[number]
/** The two sides of a conversation. */
export type Side = 'house' | 'supplier'

/** An open dispute about an invoice. */
export interface DisputeFacts {
  readonly id: string
  readonly openedBy: string
  /** What one side would agree on, until the other agrees or proposes something else. */
  readonly proposed: { readonly outcome: Outcome; readonly by: Side } | null
  /** Who wrote last, and when. */
  readonly lastBy: Side
  readonly lastAt: string
}
