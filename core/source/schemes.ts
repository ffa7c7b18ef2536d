/** Kinds of identifiers: VAT number, number in a company register, GLN (GS1), LEI (ISO 17442), anything else. */
export const IDENTIFIER_SCHEMES = ['vat', 'registration', 'gln', 'lei', 'other'] as const
export type IdentifierScheme = (typeof IDENTIFIER_SCHEMES)[number]

/** Those that belong to one supplier only; sharing one takes a second person's agreement (domain page, section 4). */
export const STRONG_SCHEMES: ReadonlySet<string> = new Set<IdentifierScheme>(['vat', 'gln', 'lei'])
