import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListQuestionnaires, SaveQuestionnaire } from '#contract/source/onboarding.ts'
import { checkQuestionnaire, type Section } from '#core/source/questionnaire.ts'
import { type Reason, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { type Call, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'

export interface QuestionnaireRow {
  id: string
  code: string
  name: string
  number: number
  state: 'draft' | 'live' | 'retired'
  categories: string[]
  kinds: ('company' | 'person')[]
  sections: Section[]
  version: number
}

export async function listQuestionnaires(call: Call): Promise<ResponseOf<typeof ListQuestionnaires>> {
  const questionnaires = (await call
    .trx('questionnaires')
    .join('people', 'people.id', 'questionnaires.changedBy')
    .orderBy(['code', { column: 'number', order: 'desc' }])
    .select(
      'questionnaires.*',
      'people.name as changer',
      call.trx.raw('(select count(*)::int from onboardings where questionnaire_id = questionnaires.id) as used'),
    )) as (QuestionnaireRow & { changer: string; changedAt: string; used: number })[]
  return {
    questionnaires: questionnaires.map(({ changer, ...row }) => ({ ...row, changedBy: changer }) as unknown as ResponseOf<typeof ListQuestionnaires>['questionnaires'][number]),
  }
}

/** Keeps a draft, faults and all; the faults come back and stop its publication. */
export async function saveQuestionnaire(call: Call, body: BodyOf<typeof SaveQuestionnaire>): Promise<{ id: string; version: number; reasons: Reason[] }> {
  const { version, ...content } = body
  const reasons = checkQuestionnaire(body.sections as Section[])
  const columns = {
    name: content.name,
    categories: content.categories,
    kinds: content.kinds,
    sections: JSON.stringify(content.sections),
    changedBy: call.actor.id,
    changedAt: call.now,
  }
  const all = (await call.trx('questionnaires').where({ code: body.code }).orderBy('number', 'desc').forUpdate()) as QuestionnaireRow[]
  const draft = all.find(one => one.state === 'draft')
  if (draft) {
    await guardVersion(call, draft, version)
    await call
      .trx('questionnaires')
      .where({ id: draft.id })
      .update({ ...columns, version: version + 1 })
    return { id: draft.id, version: version + 1, reasons }
  }
  const id = randomUUID()
  await call.trx('questionnaires').insert({ id, code: body.code, number: (all[0]?.number ?? 0) + 1, state: 'draft', ...columns })
  await record(call, { kind: 'questionnaire', id, action: 'drafted' })
  return { id, version: 1, reasons }
}

export async function publishQuestionnaire(call: Call, id: string, version: number): Promise<{ id: string; version: number }> {
  const row = found((await call.trx('questionnaires').where({ id }).forUpdate().first()) as QuestionnaireRow | undefined, 'questionnaire')
  await guardVersion(call, row, version)
  if (row.state !== 'draft') throw new RuleBroken(stop('questionnaire.notDraft'))
  refuseStops(checkQuestionnaire(row.sections))
  await call.trx('questionnaires').where({ code: row.code, state: 'live' }).update({ state: 'retired' })
  await call
    .trx('questionnaires')
    .where({ id })
    .update({ state: 'live', version: version + 1, changedBy: call.actor.id, changedAt: call.now })
  await record(call, { kind: 'questionnaire', id, action: 'published', changes: { number: row.number } })
  return { id, version: version + 1 }
}

/** The questionnaires in force, those that fit the supplier's kind and categories first. */
export async function fittingQuestionnaires(call: Call, supplier: { kind: string; categories: readonly string[] }): Promise<(QuestionnaireRow & { fits: boolean })[]> {
  const rows = (await call.trx('questionnaires').where({ state: 'live' }).orderBy('name')) as QuestionnaireRow[]
  const fits = (row: QuestionnaireRow): number =>
    !row.kinds.some(kind => kind === supplier.kind) ? 0 : row.categories.some(one => supplier.categories.includes(one)) ? 2 : row.categories.length === 0 ? 1 : 0
  return rows.map(row => ({ ...row, fits: fits(row) > 0, rank: fits(row) })).sort((a, b) => b.rank - a.rank)
}
