import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadCompany, ReviseAnswers, SaveAnswers, SubmitAnswers } from '#contract/source/company.ts'
import { ATTACHABLE } from '#contract/files/endpoints.ts'
import { SupplierBody } from '#contract/source/record.ts'
import { answerDifferences, type Answers, answerText, checkAnswers, questionsOf, type Section } from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, fillField, readField } from '#core/source/recordFields.ts'
import type { RecordField } from '#core/source/questionnaire.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import { readSourceSettings } from '#server/source/categories.ts'
import { moveOnboarding, type OnboardingRow, questionnaireOf, takeAccount, takeIn } from '#server/source/onboarding.ts'
import type { QuestionnaireRow } from '#server/source/questionnaires.ts'
import { changeSupplier } from '#server/source/supplierService.ts'
import { lockSupplier, readParts, type SupplierRow } from '#server/source/supplierStore.ts'

const ownId = (call: Call): string => found(call.actor.supplierId ?? undefined, 'supplier')

/** The onboarding of the supplier that is open, or the last one that was accepted. */
async function onboardingOf(call: Call, supplierId: string, locked = false): Promise<OnboardingRow | undefined> {
  const query = call.trx('onboardings').where({ supplierId }).whereNotIn('state', ['refused', 'withdrawn']).orderByRaw("state = 'accepted', changed_at desc")
  return (await (locked ? query.forNoKeyUpdate() : query).first()) as OnboardingRow | undefined
}

/** The questions in force for an accepted supplier are those of the newest version; while it is being onboarded, those it was given. */
async function sectionsFor(call: Call, row: OnboardingRow | undefined): Promise<Section[]> {
  if (!row?.questionnaireId) {
    const any = (await call.trx('questionnaires').where({ state: 'live' }).orderBy('name').first()) as QuestionnaireRow | undefined
    return any?.sections ?? []
  }
  const given = await questionnaireOf(call, row)
  if (row.state !== 'accepted') return given.sections
  const live = (await call.trx('questionnaires').where({ code: given.code, state: 'live' }).first()) as QuestionnaireRow | undefined
  return live?.sections ?? given.sections
}

/** Answers as they stand: what was answered, and from the record what was never asked. */
async function standingAnswers(call: Call, supplier: SupplierRow, sections: readonly Section[], row: OnboardingRow | undefined): Promise<Answers> {
  const body = await readParts(call, supplier)
  const account = (await call.trx('supplierBankAccounts').where({ supplierId: supplier.id }).whereNot({ state: 'closed' }).first('iban', 'bic', 'holder')) as
    Record<string, string> | undefined
  const open = row !== undefined && row.state !== 'accepted'
  return Object.fromEntries(
    questionsOf(sections).flatMap(question => {
      const given = row?.answers[question.key]
      const known = question.fills === null ? '' : ACCOUNT_FIELDS.has(question.fills) ? (account?.[question.fills] ?? '') : readField(body, question.fills)
      const value = open ? (given ?? known) : question.fills !== null ? known : given
      return value === undefined || value === '' ? [] : [[question.key, value] as const]
    }),
  )
}

export async function readCompany(call: Call): Promise<ResponseOf<typeof ReadCompany>> {
  const supplierId = ownId(call)
  const supplier = found((await call.trx('suppliers').where({ id: supplierId }).first()) as SupplierRow | undefined, 'supplier')
  const row = await onboardingOf(call, supplierId)
  const sections = await sectionsFor(call, row)
  const open = row !== undefined && row.state !== 'accepted'
  const asks = open
    ? ((await call
        .trx('onboardingAsks')
        .join('people', 'people.id', 'onboardingAsks.askedBy')
        .where({ onboardingId: row.id })
        .orderBy('askedAt')
        .select('key', 'question', 'people.name as by', 'answeredAt')) as { key: string; question: string; by: string; answeredAt: string | null }[])
    : []
  const revisions = (await call.trx('supplierRevisions').where({ supplierId }).whereIn('state', ['waiting', 'refused']).orderBy('at', 'desc').limit(60)) as {
    key: string
    label: string
    before: string
    after: string
    at: string
    state: string
    reason: string | null
  }[]
  return {
    supplierId,
    name: supplier.name,
    number: supplier.number,
    state: supplier.state,
    onboarding: open ? { id: row.id, number: row.number, state: row.state, version: row.version, submittedAt: row.submittedAt } : null,
    sections: sections as unknown as ResponseOf<typeof ReadCompany>['sections'],
    answers: (await standingAnswers(call, supplier, sections, row)) as ResponseOf<typeof ReadCompany>['answers'],
    asks: asks.map(({ answeredAt, ...ask }) => ({ ...ask, answered: answeredAt !== null })),
    waiting: revisions.filter(one => one.state === 'waiting').map(({ key, label, before, after, at }) => ({ key, label, before, after, at })),
    refused: revisions
      .filter(one => one.state === 'refused')
      .slice(0, 10)
      .map(({ key, label, after, reason }) => ({ key, label, after, reason: reason ?? '' })),
    harmless: (await readSourceSettings(call)).harmless,
  }
}

async function ownOpen(call: Call, version: number): Promise<OnboardingRow> {
  const row = await onboardingOf(call, ownId(call), true)
  if (!row || row.state === 'accepted') throw new RuleBroken(stop('onboarding.none'))
  await guardVersion(call, row, version)
  if (row.state !== 'answering' && row.state !== 'askedBack') throw new RuleBroken(stop('onboarding.notAnswering', { state: row.state }))
  return row
}

/** Only answers to questions that there are; files must be the supplier's own. */
async function tidy(call: Call, sections: readonly Section[], answers: Answers): Promise<Answers> {
  const known = new Set(questionsOf(sections).map(question => question.key))
  const kept = Object.fromEntries(Object.entries(answers).filter(([key]) => known.has(key)))
  const fileIds = Object.values(kept).flatMap(answer => (typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId !== '' ? [answer.fileId] : []))
  const valid = fileIds.filter(id => /^[0-9a-f-]{36}$/.test(id))
  const { rows } = (await call.trx.raw('select f.id, f.media_type from files f join people p on p.id = f.by_id where f.id = any(?::uuid[]) and p.supplier_id = ?', [
    valid,
    ownId(call),
  ])) as {
    rows: { id: string; mediaType: string }[]
  }
  const owned = new Set(rows.map(row => row.id))
  if (fileIds.some(id => !owned.has(id))) throw new RuleBroken(stop('document.notFound', { kind: 'file' }))
  const wrong = rows.find(row => !ATTACHABLE.some(type => type === row.mediaType))
  if (wrong) throw new RuleBroken(stop('file.type', { type: wrong.mediaType }))
  return kept
}

export async function saveAnswers(call: Call, body: BodyOf<typeof SaveAnswers>): Promise<ResponseOf<typeof SaveAnswers>> {
  const row = await ownOpen(call, body.version)
  const answers = await tidy(call, (await questionnaireOf(call, row)).sections, body.answers)
  await call
    .trx('onboardings')
    .where({ id: row.id })
    .update({ answers: JSON.stringify(answers), version: row.version + 1, changedAt: call.now })
  return { version: row.version + 1, savedAt: call.now }
}

/** Hands the answers in: everything that is asked has to be there. */
export async function submitAnswers(call: Call, body: BodyOf<typeof SubmitAnswers>): Promise<Done> {
  const row = await ownOpen(call, body.version)
  const { sections } = await questionnaireOf(call, row)
  const answers = await tidy(call, sections, body.answers)
  refuseStops(checkAnswers(sections, answers, true))
  await call.trx('onboardingAsks').where({ onboardingId: row.id }).whereNull('answeredAt').update({ answeredAt: call.now })
  const again = row.state === 'askedBack'
  const done = await moveOnboarding(
    call,
    row,
    'submit',
    { answers: JSON.stringify(answers), submittedAt: call.now },
    null,
    again
      ? {
          differences: answerDifferences(sections, row.answeredBefore, answers).map(one => ({
            ...one,
            before: one.field === 'taxNumber' ? '' : one.before,
            after: one.field === 'taxNumber' ? '' : one.after,
          })),
        }
      : {},
  )
  const buyer = (await call.trx('people').where({ id: row.buyerId, active: true }).first('name', 'email')) as { name: string; email: string } | undefined
  if (buyer)
    await mail(
      call,
      `answers-in:${row.id}:${done.version}`,
      { kind: 'onboarding', id: row.id },
      {
        to: buyer.email,
        subject: `${call.actor.name} has ${again ? 'answered your questions' : 'handed in the answers'}`,
        text: `Dear ${buyer.name},\n\nthe answers are here: /source/onboardings/${row.id}\n`,
      },
    )
  return done
}

/** What changed against the record: harmless fields go through at once, every other one waits for the buyer. Accounts are never harmless. */
export async function reviseAnswers(call: Call, body: BodyOf<typeof ReviseAnswers>): Promise<ResponseOf<typeof ReviseAnswers>> {
  const supplierId = ownId(call)
  const supplier = await lockSupplier(call, supplierId)
  if (supplier.state !== 'active' && supplier.state !== 'paused') throw new RuleBroken(stop('onboarding.notRevising', { state: supplier.state }))
  const row = await onboardingOf(call, supplierId, true)
  if (row && row.state !== 'accepted') throw new RuleBroken(stop('onboarding.notRevising', { state: row.state }))
  const sections = await sectionsFor(call, row)
  const answers = await tidy(call, sections, body.answers)
  refuseStops(checkAnswers(sections, answers, false))
  const differences = answerDifferences(sections, await standingAnswers(call, supplier, sections, row), answers)
  const { harmless } = await readSourceSettings(call)
  const atOnce = differences.filter(one => one.field !== null && harmless.includes(one.field) && !ACCOUNT_FIELDS.has(one.field))
  const waiting = differences.filter(one => !atOnce.includes(one))
  await call
    .trx('supplierRevisions')
    .where({ supplierId, state: 'waiting' })
    .whereIn(
      'key',
      differences.map(one => one.key),
    )
    .update({ state: 'replaced' })
  if (differences.length > 0)
    await call.trx('supplierRevisions').insert(
      differences.map(one => ({
        id: randomUUID(),
        supplierId,
        key: one.key,
        label: one.label,
        field: one.field,
        before: one.before,
        after: one.after,
        answer: JSON.stringify(answers[one.key] ?? ''),
        state: atOnce.includes(one) ? 'atOnce' : 'waiting',
        byId: call.actor.id,
        at: call.now,
      })),
    )
  if (atOnce.length > 0) {
    let parts: SupplierBody = await readParts(call, supplier)
    for (const one of atOnce) parts = fillField(parts, one.field as RecordField, one.after)
    await changeSupplier(call, supplierId, checkedBody(parts), supplier.version, 'changedByItself')
  }
  if (waiting.length > 0) await record(call, { kind: 'supplier', id: supplierId, action: 'revised', changes: { fields: waiting.map(one => one.label) } })
  return { atOnce: atOnce.length, waiting: waiting.length }
}

function checkedBody(body: SupplierBody): SupplierBody {
  const checked = SupplierBody.safeParse(body)
  if (checked.success) return checked.data
  throw new RuleBroken(checked.error.issues.slice(0, 10).map(issue => stop('request.invalid', { fault: issue.message }, { place: issue.path.join('.') })))
}

interface RevisionRow {
  id: string
  supplierId: string
  key: string
  label: string
  field: RecordField | null
  before: string
  after: string
  answer: Answers[string]
  state: string
  byId: string
}

/** Accepts or refuses one field. The parts of an account are taken together, as a new unproven account. */
export async function answerRevision(call: Call, supplierId: string, revisionId: string, accept: boolean, reason: string): Promise<Done> {
  const supplier = await lockSupplier(call, supplierId)
  const row = found((await call.trx('supplierRevisions').where({ id: revisionId, supplierId }).forNoKeyUpdate().first()) as RevisionRow | undefined, 'revision')
  if (row.state !== 'waiting') throw new RuleBroken(stop('revision.answered', { state: row.state }))
  if (!accept && reason.trim().length < 3) throw new RuleBroken(stop('revision.whyRefused', {}, { place: 'reason' }))
  const account = row.field !== null && ACCOUNT_FIELDS.has(row.field)
  const rows = account
    ? ((await call
        .trx('supplierRevisions')
        .where({ supplierId, state: 'waiting' })
        .whereIn('field', [...ACCOUNT_FIELDS])) as RevisionRow[])
    : [row]
  await call
    .trx('supplierRevisions')
    .whereIn(
      'id',
      rows.map(one => one.id),
    )
    .update({ state: accept ? 'accepted' : 'refused', answeredBy: call.actor.id, answeredAt: call.now, reason: reason || null })
  await record(call, {
    kind: 'supplier',
    id: supplierId,
    action: accept ? 'revisionAccepted' : 'revisionRefused',
    changes: { fields: rows.map(one => one.label) },
    reason: reason || null,
  })
  if (!accept) return { id: supplierId, version: supplier.version }
  if (account) await acceptAccount(call, supplierId, rows)
  else await acceptField(call, supplier, row)
  const now = await lockSupplier(call, supplierId)
  return { id: supplierId, version: now.version }
}

async function acceptAccount(call: Call, supplierId: string, rows: readonly RevisionRow[]): Promise<void> {
  const current = (await call.trx('supplierBankAccounts').where({ supplierId }).whereNot({ state: 'closed' }).first('iban', 'bic', 'holder')) as
    { iban: string; bic: string; holder: string } | undefined
  const said = (field: 'iban' | 'bic' | 'holder'): string => rows.find(one => one.field === field)?.after ?? current?.[field] ?? ''
  await takeAccount(call, supplierId, { iban: said('iban'), bic: said('bic'), holder: said('holder') })
}

async function acceptField(call: Call, supplier: SupplierRow, row: RevisionRow): Promise<void> {
  if (row.field !== null) {
    const parts = fillField(await readParts(call, supplier), row.field, row.after)
    await changeSupplier(call, supplier.id, checkedBody(parts), supplier.version, 'answersTaken')
  }
  const onboarding = await onboardingOf(call, supplier.id, true)
  if (!onboarding) return
  const answers = { ...onboarding.answers, [row.key]: row.answer }
  await call
    .trx('onboardings')
    .where({ id: onboarding.id })
    .update({ answers: JSON.stringify(answers) })
  if (typeof row.answer === 'object' && !Array.isArray(row.answer) && 'issuer' in row.answer) {
    const question = questionsOf(await sectionsFor(call, onboarding)).find(one => one.key === row.key)
    if (question) await takeIn(call, supplier.id, [{ title: '', questions: [{ ...question, when: null }] }], { [row.key]: row.answer })
  }
}

/** The accepted answers that fill no field, as the Sheet shows them. */
export async function shownAnswers(call: Call, supplierId: string): Promise<{ section: string; label: string; answer: string }[]> {
  const row = await onboardingOf(call, supplierId)
  if (!row || row.state !== 'accepted') return []
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
