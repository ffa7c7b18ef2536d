import { type Asked, type Consent, type ConsentPurpose, openSteps } from '#core/consent/consent.ts'
import { type Stall, stillTheirs } from '#core/consent/stalled.ts'
import { type DeskEntry, type DeskKey, forPerson, forRight, type Stage } from '#core/desk/entry.ts'
import type { Minor } from '#core/money/amount.ts'

/** How the document that a question is about reads on a Desk. */
export interface AskedAbout {
  readonly number: string
  readonly title: string
  readonly who: string
  readonly extra: string
  readonly amount: Minor | null
  readonly currency: string | null
  readonly needBy: string | null
  readonly path: string
  readonly askedAt: string
}

interface Kind {
  readonly key: DeskKey
  readonly stage: Stage
  readonly act: string
}

const KINDS: Readonly<Record<ConsentPurpose, Kind>> = {
  approval: { key: 'decide', stage: 'decide', act: 'decide' },
  onboarding: { key: 'onboardingDecide', stage: 'source', act: 'decide' },
  bar: { key: 'agree', stage: 'source', act: 'see' },
  sharedNumber: { key: 'agree', stage: 'source', act: 'see' },
  merge: { key: 'agree', stage: 'source', act: 'see' },
  account: { key: 'prove', stage: 'source', act: 'prove' },
  transfer: { key: 'transfer', stage: 'decide', act: 'decide' },
  orderAnswer: { key: 'answer', stage: 'order', act: 'answer' },
  run: { key: 'approveRun', stage: 'pay', act: 'approve' },
  recall: { key: 'recall', stage: 'pay', act: 'approve' },
  power: { key: 'agreePower', stage: 'decide', act: 'see' },
  skip: { key: 'agreeSkip', stage: 'decide', act: 'see' },
  excess: { key: 'excess', stage: 'decide', act: 'decide' },
  difference: { key: 'difference', stage: 'decide', act: 'decide' },
  award: { key: 'award', stage: 'decide', act: 'decide' },
  agreement: { key: 'agreement', stage: 'decide', act: 'decide' },
  overReceipt: { key: 'overReceipt', stage: 'receive', act: 'answer' },
  stockCount: { key: 'stockCount', stage: 'receive', act: 'answer' },
}

/** The keys under which questions of some purposes stand on a Desk. */
export const deskKeysOf = (purposes: readonly string[]): DeskKey[] =>
  purposes.flatMap(purpose => (purpose in KINDS ? [KINDS[purpose as ConsentPurpose].key] : []))

const forAsked = (asked: Asked): string =>
  asked.kind === 'person' ? forPerson(asked.personId) : forRight(asked.right, asked.costCentre)

/**
 * What waits because of a question: each open step for those whom it asks. A step that stands still waits for those who can move it, and for
 * those whom it asks as long as they could still decide it. `stalls` says of each step that stands still why.
 */
export function consentDesk(consent: Consent, about: AskedAbout, stalls: ReadonlyMap<string, Stall>): DeskEntry[] {
  if (consent.state !== 'open') return []
  const { key, stage, act } = KINDS[consent.purpose]
  return openSteps(consent).flatMap((step): DeskEntry[] => {
    const details = {
      number: about.number,
      title: about.title,
      who: about.who,
      extra: consent.purpose === 'approval' || consent.purpose === 'onboarding' ? step.label : about.extra,
    }
    const common = {
      amount: about.amount,
      currency: about.currency,
      needBy: about.needBy,
      path: about.path,
      since: about.askedAt,
      from: null,
      details,
    }
    const stall = stalls.get(step.id)
    const theirs: DeskEntry = {
      ...common,
      key,
      stage,
      act,
      tone: 'attention',
      audiences: step.asked.map(forAsked),
      notFor: step.notBy,
    }
    if (stall === undefined) return [theirs]
    const steward: DeskEntry = {
      ...common,
      key: 'stalled',
      stage: 'decide',
      act: 'passOn',
      tone: 'stop',
      audiences: [forRight('requisition.passOn')],
      notFor: [],
      details: { ...details, who: step.who, extra: step.label, [stall]: 1 },
    }
    return stillTheirs(stall) ? [theirs, steward] : [steward]
  })
}
