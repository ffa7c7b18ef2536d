import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Currency, Done, GivenReason, Line, SheetFrame, Stamp, Uuid, Version } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { defineList } from '#contract/list.ts'
import { IDENTIFIER_SCHEMES } from '#core/source/identifiers.ts'

export const LOCATION_ROLES = ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'] as const
export const CONTACT_ROLES = ['orders', 'invoices', 'payments', 'quality'] as const

export const IdentifierJson = z.strictObject({ scheme: z.enum(IDENTIFIER_SCHEMES), value: Line })
export const LocationJson = z.strictObject({
  id: Uuid.optional(),
  name: Line,
  street: Line,
  postalCode: Line,
  city: Line,
  country: z.string().regex(/^[A-Z]{2}$/),
  roles: z.array(z.enum(LOCATION_ROLES)),
})
export const ContactJson = z.strictObject({ id: Uuid.optional(), name: Line, email: z.union([z.literal(''), z.email()]), phone: Line, roles: z.array(z.enum(CONTACT_ROLES)) })
export const TermsJson = z.strictObject({ days: z.int().min(0).max(365), from: z.enum(['invoice', 'receipt', 'endOfMonth']) })

export const SupplierBody = z.strictObject({
  name: Line.min(1),
  kind: z.enum(['company', 'person']),
  currency: Currency,
  terms: TermsJson,
  overReceiptPercent: z.int().min(0).max(100),
  categories: z.array(Line).max(40),
  identifiers: z.array(IdentifierJson).max(20),
  locations: z.array(LocationJson).max(100),
  contacts: z.array(ContactJson).max(10_000),
})
export type SupplierBody = z.output<typeof SupplierBody>

export const BankAccountJson = z.strictObject({
  id: Uuid,
  iban: z.string(),
  bic: z.string(),
  holder: z.string(),
  state: z.enum(['unproven', 'proven', 'closed']),
  changedBy: z.string(),
  changedAt: Stamp,
  provenBy: z.string().nullable(),
  proof: z.string().nullable(),
})
export const SupplierSheet = SheetFrame.extend({
  supplier: SupplierBody,
  bankAccounts: z.array(BankAccountJson),
  figures: z.strictObject({ openOrders: z.int(), openValue: z.string(), lastOrder: z.string().nullable(), openInvoices: z.int(), currency: z.string() }),
  orders: z.array(z.strictObject({ id: Uuid, number: z.string(), title: z.string(), state: z.string(), amount: z.string(), currency: z.string() })),
})

export const Suppliers = defineList('suppliers', '/suppliers', 'supplier.read')
export const ReadSupplier = defineEndpoint({ name: 'supplier.read', method: 'get', path: '/suppliers/:id', permission: 'supplier.read', params: ById, response: SupplierSheet })
/** Shown while a name or number is typed, so that nobody makes a second record. */
export const SimilarSuppliers = defineEndpoint({
  name: 'supplier.similar',
  method: 'get',
  path: '/suppliers-similar',
  permission: 'supplier.read',
  query: z.strictObject({ name: Line }),
  response: z.strictObject({ similar: z.array(z.strictObject({ id: Uuid, number: z.string(), name: z.string(), city: z.string(), country: z.string(), likeness: z.int() })) }),
})
export const CreateSupplier = defineEndpoint({ name: 'supplier.create', method: 'post', path: '/suppliers', permission: 'supplier.write', body: SupplierBody, response: Done })
export const ChangeSupplier = defineEndpoint({
  name: 'supplier.change',
  method: 'put',
  path: '/suppliers/:id',
  permission: 'supplier.write',
  params: ById,
  body: SupplierBody.extend({ version: Version }),
  response: Done,
})
export const ActOnSupplier = defineEndpoint({
  name: 'supplier.act',
  method: 'post',
  path: '/suppliers/:id/state',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({ version: Version, action: z.enum(['pause', 'resume', 'bar', 'close', 'reopen']), reason: GivenReason }),
  response: Done,
})
export const SetBankAccount = defineEndpoint({
  name: 'supplier.bankAccount',
  method: 'post',
  path: '/suppliers/:id/bank-accounts',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({ version: Version, iban: Line, bic: z.string().regex(/^([A-Z]{6}[A-Z0-9]{2}([A-Z0-9]{3})?)?$/), holder: Line.min(1) }),
  response: Done,
})
export const ProveBankAccount = defineEndpoint({
  name: 'supplier.proveAccount',
  method: 'post',
  path: '/suppliers/:id/bank-accounts/:accountId/proof',
  permission: 'supplier.prove',
  params: z.strictObject({ id: Uuid, accountId: Uuid }),
  body: z.strictObject({ version: Version, proof: GivenReason }),
  response: Done,
})
export const ImportSuppliers = defineEndpoint({
  name: 'supplier.import',
  method: 'post',
  path: '/suppliers-import',
  permission: 'supplier.write',
  body: ImportBody,
  response: ImportResult,
})
