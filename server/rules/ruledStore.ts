import type { NewConsent } from '#core/consent/consent.ts'
import { RuleBroken } from '#core/reasons.ts'
import type { DecidedDocument } from '#core/rules/facts.ts'
import { approvalPath } from '#core/rules/path.ts'
import { ruledQuestion } from '#core/rules/ruledQuestion.ts'
import type { Read } from '#server/call.ts'
import type { Asking } from '#server/consent/consentStore.ts'
import { originOf } from '#server/consent/stepJson.ts'
import { compiledRules, pathWorld, RIGHT_TO_DECIDE } from '#server/rules/ruleStore.ts'

/** What a document is by its kind, to the rules; whoever asks is known with their roles. */
export type Decided = Omit<DecidedDocument, 'facts'>

/** The question about a document by the rules of today; where none applies, the one of the house. Rules that find nobody refuse it. */
export async function ruled(
  call: Read,
  standing: NewConsent,
  decided: Decided,
): Promise<Required<Pick<Asking, 'question' | 'origins'>>> {
  const roles = await call.trx('personRoles').where({ personId: decided.requesterId }).distinct('role')
  const facts = { requester: decided.requesterId, requesterRole: roles.map(one => one.role) }
  const world = await pathWorld(call, decided.kind)
  const path = approvalPath(await compiledRules(call), { ...decided, facts }, world)
  const found = ruledQuestion(standing, path, RIGHT_TO_DECIDE[decided.kind])
  if (!found.ok) throw new RuleBroken(found.reasons)
  return { question: found.question, origins: found.from.map(step => originOf(step, path)) }
}
