import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  BudgetFigures,
  ById,
  Day,
  Done,
  GaugeJson,
  GivenReason,
  Line,
  ReasonJson,
  Sentence,
  SheetFrame,
  StepJson,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { CodingJson, LineBody, LineFacts, LineJson, QuestionOfLine, RequisitionBody } from '#contract/request/lines.ts'
import { QUICK_PARTS } from '#core/request/quickLine.ts'

const NamedPerson = z.strictObject({ id: Uuid, name: z.string() })
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
  questions: z.array(QuestionOfLine),
  /** What is otherwise than when it was asked about, as text; null: it was not there, or is not any more. */
  changes: z.array(
    z.strictObject({
      line: z.string(),
      key: z.string(),
      before: z.string().nullable(),
      after: z.string().nullable(),
    }),
  ),
  form: z
    .strictObject({
      name: z.string(),
      number: z.int(),
      said: z.array(z.strictObject({ question: z.string(), answer: z.string() })),
    })
    .nullable(),
})
export const CheckResult = z.strictObject({
  reasons: z.array(ReasonJson),
  budgets: z.array(BudgetFigures),
  steps: z.array(StepJson),
  total: AmountText,
  currency: z.string(),
  lines: z.array(LineFacts),
  /** Rules that let whoever asks choose who decides. */
  choices: z.array(
    z.strictObject({ ruleId: Uuid, rule: z.string(), people: z.array(NamedPerson), chosen: Uuid.nullable() }),
  ),
  /** Who decides, too, because whoever asks wants it. */
  added: z.array(NamedPerson),
  mayAdd: z.boolean(),
})

export const Requisitions = defineList('requisitions', '/requisitions', 'requisition.write', ['requisition'])
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
/** Whom the requester chooses where a rule lets them, and whom they want to decide, too. */
export const ChooseDeciders = defineEndpoint({
  name: 'requisition.chooseDeciders',
  method: 'put',
  path: '/requisitions/:id/deciders',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, chosen: z.record(Uuid, Uuid), added: z.array(Uuid).max(10) }),
  response: Done,
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
  body: z.strictObject({
    version: Version,
    action: z.enum(['withdraw', 'change', 'reopen', 'cancel', 'copy']),
    reason: Text.optional(),
  }),
  response: Done,
})
export const AnswerQuestion = defineEndpoint({
  name: 'requisition.answer',
  method: 'post',
  path: '/requisitions/:id/questions/:questionId/answer',
  permission: 'requisition.write',
  params: z.strictObject({ id: Uuid, questionId: Uuid }),
  body: z.strictObject({ answer: GivenReason }),
  response: Done,
})
export const RequisitionPdf = defineEndpoint({
  name: 'requisition.pdf',
  method: 'get',
  path: '/requisitions/:id/pdf',
  permission: 'requisition.write',
  params: ById,
  answers: 'file',
})

/** Accounts that may pay for lines, each with its reason, the likeliest first. */
export const ProposeAccounts = defineEndpoint({
  name: 'coding.propose',
  method: 'post',
  path: '/coding',
  permission: 'requisition.write',
  safe: true,
  body: z.strictObject({
    lines: z
      .array(
        z.strictObject({
          itemId: Uuid.nullable(),
          category: Line,
          needBy: Day.nullable(),
          project: z.string().max(40).nullable(),
        }),
      )
      .max(500),
  }),
  response: z.strictObject({ lines: z.array(z.strictObject({ proposals: z.array(CodingJson) })) }),
})

/** Everything one asked for, as threads: how far each line has come, and what is one's own to do. */
export const ReadNeeds = defineEndpoint({
  name: 'needs.read',
  method: 'get',
  path: '/needs',
  permission: 'requisition.write',
  query: z.strictObject({ view: z.enum(['open', 'all']).optional() }),
  response: z.strictObject({
    needs: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        state: z.string(),
        sentence: Sentence,
        tone: z.enum(['plain', 'settled', 'attention', 'stop']),
        needBy: z.string().nullable(),
        total: AmountText,
        currency: z.string(),
        lines: z.array(z.strictObject({ id: Uuid, description: z.string(), state: z.string(), gauge: GaugeJson })),
        /** What only the requester can do now, with where to do it. */
        toDo: z.array(
          z.strictObject({ what: z.enum(['answer', 'submit', 'acceptWork', 'receive']), path: z.string() }),
        ),
      }),
    ),
    hidden: z.int(),
  }),
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
    addresses: z.array(Named.extend({ detail: z.string(), purposes: z.array(z.string()) })),
    suppliers: z.array(Named.extend({ currency: z.string() })),
    people: z.array(Named),
    buyers: z.array(Named),
    units: z.array(z.strictObject({ code: z.string(), label: z.string() })),
    currencies: z.array(z.string()),
    costCentres: z.array(z.strictObject({ code: z.string(), name: z.string() })),
    projects: z.array(z.strictObject({ code: z.string(), name: z.string() })),
    categories: z.array(z.string()),
    usual: z.strictObject({ accountId: Uuid.nullable(), addressId: Uuid.nullable() }),
  }),
})
/** Suppliers by a piece of their name, beyond those that fit into the choices. */
export const FindSupplierChoices = defineEndpoint({
  name: 'choices.suppliers',
  method: 'get',
  path: '/choices/suppliers',
  permission: 'signedIn',
  query: z.strictObject({ q: z.string().max(100) }),
  response: z.strictObject({ suppliers: z.array(Named.extend({ currency: z.string() })) }),
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
export const QuickLineJson = z.strictObject({
  text: z.string(),
  parts: z.array(QuickPartJson),
  reasons: z.array(ReasonJson),
  line: LineBody.omit({ id: true }).nullable(),
})
export type QuickLineJson = z.output<typeof QuickLineJson>
/** Understands lines as people write them; `choices` says which reading of a line's part was chosen (`0.place` to a value). */
export const ReadQuickLines = defineEndpoint({
  name: 'quickLines.read',
  method: 'post',
  path: '/quick-lines',
  permission: 'requisition.write',
  safe: true,
  body: z.strictObject({
    text: z.string().max(400_000),
    choices: z.record(z.string().max(40), z.string().max(300)),
    from: z.int().min(0).max(10_000).optional(),
  }),
  response: z.strictObject({ lines: z.array(QuickLineJson), left: z.int() }),
})
