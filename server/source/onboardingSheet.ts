import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { OnboardingSheet, ReadOnboarding } from '#contract/source/onboarding.ts'
import { type Answers, answerText, isAsked, questionsOf } from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, readField } from '#core/source/recordFields.ts'
import { ONBOARDING_STATE_CODES } from '#core/source/states.ts'
import { domainOf } from '#core/source/match.ts'
import { type Call, found, may } from '#server/call.ts'
import type { FileAnswer } from '#server/http/app.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { action, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { candidatesFor } from '#server/source/findSuppliers.ts'
import { decidesReasons, type OnboardingRow } from '#server/source/onboarding.ts'
import { fittingQuestionnaires, type QuestionnaireRow } from '#server/source/questionnaires.ts'
import { readParts, type SupplierRow } from '#server/source/supplierStore.ts'
import type { z } from 'zod'

type Sheet = z.output<typeof OnboardingSheet>
interface Ask {
  key: string
  question: string
  by: string
  at: string
  answeredAt: string | null
}
interface Decision {
  id: string
  office: 'categoryOwner' | 'finance'
  category: string
  personId: string | null
  who: string | null
  decider: string | null
  state: string
  reason: string | null
}

export async function readOnboarding(call: Call, id: string): Promise<ResponseOf<typeof ReadOnboarding>> {
  const row = found((await call.trx('onboardings').where({ id }).first()) as OnboardingRow | undefined, 'onboarding')
  const supplier = found((await call.trx('suppliers').where({ id: row.supplierId }).first()) as SupplierRow | undefined, 'supplier')
  const body = await readParts(call, supplier)
  const questionnaire = row.questionnaireId ? ((await call.trx('questionnaires').where({ id: row.questionnaireId }).first()) as QuestionnaireRow) : undefined
  const asks = (await call
    .trx('onboardingAsks')
    .join('people', 'people.id', 'onboardingAsks.askedBy')
    .where({ onboardingId: id })
    .orderBy('askedAt', 'desc')
    .select('key', 'question', 'people.name as by', 'askedAt as at', 'answeredAt')) as Ask[]
  const decisions = await readDecisions(call, id)
  const account = (await call.trx('supplierBankAccounts').where({ supplierId: supplier.id }).whereNot({ state: 'closed' }).first('iban', 'bic', 'holder')) as
    Record<string, string> | undefined
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
    ...(await sheetParts(call, id)),
    thread: null,
    budgets: [],
    steps: [],
    sentence: sentenceOf(row, decisions, asks, all.filter(question => question.answer !== '').length, all.length),
    tone:
      row.state === 'accepted'
        ? 'settled'
        : row.state === 'refused' || row.state === 'withdrawn'
          ? 'stop'
          : ['proposed', 'submitted', 'deciding'].includes(row.state)
            ? 'attention'
            : 'plain',
    actions: actionsOf(call, row, decisions),
    supplierId: supplier.id,
    supplierNumber: supplier.number,
    supplierState: supplier.state,
    categories: supplier.categories,
    need: row.need,
    requisition: row.requisitionId ? await requisitionOf(call, row.requisitionId) : null,
    proposedBy: ((await call.trx('people').where({ id: row.byId }).first('name')) as { name: string }).name,
    invited: { name: row.invitedName, email: row.invitedEmail, until: row.tokenExpires, usedAt: row.tokenUsedAt },
    questionnaire: questionnaire ? { name: questionnaire.name, number: questionnaire.number } : null,
    questionnaires: (await fittingQuestionnaires(call, supplier)).map(one => ({ id: one.id, name: one.name, number: one.number, fits: one.fits })),
    sections,
    answered: all.filter(question => question.answer !== '').length,
    toAnswer: all.length,
    decisions: decisions.map(one => ({
      id: one.id,
      office: one.office,
      category: one.category,
      who: one.decider ?? one.who ?? '',
      state: one.state,
      mine: one.state === 'open' && decidesReasons(call, one, row).length === 0,
      reason: one.reason,
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

const readDecisions = async (call: Call, onboardingId: string): Promise<Decision[]> =>
  (await call
    .trx('onboardingDecisions as decision')
    .leftJoin('people as person', 'person.id', 'decision.personId')
    .leftJoin('people as decider', 'decider.id', 'decision.decidedBy')
    .where({ onboardingId })
    .whereNot('decision.state', 'dropped')
    .orderBy(['office', 'category'])
    .select('decision.id', 'office', 'category', 'personId', 'person.name as who', 'decider.name as decider', 'decision.state', 'decision.reason')) as Decision[]

async function requisitionOf(call: Call, id: string): Promise<{ number: string; path: string }> {
  const row = (await call.trx('requisitions').where({ id }).first('number')) as { number: string }
  return { number: row.number, path: PATHS.requisition(id) }
}

/** A file among the answers; others are as if they were not there. */
export async function onboardingFile(call: Call, id: string, fileId: string): Promise<FileAnswer> {
  const row = found((await call.trx('onboardings').where({ id }).first('answers')) as { answers: Answers } | undefined, 'onboarding')
  const among = Object.values(row.answers).some(answer => typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId === fileId)
  const file = among
    ? ((await call.trx('files').where({ id: fileId }).first('name', 'mediaType', 'content')) as { name: string; mediaType: string; content: Buffer } | undefined)
    : undefined
  const { name, mediaType, content } = found(file, 'file')
  return { name, mediaType, bytes: content }
}

const CONFIDENTIAL = new Set(['birthDate', 'taxNumber'])

function sectionsOf(questionnaire: QuestionnaireRow, row: OnboardingRow, asks: readonly Ask[], recordValue: (field: never) => string, seesAll: boolean): Sheet['sections'] {
  const questions = questionsOf(questionnaire.sections)
  const latest = new Map<string, Ask>()
  for (const ask of asks) if (!latest.has(ask.key)) latest.set(ask.key, ask)
  const shown = (key: string, answers: Answers, hidden: boolean): string => (hidden && answerText(answers[key]) !== '' ? '•••' : answerText(answers[key]))
  return questionnaire.sections.map(section => ({
    title: section.title,
    questions: section.questions.map(question => {
      const hidden = !seesAll && question.fills !== null && CONFIDENTIAL.has(question.fills)
      const answer = row.answers[question.key]
      const ask = latest.get(question.key)
      const before = row.answeredBefore[question.key] === undefined ? null : shown(question.key, row.answeredBefore, hidden)
      return {
        key: question.key,
        label: question.label,
        kind: question.kind,
        required: question.required,
        asked: isAsked(question, questions, row.answers),
        answer: shown(question.key, row.answers, hidden),
        fileId: answer !== undefined && typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId !== '' ? answer.fileId : null,
        record: question.fills === null ? null : hidden ? '•••' : recordValue(question.fills as never),
        before: before !== null && before !== shown(question.key, row.answers, hidden) ? before : null,
        ask: ask ? { question: ask.question, by: ask.by, at: ask.at, answered: ask.answeredAt !== null } : null,
      }
    }),
  }))
}

function actionsOf(call: Call, row: OnboardingRow, decisions: readonly Decision[]) {
  const write = may(call, 'supplier.write')
  const mine = decisions.some(one => one.state === 'open' && decidesReasons(call, one, row).length === 0)
  const open = !['accepted', 'refused', 'withdrawn'].includes(row.state)
  return [
    ...(row.state === 'proposed' ? [action('invite', write, { primary: true })] : []),
    ...(['invited', 'answering', 'askedBack'].includes(row.state) ? [action('inviteAgain', write)] : []),
    ...(row.state === 'submitted' ? [action('acceptAnswers', write, { primary: true }), action('askBack', write)] : []),
    ...(row.state === 'deciding' ? [action('decide', mine, { primary: true }), action('askBack', write)] : []),
    ...(row.state === 'proposed' || row.state === 'submitted' ? [action('refuse', write)] : []),
    ...(open ? [action('withdraw', write)] : []),
    ...(row.state === 'refused' || row.state === 'withdrawn' ? [action('takeUp', write)] : []),
  ]
}

function sentenceOf(row: OnboardingRow, decisions: readonly Decision[], asks: readonly Ask[], answered: number, toAnswer: number): Sentence {
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
      .map(one => one.who ?? 'finance')
      .join(' and ')
  return { code: `onboarding.is.${row.state}`, details }
}

interface Listed {
  id: string
  number: string
  name: string
  state: string
  invitedEmail: string
  changedAt: string
  proposer: string
  country: string | null
}

export const onboardingList: ListDefinition<Listed> = {
  id: 'onboardings.id',
  base: call => call.trx('onboardings').leftJoin('suppliers', 'suppliers.id', 'onboardings.supplierId').leftJoin('people', 'people.id', 'onboardings.byId'),
  select: [
    'onboardings.id',
    'onboardings.number',
    'suppliers.name',
    'onboardings.state',
    'onboardings.invited_email',
    'onboardings.changed_at',
    'people.name as proposer',
    '(select country from supplier_locations where supplier_id = suppliers.id order by position limit 1) as country',
  ],
  views: {
    underWay: query => void query.whereNotIn('onboardings.state', ['accepted', 'refused', 'withdrawn']),
    forTheBuyer: query => void query.whereIn('onboardings.state', ['proposed', 'submitted']),
    all: () => undefined,
  },
  sorts: { newest: { sql: 'onboardings.changed_at', descending: true, type: 'timestamptz' } },
  search: 'onboardings.search',
  states: { column: 'onboardings.state', values: ONBOARDING_STATE_CODES },
  columns: [
    { key: 'proposer', numeric: false },
    { key: 'country', numeric: false },
    { key: 'contact', numeric: false },
    { key: 'changedAt', numeric: false },
  ],
  row: row => ({
    id: row.id,
    path: `/source/onboardings/${row.id}`,
    number: row.number,
    title: row.name,
    subtitle: [row.number, row.proposer].filter(Boolean).join(', '),
    state: row.state,
    amount: null,
    currency: null,
    note: { code: `onboarding.short.${row.state}`, details: {} },
    tone: row.state === 'proposed' || row.state === 'submitted' || row.state === 'deciding' ? 'attention' : row.state === 'accepted' ? 'settled' : 'plain',
    cells: { proposer: row.proposer, country: row.country, contact: row.invitedEmail, changedAt: row.changedAt.slice(0, 10) },
  }),
}
