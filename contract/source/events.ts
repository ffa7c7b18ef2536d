import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Currency,
  Day,
  DecimalText,
  Done,
  GivenReason,
  Line,
  QueryRevision,
  ReasonJson,
  SheetFrame,
  Stamp,
  Text,
  Uuid,
  Version,
  Zone,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { CriterionJson, EventKindJson, ExtensionJson, Key, LandedJson, LotStepJson, MaybeDecimal, ShownJson } from '#contract/source/eventKinds.ts' // prettier-ignore
import { MailAddress } from '#contract/source/record.ts'
import { TOLD_BY } from '#core/source/invitedActs.ts'
import { INVITED_STANDINGS } from '#core/source/event.ts'
import { PRICE_FORMULAS } from '#core/source/scores.ts'

/** A moment with its offset, as browsers write it. */
export const Moment = z.iso.datetime({ offset: true })
const Texts = z.record(Key, Text)

export const EventLotBody = z.strictObject({
  id: Uuid,
  title: Line.min(1),
  ceiling: z.union([z.literal(''), AmountText]),
  lineCeilings: z.record(Uuid, z.union([z.literal(''), AmountText])),
  step: LotStepJson,
  extension: ExtensionJson.nullable(),
  shows: ShownJson,
  minutes: z.int().min(1).max(10_080),
  byHand: z.boolean(),
})
export const EventLineBody = z.strictObject({
  id: Uuid,
  lotId: Uuid,
  itemId: Uuid.nullable(),
  category: Line,
  description: Line,
  quantity: DecimalText,
  unit: z.string().max(10),
  needBy: Day.nullable(),
  addressId: Uuid.nullable(),
  incoterm: z.string().max(3).nullable(),
  incotermPlace: Line,
  reference: MaybeDecimal,
  referenceFrom: z.enum(['lastPaid', 'estimate']).nullable(),
  accountId: Uuid.nullable(),
  texts: Texts,
})
/** What a draft says; once it is sent, only what everybody is told is changed. */
export const EventBody = z.strictObject({
  title: Line,
  category: Line,
  currency: Currency,
  message: Text,
  texts: Texts,
  opensAt: Moment.nullable(),
  endsAt: Moment.nullable(),
  zone: Zone,
  outsideNumber: Line,
  criteria: z.array(CriterionJson).max(10),
  formula: z.enum(PRICE_FORMULAS),
  landed: LandedJson,
  scorerIds: z.array(Uuid).max(20),
  lots: z.array(EventLotBody).min(1).max(60),
  lines: z.array(EventLineBody).max(1000),
})

export const Events = defineList('events', '/source-events', 'event.read', ['event'])
/** Everybody who is asked, over all events. */
export const AskedSuppliers = defineList('askedSuppliers', '/asked-suppliers', 'event.read', ['event'])

const InvitedJson = z.strictObject({
  id: Uuid,
  supplierId: Uuid,
  name: z.string(),
  number: z.string(),
  contactName: z.string(),
  email: z.string(),
  language: z.string(),
  currency: z.string(),
  ownNote: z.string(),
  toDo: z.string(),
  why: z.array(z.strictObject({ code: z.string(), details: z.record(z.string(), z.union([z.string(), z.number()])) })),
  standing: z.enum(INVITED_STANDINGS),
  sentAt: Stamp.nullable(),
  openedAt: Stamp.nullable(),
  acceptedAt: Stamp.nullable(),
  answeredAt: Stamp.nullable(),
  declineReason: z.string(),
  suspendReason: z.string(),
  onBehalf: z.boolean(),
  revisions: z.int(),
  consent: z
    .strictObject({
      who: z.string(),
      on: z.string(),
      how: z.string(),
      note: z.string(),
      fileId: z.string().nullable(),
      by: z.string(),
    })
    .nullable(),
})
export const MessageJson = z.strictObject({
  id: Uuid,
  at: Stamp,
  by: z.string(),
  /** Null: from us. */
  from: z.string().nullable(),
  /** Null: to all. */
  to: z.string().nullable(),
  toSupplierId: Uuid.nullable(),
  text: z.string(),
  files: z.array(z.strictObject({ id: Uuid, name: z.string() })),
  answersId: Uuid.nullable(),
  unread: z.boolean(),
})
export const EventSheet = SheetFrame.extend({
  kindName: z.string(),
  kindNumber: z.int(),
  settings: EventKindJson,
  body: EventBody,
  over: z.boolean(),
  serverTime: Stamp,
  sentAt: Stamp.nullable(),
  owner: z.string(),
  outside: z.strictObject({ shown: z.string() }).nullable(),
  checks: z.array(ReasonJson),
  requests: z.array(z.strictObject({ id: Uuid, number: z.string(), path: z.string() })),
  copiedFrom: z.strictObject({ number: z.string(), path: z.string() }).nullable(),
  lineFacts: z.array(
    z.strictObject({
      id: Uuid,
      position: z.int(),
      item: z.string(),
      place: z.string(),
      request: z.string().nullable(),
      account: z.string().nullable(),
      gone: z.boolean(),
    }),
  ),
  invited: z.array(InvitedJson),
  scorers: z.array(z.strictObject({ id: Uuid, name: z.string(), done: z.boolean() })),
  messages: z.array(MessageJson),
  /** The award that is proposed, or stands. */
  award: z
    .strictObject({
      shares: z.array(z.strictObject({ lineId: Uuid, supplierId: Uuid, quantity: DecimalText })),
      reason: z.string(),
      cost: AmountText,
      above: AmountText,
      openLines: z.int(),
    })
    .nullable(),
  orders: z.array(z.strictObject({ id: Uuid, number: z.string(), path: z.string(), supplier: z.string() })),
})
export const ReadEvent = defineEndpoint({
  name: 'event.read',
  method: 'get',
  path: '/source-events/:id',
  permission: 'signedIn',
  params: ById,
  response: EventSheet,
})
/** A new event: from scratch, or with the lines of an earlier one. */
export const CreateEvent = defineEndpoint({
  name: 'event.create',
  method: 'post',
  path: '/source-events',
  permission: 'event.write',
  body: z.strictObject({ kindId: Uuid, title: Line.min(1), copyOf: Uuid.nullable() }),
  response: Done,
})
export const ChangeEvent = defineEndpoint({
  name: 'event.change',
  method: 'put',
  path: '/source-events/:id',
  permission: 'event.write',
  params: ById,
  body: EventBody.extend({ version: Version }),
  response: Done,
})
/** Lines from a workbook, a delimited file or what was pasted; what cannot be read is said line by line and nothing is taken. */
export const TakeLines = defineEndpoint({
  name: 'event.takeLines',
  method: 'post',
  path: '/source-events/:id/lines',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, fileId: Uuid.nullable(), pasted: z.string().max(200_000) }),
  response: Done.extend({ lines: z.int() }),
})
/** A line that is not asked any more; answers to it are kept and everybody is told. */
export const DropEventLine = defineEndpoint({
  name: 'event.dropLine',
  method: 'post',
  path: '/source-events/:id/lines/drop',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, lineId: Uuid, reason: GivenReason }),
  response: Done,
})
export const ProposedSuppliers = defineEndpoint({
  name: 'event.proposed',
  method: 'get',
  path: '/source-events/:id/proposed',
  permission: 'event.write',
  params: ById,
  response: z.strictObject({
    proposals: z.array(
      z.strictObject({
        supplierId: Uuid,
        name: z.string(),
        reasons: z.array(z.strictObject({ code: z.string(), details: z.record(z.string(), z.union([z.string(), z.number()])) })), // prettier-ignore
      }),
    ),
  }),
})
export const InviteSuppliers = defineEndpoint({
  name: 'event.invite',
  method: 'post',
  path: '/source-events/:id/invited',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, supplierIds: z.array(Uuid).min(1).max(500) }),
  response: Done,
})
export const ChangeInvited = defineEndpoint({
  name: 'event.changeInvited',
  method: 'put',
  path: '/source-events/:id/invited/:invitedId',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: z.strictObject({
    version: Version,
    contactName: Line,
    email: MailAddress,
    language: z.enum(['en', 'de']),
    currency: Currency,
    ownNote: Text,
    toDo: Line,
  }),
  response: Done,
})
export const LeaveOutInvited = defineEndpoint({
  name: 'event.leaveOut',
  method: 'post',
  path: '/source-events/:id/invited/:invitedId/leave-out',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const SendEvent = defineEndpoint({
  name: 'event.send',
  method: 'post',
  path: '/source-events/:id/send',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, reason: Text }),
  response: Done,
})
export const MoveEnd = defineEndpoint({
  name: 'event.moveEnd',
  method: 'post',
  path: '/source-events/:id/end',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, how: z.enum(['extend', 'beginAgain']), endsAt: Moment, reason: GivenReason }), // prettier-ignore
  response: Done,
})
export const EndEvent = defineEndpoint({
  name: 'event.stop',
  method: 'post',
  path: '/source-events/:id/stop',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, how: z.enum(['cancel', 'takeUp']), reason: Text }),
  response: Done,
})
export const RemindSuppliers = defineEndpoint({
  name: 'event.remind',
  method: 'post',
  path: '/source-events/:id/remind',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, invitedIds: z.array(Uuid).max(500), note: Text }),
  response: Done.extend({ reminded: z.int() }),
})
export const SuspendSupplier = defineEndpoint({
  name: 'event.suspend',
  method: 'post',
  path: '/source-events/:id/invited/:invitedId/suspend',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: z.strictObject({ version: Version, lift: z.boolean(), reason: GivenReason }),
  response: Done,
})
export const RecordConsent = defineEndpoint({
  name: 'event.consent',
  method: 'post',
  path: '/source-events/:id/invited/:invitedId/consent',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: z.strictObject({
    version: Version,
    who: Line.min(1),
    on: Day,
    how: z.enum(TOLD_BY),
    note: Text,
    fileId: Uuid.nullable(),
  }),
  response: Done,
})
export const WriteMessage = defineEndpoint({
  name: 'event.write',
  method: 'post',
  path: '/source-events/:id/messages',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({
    toSupplierId: Uuid.nullable(),
    text: Text.min(1),
    fileIds: z.array(Uuid).max(10),
    answersId: Uuid.nullable(),
  }),
  response: Done,
})
export const ReadMessages = defineEndpoint({
  name: 'event.readMessages',
  method: 'post',
  path: '/source-events/:id/messages/read',
  permission: 'event.read',
  params: ById,
  response: z.strictObject({ read: z.int() }),
})
export const EventFile = defineEndpoint({
  name: 'event.file',
  method: 'get',
  path: '/source-events/:id/files/:fileId',
  permission: 'event.read',
  answers: 'file',
  params: ById.extend({ fileId: Uuid }),
})
export const LogJson = z.strictObject({
  sequence: z.int(),
  at: Stamp,
  actor: z.string(),
  forWhom: z.string().nullable(),
  channel: z.string(),
  network: z.string(),
  action: z.string(),
  lot: z.string().nullable(),
  details: z.record(z.string(), z.unknown()),
  reason: z.string().nullable(),
})
const LogAsked = z.strictObject({
  action: z.string().max(40).optional(),
  supplierId: Uuid.optional(),
  after: QueryRevision.optional(),
})
export const ReadEventLog = defineEndpoint({
  name: 'event.log',
  method: 'get',
  path: '/source-events/:id/log',
  permission: 'event.read',
  params: ById,
  query: LogAsked,
  response: z.strictObject({ entries: z.array(LogJson), actions: z.array(z.string()), holds: z.boolean(), next: z.int().nullable() }), // prettier-ignore
})
export const EventLogFile = defineEndpoint({
  name: 'event.logFile',
  method: 'get',
  path: '/source-events/:id/log.csv',
  permission: 'event.read',
  answers: 'file',
  params: ById,
})
export const EventPaper = defineEndpoint({
  name: 'event.paper',
  method: 'get',
  path: '/source-events/:id/paper',
  permission: 'event.read',
  answers: 'file',
  params: ById,
  query: z.strictObject({ format: z.enum(['pdf', 'xml']), invitedId: Uuid }),
})
