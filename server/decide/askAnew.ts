import type { ConsentNext } from '#core/consent/consent.ts'
import { formatAmount } from '#core/money/amount.ts'
import { reservedByAccount } from '#core/request/reservation.ts'
import { approvalQuestion } from '#core/request/submitRequisition.ts'
import type { Path } from '#core/rules/path.ts'
import type { Write } from '#server/call.ts'
import { ask, type KeptConsent, type KeptStep, originOfStep, settleConsent } from '#server/consent/consentStore.ts'
import { originOf } from '#server/consent/stepJson.ts'
import { closeQuestionsOfSteps, type KnownRequisition, putIntoPool } from '#server/request/requisitionStore.ts'

/** Whoever was added by hand: nobody is taken away, and who has decided does so again where it concerns them. */
const addedByHand = (steps: readonly KeptStep[]): string[] =>
  steps
    .filter(step => ['open', 'later', 'approved'].includes(step.state))
    .flatMap(step => Object.entries(originOfStep(step).because))
    .flatMap(([personId, because]) => (because.kind === 'added' ? [personId] : []))

/** What is known of a request beside its draft since it was submitted. */
export const sinceSubmitted = (request: KnownRequisition) => ({
  added: addedByHand(request.consent?.kept ?? []),
  reserved: reservedByAccount(request.lines),
})

/** What a request costs, as it is told to those who decide. */
export const aboutTotal = ({ total, base, needBy }: KnownRequisition) => ({
  amount: total,
  extra: formatAmount(total, base),
  needBy,
})

interface Anew {
  readonly ends: ConsentNext
  readonly round: number
  readonly path: Path
  /** For each step a decision of before that stands for it. */
  readonly stands: readonly (KeptStep | null)[]
}

/** Ends the question about a request and asks it along a new way; where every decision stands already, its lines wait to be bought. */
export async function askAnew(
  call: Write,
  request: KnownRequisition,
  { ends, round, path, stands }: Anew,
): Promise<KeptConsent> {
  const { about, subject } = request.consent!
  await settleConsent(call, request.consent!, ends)
  await closeQuestionsOfSteps(call, ends.drops)
  const asked = await ask(
    call,
    { ...approvalQuestion(request, path.steps), subject },
    { ...about, ...aboutTotal(request) },
    { round, origins: path.steps.map(step => originOf(step, path)), stands },
  )
  if (asked.state === 'given') await putIntoPool(call, request.id)
  return asked
}
