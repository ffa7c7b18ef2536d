import { type ActorFacts, mayDo, reaches } from '#core/acts/actor.ts'
import { saysWhy } from '#core/acts/decision.ts'
import type { Minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'

/**
 * What people are asked to say yes to, for any kind of document. Everything that takes somebody else's decision is one of these; none has
 * a mechanism of its own.
 */
export const CONSENT_PURPOSES = [
  'approval',
  'onboarding',
  'bar',
  'sharedNumber',
  'merge',
  'account',
  'transfer',
  'orderAnswer',
  'run',
  'recall',
  'power',
  'skip',
  'excess',
  'difference',
  'award',
  'agreement',
  'overReceipt',
  'stockCount',
] as const
export type ConsentPurpose = (typeof CONSENT_PURPOSES)[number]

export const CONSENT_STATES = ['open', 'given', 'refused', 'returned', 'withdrawn', 'dropped'] as const
export type ConsentState = (typeof CONSENT_STATES)[number]

export const STEP_STATES = ['later', 'open', 'approved', 'rejected', 'returned', 'skipped', 'dropped'] as const
export type StepState = (typeof STEP_STATES)[number]

/** Who may decide a step: one person, or anybody with a right, be it only within a cost centre. */
export type Asked =
  /** `right`: what they still have to be allowed to when they decide. */
  | { readonly kind: 'person'; readonly personId: string; readonly right?: string }
  | { readonly kind: 'right'; readonly right: string; readonly costCentre: string | null }

export interface ConsentStep {
  readonly id: string
  readonly stage: number
  readonly state: StepState
  /** Any one of these decides. */
  readonly asked: readonly Asked[]
  /** People who may not decide it, whatever their rights: who asked, who it is about. */
  readonly notBy: readonly string[]
  /** What asks: the name of a rule, an office, a category. */
  readonly label: string
  /** Whom it asks, by name, for those who read that it waits. */
  readonly who: string
  /** It is above what anybody may decide whom it asks. */
  readonly beyond?: boolean
}

/** One question with those who decide it. */
export interface Consent {
  readonly id: string
  readonly purpose: ConsentPurpose
  readonly documentKind: string
  readonly documentId: string
  readonly askedBy: string
  readonly state: ConsentState
  /** How much it is about, where it is about an amount: some stand-ins decide up to one only. */
  readonly amount: Minor | null
  readonly currency: string | null
  readonly steps: readonly ConsentStep[]
}

export type ConsentAnswer = 'approve' | 'reject' | 'return'

export interface StepAnswer {
  readonly stepId: string
  readonly state: StepState
  readonly decidedBy: string
  /** In whose place, if not in one's own. */
  readonly onBehalfOf: string | null
  readonly reason: string
}

/** What of a consent is written anew. */
export interface ConsentNext {
  readonly state: ConsentState
  readonly answers: readonly StepAnswer[]
  readonly opens: readonly string[]
  readonly drops: readonly string[]
}

interface Words {
  /** To whoever asked, or whom it is about. */
  readonly own: string
  /** To anybody else who may not decide it. */
  readonly other: string
  /** When it is decided or taken back. */
  readonly over: string
  /** Who can, as roles. */
  readonly clearedBy: readonly string[]
}

const SECOND = { own: 'secondYes.own', other: 'right.notYours', over: 'secondYes.answered' } as const
const AGREE = { ...SECOND, clearedBy: ['buyer', 'sourcingLead', 'treasurer', 'financeController'] } as const

/** What a question says to those who may not decide it, by purpose. */
const WORDS: Readonly<Record<ConsentPurpose, Words>> = {
  approval: { own: 'decide.own', other: 'decide.notYours', over: 'decide.notOpen', clearedBy: [] },
  onboarding: { own: 'onboarding.own', other: 'right.notYours', over: 'onboarding.decided', clearedBy: [] },
  bar: AGREE,
  sharedNumber: AGREE,
  merge: AGREE,
  account: {
    own: 'source.ownProof',
    other: 'right.notYours',
    over: 'source.accountNotUnproven',
    clearedBy: ['treasurer', 'financeController'],
  },
  transfer: {
    own: 'transfer.own',
    other: 'right.notYours',
    over: 'transfer.decided',
    clearedBy: ['financeController'],
  },
  orderAnswer: { own: 'right.notYours', other: 'right.notYours', over: 'order.responseAnswered', clearedBy: ['buyer'] },
  run: {
    own: 'pay.ownRun',
    other: 'right.notYours',
    over: 'pay.runDecided',
    clearedBy: ['financeController', 'director'],
  },
  power: { ...SECOND, clearedBy: ['steward', 'financeController', 'director'] },
  skip: { ...SECOND, clearedBy: ['steward', 'financeController'] },
  excess: {
    own: 'order.ownExcess',
    other: 'right.notYours',
    over: 'order.excessDecided',
    clearedBy: ['budgetHolder', 'financeController'],
  },
  difference: {
    own: 'bill.ownDifference',
    other: 'right.notYours',
    over: 'bill.differenceDecided',
    clearedBy: ['financeController', 'director'],
  },
  award: {
    own: 'event.ownAward',
    other: 'right.notYours',
    over: 'event.awardDecided',
    clearedBy: ['budgetHolder', 'financeController', 'director'],
  },
  agreement: {
    own: 'agreement.own',
    other: 'right.notYours',
    over: 'agreement.decided',
    clearedBy: ['financeController', 'director'],
  },
  overReceipt: {
    own: 'receive.ownCount',
    other: 'right.notYours',
    over: 'receive.overDecided',
    clearedBy: ['buyer', 'receiver'],
  },
  stockCount: { own: 'stock.ownCount', other: 'right.notYours', over: 'stock.countDecided', clearedBy: ['receiver'] },
  recall: {
    own: 'pay.ownRecall',
    other: 'right.notYours',
    over: 'pay.noRecall',
    clearedBy: ['financeController', 'director'],
  },
}

export const openSteps = (consent: Pick<Consent, 'steps'>): ConsentStep[] =>
  consent.steps.filter(step => step.state === 'open')

/** What decides whether somebody may answer a question in another's place. */
type Weight = Pick<Consent, 'purpose' | 'amount' | 'currency'>

/** In whose name this person decides a step: their own (null), somebody's whom they stand in for, or not at all (undefined). */
export function inWhoseName(about: Weight, step: ConsentStep, actor: ActorFacts): string | null | undefined {
  if (step.notBy.includes(actor.id) || step.beyond) return undefined
  const own = step.asked.some(
    asked =>
      (asked.kind === 'person' && asked.personId === actor.id && hasRight(asked, actor.rights)) ||
      (asked.kind === 'right' &&
        mayDo(actor, asked.right) &&
        (asked.costCentre === null || actor.costCentres.includes(asked.costCentre))),
  )
  if (own) return null
  const people = step.asked.filter(asked => asked.kind === 'person')
  return actor.standsInFor.find(
    principal =>
      !step.notBy.includes(principal.id) &&
      reaches(principal, { ...about, kind: about.purpose }) &&
      people.some(asked => asked.personId === principal.id && hasRight(asked, principal.rights)),
  )?.id
}

const hasRight = (asked: { readonly right?: string }, rights: ReadonlySet<string>): boolean =>
  asked.right === undefined || rights.has(asked.right)

/** The open step that this person decides: an own one before one in somebody's place. */
export function stepOf(
  consent: Weight & Pick<Consent, 'steps'>,
  actor: ActorFacts,
  stepId?: string,
): { step: ConsentStep; onBehalfOf: string | null } | undefined {
  const mine = openSteps(consent)
    .filter(step => stepId === undefined || step.id === stepId)
    .map(step => ({ step, onBehalfOf: inWhoseName(consent, step, actor) }))
    .filter((one): one is { step: ConsentStep; onBehalfOf: string | null } => one.onBehalfOf !== undefined)
  return mine.find(one => one.onBehalfOf === null) ?? mine[0]
}

/** What stands in the way of this person's decision: it is over, it is their own, or it waits for others. */
export function whyNotDecide(consent: Consent | null, actor: ActorFacts, stepId?: string): Reason[] {
  if (consent === null) return [stop('decide.notOpen')]
  const words = WORDS[consent.purpose]
  const open = openSteps(consent).filter(step => stepId === undefined || step.id === stepId)
  if (consent.state !== 'open' || open.length === 0) return [stop(words.over, { state: consent.state })]
  if (stepOf(consent, actor, stepId)) return []
  if (open.every(step => step.notBy.includes(actor.id))) return [stop(words.own, {}, { clearedBy: words.clearedBy })]
  if (open.some(step => step.beyond && stepOf({ ...consent, steps: [{ ...step, beyond: false }] }, actor)))
    return [stop('decide.aboveLimit', {}, { clearedBy: ['steward'] })]
  return [stop(words.other, { waitsFor: open.length, who: [...new Set(open.map(step => step.who))].join(', ') })]
}

/**
 * Takes a person's decision. A refusal wants a reason and ends the question; an approval opens the next stage when its own is through, and
 * gives the consent when none is left. Steps of a stage are decided beside each other.
 */
export function answerConsent(
  consent: Consent,
  actor: ActorFacts,
  answer: ConsentAnswer,
  reason: string,
  stepId?: string,
): { ok: true; next: ConsentNext; step: ConsentStep } | { ok: false; reasons: Reason[] } {
  const against = whyNotDecide(consent, actor, stepId)
  if (against.length > 0) return { ok: false, reasons: against }
  if (answer !== 'approve' && !saysWhy(reason))
    return { ok: false, reasons: [stop('decide.noReason', {}, { place: 'reason' })] }
  const { step, onBehalfOf } = stepOf(consent, actor, stepId)!
  const state = STATE_OF[answer]
  const answers = [{ stepId: step.id, state, decidedBy: actor.id, onBehalfOf, reason }]
  if (answer !== 'approve') {
    const drops = openIds(consent.steps.filter(one => one.id !== step.id))
    return { ok: true, step, next: { state: answer === 'reject' ? 'refused' : 'returned', answers, opens: [], drops } }
  }
  const left = consent.steps.map(one => (one.id === step.id ? { ...one, state } : one))
  const { opens, given } = nextStage(left)
  return { ok: true, step, next: { state: given ? 'given' : 'open', answers, opens, drops: [] } }
}

const STATE_OF = { approve: 'approved', reject: 'rejected', return: 'returned' } as const

const openIds = (steps: readonly ConsentStep[]): string[] =>
  steps.filter(step => step.state === 'open' || step.state === 'later').map(step => step.id)

/** Opens the first stage that is not fully approved; without one left the consent is given. */
export function nextStage(steps: readonly Pick<ConsentStep, 'id' | 'stage' | 'state'>[]): {
  opens: string[]
  given: boolean
} {
  const left = steps.filter(step => step.state === 'later' || step.state === 'open')
  if (left.length === 0) return { opens: [], given: true }
  const stage = Math.min(...left.map(step => step.stage))
  return {
    opens: left.filter(step => step.stage === stage && step.state === 'later').map(step => step.id),
    given: false,
  }
}

/** Ends a question without an answer: nobody has to decide any more. */
export const endConsent = (consent: Consent, state: 'withdrawn' | 'dropped'): ConsentNext => ({
  state,
  answers: [],
  opens: [],
  drops: openIds(consent.steps),
})

/** What stands in the way of taking a question back: only who asked does that, while it is open. */
export function whyNotWithdraw(consent: Consent, actor: ActorFacts): Reason[] {
  if (consent.state !== 'open') return [stop(WORDS[consent.purpose].over, { state: consent.state })]
  return consent.askedBy === actor.id ? [] : [stop('secondYes.notYours')]
}

/** A question that is asked anew: its first stage is open, later ones wait. */
export interface NewConsent {
  readonly purpose: ConsentPurpose
  readonly documentKind: string
  readonly documentId: string
  readonly reason: string
  /** What of the document it is about, where one purpose may be asked about several things of it at a time. */
  readonly part?: string
  /** What a yes carries out, kept until then. */
  readonly subject?: unknown
  readonly steps: readonly Omit<ConsentStep, 'id' | 'state' | 'who' | 'beyond'>[]
}

/** The question that one other person has to say yes to: anybody with a right but those named. */
export const secondYes = (
  asked: Omit<NewConsent, 'steps'>,
  right: string,
  notBy: readonly string[],
  label = '',
): NewConsent => ({
  ...asked,
  steps: [{ stage: 1, asked: [{ kind: 'right', right, costCentre: null }], notBy, label }],
})
