import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Currency, Day, DecimalText, Done, Line, Stamp, Text, Uuid } from '#contract/fields.ts'
import { AskedQuestionJson, EventKindJson, Key, MaybeDecimal } from '#contract/source/eventKinds.ts'
import { MessageJson } from '#contract/source/events.ts'
import { INVITED_STANDINGS } from '#core/source/event.ts'

const Token = z.strictObject({ token: z.string().regex(/^[A-Za-z0-9_-]{20,80}$/) })
/** A whole answer. */
export const AnswerJson = z.strictObject({
  currency: Currency,
  lines: z
    .array(
      z.strictObject({
        lineId: Uuid,
        declined: z.boolean(),
        quantity: MaybeDecimal,
        price: MaybeDecimal,
        priceBase: MaybeDecimal,
        components: z.record(Key, MaybeDecimal),
        leadDays: z.int().min(0).max(3650).nullable(),
        minimum: MaybeDecimal,
        multiple: MaybeDecimal.optional(),
        tiers: z
          .array(z.strictObject({ from: MaybeDecimal, price: MaybeDecimal }))
          .max(20)
          .readonly()
          .optional(),
        note: Text,
        texts: z.record(Key, Text),
      }),
    )
    .max(1000),
  alternatives: z
    .array(
      z.strictObject({
        id: Uuid,
        lineId: Uuid,
        description: Line,
        price: MaybeDecimal,
        priceBase: MaybeDecimal,
        leadDays: z.int().min(0).max(3650).nullable(),
        note: Text,
      }),
    )
    .max(200),
  ownLines: z
    .array(
      z.strictObject({
        id: Uuid,
        description: Line,
        quantity: MaybeDecimal,
        unit: z.string().max(10),
        price: MaybeDecimal,
      }),
    ) // prettier-ignore
    .max(200),
  lump: z.record(Uuid, z.record(Key, MaybeDecimal)),
  paymentDays: z.int().min(0).max(365).nullable(),
  validUntil: z.union([z.literal(''), Day]),
  questions: z.record(Key, Text),
  texts: z.record(Key, Text),
  note: Text,
  fileIds: z.array(Uuid).max(20),
})

/** What a supplier is asked, as it sees it; also what one of us sees who types in on its behalf. */
export const AskedJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  title: z.string(),
  buyer: z.string(),
  house: z.string(),
  message: z.string(),
  supplier: z.string(),
  supplierId: Uuid,
  state: z.enum(['coming', 'open', 'over', 'cancelled']),
  standing: z.enum(INVITED_STANDINGS),
  serverTime: Stamp,
  opensAt: Stamp.nullable(),
  endsAt: Stamp.nullable(),
  zone: z.string(),
  currency: Currency,
  settings: EventKindJson.pick({
    format: true,
    pricing: true,
    components: true,
    supplierLines: true,
    alternatives: true,
    partQuantity: true,
    sealed: true,
  }),
  terms: z.string(),
  accepted: z.boolean(),
  means: z.boolean().nullable(),
  texts: z.array(z.strictObject({ key: z.string(), name: z.string(), place: z.enum(['head', 'line']), ours: z.boolean(), text: z.string() })), // prettier-ignore
  lots: z.array(z.strictObject({ id: Uuid, title: z.string() })),
  lines: z.array(
    z.strictObject({
      id: Uuid,
      lotId: Uuid,
      position: z.int(),
      description: z.string(),
      quantity: DecimalText,
      unit: z.string(),
      needBy: z.string().nullable(),
      place: z.string(),
      incoterm: z.string(),
      texts: z.record(z.string(), z.string()),
      gone: z.boolean(),
    }),
  ),
  sections: z.array(
    z.strictObject({
      title: z.string(),
      questions: z.array(AskedQuestionJson.pick({ key: true, label: true, kind: true, choices: true, required: true })),
    }),
  ),
  files: z.array(z.strictObject({ id: Uuid, name: z.string() })),
  answer: AnswerJson,
  /** Files among the answer, by id. */
  answerFiles: z.record(z.string(), z.string()),
  /** When what is shown was kept as a draft, and when the one that counts was handed in, and whether one of us typed it. */
  draftAt: Stamp.nullable(),
  submittedAt: Stamp.nullable(),
  revision: z.int(),
  onBehalfBy: z.string().nullable(),
  may: z.record(z.string(), z.array(z.strictObject({ code: z.string(), details: z.record(z.string(), z.union([z.string(), z.number()])) }))), // prettier-ignore
  messages: z.array(MessageJson),
  outcome: z
    .strictObject({
      won: z.array(z.strictObject({ lineId: Uuid, quantity: DecimalText })),
      place: z.int().nullable(),
      winningPrice: AmountText.nullable(),
    })
    .nullable(),
})

/** Opens the link of the mail: whoever has no account comes in as somebody who may answer, and nothing else. */
export const OpenAsked = defineEndpoint({
  name: 'asked.open',
  method: 'post',
  path: '/asked/links/:token',
  permission: 'anyone',
  params: Token,
  response: z.strictObject({ eventId: Uuid, signedIn: z.boolean() }),
})
export const ListAsked = defineEndpoint({
  name: 'asked.list',
  method: 'get',
  path: '/asked',
  permission: 'supplierPages.quotes',
  response: z.strictObject({
    events: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        format: z.enum(['quotes', 'auction']),
        state: z.enum(['coming', 'open', 'over', 'cancelled']),
        standing: z.enum(INVITED_STANDINGS),
        endsAt: Stamp.nullable(),
        opensAt: Stamp.nullable(),
        zone: z.string(),
        unread: z.int(),
      }),
    ),
    /** What stands open to every qualified supplier of a category, and this one has not taken part in yet. */
    open: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        format: z.enum(['quotes', 'auction']),
        category: z.string(),
        endsAt: Stamp.nullable(),
        opensAt: Stamp.nullable(),
        zone: z.string(),
        lines: z.int(),
      }),
    ),
  }),
})
/** Takes part in an event that is open to all who are qualified. */
export const JoinAsked = defineEndpoint({
  name: 'asked.join',
  method: 'post',
  path: '/asked/:id/join',
  permission: 'supplierPages.quotes',
  params: ById,
  response: Done,
})
export const ReadAsked = defineEndpoint({
  name: 'asked.read',
  method: 'get',
  path: '/asked/:id',
  permission: 'supplierPages.quotes',
  params: ById,
  response: AskedJson,
})
export const ReadBehalf = defineEndpoint({
  name: 'behalf.read',
  method: 'get',
  path: '/source-events/:id/invited/:invitedId/asked',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  response: AskedJson,
})
const Acted = z.strictObject({ at: Stamp })
export const SAYINGS = ['accept', 'means', 'meansNot', 'decline', 'withdraw'] as const
const SayBody = z.strictObject({ say: z.enum(SAYINGS), reason: Text })
const AnswerBody = z.strictObject({ answer: AnswerJson, submit: z.boolean() })
/** Accepts the terms, says whether it means to answer, declines, withdraws. */
export const SayAsked = defineEndpoint({
  name: 'asked.say',
  method: 'post',
  path: '/asked/:id/say',
  permission: 'supplierPages.quotes',
  params: ById,
  body: SayBody,
  response: Acted,
})
export const SayBehalf = defineEndpoint({
  name: 'behalf.say',
  method: 'post',
  path: '/source-events/:id/invited/:invitedId/say',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: SayBody,
  response: Acted,
})
/** Keeps a draft of the answer, or hands it in; the one handed in before is replaced, and kept. */
export const AnswerAsked = defineEndpoint({
  name: 'asked.answer',
  method: 'put',
  path: '/asked/:id/answer',
  permission: 'supplierPages.quotes',
  params: ById,
  body: AnswerBody,
  response: Acted,
})
export const AnswerBehalf = defineEndpoint({
  name: 'behalf.answer',
  method: 'put',
  path: '/source-events/:id/invited/:invitedId/answer',
  permission: 'event.write',
  params: ById.extend({ invitedId: Uuid }),
  body: AnswerBody,
  response: Acted,
})
export const WriteAsked = defineEndpoint({
  name: 'asked.write',
  method: 'post',
  path: '/asked/:id/messages',
  permission: 'supplierPages.quotes',
  params: ById,
  body: z.strictObject({ text: Text.min(1), fileIds: z.array(Uuid).max(10) }),
  response: Acted,
})
export const SeeAsked = defineEndpoint({
  name: 'asked.see',
  method: 'post',
  path: '/asked/:id/seen',
  permission: 'supplierPages.quotes',
  params: ById,
  response: Acted,
})
export const UploadAskedFile = defineEndpoint({
  name: 'asked.upload',
  method: 'post',
  path: '/asked/files',
  permission: 'supplierPages.quotes',
  takes: 'file',
  response: z.strictObject({ id: Uuid, name: z.string(), mediaType: z.string(), size: z.int() }),
})
export const AskedFile = defineEndpoint({
  name: 'asked.file',
  method: 'get',
  path: '/asked/:id/files/:fileId',
  permission: 'supplierPages.quotes',
  answers: 'file',
  params: ById.extend({ fileId: Uuid }),
})
/** What is asked as a workbook to fill in, as a form on paper, or as UBL. */
export const AskedPaper = defineEndpoint({
  name: 'asked.paper',
  method: 'get',
  path: '/asked/:id/paper',
  permission: 'supplierPages.quotes',
  answers: 'file',
  params: ById,
  query: z.strictObject({ format: z.enum(['xlsx', 'pdf', 'xml']) }),
})
/** Reads a filled workbook or a UBL quotation and says what it would change; nothing is kept by it. */
export const LookAtAnswerFile = defineEndpoint({
  name: 'asked.lookAtFile',
  method: 'post',
  path: '/asked/:id/answer/look',
  permission: 'supplierPages.quotes',
  safe: true,
  params: ById,
  body: z.strictObject({ fileId: Uuid }),
  response: z.strictObject({
    answer: AnswerJson,
    differences: z.array(
      z.strictObject({ line: z.string(), field: z.string(), before: z.string(), after: z.string() }),
    ),
    left: z.array(z.strictObject({ row: z.int(), code: z.string(), details: z.record(z.string(), z.union([z.string(), z.number()])) })), // prettier-ignore
  }),
})
