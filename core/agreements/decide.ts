import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import type { AgreementFacts } from '#core/agreements/facts.ts'
import type { AgreementNext } from '#core/agreements/next.ts'
import { AGREEMENT_STATES } from '#core/agreements/states.ts'
import { AGREEMENT_RIGHT, proposed, whyNotProposed } from '#core/agreements/write.ts'
import {
  answerConsent,
  type ConsentAnswer,
  endConsent,
  type NewConsent,
  whyNotDecide,
  whyNotWithdraw,
} from '#core/consent/consent.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What stands against putting it, or its amendment, to those who decide. */
export const whyNotAsk = (agreement: AgreementFacts, actor: ActorFacts, today: string): Reason[] => [
  ...needsRight(actor, AGREEMENT_RIGHT),
  ...(agreement.amendment === 'writing' ? [] : notNow(AGREEMENT_STATES, 'agreement', agreement.state, 'ask')),
  ...agreement.supplierReasons.filter(reason => reason.level === 'stop'),
  ...whyNotProposed(agreement, today),
]

/** What the house asks where no rule names anybody: nothing. */
export const agreementQuestion = (agreement: Pick<AgreementFacts, 'id'>, reason: string): NewConsent => ({
  purpose: 'agreement',
  documentKind: 'agreement',
  documentId: agreement.id,
  reason,
  steps: [],
})

const wantsReason = (agreement: Pick<AgreementFacts, 'revision'>, reason: string): Reason[] =>
  agreement.revision === 0 || saysWhy(reason) ? [] : [stop('agreement.wantsReason', {}, { place: 'reason' })]

/**
 * Puts an agreement, or an amendment of one, to those whom the rules name; where they name nobody it is in force at once. An amendment says why. Until
 * it is in force, what held before goes on holding.
 */
export function askAgreement(
  agreement: AgreementFacts,
  question: NewConsent,
  actor: ActorFacts,
  reason: string,
  today: string,
): Decision<AgreementNext> {
  const against = [...whyNotAsk(agreement, actor, today), ...wantsReason(agreement, reason)]
  if (against.length > 0) return refused(against)
  if (question.steps.length === 0) return done<AgreementNext>(enters(agreement, reason), entered(agreement, reason))
  const amends = agreement.amendment === 'writing'
  return done<AgreementNext>(
    { state: amends ? agreement.state : 'waiting', amendment: amends ? 'waiting' : 'none', asks: question, reason },
    { action: amends ? 'amendmentAsked' : 'ask', changes: { revision: agreement.revision + 1 }, reason },
  )
}

const enters = (agreement: AgreementFacts, reason: string): AgreementNext => ({
  state: 'active',
  amendment: 'none',
  writes: null,
  inForce: proposed(agreement),
  reason,
})
const entered = (
  agreement: AgreementFacts,
  reason: string,
): { action: string; changes: Record<string, unknown>; reason: string } => ({
  action: agreement.revision === 0 ? 'activate' : 'amended',
  changes: { revision: agreement.revision + 1 },
  reason,
})

/** One of those who decide says yes or no. The last yes brings it into force; a no leaves it as it was, to be written on. */
export function decideAgreement(
  agreement: AgreementFacts,
  actor: ActorFacts,
  answer: Extract<ConsentAnswer, 'approve' | 'reject'>,
  reason: string,
  asked: string,
): Decision<AgreementNext> {
  const { consent } = agreement
  const answered = consent === null ? undefined : answerConsent(consent, actor, answer, reason)
  if (!answered?.ok) return refused(answered ? answered.reasons : whyNotDecide(null, actor))
  const rule = answered.step.label
  if (answered.next.state === 'open')
    return done<AgreementNext>(
      { state: agreement.state, amendment: agreement.amendment, consent: answered.next },
      { action: 'decided', changes: { rule }, reason },
    )
  const says = [answerMail(agreement, answer, actor.name, reason)]
  if (answer === 'approve')
    return done<AgreementNext>(
      { ...enters(agreement, asked), consent: answered.next },
      { ...entered(agreement, reason), changes: { revision: agreement.revision + 1, rule } },
      { says },
    )
  return done<AgreementNext>(
    { ...writtenOn(agreement), consent: answered.next },
    { action: 'refuse', changes: { rule }, reason },
    { says },
  )
}

/** As it was before it was asked about. */
const writtenOn = (agreement: AgreementFacts): Pick<AgreementNext, 'state' | 'amendment'> =>
  agreement.amendment === 'waiting'
    ? { state: agreement.state, amendment: 'writing' }
    : { state: 'draft', amendment: 'none' }

/** Whoever asked takes the question back, to write on. */
export function withdrawAgreement(
  agreement: AgreementFacts,
  actor: ActorFacts,
  reason: string,
): Decision<AgreementNext> {
  const { consent } = agreement
  const against = consent ? whyNotWithdraw(consent, actor) : whyNotDecide(null, actor)
  return against.length > 0
    ? refused(against)
    : done<AgreementNext>(
        { ...writtenOn(agreement), consent: endConsent(consent!, 'withdrawn') },
        { action: 'withdraw', reason },
      )
}

const answerMail = (agreement: AgreementFacts, answer: 'approve' | 'reject', by: string, reason: string): Message => ({
  template: answer === 'approve' ? 'agreement.approved' : 'agreement.refused',
  to: { kind: 'person', id: agreement.consent!.askedBy },
  key: `agreement:${agreement.consent!.id}`,
  details: { number: agreement.number, title: agreement.title, by, reason, path: `/source/agreements/${agreement.id}` },
})
