import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadCompany } from '#contract/source/company.ts'
import { type Answers, answerText, questionsOf, type Section } from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, readField } from '#core/source/recordFields.ts'
import { ONBOARDING_GROUPS } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'
import { found, type Read } from '#server/call.ts'
import { readSourceSettings } from '#server/source/categoryStore.ts'
import { onboardingOf, type OnboardingRow, sectionsFor } from '#server/source/onboardingStore.ts'
import { readParts, type SupplierRow } from '#server/source/supplierStore.ts'

/** The company of a person on the supplier's pages. @throws RuleBroken document.notFound */
export const ownId = (call: Read): string => found(call.actor.supplierId, 'supplier')

/** Answers as they stand: what was answered, and from the record what was never asked. */
export async function standingAnswers(
  call: Read,
  supplier: SupplierRow,
  sections: readonly Section[],
  row: OnboardingRow | undefined,
): Promise<Answers> {
  const body = await readParts(call, supplier)
  const account = await call
    .trx('supplierBankAccounts')
    .where({ supplierId: supplier.id })
    .whereNot({ state: 'closed' })
    .first('iban', 'bic', 'holder')
  const open = row !== undefined && isIn(ONBOARDING_GROUPS.open, row.state)
  return Object.fromEntries(
    questionsOf(sections).flatMap(question => {
      const given = row?.answers[question.key]
      const known =
        question.fills === null
          ? ''
          : ACCOUNT_FIELDS.has(question.fills)
            ? (account?.[question.fills as 'iban' | 'bic' | 'holder'] ?? '')
            : readField(body, question.fills)
      const value = open ? (given ?? known) : question.fills !== null ? known : given
      return value === undefined || value === '' ? [] : [[question.key, value] as const]
    }),
  )
}

type Shown = ResponseOf<typeof ReadCompany>

/** Answers as the contract has them: lists are copied, the rest is as it is. */
const answersJson = (answers: Answers): Shown['answers'] =>
  Object.fromEntries(
    Object.entries(answers).map(([key, answer]) => [key, Array.isArray(answer) ? [...(answer as string[])] : answer]),
  ) as Shown['answers']

export async function readCompany(call: Read): Promise<ResponseOf<typeof ReadCompany>> {
  const supplierId = ownId(call)
  const supplier = found(await call.trx('suppliers').where({ id: supplierId }).first(), 'supplier')
  const row = await onboardingOf(call, supplierId)
  const sections = await sectionsFor(call, row)
  const open = row !== undefined && isIn(ONBOARDING_GROUPS.open, row.state)
  const asks = open
    ? await call
        .trx('onboardingAsks')
        .join('people', 'people.id', 'onboardingAsks.askedBy')
        .where({ onboardingId: row.id })
        .orderBy('askedAt')
        .select<
          {
            key: string
            question: string
            by: string
            answeredAt: string | null
          }[]
        >('key', 'question', 'people.name as by', 'answeredAt')
    : []
  const revisions = await call
    .trx('supplierRevisions')
    .where({ supplierId })
    .whereIn('state', ['waiting', 'refused'])
    .orderBy('at', 'desc')
    .limit(60)
  return {
    supplierId,
    name: supplier.name,
    number: supplier.number,
    state: supplier.state,
    onboarding: open
      ? { id: row.id, number: row.number, state: row.state, version: row.version, submittedAt: row.submittedAt }
      : null,
    sections: sections.map(({ title, questions }) => ({
      title,
      questions: questions.map(({ choices, ...question }) => ({ ...question, choices: [...choices] })),
    })),
    answers: answersJson(await standingAnswers(call, supplier, sections, row)),
    asks: asks.map(({ answeredAt, ...ask }) => ({ ...ask, answered: answeredAt !== null })),
    waiting: revisions
      .filter(one => one.state === 'waiting')
      .map(({ key, label, before, after, at }) => ({ key, label, before, after, at })),
    refused: revisions
      .filter(one => one.state === 'refused')
      .slice(0, 10)
      .map(({ key, label, after, reason }) => ({ key, label, after, reason: reason ?? '' })),
    harmless: (await readSourceSettings(call)).harmless,
  }
}

/** The accepted answers that fill no field, as the Sheet shows them. */
export async function shownAnswers(
  call: Read,
  supplierId: string,
): Promise<{ section: string; label: string; answer: string }[]> {
  const row = await onboardingOf(call, supplierId)
  if (row?.state !== 'accepted') return []
  const sections = await sectionsFor(call, row)
  return sections.flatMap(section =>
    section.questions
      .filter(question => question.fills === null && question.kind !== 'certificate')
      .flatMap(question => {
        const answer = answerText(row.answers[question.key])
        return answer === '' ? [] : [{ section: section.title, label: question.label, answer }]
      }),
  )
}
