import type { SeenContent } from '#core/decide/changes.ts'
import { canonicalJson } from '#core/ledger/canonical.ts'

/**
 * The content that a decision was about, in one text whose SHA-256 is kept with it: the same content gives the same text, whatever the order
 * of its fields.
 */
export const seenText = ({ title, reason, total, lines }: SeenContent): string =>
  canonicalJson({ title, reason, total, lines })
