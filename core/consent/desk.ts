import { type Asked, type Consent, type ConsentPurpose, openSteps } from '#core/consent/consent.ts'
import { isStalled } from '#core/consent/passStep.ts'
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
}

const forAsked = (asked: Asked): string =>
  asked.kind === 'person' ? forPerson(asked.personId) : forRight(asked.right, asked.costCentre)

/**
 * What waits because of a question: each open step for those whom it asks. A step that waits on nobody who is there waits for those who can
 * pass it on instead. `able` are the people who can decide what they are asked.
 */
export function consentDesk(consent: Consent, about: AskedAbout, able: ReadonlySet<string>): DeskEntry[] {
  if (consent.state !== 'open') return []
  const { key, stage, act } = KINDS[consent.purpose]
  return openSteps(consent).map((step): DeskEntry => {
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
    return isStalled(step, able)
      ? {
          ...common,
          key: 'stalled',
          stage: 'decide',
          act: 'passOn',
          tone: 'stop',
          audiences: [forRight('requisition.passOn')],
          notFor: [],
          details: { ...details, who: step.who, extra: step.label },
        }
      : { ...common, key, stage, act, tone: 'attention', audiences: step.asked.map(forAsked), notFor: step.notBy }
  })
}
