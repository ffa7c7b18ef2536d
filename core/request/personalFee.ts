import type { LineKind } from '#core/request/kinds.ts'

/** What stands in place of a personal fee's words for those whom it does not concern. */
export const PERSONAL_FEE = 'A personal fee'

/** Who sees whom a fee is for: those with the right to personal data, whoever asked for it, and a supplier's people on their own papers. */
export const seesFee = (
  actor: { readonly id: string; readonly realm: string; readonly rights: ReadonlySet<string> },
  requesterId: string | null,
): boolean => actor.realm === 'supplier' || actor.rights.has('requisition.personal') || actor.id === requesterId

/**
 * The words of a line as somebody sees them: a personal fee's say for whom it is, and are masked wherever they can appear.
 *
 * lineWords({ kind: 'personalFee', description: 'Dr Alma Reyes, talk' }, false) //=> 'A personal fee'
 */
export const lineWords = (line: { readonly kind: LineKind; readonly description: string }, sees: boolean): string =>
  line.kind === 'personalFee' && !sees ? PERSONAL_FEE : line.description

/** The words of a line where it is not known who reads them: in reasons, which stand on Sheets for all. */
export const plainWords = (line: { readonly kind: LineKind; readonly description: string }): string =>
  lineWords(line, false)
