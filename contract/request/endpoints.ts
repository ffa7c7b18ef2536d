import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, BudgetFigures, ById, Currency, Day, DecimalText, Done, GaugeJson, Line, ReasonJson, SheetFrame, StepJson, Text, Uuid, Version } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { defineList } from '#contract/list.ts'
import { LINE_KINDS } from '#core/request/lines.ts'
import { QUICK_PARTS } from '#core/request/quickLine.ts'

export const TierJson = z.strictObject({ from: DecimalText, price: DecimalText })
export const OfferJson = z.strictObject({
  id: Uuid,
  supplierId: Uuid,
  supplier: z.string(),
  supplierState: z.string(),
  supplierItem: z.string(),
  currency: Currency,
  unit: z.string(),
  priceBase: DecimalText,
  minimum: DecimalText,
  multiple: DecimalText,
  leadTimeDays: z.int(),
  validFrom: z.string(),
  validTo: z.string().nullable(),
  tiers: z.array(TierJson),
  earliest: z.string(),
})
export type OfferJson = z.output<typeof OfferJson>
export const ItemJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  name: z.string(),
  description: z.string(),
  category: z.string(),
  unit: z.string(),
  gtin: z.string(),
  picture: z.string().nullable(),
  offers: z.array(OfferJson),
})
export type ItemJson = z.output<typeof ItemJson>

export const SplitJson = z.strictObject({ accountId: Uuid, share: DecimalText })
export const LineBody = z.strictObject({
  id: Uuid.optional(),
  kind: z.enum(LINE_KINDS),
  itemId: Uuid.nullable(),
  offerId: Uuid.nullable(),
  description: Line,
  quantity: DecimalText,
  unit: z.string().max(3),
  price: DecimalText,
  priceBase: DecimalText,
  currency: Currency,
  supplierId: Uuid.nullable(),
  needBy: Day.nullable(),
  addressId: Uuid.nullable(),
  splits: z.array(SplitJson).max(50),
})
export type LineBody = z.output<typeof LineBody>
export const RequisitionBody = z.strictObject({ title: Line, reason: Text, lines: z.array(LineBody).max(500) })
export type RequisitionBody = z.output<typeof RequisitionBody>

export const LineJson = LineBody.extend({
  id: Uuid,
  position: z.int(),
  state: z.string(),
  amount: AmountText,
  baseAmount: AmountText,
  supplier: z.string().nullable(),
  address: z.string().nullable(),
  itemNumber: z.string().nullable(),
  gauge: GaugeJson,
  orderPath: z.string().nullable(),
  orderNumber: z.string().nullable(),
})
export const RequisitionSheet = SheetFrame.extend({
  requester: z.string(),
  requesterId: Uuid,
  reason: z.string(),
  baseCurrency: z.string(),
  total: AmountText,
  needBy: z.string().nullable(),
  lines: z.array(LineJson),
  mayDecide: z.boolean(),
  mine: z.boolean(),
})
export const CheckResult = z.strictObject({ reasons: z.array(ReasonJson), budgets: z.array(BudgetFigures), steps: z.array(StepJson), total: AmountText, currency: z.string() })

export const Items = defineList('items', '/items', 'catalogue.read')
export const SearchCatalogue = defineEndpoint({
  name: 'catalogue.search',
  method: 'get',
  path: '/catalogue',
  permission: 'catalogue.read',
  query: z.strictObject({ q: z.string().max(200).optional(), category: z.string().max(100).optional() }),
  response: z.strictObject({
    items: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        name: z.string(),
        category: z.string(),
        unit: z.string(),
        picture: z.string().nullable(),
        bestPrice: z.string().nullable(),
        priceBase: z.string().nullable(),
        currency: z.string().nullable(),
        supplier: z.string().nullable(),
        offers: z.int(),
      }),
    ),
    categories: z.array(z.strictObject({ name: z.string(), count: z.int() })),
  }),
})
export const ReadItem = defineEndpoint({ name: 'item.read', method: 'get', path: '/items/:id', permission: 'catalogue.read', params: ById, response: ItemJson })
export const ImportItems = defineEndpoint({ name: 'item.import', method: 'post', path: '/items-import', permission: 'catalogue.write', body: ImportBody, response: ImportResult })

const BasketLine = z.strictObject({ itemId: Uuid, offerId: Uuid, quantity: DecimalText })
export const ReadBasket = defineEndpoint({
  name: 'basket.read',
  method: 'get',
  path: '/basket',
  permission: 'requisition.write',
  response: z.strictObject({
    lines: z.array(
      BasketLine.extend({ name: z.string(), supplier: z.string(), unit: z.string(), price: z.string(), priceBase: z.string(), currency: z.string(), amount: AmountText }),
    ),
  }),
})
export const SaveBasket = defineEndpoint({
  name: 'basket.save',
  method: 'put',
  path: '/basket',
  permission: 'requisition.write',
  body: z.strictObject({ lines: z.array(BasketLine).max(500) }),
  response: z.strictObject({ lines: z.int() }),
})
export const RequestBasket = defineEndpoint({ name: 'basket.request', method: 'post', path: '/basket/request', permission: 'requisition.write', response: Done })

export const Requisitions = defineList('requisitions', '/requisitions', 'requisition.write')
export const CreateRequisition = defineEndpoint({
  name: 'requisition.create',
  method: 'post',
  path: '/requisitions',
  permission: 'requisition.write',
  body: RequisitionBody,
  response: Done,
})
export const ReadRequisition = defineEndpoint({
  name: 'requisition.read',
  method: 'get',
  path: '/requisitions/:id',
  permission: 'requisition.write',
  params: ById,
  response: RequisitionSheet,
})
export const SaveRequisition = defineEndpoint({
  name: 'requisition.save',
  method: 'put',
  path: '/requisitions/:id',
  permission: 'requisition.write',
  params: ById,
  body: RequisitionBody.extend({ version: Version }),
  response: Done,
})
export const CheckRequisition = defineEndpoint({
  name: 'requisition.check',
  method: 'get',
  path: '/requisitions/:id/check',
  permission: 'requisition.write',
  params: ById,
  response: CheckResult,
})
export const SubmitRequisition = defineEndpoint({
  name: 'requisition.submit',
  method: 'post',
  path: '/requisitions/:id/submit',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, checkReason: Text.optional() }),
  response: Done,
})
export const ActOnRequisition = defineEndpoint({
  name: 'requisition.act',
  method: 'post',
  path: '/requisitions/:id/act',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, action: z.enum(['withdraw', 'reopen', 'cancel', 'copy']), reason: Text.optional() }),
  response: Done,
})

const AccountJson = z.strictObject({
  id: Uuid,
  label: z.string(),
  costCentre: z.string(),
  naturalAccount: z.string(),
  year: z.int(),
  project: z.string().nullable(),
  open: z.boolean(),
})
const Named = z.strictObject({ id: Uuid, label: z.string() })
/** What fields offer to choose from. */
export const ReadChoices = defineEndpoint({
  name: 'choices.read',
  method: 'get',
  path: '/choices',
  permission: 'signedIn',
  response: z.strictObject({
    accounts: z.array(AccountJson),
    addresses: z.array(Named),
    suppliers: z.array(Named.extend({ currency: z.string() })),
    people: z.array(Named),
    units: z.array(z.strictObject({ code: z.string(), label: z.string() })),
    currencies: z.array(z.string()),
    costCentres: z.array(z.strictObject({ code: z.string(), name: z.string() })),
    categories: z.array(z.string()),
    usual: z.strictObject({ accountId: Uuid.nullable(), addressId: Uuid.nullable() }),
  }),
})

export const QuickReadingJson = z.strictObject({
  /** What goes into the line: an id where the part names something that is kept, else the value. */
  value: z.string(),
  label: z.string(),
  unit: z.string().nullable(),
  currency: z.string().nullable(),
})
export const QuickPartJson = z.strictObject({
  kind: z.enum(QUICK_PARTS),
  text: z.string(),
  assumed: z.boolean(),
  /** One: understood. Several: the person chooses. None: nothing here is called so. */
  readings: z.array(QuickReadingJson),
})
/** What a line of typing was understood as; `line` is there when nothing has to be chosen any more. */
export const QuickLineJson = z.strictObject({ text: z.string(), parts: z.array(QuickPartJson), reasons: z.array(ReasonJson), line: LineBody.omit({ id: true }).nullable() })
export type QuickLineJson = z.output<typeof QuickLineJson>
/** Understands lines as people write them; `choices` says which reading of a line's part was chosen (`0.place` to a value). */
export const ReadQuickLines = defineEndpoint({
  name: 'quickLines.read',
  method: 'post',
  path: '/quick-lines',
  permission: 'requisition.write',
  body: z.strictObject({ text: z.string().max(20_000), choices: z.record(z.string().max(40), z.string().max(300)) }),
  response: z.strictObject({ lines: z.array(QuickLineJson), left: z.int() }),
})
