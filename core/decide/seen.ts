import { canonicalJson } from '#core/ledger/canonical.ts'

/** What somebody who decides a request has in front of them. */
export interface SeenRequest {
  readonly title: string
  readonly reason: string
  /** In the base currency's smallest unit, as text. */
  readonly total: string
  readonly lines: readonly unknown[]
}

/**
 * The content that a decision was about, in one text whose SHA-256 is kept with it: the same content gives the same text, whatever the order
 * of its fields.
 */
export const seenText = ({ title, reason, total, lines }: SeenRequest): string =>
  canonicalJson({ title, reason, total, lines })
