import type { ActorFacts, StoodFor } from '#core/acts/actor.ts'
import type { Minor } from '#core/money/amount.ts'

/** The stages of the work, in working order. */
export const STAGES = ['source', 'request', 'decide', 'order', 'receive', 'bill', 'pay'] as const
export type Stage = (typeof STAGES)[number]

/** Everything that can wait for somebody; the words of each are under `desk.<key>`. */
export const DESK_KEYS = [
  'acceptWork',
  'agree',
  'agreePower',
  'agreeSkip',
  'agreement',
  'agreementDraft',
  'agreementEnds',
  'agreementSpent',
  'agreementStops',
  'agreementUsed',
  'answer',
  'answersIn',
  'approveRun',
  'arrived',
  'arrivedWrong',
  'award',
  'bankMessage',
  'billMissing',
  'bounced',
  'certificateEnds',
  'decide',
  'difference',
  'dispute',
  'draft',
  'due',
  'eventCompare',
  'eventDraft',
  'eventEnds',
  'eventPlace',
  'eventWrites',
  'excess',
  'expected',
  'hold',
  'inspect',
  'issue',
  'late',
  'longJob.awardPlan.done',
  'longJob.awardPlan.failed',
  'longJob.awardPlan.runs',
  'longJob.duplicates.done',
  'longJob.duplicates.failed',
  'longJob.duplicates.runs',
  'longJob.supplierImport.done',
  'longJob.supplierImport.failed',
  'longJob.supplierImport.runs',
  'longJob.workbook.done',
  'longJob.workbook.failed',
  'longJob.workbook.runs',
  'mentioned',
  'onboardingDecide',
  'overReceipt',
  'post',
  'postCredit',
  'proposed',
  'prove',
  'question',
  'recall',
  'refused',
  'returned',
  'revision',
  'setAside',
  'stalled',
  'stockCount',
  'tell',
  'toBuy',
  'transfer',
] as const
export type DeskKey = (typeof DESK_KEYS)[number]

/** Something that waits for somebody because of a document. */
export interface DeskEntry {
  readonly key: DeskKey
  readonly stage: Stage
  /** What there is to do. */
  readonly act: string
  readonly tone: 'plain' | 'attention' | 'stop'
  /** For whom: whoever belongs to any of these, as `audiencesOf` names them. */
  readonly audiences: readonly string[]
  /** People for whom it does not wait although they belong to an audience. */
  readonly notFor: readonly string[]
  /** The first day on which it waits; null: at once. */
  readonly from: string | null
  readonly amount: Minor | null
  readonly currency: string | null
  /** Since when, as an instant or a day. */
  readonly since: string
  readonly needBy: string | null
  readonly path: string
  /** What fills its words. */
  readonly details: Readonly<Record<string, string | number>>
}

export const forPerson = (id: string): string => `person:${id}`
export const forRole = (role: string): string => `role:${role}`
export const forRight = (right: string, costCentre: string | null = null): string =>
  costCentre === null ? `right:${right}` : `right:${right}@${costCentre}`

/** An audience that somebody belongs to, and how far: in another's place perhaps only for some things, up to an amount. */
export interface Audience {
  readonly name: string
  readonly stoodFor: StoodFor | null
}

/** Every audience that a person belongs to: themselves, those they stand in for, their roles, and their rights, everywhere or in their cost centres. */
export function audiencesOf(actor: ActorFacts): Audience[] {
  const rights = [...actor.rights]
  const own = [
    forPerson(actor.id),
    ...actor.roles.map(forRole),
    ...rights.map(right => forRight(right)),
    ...rights.flatMap(right => actor.costCentres.map(centre => forRight(right, centre))),
  ]
  return [
    ...own.map(name => ({ name, stoodFor: null })),
    ...actor.standsInFor.map(stoodFor => ({ name: forPerson(stoodFor.id), stoodFor })),
  ]
}

/** What waiting costs: what stops comes first, then what is needed soonest, then the oldest. Lower comes first. */
export const urgency = (entry: Pick<DeskEntry, 'tone' | 'needBy' | 'since'>): string =>
  `${entry.tone === 'stop' ? 0 : 1} ${entry.needBy ?? '9999-12-31'} ${entry.since}`
