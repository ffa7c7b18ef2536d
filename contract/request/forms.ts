import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  ById,
  Currency,
  Day,
  DecimalText,
  Done,
  Line,
  ReasonJson,
  Text,
  Uuid,
  Version,
  VersionOrNew,
} from '#contract/fields.ts'
import { RouteJson } from '#contract/request/lines.ts'
import { AnswersJson, SectionJson } from '#contract/source/onboarding.ts'
import { FORM_FILLS } from '#core/request/forms.ts'
import { LINE_KINDS, PROOFS } from '#core/request/kinds.ts'

export const FormLineJson = z.strictObject({
  kind: z.enum(LINE_KINDS),
  description: Line,
  unit: z.string().max(3),
  price: DecimalText,
  currency: Currency,
  routes: z.array(RouteJson).max(4),
})
export const FormBody = z.strictObject({
  code: z.string().regex(/^[a-z][a-z0-9]{0,39}$/),
  name: Line,
  help: Text,
  category: Line,
  line: FormLineJson,
  sections: z.array(SectionJson).max(20),
  fills: z.partialRecord(z.enum(FORM_FILLS), z.string().max(40)),
})
export const FormJson = FormBody.extend({
  id: Uuid,
  number: z.int(),
  state: z.enum(['draft', 'live', 'retired']),
  version: z.int(),
  changedBy: z.string(),
  changedAt: z.string(),
  used: z.int(),
})
export type FormJson = z.output<typeof FormJson>
/** The forms in force for those who ask; all versions for those who make them. */
export const ListForms = defineEndpoint({
  name: 'forms.list',
  method: 'get',
  path: '/request-forms',
  permission: 'requisition.write',
  query: z.strictObject({ all: z.enum(['yes']).optional() }),
  response: z.strictObject({ forms: z.array(FormJson) }),
})
export const SaveForm = defineEndpoint({
  name: 'forms.save',
  method: 'post',
  path: '/request-forms',
  permission: 'setup.write',
  body: FormBody.extend({ version: VersionOrNew }),
  response: Done.extend({ reasons: z.array(ReasonJson) }),
})
export const PublishForm = defineEndpoint({
  name: 'forms.publish',
  method: 'post',
  path: '/request-forms/:id/publish',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
/** A filled form is one request: a draft with its line and its answers. */
export const FillForm = defineEndpoint({
  name: 'forms.fill',
  method: 'post',
  path: '/request-forms/:id/fill',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ answers: AnswersJson }),
  response: Done,
})

const NoticeBody = z.strictObject({
  title: Line.min(3),
  body: Text,
  fromDay: Day,
  toDay: Day,
  costCentres: z.array(z.string().max(20)).max(50),
  categories: z.array(Line).max(50),
  suppliers: z.array(Uuid).max(50),
})
export const NoticeJson = NoticeBody.extend({
  id: Uuid,
  by: z.string(),
  at: z.string(),
  version: z.int(),
  withdrawnAt: z.string().nullable(),
  read: z.boolean(),
  supplierNames: z.array(z.string()),
})
export type NoticeJson = z.output<typeof NoticeJson>
/** Notices that matter here, or all of them for those who write them. */
export const ListNotices = defineEndpoint({
  name: 'notices.list',
  method: 'get',
  path: '/purchase-notices',
  permission: 'requisition.write',
  query: z.strictObject({
    categories: z.string().max(1000).optional(),
    suppliers: z.string().max(2000).optional(),
    all: z.enum(['yes']).optional(),
  }),
  response: z.strictObject({ notices: z.array(NoticeJson) }),
})
export const SaveNotice = defineEndpoint({
  name: 'notices.save',
  method: 'post',
  path: '/purchase-notices',
  permission: 'notice.write',
  body: NoticeBody.extend({ id: Uuid.nullable(), version: VersionOrNew }),
  response: Done,
})
export const EndNotice = defineEndpoint({
  name: 'notices.end',
  method: 'post',
  path: '/purchase-notices/:id/withdraw',
  permission: 'notice.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const ReadNotice = defineEndpoint({
  name: 'notices.read',
  method: 'post',
  path: '/purchase-notices/:id/read',
  permission: 'requisition.write',
  params: ById,
  response: z.strictObject({ id: Uuid }),
})

const RouteRuleJson = z.strictObject({
  name: Line.min(1),
  categories: z.array(Line).max(50),
  from: z.string().max(20),
  upTo: z.string().max(20).nullable(),
  allowed: z.array(RouteJson).min(1).max(4),
})
export const RequestSettingsJson = z.strictObject({
  terms: z.strictObject({
    allowed: z.array(z.string().max(3)).max(11),
    preferred: z.array(z.string().max(3)).max(11),
    because: z.record(z.string().max(3), Line),
  }),
  routeRules: z.array(RouteRuleJson).max(100),
  /** Words that mean the same, each list by itself. */
  sameWords: z.array(z.array(z.string().min(1).max(40)).max(12)).max(300),
  /** Working days after which whoever holds a request is reminded by itself; 0 means never. */
  remindAfterDays: z.int().min(0).max(60),
})
export type RequestSettings = z.output<typeof RequestSettingsJson>
export const ReadRequestSettings = defineEndpoint({
  name: 'requestSettings.read',
  method: 'get',
  path: '/setup/request',
  permission: 'requisition.write',
  response: RequestSettingsJson,
})
export const SaveRequestSettings = defineEndpoint({
  name: 'requestSettings.save',
  method: 'put',
  path: '/setup/request',
  permission: 'setup.write',
  body: RequestSettingsJson,
  response: RequestSettingsJson,
})

export const AddressBody = z.strictObject({
  code: z.string().regex(/^[A-Z0-9-]{1,20}$/),
  name: Line.min(1),
  dock: Line,
  street: Line,
  postalCode: Line,
  city: Line,
  country: z.string().regex(/^[A-Z]{2}$/),
  hours: Line,
  contact: Line,
  phone: Line,
  purposes: z.array(z.enum(['delivery', 'performance'])).min(1),
  open: z.boolean(),
})
export const ListAddresses = defineEndpoint({
  name: 'addresses.list',
  method: 'get',
  path: '/addresses',
  permission: 'requisition.write',
  response: z.strictObject({ addresses: z.array(AddressBody.extend({ id: Uuid, used: z.int() })) }),
})
export const SaveAddress = defineEndpoint({
  name: 'addresses.save',
  method: 'post',
  path: '/addresses',
  permission: 'setup.write',
  body: AddressBody.extend({ id: Uuid.nullable() }),
  response: z.strictObject({ id: Uuid }),
})
export const ProofByKind = z.partialRecord(z.enum(LINE_KINDS), z.enum(PROOFS))
