import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ToldTerms } from '#contract/receivingTerms.ts'
import {
  ById,
  Done,
  GivenReason,
  Line,
  ReasonJson,
  SheetFrame,
  Stamp,
  Text,
  Uuid,
  Version,
  VersionOrNew,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { CandidateJson } from '#contract/source/endpoints.ts'
import { CountryCode, MailAddress } from '#contract/source/record.ts'
import { QUESTION_KINDS, RECORD_FIELDS } from '#core/source/questionnaire.ts'
import { LINE_KINDS, PROOFS } from '#core/request/kinds.ts'
import { SIGNAL_KEYS } from '#core/source/signals.ts'

export const QuestionJson = z.strictObject({
  key: z.string().regex(/^[a-z][a-zA-Z0-9]{0,39}$/),
  kind: z.enum(QUESTION_KINDS),
  label: Line,
  help: Text,
  required: z.boolean(),
  when: z.strictObject({ key: z.string().max(40), equals: Line }).nullable(),
  choices: z.array(Line).max(60),
  fills: z.enum(RECORD_FIELDS).nullable(),
})
export const SectionJson = z.strictObject({ title: Line, questions: z.array(QuestionJson).max(100) })
export const CertificateAnswerJson = z.strictObject({
  issuer: Line,
  number: Line,
  validFrom: z.string().max(10),
  validTo: z.string().max(10),
  fileId: z.string().max(36),
  fileName: Line,
})
export const FileAnswerJson = z.strictObject({ fileId: z.string().max(36), fileName: Line })
export const AnswerJson = z.union([Text, z.array(Line).max(60), CertificateAnswerJson, FileAnswerJson])
export const AnswersJson = z.record(z.string().max(40), AnswerJson)

/** Anybody may propose a supplier, from a request or by itself; the same call shows who is there already. */
export const ProposeSupplier = defineEndpoint({
  name: 'onboarding.propose',
  method: 'post',
  path: '/onboardings',
  permission: 'supplier.propose',
  body: z.strictObject({
    name: Line.min(1),
    kind: z.enum(['company', 'person']),
    country: z.union([z.literal(''), CountryCode]),
    city: Line,
    web: Line,
    contactName: Line,
    contactMail: MailAddress,
    categories: z.array(Line).max(10),
    need: Text,
    requisitionId: Uuid.nullable(),
  }),
  response: Done.extend({ supplierId: Uuid }),
})
export const Onboardings = defineList('onboardings', '/onboardings', 'supplier.read', ['onboarding'])
export const OnboardingSheet = SheetFrame.extend({
  supplierId: Uuid,
  supplierNumber: z.string(),
  supplierState: z.string(),
  categories: z.array(z.string()),
  need: z.string(),
  requisition: z.strictObject({ number: z.string(), path: z.string() }).nullable(),
  proposedBy: z.string(),
  invited: z.strictObject({ name: z.string(), email: z.string(), until: Stamp.nullable(), usedAt: Stamp.nullable() }),
  questionnaire: z.strictObject({ name: z.string(), number: z.int() }).nullable(),
  questionnaires: z.array(z.strictObject({ id: Uuid, name: z.string(), number: z.int(), fits: z.boolean() })),
  sections: z.array(
    z.strictObject({
      title: z.string(),
      questions: z.array(
        z.strictObject({
          key: z.string(),
          label: z.string(),
          kind: z.string(),
          required: z.boolean(),
          asked: z.boolean(),
          answer: z.string(),
          fileId: z.string().nullable(),
          /** What the record says now, where the question fills a field. */
          record: z.string().nullable(),
          before: z.string().nullable(),
          ask: z.strictObject({ question: z.string(), by: z.string(), at: Stamp, answered: z.boolean() }).nullable(),
        }),
      ),
    }),
  ),
  answered: z.int(),
  toAnswer: z.int(),
  decisions: z.array(
    z.strictObject({
      id: Uuid,
      office: z.enum(['categoryOwner', 'finance']),
      category: z.string(),
      who: z.string(),
      state: z.string(),
      mine: z.boolean(),
      reason: z.string().nullable(),
    }),
  ),
  candidates: z.array(CandidateJson),
})
export const ReadOnboarding = defineEndpoint({
  name: 'onboarding.read',
  method: 'get',
  path: '/onboardings/:id',
  permission: 'supplier.read',
  params: ById,
  response: OnboardingSheet,
})
/** A file that was sent with an answer. */
export const OnboardingFile = defineEndpoint({
  name: 'onboarding.file',
  method: 'get',
  path: '/onboardings/:id/files/:fileId',
  permission: 'supplier.write',
  params: z.strictObject({ id: Uuid, fileId: Uuid }),
  answers: 'file',
})
/** Sends the single-use link; sending again makes the earlier one worthless. */
export const Invite = defineEndpoint({
  name: 'onboarding.invite',
  method: 'post',
  path: '/onboardings/:id/invitation',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({ version: Version, name: Line.min(1), email: z.email(), questionnaireId: Uuid, message: Text }),
  response: Done,
})
export const AskBack = defineEndpoint({
  name: 'onboarding.askBack',
  method: 'post',
  path: '/onboardings/:id/asks',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    asks: z
      .array(z.strictObject({ key: z.string().max(40), question: GivenReason }))
      .min(1)
      .max(100),
  }),
  response: Done,
})
/** Takes the answers into the record; category owners and finance then decide. */
export const AcceptAnswers = defineEndpoint({
  name: 'onboarding.accept',
  method: 'post',
  path: '/onboardings/:id/acceptance',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const DecideOnboarding = defineEndpoint({
  name: 'onboarding.decide',
  method: 'post',
  path: '/onboardings/:id/decisions/:decisionId',
  permission: 'supplier.read',
  params: z.strictObject({ id: Uuid, decisionId: Uuid }),
  body: z.strictObject({ version: Version, approve: z.boolean(), reason: z.string().max(1000) }),
  response: Done,
})
export const EndOnboarding = defineEndpoint({
  name: 'onboarding.end',
  method: 'post',
  path: '/onboardings/:id/state',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({ version: Version, action: z.enum(['refuse', 'withdraw', 'takeUp']), reason: GivenReason }),
  response: Done,
})

export const QuestionnaireJson = z.strictObject({
  id: Uuid,
  code: z.string(),
  name: z.string(),
  number: z.int(),
  state: z.enum(['draft', 'live', 'retired']),
  categories: z.array(z.string()),
  kinds: z.array(z.enum(['company', 'person'])),
  sections: z.array(SectionJson),
  version: z.int(),
  changedBy: z.string(),
  changedAt: Stamp,
  used: z.int(),
})
export const ListQuestionnaires = defineEndpoint({
  name: 'questionnaires.list',
  method: 'get',
  path: '/setup/questionnaires',
  permission: 'setup.read',
  response: z.strictObject({ questionnaires: z.array(QuestionnaireJson) }),
})
/** Saves a draft: of a new questionnaire when `code` is new, else of the next version. */
export const SaveQuestionnaire = defineEndpoint({
  name: 'questionnaires.save',
  method: 'post',
  path: '/setup/questionnaires',
  permission: 'setup.write',
  body: z.strictObject({
    code: z.string().regex(/^[a-z][a-z0-9-]{1,39}$/),
    name: Line.min(1),
    categories: z.array(Line).max(40),
    kinds: z.array(z.enum(['company', 'person'])).min(1),
    sections: z.array(SectionJson).max(30),
    version: VersionOrNew,
  }),
  response: Done.extend({ reasons: z.array(ReasonJson) }),
})
/** Puts a draft in force; the version before is kept and retired. Onboardings that run keep theirs. */
export const PublishQuestionnaire = defineEndpoint({
  name: 'questionnaires.publish',
  method: 'post',
  path: '/setup/questionnaires/:id/publication',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})

export const CategoryBody = z.strictObject({
  name: Line.min(1),
  ownerId: Uuid.nullable(),
  needsFinance: z.boolean(),
  certificates: z.array(z.strictObject({ kind: Line.min(1), lapse: z.enum(['note', 'check', 'stop']) })).max(20),
  thresholds: z.partialRecord(z.enum(SIGNAL_KEYS), z.string().regex(/^\d{1,4}(\.\d)?$/)),
  /** Where it hangs in the tree of the catalogue. */
  parent: Line.nullable().optional(),
  naturalAccount: z.string().max(20).nullable().optional(),
  /** How lines of this category are proven, by kind. */
  proof: z.partialRecord(z.enum(LINE_KINDS), z.enum(PROOFS)).optional(),
  /** Who buys it. */
  buyers: z.array(Uuid).max(20).optional(),
  /** What it says of how its goods are received. */
  receiving: ToldTerms.optional(),
})
export const CategoryJson = CategoryBody.extend({ owner: z.string().nullable(), suppliers: z.int(), version: z.int() })
export const ListCategories = defineEndpoint({
  name: 'categories.list',
  method: 'get',
  path: '/supply-categories',
  permission: 'supplier.read',
  response: z.strictObject({
    categories: z.array(CategoryJson),
    people: z.array(z.strictObject({ id: Uuid, name: z.string() })),
  }),
})
export const SaveCategory = defineEndpoint({
  name: 'categories.save',
  method: 'post',
  path: '/supply-categories',
  permission: 'setup.write',
  body: CategoryBody.extend({ version: VersionOrNew }),
  response: z.strictObject({ name: z.string(), version: z.int() }),
})
export const SourceSettings = z.strictObject({
  naming: z.strictObject({
    capitals: z.enum(['asGiven', 'words', 'upper']),
    legalForm: z.enum(['keep', 'dotless', 'drop']),
    trailingDots: z.enum(['keep', 'drop']),
  }),
  /** Fields of the record that go through at once when the supplier changes them. */
  harmless: z.array(z.enum(RECORD_FIELDS)),
})
export const ReadSourceSettings = defineEndpoint({
  name: 'sourceSettings.read',
  method: 'get',
  path: '/setup/source',
  permission: 'supplier.read',
  response: SourceSettings,
})
export const SaveSourceSettings = defineEndpoint({
  name: 'sourceSettings.save',
  method: 'put',
  path: '/setup/source',
  permission: 'setup.write',
  body: SourceSettings,
  response: SourceSettings,
})
