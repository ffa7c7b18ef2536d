import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ATTACHABLE } from '#contract/files/endpoints.ts'
import type { ReviseAnswers, SaveAnswers, SubmitAnswers } from '#contract/source/company.ts'
import type { SupplierBody } from '#contract/source/record.ts'
import { saysWhy } from '#core/acts/decision.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { answerDifferences, type Answers, checkAnswers, questionsOf, type Section } from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, fillField } from '#core/source/recordFields.ts'
import { ONBOARDING_GROUPS, SUPPLIER_GROUPS } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { useFile } from '#server/files/fileStore.ts'
import { say } from '#server/mail/mail.ts'
import { takeAccount } from '#server/source/bankAccountActs.ts'
import { readSourceSettings } from '#server/source/categoryStore.ts'
import { ownId, standingAnswers } from '#server/source/companySheet.ts'
import { moveOnboarding } from '#server/source/onboardingActs.ts'
import { onboardingOf, type OnboardingRow, questionnaireOf, sectionsFor } from '#server/source/onboardingStore.ts'
import { changeSupplier } from '#server/source/supplierActs.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'
import { readParts, type RevisionRow, type SupplierRow } from '#server/source/supplierStore.ts'
import { checkedBody, takeIn } from '#server/source/takeAnswers.ts'

async function ownOpen(call: Write, version: number): Promise<OnboardingRow> {
  const open = await onboardingOf(call, ownId(call))
  if (!open || open.state === 'accepted') throw new RuleBroken(stop('onboarding.none'))
  const row = await hold(call, 'onboarding', open.id, version)
  if (!isIn(ONBOARDING_GROUPS.answering, row.state))
    throw new RuleBroken(stop('onboarding.notAnswering', { state: row.state }))
  return row
}

const filesIn = (answers: Answers): string[] =>
  Object.values(answers).flatMap(answer =>
    typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId !== ''
      ? [answer.fileId]
      : [],
  )

/** Files among the answers are kept as long as the onboarding. */
async function useFiles(call: Write, onboardingId: string, answers: Answers): Promise<void> {
  for (const fileId of filesIn(answers)) await useFile(call, fileId, { kind: 'onboarding', id: onboardingId })
}

/** Only answers to questions that there are; files must be the supplier's own. */
async function tidy(call: Read, sections: readonly Section[], answers: Answers): Promise<Answers> {
  const known = new Set(questionsOf(sections).map(question => question.key))
  const kept = Object.fromEntries(Object.entries(answers).filter(([key]) => known.has(key)))
  const fileIds = filesIn(kept)
  const valid = fileIds.filter(id => /^[0-9a-f-]{36}$/.test(id))
  const { rows } = await call.trx.raw<{
    rows: { id: string; mediaType: string }[]
  }>(
    'select f.id, f.media_type from files f join people p on p.id = f.by_id where f.id = any(?::uuid[]) and p.supplier_id = ?',
    [valid, ownId(call)],
  )
  const owned = new Set(rows.map(row => row.id))
  if (fileIds.some(id => !owned.has(id))) throw new RuleBroken(stop('document.notFound', { kind: 'file' }))
  const wrong = rows.find(row => !ATTACHABLE.some(type => type === row.mediaType))
  if (wrong) throw new RuleBroken(stop('file.type', { type: wrong.mediaType }))
  return kept
}

export async function saveAnswers(
  call: Write,
  body: BodyOf<typeof SaveAnswers>,
): Promise<ResponseOf<typeof SaveAnswers>> {
  const row = await ownOpen(call, body.version)
  const answers = await tidy(call, (await questionnaireOf(call, row)).sections, body.answers)
  await call
    .trx('onboardings')
    .where({ id: row.id })
    .update({ answers: json(answers), version: row.version + 1, changedAt: call.now })
  await useFiles(call, row.id, answers)
  return { version: row.version + 1, savedAt: call.now }
}

/** Hands the answers in: everything that is asked has to be there. */
export async function submitAnswers(call: Write, body: BodyOf<typeof SubmitAnswers>): Promise<Done> {
  const row = await ownOpen(call, body.version)
  const { sections } = await questionnaireOf(call, row)
  const answers = await tidy(call, sections, body.answers)
  refuseStops(checkAnswers(sections, answers, true))
  await call
    .trx('onboardingAsks')
    .where({ onboardingId: row.id })
    .whereNull('answeredAt')
    .update({ answeredAt: call.now })
  const again = row.state === 'askedBack'
  const done = await moveOnboarding(
    call,
    row,
    'submit',
    { answers: json(answers), submittedAt: call.now },
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
  await useFiles(call, row.id, answers)
  if (row.buyerId !== null)
    await say(
      call,
      [
        {
          template: again ? 'onboarding.answeredAgain' : 'onboarding.answersIn',
          to: { kind: 'person', id: row.buyerId },
          key: `answers-in:${row.id}:${done.version}`,
          details: { by: call.actor.name, path: pathOf('onboarding', row.id) },
        },
      ],
      { kind: 'onboarding', id: row.id },
    )
  return done
}

/** What changed against the record: harmless fields go through at once, every other one waits for the buyer. Accounts are never harmless. */
export async function reviseAnswers(
  call: Write,
  body: BodyOf<typeof ReviseAnswers>,
): Promise<ResponseOf<typeof ReviseAnswers>> {
  const supplierId = ownId(call)
  const supplier = await hold(call, 'supplier', supplierId)
  if (!isIn(SUPPLIER_GROUPS.trading, supplier.state))
    throw new RuleBroken(stop('onboarding.notRevising', { state: supplier.state }))
  const row = await onboardingOf(call, supplierId)
  if (row && row.state !== 'accepted') throw new RuleBroken(stop('onboarding.notRevising', { state: row.state }))
  const sections = await sectionsFor(call, row)
  const answers = await tidy(call, sections, body.answers)
  refuseStops(checkAnswers(sections, answers, false))
  const differences = answerDifferences(sections, await standingAnswers(call, supplier, sections, row), answers)
  const { harmless } = await readSourceSettings(call)
  const atOnce = differences.filter(
    one => one.field !== null && harmless.includes(one.field) && !ACCOUNT_FIELDS.has(one.field),
  )
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
        answer: json(answers[one.key] ?? ''),
        state: atOnce.includes(one) ? ('atOnce' as const) : ('waiting' as const),
        byId: call.actor.id,
        at: call.now,
      })),
    )
  if (atOnce.length > 0) {
    let parts: SupplierBody = await readParts(call, supplier)
    for (const one of atOnce) parts = fillField(parts, one.field!, one.after)
    await changeSupplier(call, supplierId, checkedBody(parts), supplier.version, 'changedByItself')
  }
  for (const fileId of filesIn(answers)) await useFile(call, fileId, { kind: 'supplier', id: supplierId })
  if (waiting.length > 0)
    await record(call, {
      kind: 'supplier',
      id: supplierId,
      action: 'revised',
      changes: { fields: waiting.map(one => one.label) },
    })
  await refreshSuppliers(call, [supplierId])
  return { atOnce: atOnce.length, waiting: waiting.length }
}

/** Accepts or refuses one field. The parts of an account are taken together, as a new unproven account. */
export async function answerRevision(
  call: Write,
  supplierId: string,
  revisionId: string,
  accept: boolean,
  reason: string,
): Promise<Done> {
  const supplier = await hold(call, 'supplier', supplierId)
  const row = found(await call.trx('supplierRevisions').where({ id: revisionId, supplierId }).first(), 'revision')
  if (row.state !== 'waiting') throw new RuleBroken(stop('revision.answered', { state: row.state }))
  if (!accept && !saysWhy(reason)) throw new RuleBroken(stop('revision.whyRefused', {}, { place: 'reason' }))
  const account = row.field !== null && ACCOUNT_FIELDS.has(row.field)
  const rows = account
    ? await call
        .trx('supplierRevisions')
        .where({ supplierId, state: 'waiting' })
        .whereIn('field', [...ACCOUNT_FIELDS])
    : [row]
  await call
    .trx('supplierRevisions')
    .whereIn(
      'id',
      rows.map(one => one.id),
    )
    .update({
      state: accept ? 'accepted' : 'refused',
      answeredBy: call.actor.id,
      answeredAt: call.now,
      reason: reason || null,
    })
  if (accept && account) await acceptAccount(call, supplier, rows)
  else if (accept) await acceptField(call, supplier, row)
  const done = await move(
    call,
    'supplier',
    await hold(call, 'supplier', supplierId),
    {},
    {
      action: accept ? 'revisionAccepted' : 'revisionRefused',
      changes: { fields: rows.map(one => one.label) },
      reason: reason || null,
    },
  )
  await refreshSuppliers(call, [supplierId])
  return done
}

async function acceptAccount(call: Write, supplier: SupplierRow, rows: readonly RevisionRow[]): Promise<void> {
  const current = await call
    .trx('supplierBankAccounts')
    .where({ supplierId: supplier.id })
    .whereNot({ state: 'closed' })
    .first('iban', 'bic', 'holder')
  const said = (field: 'iban' | 'bic' | 'holder'): string =>
    rows.find(one => one.field === field)?.after ?? current?.[field] ?? ''
  await takeAccount(call, supplier, { iban: said('iban'), bic: said('bic'), holder: said('holder') })
}

async function acceptField(call: Write, supplier: SupplierRow, row: RevisionRow): Promise<void> {
  if (row.field !== null) {
    const parts = fillField(await readParts(call, supplier), row.field, row.after)
    await changeSupplier(call, supplier.id, checkedBody(parts), supplier.version, 'answersTaken')
  }
  const open = await onboardingOf(call, supplier.id)
  if (!open || row.answer === null) return
  const onboarding = await hold(call, 'onboarding', open.id)
  const answers = { ...onboarding.answers, [row.key]: row.answer }
  await call
    .trx('onboardings')
    .where({ id: onboarding.id })
    .update({ answers: json(answers) })
  if (typeof row.answer === 'object' && !Array.isArray(row.answer) && 'issuer' in row.answer) {
    const question = questionsOf(await sectionsFor(call, onboarding)).find(one => one.key === row.key)
    if (question)
      await takeIn(call, supplier.id, [{ title: '', questions: [{ ...question, when: null }] }], {
        [row.key]: row.answer,
      })
  }
}
