import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, DecimalText, Done, Line, SheetFrame, Text, Uuid, Version } from '#contract/fields.ts'
import { DisputeJson } from '#contract/bill/disputes.ts'
import { defineList } from '#contract/lists/list.ts'
import { CREDIT_WAYS } from '#core/bill/creditFacts.ts'

/** In what an invoice or a credit note is given out: as a PDF with the data in it, or as data in either syntax of EN 16931. */
export const INVOICE_FORMS = ['pdf', 'ubl', 'cii'] as const

/** A credit note as it is written: lines of its invoice by quantity or by price. */
export const CreditBody = z.strictObject({
  number: Line,
  issueDate: Day,
  reason: Text,
  charges: AmountText,
  lines: z
    .array(
      z.strictObject({ of: z.int().min(1), way: z.enum(CREDIT_WAYS), quantity: DecimalText, priceOff: DecimalText }),
    )
    .max(1000),
})
export const CreditLineJson = z.strictObject({
  position: z.int(),
  of: z.int(),
  description: z.string(),
  way: z.string(),
  quantity: DecimalText,
  unit: z.string(),
  price: DecimalText,
  priceBase: DecimalText,
  net: AmountText,
  tax: z.string(),
})
/** A line of an invoice with what of it may still be credited. */
export const CreditableJson = z.strictObject({
  of: z.int(),
  description: z.string(),
  quantity: DecimalText,
  unit: z.string(),
  price: DecimalText,
  priceBase: DecimalText,
  net: AmountText,
  leftQuantity: DecimalText,
  leftNet: AmountText,
})
export const CreditSheet = SheetFrame.extend({
  issuer: z.string(),
  source: z.string(),
  supplier: z.string(),
  supplierPath: z.string(),
  supplierNumber: z.string(),
  invoiceNumber: z.string(),
  invoicePath: z.string(),
  currency: z.string(),
  issueDate: z.string(),
  reason: z.string(),
  charges: AmountText,
  net: AmountText,
  tax: AmountText,
  gross: AmountText,
  taxes: z.array(z.strictObject({ category: z.string(), rate: z.string(), taxable: z.string(), tax: z.string() })),
  lines: z.array(CreditLineJson),
  /** What of it is set off, and against what. */
  setOff: AmountText,
  setOffs: z.array(z.strictObject({ number: z.string(), path: z.string(), amount: AmountText })),
  fileId: Uuid.nullable(),
})
export const Credits = defineList('credits', '/credits', 'invoice.read', ['creditNote'])
export const ReadCredit = defineEndpoint({
  name: 'credit.read',
  method: 'get',
  path: '/credits/:id',
  permission: 'invoice.read',
  params: ById,
  response: CreditSheet,
})
export const ReadCreditable = defineEndpoint({
  name: 'credit.creditable',
  method: 'get',
  path: '/invoices/:id/creditable',
  permission: 'invoice.read',
  params: ById,
  response: z.strictObject({
    currency: z.string(),
    chargesLeft: AmountText,
    grossLeft: AmountText,
    lines: z.array(CreditableJson),
  }),
})
/** We write a debit note: what it takes away is not paid. It posts with its invoice, or at once where that is in the books. */
export const WriteDebit = defineEndpoint({
  name: 'credit.debit',
  method: 'post',
  path: '/invoices/:id/debit-note',
  permission: 'hold.clear',
  params: ById,
  body: z.strictObject({ version: Version, note: CreditBody }),
  response: Done.extend({ number: z.string(), state: z.string() }),
})
export const ActOnCredit = defineEndpoint({
  name: 'credit.act',
  method: 'post',
  path: '/credits/:id/act',
  permission: 'invoice.write',
  params: ById,
  body: z.strictObject({ version: Version, action: z.enum(['post', 'reject', 'withdraw', 'void']), reason: Text }),
  response: Done,
})
export const CreditFile = defineEndpoint({
  name: 'credit.file',
  method: 'get',
  path: '/credits/:id/file',
  permission: 'invoice.read',
  params: ById,
  query: z.strictObject({ form: z.enum(INVOICE_FORMS) }),
  answers: 'file',
})

/** An invoice that was made here, by the supplier on its pages or by us in its name: to print, or as data. */
export const InvoiceDocument = defineEndpoint({
  name: 'invoice.document',
  method: 'get',
  path: '/invoices/:id/document',
  permission: 'invoice.read',
  params: ById,
  query: z.strictObject({ form: z.enum(INVOICE_FORMS) }),
  answers: 'file',
})
export const SupplierInvoiceDocument = defineEndpoint({
  name: 'supplierPages.invoiceDocument',
  method: 'get',
  path: '/supplier-pages/invoices/:id/document',
  permission: 'supplierPages.bill',
  params: ById,
  query: z.strictObject({ form: z.enum(INVOICE_FORMS) }),
  answers: 'file',
})

/** What a supplier sees of one of its own invoices. */
export const OwnInvoiceJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  issueDate: z.string(),
  state: z.string(),
  gross: AmountText,
  currency: z.string(),
  dueOn: z.string().nullable(),
  order: z.string(),
})
export const SupplierInvoices = defineEndpoint({
  name: 'supplierPages.invoices',
  method: 'get',
  path: '/supplier-pages/invoices',
  permission: 'supplierPages.bill',
  query: z.strictObject({ search: Line.optional() }),
  response: z.strictObject({ invoices: z.array(OwnInvoiceJson), more: z.boolean() }),
})
/** One of its invoices: why it stands where it stands, when the money comes, and its credit notes. */
export const SupplierInvoiceSheet = defineEndpoint({
  name: 'supplierPages.invoiceSheet',
  method: 'get',
  path: '/supplier-pages/invoices/:id',
  permission: 'supplierPages.bill',
  params: ById,
  response: OwnInvoiceJson.extend({
    ours: z.string(),
    /** Made here: it can be printed and given out as data. */
    madeHere: z.boolean(),
    version: z.int(),
    payable: AmountText,
    setOff: AmountText,
    /** The day on which it is likely paid; null where that cannot be said yet. */
    payDay: z.string().nullable(),
    /** Why it waits, each in words for the supplier. */
    waits: z.array(
      z.strictObject({ code: z.string(), details: z.record(z.string(), z.union([z.string(), z.number()])) }),
    ),
    disputes: z.array(DisputeJson),
    mayCredit: z.boolean(),
    chargesLeft: AmountText,
    lines: z.array(CreditableJson),
    credits: z.array(
      z.strictObject({
        id: Uuid,
        version: z.int(),
        number: z.string(),
        theirs: z.string(),
        issuer: z.string(),
        state: z.string(),
        issueDate: z.string(),
        reason: z.string(),
        charges: AmountText,
        net: AmountText,
        tax: AmountText,
        gross: AmountText,
        setOff: AmountText,
        lines: z.array(CreditLineJson),
        /** It is the supplier's own, and may be written on or taken back. */
        mayWrite: z.boolean(),
        mayWithdraw: z.boolean(),
      }),
    ),
  }),
})
/** Writes a credit note on, or hands it in. */
export const SupplierCredit = defineEndpoint({
  name: 'supplierPages.credit',
  method: 'post',
  path: '/supplier-pages/invoices/:id/credit',
  permission: 'supplierPages.bill',
  params: ById,
  body: z.strictObject({
    creditId: Uuid.nullable(),
    version: Version.nullable(),
    send: z.boolean(),
    note: CreditBody,
    fileIds: z.array(Uuid).max(10),
  }),
  response: Done.extend({ number: z.string(), state: z.string(), gross: AmountText }),
})
export const WithdrawSupplierCredit = defineEndpoint({
  name: 'supplierPages.withdrawCredit',
  method: 'post',
  path: '/supplier-pages/credits/:id/withdraw',
  permission: 'supplierPages.bill',
  params: ById,
  body: z.strictObject({ version: Version, reason: Text }),
  response: Done,
})
/** Its own credit note, or a debit note of ours, as an invoice file: to print, or as data. */
export const SupplierCreditFile = defineEndpoint({
  name: 'supplierPages.creditFile',
  method: 'get',
  path: '/supplier-pages/credits/:id/file',
  permission: 'supplierPages.bill',
  params: ById,
  query: z.strictObject({ form: z.enum(INVOICE_FORMS) }),
  answers: 'file',
})
