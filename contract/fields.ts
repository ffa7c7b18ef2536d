import { z } from 'zod'
import { isDay } from '#core/calendar/days.ts'
import { currencies } from '#core/money/currency.ts'
import { isHeldDecimal } from '#core/money/decimal.ts'
import { LARGEST_INTEGER } from '#core/text/storable.ts'
import { THREAD_STEPS } from '#core/ledger/thread.ts'

export const Uuid = z.uuid()
export const ById = z.strictObject({ id: Uuid })
export const Zone = z.string().max(60).refine(isZone, { error: 'a time zone such as Europe/Amsterdam' })

function isZone(text: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: text }).resolvedOptions().timeZone !== ''
  } catch {
    return false
  }
}
export const Day = z.string().refine(isDay, { error: 'a calendar day as YYYY-MM-DD' }).meta({ format: 'date' })
export const DecimalText = z
  .string()
  .refine(isHeldDecimal, {
    error: 'a decimal number such as 12.5, at most twelve digits before the point and six after it',
  })
  .meta({ format: 'decimal' })
export const AmountText = z.string().regex(/^-?\d{1,15}(\.\d{1,3})?$/)
export const Currency = z.enum(currencies as [string, ...string[]])
export const Version = z.int().min(1).max(LARGEST_INTEGER)
/** The version of what may not be there yet: 0 makes it. */
export const VersionOrNew = z.int().min(0).max(LARGEST_INTEGER)
export const Stamp = z.string()
export const Revision = z.int().min(0).max(LARGEST_INTEGER)
export const QueryRevision = z.coerce.number().int().min(0).max(LARGEST_INTEGER)
/** One line of text that people read: no control characters, NUL among them (PostgreSQL cannot keep it). */
export const Line = z
  .string()
  .max(300)
  .refine(text => !/[\u0000-\u001f\u007f]/.test(text), {
    error: 'plain text without line breaks or control characters',
  })
export const Text = z
  .string()
  .max(4000)
  .refine(text => !/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/.test(text), {
    error: 'plain text without control characters',
  })
export const GivenReason = Text.refine(text => text.trim().length >= 3, { error: 'a reason of at least three letters' })

export const Details = z.record(z.string(), z.union([z.string(), z.number()]))
export const ReasonJson = z.strictObject({
  code: z.string(),
  level: z.enum(['stop', 'check', 'note']),
  place: z.string().optional(),
  details: Details,
  clearedBy: z.array(z.string()).optional(),
})
export type ReasonJson = z.output<typeof ReasonJson>

/** A sentence: a message code with what fills it. */
export const Sentence = z.strictObject({ code: z.string(), details: Details })
export type Sentence = z.output<typeof Sentence>

/** What can be done with a document, or why not now. */
export const ActionState = z.strictObject({
  action: z.string(),
  primary: z.boolean(),
  possible: z.boolean(),
  reasons: z.array(ReasonJson),
})
export type ActionState = z.output<typeof ActionState>

export const BudgetFigures = z.strictObject({
  accountId: Uuid,
  label: z.string(),
  currency: z.string(),
  allotted: AmountText,
  reserved: AmountText,
  committed: AmountText,
  spent: AmountText,
  accrued: AmountText,
  available: AmountText,
  here: AmountText,
  after: AmountText,
})
export type BudgetFigures = z.output<typeof BudgetFigures>

export const ThreadDocument = z.strictObject({
  kind: z.string(),
  id: Uuid,
  number: z.string(),
  path: z.string().nullable(),
  state: z.string(),
})
export const ThreadJson = z.strictObject({
  currency: z.string(),
  steps: z.array(
    z.strictObject({
      step: z.enum(THREAD_STEPS),
      value: AmountText,
      missing: AmountText,
      documents: z.array(ThreadDocument),
      note: Sentence.nullable(),
    }),
  ),
})
export type ThreadJson = z.output<typeof ThreadJson>

export const GaugeJson = z.strictObject({
  lineId: Uuid,
  unit: z.string(),
  ordered: DecimalText,
  requested: DecimalText,
  confirmed: DecimalText,
  despatched: DecimalText,
  received: DecimalText,
  accepted: DecimalText,
  billed: DecimalText,
  paid: DecimalText,
})
export type GaugeJson = z.output<typeof GaugeJson>

export const HistoryJson = z.strictObject({
  sequence: z.int(),
  at: Stamp,
  actor: z.string(),
  /** In whose place, if not in their own. */
  onBehalfOf: z.string().nullable(),
  channel: z.string(),
  action: z.string(),
  reason: z.string().nullable(),
  changes: z.unknown(),
})
export const AttachmentJson = z.strictObject({
  id: Uuid,
  name: z.string(),
  mediaType: z.string(),
  size: z.int(),
  at: Stamp,
  by: z.string(),
})
export const NoteJson = z.strictObject({
  id: Uuid,
  text: z.string(),
  at: Stamp,
  by: z.string(),
  /** Whom it names, and whether that is whoever reads it and has not seen it. */
  names: z.array(z.string()),
  toSee: z.boolean(),
})
export const StepJson = z.strictObject({
  id: Uuid.optional(),
  stage: z.int(),
  /** Any of them decides; why each is asked, and in connection with whom. */
  approvers: z.array(z.strictObject({ id: Uuid, name: z.string(), because: z.string(), of: z.string() })),
  /** What asks, with what made it apply. */
  rules: z.array(
    z.strictObject({
      name: z.string(),
      costCentre: z.string().nullable(),
      measured: AmountText.nullable(),
      evidence: z.array(z.strictObject({ fact: z.string(), not: z.boolean(), values: z.array(z.string()) })),
    }),
  ),
  /** Whom its rules name who are not asked because of them, and why. */
  leftOut: z.array(z.strictObject({ name: z.string(), rule: z.string(), why: z.string() })),
  /** The lines that are decided; null: the whole document. */
  lineIds: z.array(Uuid).nullable(),
  state: z.string(),
  stalled: z.boolean(),
  /** Why it stands still. */
  stall: z.string().nullable(),
  openedAt: Stamp.nullable(),
  /** When its time is over; null: never, or while its clock stands. */
  dueAt: Stamp.nullable(),
  paused: z.boolean(),
  /** Through which channel it was decided. */
  channel: z.string().nullable(),
  inPlaceOf: z.string().nullable(),
  /** Who decided it, where that was somebody else than it asks. */
  decidedBy: z.string().nullable(),
  decidedAt: Stamp.nullable(),
  reason: z.string().nullable(),
})
export type StepJson = z.output<typeof StepJson>

/** The parts that every Sheet has. */
export const SheetFrame = z.strictObject({
  kind: z.string(),
  id: Uuid,
  number: z.string(),
  title: z.string(),
  state: z.string(),
  version: z.int(),
  sentence: Sentence,
  tone: z.enum(['plain', 'settled', 'attention', 'stop']),
  actions: z.array(ActionState),
  thread: ThreadJson.nullable(),
  budgets: z.array(BudgetFigures),
  steps: z.array(StepJson),
  history: z.array(HistoryJson),
  historyCount: z.int(),
  attachments: z.array(AttachmentJson),
  notes: z.array(NoteJson),
})
export type SheetFrame = z.output<typeof SheetFrame>

export const ListQuery = z.strictObject({
  view: z.string().max(40).optional(),
  q: z.string().max(200).optional(),
  /** A named order, or columns such as `-needBy,supplier`. */
  sort: z.string().max(200).optional(),
  after: z.string().max(2000).optional(),
  limit: z.coerce.number().int().min(1).max(200).optional(),
  state: z.string().max(40).optional(),
  /** Conditions, such as `needBy.next:14;supplier.has:pump|supplier.is:Nordhavn` (core/lists/conditions.ts). */
  where: z.string().max(4000).optional(),
})
export type ListQuery = z.output<typeof ListQuery>
export const ListRow = z.strictObject({
  id: Uuid,
  path: z.string(),
  number: z.string(),
  title: z.string(),
  /** What it is about, where columns say already what its title says. */
  what: z.string().optional(),
  subtitle: z.string(),
  state: z.string(),
  amount: AmountText.nullable(),
  currency: z.string().nullable(),
  note: Sentence.nullable(),
  tone: z.enum(['plain', 'settled', 'attention', 'stop']),
  cells: z.record(z.string(), z.string().nullable()),
})
export type ListRow = z.output<typeof ListRow>
export const ListPage = z.strictObject({
  rows: z.array(ListRow),
  next: z.string().nullable(),
  shown: z.int(),
  hidden: z.int(),
  countIsFloor: z.boolean(),
  views: z.array(z.string()),
  view: z.string(),
  sorts: z.array(z.string()),
  sort: z.string(),
  states: z.array(z.string()),
  /** `ordered`: whether rows can be ordered by it; `grouped`: whether they can be put together by it. */
  columns: z.array(
    z.strictObject({
      key: z.string(),
      type: z.enum(['words', 'figure', 'date', 'choice', 'person']),
      numeric: z.boolean(),
      ordered: z.boolean(),
      grouped: z.boolean(),
    }),
  ),
  /** What it can be asked about; `choices`: whether its values are to choose from. */
  asks: z.array(z.strictObject({ key: z.string(), type: z.string(), choices: z.boolean() })),
  conditions: z.array(
    z.array(z.strictObject({ column: z.string(), operator: z.string(), values: z.array(z.string()) })),
  ),
  /** Parts of the conditions that cannot be asked, because their column is gone or the value does not fit. */
  lost: z.array(z.string()),
  orders: z.array(z.strictObject({ column: z.string(), descending: z.boolean() })),
})
export type ListPage = z.output<typeof ListPage>
export const Done = z.strictObject({ id: Uuid, version: z.int() })
