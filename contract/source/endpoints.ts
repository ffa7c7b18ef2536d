import { CONSENT_STATES } from '#core/consent/consent.ts'
import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Day, Done, GivenReason, Line, ReasonJson, SheetFrame, Stamp, Uuid, Version } from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { CountryCode, EffectiveJson, IdentifierJson, SupplierBody } from '#contract/source/record.ts'
import { SIGNAL_KEYS } from '#core/source/signals.ts'

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
  /** Other suppliers with the same account. */
  sharedWith: z.string(),
  /** Invoices and payments that wait because of it. */
  held: z.int(),
})
export const CertificateBody = z.strictObject({
  kind: Line.min(1),
  category: Line,
  issuer: Line.min(1),
  number: Line.min(1),
  validFrom: Day,
  validTo: Day.nullable(),
  fileId: Uuid.nullable(),
})
export const CertificateJson = CertificateBody.extend({
  id: Uuid,
  standing: z.enum(['holds', 'soon', 'lapsed', 'notYet', 'missing']),
  fileName: z.string().nullable(),
  state: z.enum(['current', 'replaced', 'withdrawn']),
})
export const RuleStandingJson = z.strictObject({
  kind: z.string(),
  category: z.string(),
  lapse: z.enum(['note', 'check', 'stop']),
  standing: z.string(),
  validTo: z.string().nullable(),
})
export const SignalJson = z.strictObject({
  key: z.enum(SIGNAL_KEYS),
  figure: z.string().nullable(),
  unit: z.enum(['percent', 'count']),
  direction: z.enum(['atLeast', 'atMost']),
  threshold: z.string(),
  from: z.string(),
  to: z.string(),
  tone: z.enum(['good', 'bad', 'none']),
  trend: z.array(z.strictObject({ until: z.string(), figure: z.string().nullable() })),
  entries: z.int(),
  computedAt: Stamp,
})
export const SignalEntryJson = z.strictObject({
  on: z.string(),
  good: z.boolean(),
  kind: z.string(),
  id: z.string(),
  number: z.string(),
  path: z.string().nullable(),
  value: z.string(),
})
export const SecondYesJson = z.strictObject({
  id: Uuid,
  kind: z.enum(['bar', 'sharedNumber', 'merge']),
  supplierId: Uuid.nullable(),
  name: z.string(),
  subject: z.string(),
  others: z.array(z.strictObject({ id: Uuid, number: z.string(), name: z.string() })),
  reason: z.string(),
  askedBy: z.string(),
  askedAt: Stamp,
  state: z.enum(CONSENT_STATES),
  mine: z.boolean(),
  mayAnswer: z.boolean(),
  version: z.int(),
})
export const RevisionFieldJson = z.strictObject({
  id: Uuid,
  key: z.string(),
  label: z.string(),
  before: z.string(),
  after: z.string(),
  state: z.enum(['waiting', 'accepted', 'refused', 'atOnce', 'replaced']),
  by: z.string(),
  at: Stamp,
  account: z.boolean(),
})
export const SupplierSheet = SheetFrame.extend({
  supplier: SupplierBody,
  confidential: z.boolean(),
  owner: z.string().nullable(),
  pausedUntil: z.string().nullable(),
  stateReason: z.string().nullable(),
  mergedInto: z.strictObject({ id: Uuid, number: z.string(), name: z.string() }).nullable(),
  merges: z.array(
    z.strictObject({
      id: Uuid,
      number: z.string(),
      name: z.string(),
      mergedId: Uuid,
      at: Stamp,
      by: z.string(),
      undoUntil: Stamp,
      mayUndo: z.boolean(),
    }),
  ),
  bankAccounts: z.array(BankAccountJson),
  effective: z.array(EffectiveJson),
  locationEffective: z.array(z.strictObject({ locationId: Uuid, values: z.array(EffectiveJson) })),
  certificates: z.array(CertificateJson),
  certificateRules: z.array(RuleStandingJson),
  signals: z.array(SignalJson),
  revisions: z.array(RevisionFieldJson),
  secondYes: SecondYesJson.nullable(),
  onboarding: z.strictObject({ id: Uuid, number: z.string(), state: z.string() }).nullable(),
  people: z.array(
    z.strictObject({
      id: Uuid,
      name: z.string(),
      email: z.string(),
      role: z.string(),
      administrator: z.boolean(),
      active: z.boolean(),
    }),
  ),
  addresses: z.array(
    z.strictObject({
      message: z.string(),
      email: z.string(),
      bouncedAt: Stamp.nullable(),
      bounce: z.string().nullable(),
    }),
  ),
  answers: z.array(z.strictObject({ section: z.string(), label: z.string(), answer: z.string() })),
  figures: z.strictObject({
    openOrders: z.int(),
    openValue: z.string(),
    lastOrder: z.string().nullable(),
    openInvoices: z.int(),
    spentYear: z.string(),
    currency: z.string(),
  }),
  orders: z.array(
    z.strictObject({
      id: Uuid,
      number: z.string(),
      title: z.string(),
      state: z.string(),
      amount: z.string(),
      currency: z.string(),
    }),
  ),
})

export const Suppliers = defineList('suppliers', '/suppliers', 'supplier.read', ['supplier'])
export const ReadSupplier = defineEndpoint({
  name: 'supplier.read',
  method: 'get',
  path: '/suppliers/:id',
  permission: 'supplier.read',
  params: ById,
  response: SupplierSheet,
})

/** What is known while somebody types a new supplier. */
export const FindBody = z.strictObject({
  name: Line,
  country: z.union([z.literal(''), CountryCode]),
  postalCode: Line,
  city: Line,
  street: Line,
  web: Line,
  iban: Line,
  identifiers: z.array(IdentifierJson).max(20),
  /** A record that is not to be found: the one that is being changed. */
  except: Uuid.nullable(),
})
export const CandidateJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  name: z.string(),
  tradeNames: z.array(z.string()),
  city: z.string(),
  country: z.string(),
  state: z.string(),
  percent: z.int(),
  reasons: z.array(
    z.strictObject({ code: z.string(), for: z.boolean(), bits: z.string(), details: z.record(z.string(), z.string()) }),
  ),
  shared: z.array(z.strictObject({ scheme: z.string(), value: z.string() })),
})
export type CandidateJson = z.output<typeof CandidateJson>
/** Shown while a supplier is typed, so that nobody makes a second record. */
export const FindSuppliers = defineEndpoint({
  name: 'supplier.find',
  method: 'post',
  path: '/suppliers-find',
  permission: 'supplier.read',
  safe: true,
  body: FindBody,
  response: z.strictObject({ candidates: z.array(CandidateJson), notes: z.array(ReasonJson) }),
})
/** A new record; an account that is given with it is kept unproven. */
export const NewSupplier = SupplierBody.extend({ iban: Line.optional() })
export const CreateSupplier = defineEndpoint({
  name: 'supplier.create',
  method: 'post',
  path: '/suppliers',
  permission: 'supplier.write',
  body: NewSupplier,
  response: Done,
})
/** A strong identifier is shared with another record: a second person has to agree before the new one is made. */
export const AskForShared = defineEndpoint({
  name: 'supplier.askForShared',
  method: 'post',
  path: '/suppliers-shared',
  permission: 'supplier.write',
  body: z.strictObject({ supplier: NewSupplier, reason: GivenReason }),
  response: Done,
})
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
  body: z.strictObject({
    version: Version,
    action: z.enum(['pause', 'resume', 'bar', 'close', 'reopen']),
    reason: GivenReason,
    until: Day.nullable(),
  }),
  response: Done,
})
export const ReadSecondYes = defineEndpoint({
  name: 'secondYes.read',
  method: 'get',
  path: '/second-yes/:id',
  permission: 'supplier.read',
  params: ById,
  response: SecondYesJson,
})
export const AnswerSecondYes = defineEndpoint({
  name: 'secondYes.answer',
  method: 'post',
  path: '/second-yes/:id/answer',
  permission: 'supplier.read',
  params: ById,
  body: z.strictObject({ version: Version, answer: z.enum(['agree', 'refuse', 'withdraw']), reason: GivenReason }),
  response: z.strictObject({ id: Uuid, version: z.int(), supplierId: Uuid.nullable() }),
})
export const SetBankAccount = defineEndpoint({
  name: 'supplier.bankAccount',
  method: 'post',
  path: '/suppliers/:id/bank-accounts',
  permission: 'supplier.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    iban: Line,
    bic: z.string().regex(/^([A-Z]{6}[A-Z0-9]{2}([A-Z0-9]{3})?)?$/),
    holder: Line.min(1),
  }),
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
export const SaveCertificate = defineEndpoint({
  name: 'certificate.save',
  method: 'post',
  path: '/suppliers/:id/certificates',
  permission: 'supplier.write',
  params: ById,
  /** `replaces`: the certificate that this one follows. */
  body: CertificateBody.extend({ replaces: Uuid.nullable() }),
  response: Done,
})
export const WithdrawCertificate = defineEndpoint({
  name: 'certificate.withdraw',
  method: 'post',
  path: '/suppliers/:id/certificates/:certificateId/withdrawal',
  permission: 'supplier.write',
  params: z.strictObject({ id: Uuid, certificateId: Uuid }),
  body: z.strictObject({ reason: GivenReason }),
  response: Done,
})
export const CertificateFile = defineEndpoint({
  name: 'certificate.file',
  method: 'get',
  path: '/certificates/:id/file',
  permission: 'supplier.read',
  params: ById,
  answers: 'file',
})
/** Computes a supplier's signals now instead of tonight. */
export const ComputeSignals = defineEndpoint({
  name: 'signals.compute',
  method: 'post',
  path: '/suppliers/:id/signals',
  permission: 'supplier.read',
  params: ById,
  response: z.strictObject({ signals: z.array(SignalJson) }),
})
/** The entries behind a figure. */
export const ReadSignal = defineEndpoint({
  name: 'signals.read',
  method: 'get',
  path: '/suppliers/:id/signals/:key',
  permission: 'supplier.read',
  params: z.strictObject({ id: Uuid, key: z.enum(SIGNAL_KEYS) }),
  response: z.strictObject({ entries: z.array(SignalEntryJson), more: z.int() }),
})
/** Takes or refuses one field that the supplier changed. */
export const AnswerRevision = defineEndpoint({
  name: 'revision.answer',
  method: 'post',
  path: '/suppliers/:id/revisions/:revisionId',
  permission: 'supplier.write',
  params: z.strictObject({ id: Uuid, revisionId: Uuid }),
  body: z.strictObject({ accept: z.boolean(), reason: z.string().max(500) }),
  response: Done,
})
/** Gives the administration of a supplier's people to another one there, when the administrator is gone. */
export const ReassignAdministrator = defineEndpoint({
  name: 'supplier.reassign',
  method: 'post',
  path: '/suppliers/:id/administrator',
  permission: 'supplier.steward',
  params: ById,
  body: z.strictObject({ personId: Uuid, check: GivenReason }),
  response: Done,
})
/** Opens the supplier's pages to somebody there as administrator: by a buyer while there is none, by a steward in place of one who is gone. */
export const InviteAdministrator = defineEndpoint({
  name: 'supplier.inviteAdministrator',
  method: 'post',
  path: '/suppliers/:id/people',
  permission: 'supplier.read',
  params: ById,
  body: z.strictObject({ name: Line.min(1), email: z.email(), check: GivenReason }),
  response: Done,
})
