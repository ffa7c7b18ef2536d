import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Day,
  DecimalText,
  Done,
  GivenReason,
  Line,
  ReasonJson,
  Stamp,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { SplitJson } from '#contract/request/lines.ts'

export const Decisions = defineList('decisions', '/decisions', 'requisition.write', ['requisition'])
export const Decide = defineEndpoint({
  name: 'decide',
  method: 'post',
  path: '/requisitions/:id/decide',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, decision: z.enum(['approve', 'reject', 'return']), reason: Text }),
  response: Done,
})
/** Changes lines while they are decided, or refuses some of them; what is left out stays as it is. */
export const EditLines = defineEndpoint({
  name: 'decide.editLines',
  method: 'put',
  path: '/requisitions/:id/decide/lines',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    reason: GivenReason,
    lines: z
      .array(
        z.strictObject({
          id: Uuid,
          refuse: z.literal(true).optional(),
          description: Line.optional(),
          quantity: DecimalText.optional(),
          price: DecimalText.optional(),
          needBy: Day.nullable().optional(),
          addressId: Uuid.nullable().optional(),
          splits: z.array(SplitJson).min(1).max(50).optional(),
        }),
      )
      .min(1)
      .max(500),
  }),
  response: Done.extend({ askedAgain: z.int().min(0) }),
})
const StepParams = z.strictObject({ id: Uuid, stepId: Uuid })
export const PassStep = defineEndpoint({
  name: 'decide.passOn',
  method: 'post',
  path: '/requisitions/:id/steps/:stepId/pass',
  permission: 'requisition.passOn',
  params: StepParams,
  body: z.strictObject({ version: Version, toPersonId: Uuid, reason: GivenReason }),
  response: Done,
})
/** Who could decide a step of another question instead: of a transfer, a run, an onboarding. */
export const ReadPassCandidates = defineEndpoint({
  name: 'questions.candidates',
  method: 'get',
  path: '/questions/:id/steps/:stepId/candidates',
  permission: 'requisition.passOn',
  params: StepParams,
  response: z.strictObject({ candidates: z.array(z.strictObject({ id: Uuid, name: z.string() })) }),
})
export const PassQuestion = defineEndpoint({
  name: 'questions.passOn',
  method: 'post',
  path: '/questions/:id/steps/:stepId/pass',
  permission: 'requisition.passOn',
  params: StepParams,
  body: z.strictObject({ version: Version, toPersonId: Uuid, reason: GivenReason }),
  response: Done,
})
export const RemindHolders = defineEndpoint({
  name: 'decide.remind',
  method: 'post',
  path: '/requisitions/:id/remind',
  permission: 'requisition.write',
  params: ById,
  response: Done,
})

/** What there is to decide for one person: what waits for them, for those whose place they take, what comes to them later, what they decided. */
export const DECISION_PARTS = ['mine', 'standIn', 'coming', 'decided', 'stalled'] as const
export const DecisionItem = z.strictObject({
  /** The step that is decided. */
  id: Uuid,
  purpose: z.string(),
  consentId: Uuid,
  consentVersion: z.int(),
  documentId: Uuid,
  /** The version of a request that is seen here; null where it has to be opened to be decided. */
  version: z.int().nullable(),
  path: z.string(),
  number: z.string(),
  title: z.string(),
  askedBy: z.string(),
  amount: AmountText.nullable(),
  currency: z.string().nullable(),
  needBy: Day.nullable(),
  since: Stamp,
  /** When the time for it is over; null: never, or while its clock stands. */
  dueAt: Stamp.nullable(),
  paused: z.boolean(),
  stall: z.string().nullable(),
  /** Whom it waits for, where that is somebody else. */
  waitsFor: z.string(),
  /** In whose place. */
  inPlaceOf: z.string().nullable(),
  /** What makes it come to this person. */
  /** Whether rules ask; else the house does, for what `because` names. */
  byRule: z.boolean(),
  because: z.array(
    z.strictObject({ rule: z.string(), costCentre: z.string().nullable(), why: z.string(), of: z.string() }),
  ),
  /** The account that has least left, with what is left once this is bought. */
  budget: z.strictObject({ accountId: Uuid, label: z.string(), left: AmountText, currency: z.string() }).nullable(),
  lines: z.int().nullable(),
  /** How many decisions come after this one. */
  later: z.int(),
  /** How this person decided it; null while it is open. */
  outcome: z.string().nullable(),
  decidedAt: Stamp.nullable(),
})
export type DecisionItem = z.output<typeof DecisionItem>
export const ReadMyDecisions = defineEndpoint({
  name: 'decisions.mine',
  method: 'get',
  path: '/my-decisions',
  permission: 'signedIn',
  query: z.strictObject({
    part: z.enum(DECISION_PARTS).default('mine'),
    from: z.coerce.number().int().min(0).max(100_000).default(0),
  }),
  response: z.strictObject({
    counts: z.strictObject({ mine: z.int(), standIn: z.int(), coming: z.int(), stalled: z.int() }),
    total: z.int(),
    items: z.array(DecisionItem),
  }),
})

/** Asks the requester something before deciding: the time for the decision stands until they answer. */
export const AskBeforeDeciding = defineEndpoint({
  name: 'decide.ask',
  method: 'post',
  path: '/requisitions/:id/ask',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, question: GivenReason }),
  response: Done,
})

/** Reasons that this person keeps for another time, the one used last first. */
export const ReadKeptReasons = defineEndpoint({
  name: 'decide.reasons',
  method: 'get',
  path: '/kept-reasons',
  permission: 'signedIn',
  response: z.strictObject({ reasons: z.array(z.string()) }),
})
const KeptReason = z.strictObject({
  reason: GivenReason.refine(text => text.length <= 500, { error: 'at most 500 letters' }),
})
export const KeepReason = defineEndpoint({
  name: 'decide.keepReason',
  method: 'put',
  path: '/kept-reasons',
  permission: 'signedIn',
  body: KeptReason,
})
export const DropReason = defineEndpoint({
  name: 'decide.dropReason',
  method: 'post',
  path: '/kept-reasons/drop',
  permission: 'signedIn',
  body: KeptReason,
})

const WayToken = z.strictObject({ token: z.string().max(80) })
/** What somebody can decide who followed a link of a mail. Looking decides nothing, however often and by whomever it is done. */
export const ReadWay = defineEndpoint({
  name: 'decide.way',
  method: 'get',
  path: '/answers/:token',
  permission: 'anyone',
  params: WayToken,
  response: z.strictObject({
    offers: z.enum(['approve', 'reject']),
    number: z.string(),
    title: z.string(),
    requester: z.string(),
    reason: z.string(),
    total: AmountText,
    currency: z.string(),
    needBy: Day.nullable(),
    lines: z.array(
      z.strictObject({ what: z.string(), quantity: z.string().nullable(), unit: z.string(), amount: AmountText }),
    ),
    /** What is otherwise than when it was asked about. */
    changes: z.array(z.strictObject({ line: z.string(), before: z.string().nullable(), after: z.string().nullable() })),
    budgets: z.array(z.strictObject({ label: z.string(), left: AmountText })),
    /** Who decides, and in whose place. */
    person: z.string(),
    inPlaceOf: z.string(),
    until: Stamp,
    /** Why it leads nowhere any more. */
    reasons: z.array(ReasonJson),
  }),
})
/** Decides, once. */
export const UseWay = defineEndpoint({
  name: 'decide.useWay',
  method: 'post',
  path: '/answers/:token',
  permission: 'anyone',
  params: WayToken,
  body: z.strictObject({ answer: z.enum(['approve', 'reject', 'ask']), reason: Text }),
  response: z.strictObject({ number: z.string(), answer: z.string() }),
})

/** Who could decide a step instead, with how far their limit reaches and what waits for them already. */
export const ReadCandidates = defineEndpoint({
  name: 'decide.candidates',
  method: 'get',
  path: '/requisitions/:id/candidates',
  permission: 'requisition.write',
  params: ById,
  response: z.strictObject({
    currency: z.string(),
    candidates: z.array(
      z.strictObject({
        id: Uuid,
        name: z.string(),
        /** Up to which amount they decide alone; null: without a limit. */
        limit: AmountText.nullable(),
        /** The request is not above it. */
        enough: z.boolean(),
        waiting: z.int(),
        awayUntil: Day.nullable(),
      }),
    ),
  }),
})
export const SkipStep = defineEndpoint({
  name: 'decide.skip',
  method: 'post',
  path: '/requisitions/:id/steps/:stepId/skip',
  permission: 'requisition.passOn',
  params: StepParams,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: z.strictObject({ id: Uuid, version: z.int(), waits: z.boolean() }),
})
/** A second steward agrees that a step is skipped, or does not. */
export const AnswerSkip = defineEndpoint({
  name: 'decide.answerSkip',
  method: 'post',
  path: '/requisitions/:id/skip',
  permission: 'requisition.passOn',
  params: ById,
  body: z.strictObject({ version: Version, agrees: z.boolean(), reason: Text }),
  response: Done,
})
/** One person more has to decide; nobody is taken away. */
export const AddStep = defineEndpoint({
  name: 'decide.add',
  method: 'post',
  path: '/requisitions/:id/steps',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, personId: Uuid, reason: GivenReason }),
  response: Done,
})
/** What cannot move goes back to its requester as a draft, or is asked for anew by the rules and people of today. */
export const FreeRequest = defineEndpoint({
  name: 'decide.free',
  method: 'post',
  path: '/requisitions/:id/free',
  permission: 'requisition.passOn',
  params: ById,
  body: z.strictObject({ version: Version, how: z.enum(['sendBack', 'askAgain']), reason: GivenReason }),
  response: Done,
})

const Period = z.strictObject({ fromDay: Day, toDay: Day })
/** Who decided what in a time, under which version of the rules, having seen what; and who did more than one thing about one purchase. */
export const ReadEvidence = defineEndpoint({
  name: 'decide.evidence',
  method: 'get',
  path: '/decisions/evidence',
  permission: 'requisition.readAll',
  query: Period,
  response: z.strictObject({
    currency: z.string(),
    decisions: z.array(
      z.strictObject({
        id: Uuid,
        at: Stamp,
        number: z.string(),
        title: z.string(),
        path: z.string(),
        requester: z.string(),
        /** In the base currency; null where it is about no amount. */
        amount: AmountText.nullable(),
        decider: z.string(),
        inPlaceOf: z.string().nullable(),
        channel: z.string(),
        outcome: z.string(),
        reason: z.string(),
        rules: z.string(),
        ruleVersion: z.int().nullable(),
        /** SHA-256 over what was in front of whoever decided. */
        seen: z.string().nullable(),
        hours: z.number().nullable(),
      }),
    ),
    /** More were taken than are shown. */
    more: z.int(),
    times: z.array(z.strictObject({ decider: z.string(), count: z.int(), median: z.number(), total: z.number() })),
    purchases: z.int(),
    exceptions: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        path: z.string(),
        person: z.string(),
        duties: z.array(z.string()),
      }),
    ),
  }),
})
export const EvidenceCsv = defineEndpoint({
  name: 'decide.evidenceCsv',
  method: 'get',
  path: '/decisions/evidence.csv',
  permission: 'requisition.readAll',
  query: Period,
  answers: 'file',
})
export const EvidencePdf = defineEndpoint({
  name: 'decide.evidencePdf',
  method: 'get',
  path: '/decisions/evidence.pdf',
  permission: 'requisition.readAll',
  query: Period,
  answers: 'file',
})

/** What waits for somebody who leaves, and where they are named. */
export const ReadHandOver = defineEndpoint({
  name: 'decide.handOverRead',
  method: 'get',
  path: '/people/:id/hand-over',
  permission: 'requisition.passOn',
  params: ById,
  response: z.strictObject({
    name: z.string(),
    open: z.boolean(),
    decisions: z.array(
      z.strictObject({ id: Uuid, number: z.string(), title: z.string(), path: z.string(), now: z.boolean() }),
    ),
    rules: z.array(z.strictObject({ version: z.int(), name: z.string(), draft: z.boolean() })),
    centres: z.array(z.string()),
    below: z.array(z.string()),
    standsInFor: z.array(z.string()),
    people: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  }),
})
/** Gives what waits for somebody to another person, who also comes next in the chain in their place; what they stood in for ends. */
export const HandOver = defineEndpoint({
  name: 'decide.handOver',
  method: 'post',
  path: '/people/:id/hand-over',
  permission: 'requisition.passOn',
  params: ById,
  body: z.strictObject({ toPersonId: Uuid, reason: GivenReason }),
  response: z.strictObject({
    given: z.int(),
    others: z.int(),
    left: z.array(z.strictObject({ number: z.string(), reasons: z.array(ReasonJson) })),
  }),
})
