import { type DocumentKind, documentKind, NUMBERED_KINDS } from '#core/documents/kinds.ts'

/** How the numbers of a kind of document are written. */
export interface NumberRange {
  readonly prefix: string
  /** Digits at least, filled up with noughts; 0 for as many as it takes. */
  readonly digits: number
}

/** How a kind is numbered where a house says nothing else: its letter and a hyphen. */
export const plainRange = (kind: DocumentKind): NumberRange => ({ prefix: `${documentKind(kind).letter}-`, digits: 0 })

/**
 * A number as it stands on the document.
 *
 * numberText({ prefix: 'PO-', digits: 6 }, '4034') //=> 'PO-004034'
 */
export const numberText = ({ prefix, digits }: NumberRange, next: string): string =>
  `${prefix}${next.padStart(digits, '0')}`

/** Kinds whose plain numbers begin with a prefix. kindsWithPrefix('O-') //=> ['order'] */
export const kindsWithPrefix = (prefix: string): DocumentKind[] =>
  NUMBERED_KINDS.filter(kind => plainRange(kind).prefix === prefix)

const LOOKS_LIKE_ONE = /^(?:[a-z][a-z0-9]{0,6}?\s*-?\s*)?\d{2,9}$/i
const squeezed = (text: string): string => text.toUpperCase().replace(/[\s-]/g, '')

/**
 * What a text can mean that looks like a document number: small letters count, hyphen, blanks and noughts in front may be left out; without its
 * beginning it may be of any kind. `ranges` are the house's own beside the plain ones. What begins like none of them may have been numbered
 * under a beginning that the house has given up: it is then meant as it stands.
 *
 * readNumbers('o 4001', []) //=> [{ kind: 'order', number: 'O-4001' }]
 */
export function readNumbers(
  text: string,
  ranges: readonly (NumberRange & { readonly kind: DocumentKind })[],
): { kind: DocumentKind; number: string }[] {
  if (!LOOKS_LIKE_ONE.test(text.trim())) return []
  const typed = squeezed(text)
  const meant = NUMBERED_KINDS.flatMap(kind =>
    [plainRange(kind), ...ranges.filter(one => one.kind === kind)].flatMap(range => {
      const beginning = squeezed(range.prefix)
      const digits = typed.startsWith(beginning) ? typed.slice(beginning.length) : typed
      return /^\d{2,9}$/.test(digits) ? [{ kind, number: numberText(range, digits.replace(/^0+(?=\d)/, '')) }] : []
    }),
  )
  if (meant.length > 0) return meant
  return NUMBERED_KINDS.map(kind => ({ kind, number: text.trim().toUpperCase() }))
}
