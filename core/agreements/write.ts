import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type AgreementContent, whyNotContent } from '#core/agreements/content.ts'
import type { AgreementFacts } from '#core/agreements/facts.ts'
import type { AgreementNext } from '#core/agreements/next.ts'
import { AGREEMENT_STATES } from '#core/agreements/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

export const AGREEMENT_RIGHT = 'agreement.write'

type Known = Pick<AgreementFacts, 'number' | 'state' | 'amendment'>

/** What stands against writing: it is in force and no amendment was begun, or others decide about what it says. */
export const whyNotWrite = ({ number, state, amendment }: Known, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, AGREEMENT_RIGHT),
  ...(state === 'draft' || amendment === 'writing' ? [] : [stop('agreement.notWritten', { number })]),
]

/** Writes a draft or an amendment. It may be unfinished: what is missing is said when it is to come into force. */
export function writeAgreement(
  agreement: AgreementFacts,
  content: AgreementContent,
  actor: ActorFacts,
): Decision<AgreementNext> {
  const against = whyNotWrite(agreement, actor)
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>(
        { state: agreement.state, amendment: agreement.amendment, writes: content },
        { action: 'written' },
      )
}

export const whyNotAmend = ({ state, amendment, number }: Known, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, AGREEMENT_RIGHT),
  ...notNow(AGREEMENT_STATES, 'agreement', state, 'amend'),
  ...(amendment === 'none' ? [] : [stop('agreement.amendedAlready', { number })]),
]

/** Begins an amendment: what holds, to be written anew. It goes on holding until the amendment is in force. */
export function beginAmendment(agreement: AgreementFacts, actor: ActorFacts): Decision<AgreementNext> {
  const against = whyNotAmend(agreement, actor)
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>(
        { state: agreement.state, amendment: 'writing', writes: agreement.content },
        { action: 'amending' },
      )
}

export const whyNotDrop = ({ amendment }: Known, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, AGREEMENT_RIGHT),
  ...(amendment === 'writing' ? [] : [stop('agreement.noAmendment')]),
]

/** Drops an amendment that is being written. */
export function dropAmendment(agreement: AgreementFacts, actor: ActorFacts): Decision<AgreementNext> {
  const against = whyNotDrop(agreement, actor)
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>({ state: agreement.state, amendment: 'none', writes: null }, { action: 'amendmentDropped' })
}

export const whyNotCancel = ({ state }: Known, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, AGREEMENT_RIGHT),
  ...notNow(AGREEMENT_STATES, 'agreement', state, 'cancel'),
]

/** Gives up a draft that never was in force. */
export function cancelAgreement(agreement: AgreementFacts, actor: ActorFacts, reason: string): Decision<AgreementNext> {
  const against = [
    ...whyNotCancel(agreement, actor),
    ...(saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]),
  ]
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>({ state: 'cancelled', amendment: 'none' }, { action: 'cancel', reason })
}

/** What would come into force: the amendment that is being written, else the draft. */
export const proposed = (agreement: Pick<AgreementFacts, 'content' | 'wanted'>): AgreementContent =>
  agreement.wanted ?? agreement.content

/** What stands against what it would say, over what the words themselves have wrong: its time is over, or less than what was called off. */
export const whyNotProposed = (agreement: AgreementFacts, today: string): Reason[] => {
  const content = proposed(agreement)
  const kept = new Set(content.lines.map(line => line.id))
  const gone = agreement.lines.filter(line => !kept.has(line.id) && line.consumed.reserved.amount > 0n)
  return [
    ...whyNotContent(content),
    ...(content.endsOn < today ? [stop('agreement.endsBefore', { endsOn: content.endsOn }, { place: 'endsOn' })] : []),
    ...(agreement.revision > 0 && content.currency !== agreement.currency
      ? [stop('agreement.currencyFixed', { currency: agreement.currency }, { place: 'currency' })]
      : []),
    ...gone.map(line => stop('agreement.lineReserved', { line: line.description }, { place: 'lines' })),
  ]
}
