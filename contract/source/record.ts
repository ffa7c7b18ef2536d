import { z } from 'zod'
import { AmountText, Currency, Day, Line, Text, Uuid } from '#contract/fields.ts'
import { DEFAULT_KEYS, INCOTERMS, ORDER_CHANNELS, TAX_CATEGORIES } from '#core/source/defaults.ts'
import { IDENTIFIER_SCHEMES } from '#core/source/schemes.ts'

export const LOCATION_ROLES = ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'] as const
export const CONTACT_ROLES = ['orders', 'invoices', 'payments', 'quality', 'contracts'] as const
export const SIZES = ['', 'one', 'micro', 'small', 'medium', 'large'] as const
export const TAX_STATUSES = ['selfEmployed', 'employed', 'foreign'] as const

export const CountryCode = z.string().regex(/^[A-Z]{2}$/)
export const MailAddress = z.union([z.literal(''), z.email()])
export const IdentifierJson = z.strictObject({ scheme: z.enum(IDENTIFIER_SCHEMES), value: Line })
const Percent = z.string().regex(/^(\d|[1-9]\d|100)$/)
export const DefaultsJson = z.strictObject({
  currency: Currency.optional(),
  termsDays: z
    .string()
    .regex(/^(\d|[1-9]\d|[12]\d\d|3[0-5]\d|36[0-5])$/)
    .optional(),
  termsFrom: z.enum(['invoice', 'receipt', 'endOfMonth']).optional(),
  payCalendar: z.enum(['weekly', 'twiceMonthly', 'monthly']).optional(),
  method: z.enum(['creditTransfer', 'directDebit', 'card', 'cheque']).optional(),
  incoterm: z.enum(INCOTERMS).optional(),
  incotermPlace: Line.optional(),
  taxCategory: z.enum(TAX_CATEGORIES).optional(),
  matchLevel: z.enum(['2', '3', '4']).optional(),
  toleranceProfile: z.enum(['standard', 'strict']).optional(),
  workBilling: z.enum(['afterAcceptance', 'direct']).optional(),
  ordersStopped: z.enum(['yes', 'no']).optional(),
  debitOnReturn: z.enum(['yes', 'no']).optional(),
  selfBilling: z.enum(['no', 'perReceipt', 'monthly']).optional(),
  orderChannel: z.enum(ORDER_CHANNELS).optional(),
  minimumOrder: AmountText.optional(),
  freight: AmountText.optional(),
  freightFrom: AmountText.optional(),
  prepaidPercent: Percent.optional(),
  retainedPercent: Percent.optional(),
  retainedDays: z
    .string()
    .regex(/^\d{1,4}$/)
    .optional(),
  overReceiptPercent: Percent.optional(),
})
export type DefaultsJson = z.output<typeof DefaultsJson>
export const LocationJson = z.strictObject({
  id: Uuid.optional(),
  name: Line,
  street: Line,
  postalCode: Line,
  city: Line,
  country: CountryCode,
  phone: Line,
  roles: z.array(z.enum(LOCATION_ROLES)),
  defaults: DefaultsJson,
})
export const ContactJson = z.strictObject({
  id: Uuid.optional(),
  name: Line,
  email: MailAddress,
  phone: Line,
  language: z.string().regex(/^[a-z]{2}$/),
  roles: z.array(z.enum(CONTACT_ROLES)),
})
export const TaxJson = z.strictObject({
  residence: z.union([z.literal(''), CountryCode]),
  number: Line,
  category: z.union([z.literal(''), z.enum(TAX_CATEGORIES)]),
  note: Text,
})
/** What is kept of a person who is paid a fee; shown only to those who pay and prove. */
export const FeePersonJson = z.strictObject({
  birthDate: z.union([z.literal(''), Day]),
  taxStatus: z.enum(TAX_STATUSES),
  nationalId: Line,
})

export const SupplierBody = z.strictObject({
  name: Line.min(1),
  tradeNames: z.array(Line.min(1)).max(20),
  kind: z.enum(['company', 'person']),
  size: z.enum(SIZES),
  founded: z.int().min(1000).max(2100).nullable(),
  web: Line,
  ourNumber: Line,
  ownerId: Uuid.nullable(),
  categories: z.array(Line).max(40),
  identifiers: z.array(IdentifierJson).max(20),
  locations: z.array(LocationJson).max(100),
  contacts: z.array(ContactJson).max(10_000),
  defaults: DefaultsJson,
  tax: TaxJson,
  person: FeePersonJson.nullable(),
})
export type SupplierBody = z.output<typeof SupplierBody>

export const EffectiveJson = z.strictObject({
  key: z.enum(DEFAULT_KEYS),
  value: z.string(),
  from: z.enum(['house', 'supplier', 'location', 'document']),
  otherwise: z.string(),
})

/** A record with nothing in it, to start a form from. */
export const EMPTY_SUPPLIER: SupplierBody = {
  name: '', tradeNames: [], kind: 'company', size: '', founded: null, web: '', ourNumber: '', ownerId: null, categories: [], identifiers: [], locations: [], contacts: [], defaults: {}, tax: { residence: '', number: '', category: '', note: '' }, person: null,
} // prettier-ignore
