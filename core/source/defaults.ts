/**
 * How far the bills of a supplier are held against: 2 order only, 3 also what came, 4 also what was found good. A line that is not counted is at 2
 * whatever its supplier is; work is accepted at every level.
 */
export const MATCH_LEVELS = ['2', '3', '4'] as const
export type MatchLevel = (typeof MATCH_LEVELS)[number]

/** What can be set once for a supplier, or for one of its locations, and is then taken over by its documents. */
export interface SupplierDefaults {
  readonly currency?: string
  readonly termsDays?: string
  readonly termsFrom?: 'invoice' | 'receipt' | 'endOfMonth'
  readonly payCalendar?: string
  readonly method?: 'creditTransfer' | 'directDebit' | 'card' | 'cheque'
  readonly incoterm?: string
  readonly incotermPlace?: string
  readonly taxCategory?: string
  readonly matchLevel?: MatchLevel
  readonly toleranceProfile?: string
  readonly workBilling?: 'afterAcceptance' | 'direct'
  readonly ordersStopped?: 'yes' | 'no'
  readonly debitOnReturn?: 'yes' | 'no'
  /** Whether we write its bills ourselves, as it agreed to. */
  readonly selfBilling?: 'no' | 'perReceipt' | 'monthly'
  readonly overReceiptPercent?: string
  readonly orderChannel?: OrderChannel
  /** Amounts in the currency of the supplier: the least that it takes, what carrying an order costs, and from which value nothing. */
  readonly minimumOrder?: string
  readonly freight?: string
  readonly freightFrom?: string
  /** Per cent of an order that is paid before anything comes, and of its work that is held back for days after acceptance. */
  readonly prepaidPercent?: string
  readonly retainedPercent?: string
  readonly retainedDays?: string
}
/** How an issued order reaches its supplier: by mail, through the buyer who hands it on, or told by word. */
export const ORDER_CHANNELS = ['mail', 'buyer', 'spoken'] as const
export type OrderChannel = (typeof ORDER_CHANNELS)[number]
export type DefaultKey = keyof SupplierDefaults

export const DEFAULT_KEYS = [
  'currency', 'termsDays', 'termsFrom', 'payCalendar', 'method', 'incoterm', 'incotermPlace', 'taxCategory', 'matchLevel', 'toleranceProfile', 'workBilling', 'ordersStopped', 'debitOnReturn', 'selfBilling', 'overReceiptPercent', 'orderChannel', 'minimumOrder', 'freight', 'freightFrom', 'prepaidPercent', 'retainedPercent', 'retainedDays',
] as const satisfies readonly DefaultKey[] // prettier-ignore

/** Incoterms 2020, International Chamber of Commerce. */
export const INCOTERMS = ['EXW', 'FCA', 'CPT', 'CIP', 'DAP', 'DPU', 'DDP', 'FAS', 'FOB', 'CFR', 'CIF'] as const
/** EN 16931 tax categories (UNCL 5305). */
export const TAX_CATEGORIES = ['S', 'Z', 'E', 'AE', 'K', 'G', 'O'] as const

/** The choices of a default that has a closed list; free text has none. */
export const DEFAULT_CHOICES: Readonly<Partial<Record<DefaultKey, readonly string[]>>> = {
  termsFrom: ['invoice', 'receipt', 'endOfMonth'],
  method: ['creditTransfer', 'directDebit', 'card', 'cheque'],
  incoterm: INCOTERMS,
  taxCategory: TAX_CATEGORIES,
  matchLevel: MATCH_LEVELS,
  workBilling: ['afterAcceptance', 'direct'],
  ordersStopped: ['yes', 'no'],
  debitOnReturn: ['yes', 'no'],
  selfBilling: ['no', 'perReceipt', 'monthly'],
  orderChannel: ORDER_CHANNELS,
  toleranceProfile: ['standard', 'strict'],
  payCalendar: ['weekly', 'twiceMonthly', 'monthly'],
}

/** What the house does when nothing else is said. */
export const HOUSE_DEFAULTS: SupplierDefaults = {
  currency: 'EUR', termsDays: '30', termsFrom: 'invoice', payCalendar: 'weekly', method: 'creditTransfer', taxCategory: 'S', matchLevel: '3', toleranceProfile: 'standard', workBilling: 'afterAcceptance', ordersStopped: 'no', debitOnReturn: 'no', selfBilling: 'no', overReceiptPercent: '0', orderChannel: 'mail',
} // prettier-ignore

export type Level = 'house' | 'supplier' | 'location' | 'document'
export interface EffectiveValue {
  readonly key: DefaultKey
  readonly value: string
  /** Where the value comes from. */
  readonly from: Level
  /** What it would be if that level said nothing. */
  readonly otherwise: string
}

/**
 * Each default with where it comes from: a document's own value wins over the location's, that over the supplier's, that over the house's.
 * An Incoterm and its place belong together: a level that sets the term sets the place too, if only to nothing.
 *
 * effectiveDefaults([['house', { termsDays: '30' }], ['supplier', { termsDays: '14' }]]) //=> [{ key: 'termsDays', value: '14', from: 'supplier', otherwise: '30' }]
 */
export function effectiveDefaults(levels: readonly (readonly [Level, SupplierDefaults])[]): EffectiveValue[] {
  return DEFAULT_KEYS.flatMap(key => {
    const said = levels.filter(([, values]) => says(values, key))
    const last = said.at(-1)
    if (!last) return []
    const before = said.at(-2)
    return [{ key, value: last[1][key] ?? '', from: last[0], otherwise: before?.[1][key] ?? '' }]
  })
}

const says = (values: SupplierDefaults, key: DefaultKey): boolean =>
  key === 'incotermPlace'
    ? values.incoterm !== undefined || values.incotermPlace !== undefined
    : values[key] !== undefined

/** One effective value; empty when no level says anything. */
export const effective = (levels: readonly (readonly [Level, SupplierDefaults])[], key: DefaultKey): string =>
  effectiveDefaults(levels).find(one => one.key === key)?.value ?? ''
