import type { z } from 'zod'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { OnboardingSheet, ReadOnboarding } from '#contract/source/onboarding.ts'
import { needsRight } from '#core/acts/actor.ts'
import { action } from '#core/acts/decision.ts'
import { whyNotDecide } from '#core/consent/consent.ts'
import type { Reason } from '#core/reasons.ts'
import { domainOf } from '#core/source/match.ts'
import { type Answers, answerText, isAsked, questionsOf } from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, readField } from '#core/source/recordFields.ts'
import { ONBOARDING_GROUPS, type OnboardingState } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'
import { found, may, type Read } from '#server/call.ts'
import { type KeptConsent, type KeptStep, latestConsent } from '#server/consent/consentStore.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import { sentFile } from '#server/files/fileActs.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { candidatesFor } from '#server/source/findSuppliers.ts'
import type { OnboardingRow, QuestionnaireRow } from '#server/source/onboardingStore.ts'
import { fittingQuestionnaires } from '#server/source/questionnaireActs.ts'
import { readParts } from '#server/source/supplierStore.ts'

type Sheet = z.output<typeof OnboardingSheet>
interface Ask {
  key: string
  question: string
  by: string
  at: string
  answeredAt: string | null
}
export async function readOnboarding(call: Read, id: string): Promise<ResponseOf<typeof ReadOnboarding>> {
  const row = found(await call.trx('onboardings').where({ id }).first(), 'onboarding')
  const supplier = found(await call.trx('suppliers').where({ id: row.supplierId }).first(), 'supplier')
  const body = await readParts(call, supplier)
  const questionnaire = row.questionnaireId
    ? await call.trx('questionnaires').where({ id: row.questionnaireId }).first()
    : undefined
  const asks = await call
    .trx('onboardingAsks')
    .join('people', 'people.id', 'onboardingAsks.askedBy')
    .where({ onboardingId: id })
    .orderBy('askedAt', 'desc')
    .select<Ask[]>('key', 'question', 'people.name as by', 'askedAt as at', 'answeredAt')
  const question = await latestConsent(call, id, 'onboarding')
  const decisions = (question?.kept ?? []).filter(step => step.state !== 'dropped')
  const account = await call
    .trx('supplierBankAccounts')
    .where({ supplierId: supplier.id })
    .whereNot({ state: 'closed' })
    .first<Record<string, string> | undefined>('iban', 'bic', 'holder')
  const sections = questionnaire
    ? sectionsOf(
        questionnaire,
        row,
        asks,
        field => (ACCOUNT_FIELDS.has(field) ? (account?.[field] ?? '') : readField(body, field)),
        may(call, 'supplier.write') || may(call, 'supplier.prove'),
      )
    : []
  const all = sections.flatMap(section => section.questions).filter(question => question.asked)
  const place = body.locations[0]
  const open = row.state === 'proposed' || row.state === 'invited'
  return {
    kind: 'onboarding',
    id,
    number: row.number,
    title: supplier.name,
    state: row.state,
    version: row.version,
    ...(await sheetParts(call, 'onboarding', id)),
    thread: null,
    budgets: [],
    steps: [],
    sentence: sentenceOf(row, decisions, asks, all.filter(question => question.answer !== '').length, all.length),
    tone:
      row.state === 'accepted'
        ? 'settled'
        : isIn(ONBOARDING_GROUPS.ended, row.state)
          ? 'stop'
          : isIn(ONBOARDING_GROUPS.withBuyer, row.state) || row.state === 'deciding'
            ? 'attention'
            : 'plain',
    actions: actionsOf(call, row, question),
    supplierId: supplier.id,
    supplierNumber: supplier.number,
    supplierState: supplier.state,
    categories: supplier.categories,
    need: row.need,
    requisition: row.requisitionId ? await requisitionOf(call, row.requisitionId) : null,
    proposedBy: (await call.trx('people').where({ id: row.byId }).first('name'))?.name ?? '',
    invited: { name: row.invitedName, email: row.invitedEmail, until: row.tokenExpires, usedAt: row.tokenUsedAt },
    questionnaire: questionnaire ? { name: questionnaire.name, number: questionnaire.number } : null,
    questionnaires: (await fittingQuestionnaires(call, supplier)).map(one => ({
      id: one.id,
      name: one.name,
      number: one.number,
      fits: one.fits,
    })),
    sections,
    answered: all.filter(question => question.answer !== '').length,
    toAnswer: all.length,
    decisions: decisions.map(step => ({
      id: step.id,
      office: step.approverIds.length === 0 ? 'finance' : 'categoryOwner',
      category: step.label,
      who: step.decider ?? (step.approverIds.length === 0 ? '' : step.who),
      state: step.state === 'rejected' ? 'refused' : step.state,
      mine: question !== null && whyNotDecide(question, call.actor, step.id).length === 0,
      reason: step.reason,
    })),
    candidates: open
      ? await candidatesFor(
          call,
          {
            names: [body.name, ...body.tradeNames],
            country: place?.country ?? '',
            postalCode: place?.postalCode ?? '',
            city: place?.city ?? '',
            street: place?.street ?? '',
            identifiers: body.identifiers,
            ibans: [],
            domains: [domainOf(body.web), ...body.contacts.map(one => domainOf(one.email))].filter(Boolean),
          },
          supplier.id,
        )
      : [],
  }
}

async function requisitionOf(call: Read, id: string): Promise<{ number: string; path: string }> {
  const row = await call.trx('requisitions').where({ id }).first('number')
  return { number: row?.number ?? '', path: pathOf('requisition', id) }
}

/** A file among the answers; others are as if they were not there. */
export async function onboardingFile(call: Read, id: string, fileId: string): Promise<FileAnswer> {
  const row = found(await call.trx('onboardings').where({ id }).first('answers'), 'onboarding')
  const among = Object.values(row.answers).some(
    answer => typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId === fileId,
  )
  const file = among ? await call.trx('files').where({ id: fileId }).first('id', 'name', 'mediaType') : undefined
  return sentFile(call, found(file, 'file'))
}

const CONFIDENTIAL = new Set(['birthDate', 'taxNumber'])

function sectionsOf(
  questionnaire: QuestionnaireRow,
  row: OnboardingRow,
  asks: readonly Ask[],
  recordValue: (field: never) => string,
  seesAll: boolean,
): Sheet['sections'] {
  const questions = questionsOf(questionnaire.sections)
  const latest = new Map<string, Ask>()
  for (const ask of asks) if (!latest.has(ask.key)) latest.set(ask.key, ask)
  const shown = (key: string, answers: Answers, hidden: boolean): string =>
    hidden && answerText(answers[key]) !== '' ? '•••' : answerText(answers[key])
  return questionnaire.sections.map(section => ({
    title: section.title,
    questions: section.questions.map(question => {
      const hidden = !seesAll && question.fills !== null && CONFIDENTIAL.has(question.fills)
      const answer = row.answers[question.key]
      const ask = latest.get(question.key)
      const before =
        row.answeredBefore[question.key] === undefined ? null : shown(question.key, row.answeredBefore, hidden)
      return {
        key: question.key,
        label: question.label,
        kind: question.kind,
        required: question.required,
        asked: isAsked(question, questions, row.answers),
        answer: shown(question.key, row.answers, hidden),
        fileId:
          answer !== undefined &&
          typeof answer === 'object' &&
          !Array.isArray(answer) &&
          'fileId' in answer &&
          answer.fileId !== ''
            ? answer.fileId
            : null,
        record: question.fills === null ? null : hidden ? '•••' : recordValue(question.fills as never),
        before: before !== null && before !== shown(question.key, row.answers, hidden) ? before : null,
        ask: ask ? { question: ask.question, by: ask.by, at: ask.at, answered: ask.answeredAt !== null } : null,
      }
    }),
  }))
}

function actionsOf(call: Read, row: OnboardingRow, question: KeptConsent | null): Sheet['actions'] {
  const write = needsRight(call.actor, 'supplier.write')
  const on = (name: string, states: readonly OnboardingState[], reasons: readonly Reason[], primary = false) =>
    isIn(states, row.state) ? [action(name, reasons, primary)] : []
  return actionsJson([
    ...on('invite', ['proposed'], write, true),
    ...on('inviteAgain', ['invited', ...ONBOARDING_GROUPS.answering], write),
    ...on('acceptAnswers', ['submitted'], write, true),
    ...on('decide', ['deciding'], whyNotDecide(question, call.actor), true),
    ...on('askBack', ['submitted', 'deciding'], write),
    ...on('refuse', ONBOARDING_GROUPS.withBuyer, write),
    ...on('withdraw', ONBOARDING_GROUPS.open, write),
    ...on('takeUp', ONBOARDING_GROUPS.ended, write),
  ])
}

function sentenceOf(
  row: OnboardingRow,
  decisions: readonly KeptStep[],
  asks: readonly Ask[],
  answered: number,
  toAnswer: number,
): Sentence {
  const details: Record<string, string | number> = {
    name: row.invitedName || row.invitedEmail,
    since: row.changedAt,
    until: row.tokenExpires?.slice(0, 10) ?? '',
    answered,
    toAnswer,
  }
  if (row.state === 'askedBack') details.asks = asks.filter(ask => ask.answeredAt === null).length
  if (row.state === 'deciding')
    details.who = decisions
      .filter(one => one.state === 'open')
      .map(one => (one.approverIds.length === 0 ? 'finance' : one.who))
      .join(' and ')
  return { code: `onboarding.is.${row.state}`, details }
}
