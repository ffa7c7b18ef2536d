import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Day,
  DecimalText,
  Done,
  GaugeJson,
  GivenReason,
  Line,
  ReasonJson,
  Revision,
  SheetFrame,
  Stamp,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { DisputeJson } from '#contract/bill/disputes.ts'
import { defineList } from '#contract/lists/list.ts'

export const HoldJson = z.strictObject({
  id: Uuid,
  position: z.int().nullable(),
  kind: z.string(),
  quantity: DecimalText,
  unit: z.string(),
  amount: AmountText,
  clearedBy: z.string(),
  clearers: z.array(z.string()),
  openedAt: Stamp,
  /** Who hears of it next if nobody clears it, and after how many working hours in all. */
  next: z.strictObject({ role: z.string(), hours: z.int() }).nullable(),
  /** The order whose revision would end it, where this person may see it. */
  order: z.strictObject({ number: z.string(), path: z.string() }).nullable(),
  mayClear: z.boolean(),
  /** What a debit note over it would take off; null where none mends it, or it is not this person's to write. */
  debit: z
    .strictObject({
      charges: AmountText,
      lines: z.array(z.strictObject({ of: z.int(), way: z.string(), quantity: DecimalText, priceOff: DecimalText })),
    })
    .nullable(),
  /** The question whether it may be accepted, while it is open or was refused last. */
  asked: z
    .strictObject({
      state: z.string(),
      askedBy: z.string(),
      reason: z.string(),
      waitsFor: z.array(z.string()),
      refusedBy: z.string(),
      refusedReason: z.string(),
      mayDecide: z.boolean(),
      mayWithdraw: z.boolean(),
    })
    .nullable(),
  endedAt: Stamp.nullable(),
  endedBy: z.string().nullable(),
  endReason: z.string().nullable(),
})
export const InvoiceSheet = SheetFrame.extend({
  supplier: z.string(),
  supplierPath: z.string(),
  supplierNumber: z.string(),
  source: z.string(),
  currency: z.string(),
  issueDate: z.string(),
  dueOn: z.string().nullable(),
  net: AmountText,
  charges: AmountText,
  tax: AmountText,
  gross: AmountText,
  prepaid: AmountText,
  rounding: AmountText,
  payable: AmountText,
  /** Credits that were set off against it, and all credit and debit notes of it. */
  setOff: AmountText,
  /** What is still to be paid, or was: payable less what is set off. */
  open: AmountText,
  credits: z.array(
    z.strictObject({
      id: Uuid,
      number: z.string(),
      theirs: z.string(),
      issuer: z.string(),
      state: z.string(),
      gross: AmountText,
      reason: z.string(),
      path: z.string(),
    }),
  ),
  /** The order that was written for it afterwards, because nobody had ordered. */
  written: z.strictObject({ number: z.string(), state: z.string(), path: z.string().nullable(), waitsFor: z.array(z.string()), refused: z.boolean() }).nullable(), // prettier-ignore
  mayCode: z.boolean(),
  disputes: z.array(DisputeJson),
  mayDispute: z.boolean(),
  mayDebit: z.boolean(),
  /** Whom it is addressed to, where it says so. */
  addressedTo: z.string(),
  /** The account that it asks to be paid to. */
  askedAccount: z.string(),
  account: z.strictObject({ iban: z.string(), state: z.string() }).nullable(),
  lines: z.array(
    z.strictObject({
      id: Uuid,
      position: z.int(),
      description: z.string(),
      quantity: DecimalText,
      unit: z.string(),
      price: DecimalText,
      priceBase: DecimalText,
      net: AmountText,
      tax: z.string(),
      orderLineId: Uuid.nullable(),
      orderNumber: z.string().nullable(),
      orderPath: z.string().nullable(),
      orderPosition: z.int().nullable(),
      orderPrice: z.string().nullable(),
      gauge: GaugeJson.nullable(),
    }),
  ),
  taxes: z.array(z.strictObject({ category: z.string(), rate: z.string(), taxable: z.string(), tax: z.string() })),
  holds: z.array(HoldJson),
  linkable: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  fileId: Uuid.nullable(),
})
export const Invoices = defineList('invoices', '/invoices', 'invoice.read', ['invoice'])
export const ReadInvoice = defineEndpoint({
  name: 'invoice.read',
  method: 'get',
  path: '/invoices/:id',
  permission: 'invoice.read',
  params: ById,
  response: InvoiceSheet,
})
/** Reads one uploaded e-invoice; a file that breaks rules is refused with every rule it breaks. */
export const ReadInvoiceFile = defineEndpoint({
  name: 'invoice.readFile',
  method: 'post',
  path: '/invoices/read',
  permission: 'invoice.write',
  body: z.strictObject({ fileId: Uuid }),
  response: Done.extend({ number: z.string(), state: z.string() }),
})
/** Files that are read at once. */
export const MOST_INVOICE_FILES = 50
/** Reads all e-invoices in uploaded files (XML, PDF with data, ZIP of those), each by itself; answered one by one. */
export const ReadInvoiceFiles = defineEndpoint({
  name: 'invoice.readFiles',
  method: 'post',
  path: '/invoices/read-files',
  permission: 'invoice.write',
  body: z.strictObject({ fileIds: z.array(Uuid).min(1).max(MOST_INVOICE_FILES) }),
  response: z.strictObject({
    results: z.array(
      z.strictObject({
        file: z.string(),
        supplier: z.string(),
        theirs: z.string(),
        number: z.string(),
        /** As it stands now, or `refused`. */
        state: z.string(),
        path: z.string(),
        reasons: z.array(ReasonJson),
      }),
    ),
  }),
})
export const LinkInvoiceLine = defineEndpoint({
  name: 'invoice.link',
  method: 'post',
  path: '/invoices/:id/lines/:lineId/link',
  permission: 'invoice.write',
  params: z.strictObject({ id: Uuid, lineId: Uuid }),
  body: z.strictObject({ version: Version, orderLineId: Uuid }),
  response: Done,
})
/** Which order lines the loose lines of a bill belong to most likely; nothing is linked by asking. */
export const ReadLinks = defineEndpoint({
  name: 'invoice.links',
  method: 'get',
  path: '/invoices/:id/links',
  permission: 'invoice.write',
  params: ById,
  response: z.strictObject({
    proposals: z.array(
      z.strictObject({
        lineId: Uuid,
        position: z.int(),
        orderLineId: Uuid,
        label: z.string(),
        score: z.int(),
        because: z.array(z.string()),
        others: z.int(),
      }),
    ),
  }),
})
/** Links several lines of a bill at once, as they were proposed or as somebody chose. */
export const LinkInvoiceLines = defineEndpoint({
  name: 'invoice.linkLines',
  method: 'post',
  path: '/invoices/:id/links',
  permission: 'invoice.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    links: z
      .array(z.strictObject({ lineId: Uuid, orderLineId: Uuid }))
      .min(1)
      .max(1000),
  }),
  response: Done,
})
export const ClearHold = defineEndpoint({
  name: 'invoice.clearHold',
  method: 'post',
  path: '/invoices/:id/holds/:holdId/clear',
  permission: 'hold.clear',
  params: z.strictObject({ id: Uuid, holdId: Uuid }),
  body: z.strictObject({ version: Version, reason: GivenReason }),
  /** `asked`: the rules name somebody for such a difference, who is asked first. */
  response: Done.extend({ asked: z.boolean() }),
})
/** Decides about a difference that others are asked about, or takes the question back. */
export const AnswerClearing = defineEndpoint({
  name: 'invoice.answerClearing',
  method: 'post',
  path: '/invoices/:id/holds/:holdId/answer',
  permission: 'invoice.read',
  params: z.strictObject({ id: Uuid, holdId: Uuid }),
  body: z.strictObject({ version: Version, answer: z.enum(['approve', 'reject', 'withdraw']), reason: Text }),
  response: Done,
})
export const PostInvoice = defineEndpoint({
  name: 'invoice.post',
  method: 'post',
  path: '/invoices/:id/post',
  permission: 'invoice.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const ActOnInvoice = defineEndpoint({
  name: 'invoice.act',
  method: 'post',
  path: '/invoices/:id/act',
  permission: 'invoice.write',
  params: ById,
  body: z.strictObject({ version: Version, action: z.enum(['reject', 'void']), reason: GivenReason }),
  response: Done,
})
export const InvoiceFile = defineEndpoint({
  name: 'invoice.file',
  method: 'get',
  path: '/invoices/:id/file',
  permission: 'invoice.read',
  params: ById,
  answers: 'file',
})

/** A supplier makes an invoice from the current revision of its order. */
export const SupplierInvoice = defineEndpoint({
  name: 'supplierPages.invoice',
  method: 'post',
  path: '/supplier-pages/orders/:id/invoice',
  permission: 'supplierPages.bill',
  params: ById,
  body: z.strictObject({
    revision: Revision,
    number: Line.min(1),
    issueDate: Day,
    freight: AmountText,
    taxCategory: z.enum(['S', 'Z', 'E', 'AE', 'K', 'G', 'O']),
    taxRate: DecimalText,
    lines: z
      .array(z.strictObject({ lineId: Uuid, quantity: DecimalText, price: DecimalText }))
      .min(1)
      .max(500),
  }),
  response: z.strictObject({ id: Uuid, state: z.string(), number: z.string() }),
})
