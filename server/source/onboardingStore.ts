import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveQuestionnaire } from '#contract/source/onboarding.ts'
import { onboardingDesk } from '#core/source/desk.ts'
import type { Answers, Section } from '#core/source/questionnaire.ts'
import { ONBOARDING_GROUPS, type OnboardingState } from '#core/source/states.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { keepDesk } from '#server/desk/deskStore.ts'

export interface OnboardingRow {
  id: string
  number: string
  supplierId: string
  questionnaireId: string | null
  requisitionId: string | null
  state: OnboardingState
  need: string
  invitedName: string
  invitedEmail: string
  tokenHash: string | null
  tokenExpires: string | null
  tokenUsedAt: string | null
  answers: Answers
  answeredBefore: Answers
  byId: string
  buyerId: string | null
  submittedAt: string | null
  version: number
  createdAt: string
  changedAt: string
  search: string
}
export type QuestionnaireRow = Omit<BodyOf<typeof SaveQuestionnaire>, 'version'> & {
  id: string
  number: number
  state: 'draft' | 'live' | 'retired'
  version: number
  changedBy: string
  changedAt: string
}
interface AskRow {
  id: string
  onboardingId: string
  key: string
  question: string
  askedBy: string
  askedAt: string
  answeredAt: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    onboardings: OnboardingRow
    onboardingAsks: AskRow
    questionnaires: QuestionnaireRow
  }
}

/** The questions that an onboarding asks. */
export const questionnaireOf = async (
  call: Read,
  row: Pick<OnboardingRow, 'questionnaireId'>,
): Promise<QuestionnaireRow> =>
  found(
    row.questionnaireId ? await call.trx('questionnaires').where({ id: row.questionnaireId }).first() : undefined,
    'questionnaire',
  )

/** The onboarding of a supplier that is open, or the last one that was accepted. */
export async function onboardingOf(call: Read, supplierId: string): Promise<OnboardingRow | undefined> {
  return await call
    .trx('onboardings')
    .where({ supplierId })
    .whereNotIn('state', [...ONBOARDING_GROUPS.ended])
    .orderByRaw("state = 'accepted', changed_at desc")
    .first()
}

/** The questions in force for an accepted supplier are those of the newest version; while it is being onboarded, those it was given. */
export async function sectionsFor(call: Read, row: OnboardingRow | undefined): Promise<Section[]> {
  if (!row?.questionnaireId) {
    const any = await call.trx('questionnaires').where({ state: 'live' }).orderBy('name').first()
    return any?.sections ?? []
  }
  const given = await questionnaireOf(call, row)
  if (row.state !== 'accepted') return given.sections
  const live = await call.trx('questionnaires').where({ code: given.code, state: 'live' }).first()
  return live?.sections ?? given.sections
}

/** Keeps on the Desks what waits because of an onboarding. */
export async function keepOnboardingDesk(call: Write, id: string): Promise<void> {
  const row = await call
    .trx('onboardings')
    .join('suppliers', 'suppliers.id', 'onboardings.supplierId')
    .join('people', 'people.id', 'onboardings.byId')
    .where('onboardings.id', id)
    .first<OnboardingRow & { supplier: string; proposedBy: string }>(
      'onboardings.*',
      'suppliers.name as supplier',
      'people.name as proposedBy',
    )
  await keepDesk(call, { kind: 'onboarding', id }, onboardingDesk(row))
}
