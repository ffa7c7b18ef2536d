/** Whom a share is about: one supplier, some by name, or all of a country. */
export type Whom =
  | { readonly kind: 'suppliers'; readonly supplierIds: readonly string[] }
  | { readonly kind: 'country'; readonly country: string }

/** What a wish asks for. Shares in per cent of the goods, amounts in the currency of the plan, both as decimals; empty where there is no limit. */
export type WishText =
  | { readonly kind: 'mostSuppliers'; readonly count: number }
  | {
      readonly kind: 'share'
      readonly whom: Whom
      readonly in: 'percent' | 'amount'
      readonly least: string
      readonly most: string
    }
  | { readonly kind: 'oneSupplier'; readonly lineIds: readonly string[] }
  | { readonly kind: 'keepIncumbent'; readonly lineIds: readonly string[] }
  | { readonly kind: 'shareLine'; readonly lineIds: readonly string[]; readonly most: string }
  | { readonly kind: 'twoSuppliers'; readonly lineIds: readonly string[] }
  | { readonly kind: 'scoreAtLeast'; readonly score: string }
  | { readonly kind: 'deliveredWithin'; readonly days: number }
  | { readonly kind: 'nobodyNew'; readonly unlessScore: string }
  | { readonly kind: 'without'; readonly supplierId: string }

export const WISH_KINDS = [
  'mostSuppliers',
  'share',
  'oneSupplier',
  'keepIncumbent',
  'shareLine',
  'twoSuppliers',
  'scoreAtLeast',
  'deliveredWithin',
  'nobodyNew',
  'without',
] as const

/** A wish of the team. What must be is kept whatever it costs; what is only wished is kept as long as that costs no more than it is worth. */
export interface Wish {
  readonly id: string
  readonly must: boolean
  /** What keeping it may cost: an amount, or per cent of the cost of the plan; empty: it is kept wherever it can be. */
  readonly worth: string
  readonly worthIn: 'amount' | 'percent'
  readonly what: WishText
}
