import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { ListQuestionnaires, SaveQuestionnaire } from '#contract/source/onboarding.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkQuestionnaire } from '#core/source/questionnaire.ts'
import type { Done, Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import type { QuestionnaireRow } from '#server/source/onboardingStore.ts'

export async function listQuestionnaires(call: Read): Promise<ResponseOf<typeof ListQuestionnaires>> {
  const questionnaires = await call
    .trx('questionnaires')
    .join('people', 'people.id', 'questionnaires.changedBy')
    .orderBy(['code', { column: 'number', order: 'desc' }])
    .select<(QuestionnaireRow & { changer: string; used: number })[]>(
      'questionnaires.*',
      'people.name as changer',
      call.trx.raw('(select count(*)::int from onboardings where questionnaire_id = questionnaires.id) as used'),
    )
  return { questionnaires: questionnaires.map(({ changer, ...row }) => ({ ...row, changedBy: changer })) }
}

/** Keeps a draft, faults and all; the faults come back and stop its publication. */
export async function saveQuestionnaire(
  call: Write,
  body: BodyOf<typeof SaveQuestionnaire>,
): Promise<Done & { reasons: ReasonJson[] }> {
  const reasons = reasonsJson(checkQuestionnaire(body.sections))
  const columns = {
    name: body.name,
    categories: body.categories,
    kinds: body.kinds,
    sections: json(body.sections),
    changedBy: call.actor.id,
    changedAt: call.now,
  }
  const all = await call.trx('questionnaires').where({ code: body.code }).orderBy('number', 'desc').forUpdate()
  const draft = all.find(one => one.state === 'draft')
  if (draft) {
    await guardVersion(call, draft, body.version)
    const did = { action: 'changed', changes: {}, reason: null }
    return { ...(await move(call, 'questionnaire', draft, columns, did)), reasons }
  }
  const id = randomUUID()
  const number = (all[0]?.number ?? 0) + 1
  await call.trx('questionnaires').insert({ id, code: body.code, number, state: 'draft', ...columns })
  await record(call, { kind: 'questionnaire', id, action: 'drafted' })
  return { id, version: 1, reasons }
}

export async function publishQuestionnaire(call: Write, id: string, version: number): Promise<Done> {
  const row = await hold(call, 'questionnaire', id, version)
  if (row.state !== 'draft') throw new RuleBroken(stop('questionnaire.notDraft'))
  refuseStops(checkQuestionnaire(row.sections))
  await call.trx('questionnaires').where({ code: row.code, state: 'live' }).update({ state: 'retired' })
  return await move(
    call,
    'questionnaire',
    row,
    { state: 'live', changedBy: call.actor.id },
    { action: 'published', changes: { number: row.number }, reason: null },
  )
}

/** The questionnaires in force, those that fit the supplier's kind and categories first. */
export async function fittingQuestionnaires(
  call: Read,
  supplier: { kind: string; categories: readonly string[] },
): Promise<(QuestionnaireRow & { fits: boolean })[]> {
  const rows = await call.trx('questionnaires').where({ state: 'live' }).orderBy('name')
  const fits = (row: QuestionnaireRow): number =>
    !row.kinds.some(kind => kind === supplier.kind)
      ? 0
      : row.categories.some(one => supplier.categories.includes(one))
        ? 2
        : row.categories.length === 0
          ? 1
          : 0
  return rows.map(row => ({ ...row, fits: fits(row) > 0, rank: fits(row) })).sort((a, b) => b.rank - a.rank)
}
