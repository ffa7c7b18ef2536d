import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { FormJson, ListForms, SaveForm } from '#contract/request/forms.ts'
import { type Reason, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkForm, filledForm, type RequestForm } from '#core/request/forms.ts'
import { type Answers, checkAnswers, type Section } from '#core/source/questionnaire.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { attach } from '#server/files/fileService.ts'
import { usualChoices } from '#server/request/choices.ts'
import { createRequisition } from '#server/request/draft.ts'
import type { RequisitionRow } from '#server/request/requisitionStore.ts'

interface FormRow extends RequestForm {
  readonly id: string
  readonly code: string
  readonly number: number
  readonly state: 'draft' | 'live' | 'retired'
  readonly help: string
  readonly version: number
}

/** Forms in force for those who ask; every version for a steward. */
export async function listForms(call: Call, all: boolean): Promise<ResponseOf<typeof ListForms>> {
  const query = call
    .trx('requestForms')
    .join('people', 'people.id', 'requestForms.changedBy')
    .orderBy(['code', { column: 'number', order: 'desc' }])
    .select('requestForms.*', 'people.name as changer', call.trx.raw('(select count(*)::int from requisitions where form_id = request_forms.id) as used'))
  if (!all) query.where({ state: 'live' })
  const rows = (await query) as (FormRow & { changer: string; used: number; changedAt: string })[]
  return { forms: rows.map(({ changer, ...row }) => ({ ...row, changedBy: changer }) as unknown as FormJson) }
}

/** Keeps a draft of the next version, faults and all; the faults come back and stop its publication. */
export async function saveForm(call: Call, body: BodyOf<typeof SaveForm>): Promise<Done & { reasons: Reason[] }> {
  const { version, code, ...content } = body
  const reasons = checkForm(content as unknown as RequestForm)
  const columns = {
    name: content.name,
    help: content.help,
    category: content.category,
    line: JSON.stringify(content.line),
    sections: JSON.stringify(content.sections),
    fills: JSON.stringify(content.fills),
    changedBy: call.actor.id,
    changedAt: call.now,
  }
  const all = (await call.trx('requestForms').where({ code }).orderBy('number', 'desc').forUpdate()) as FormRow[]
  const draft = all.find(one => one.state === 'draft')
  if (draft) {
    await guardVersion(call, draft, version)
    await call
      .trx('requestForms')
      .where({ id: draft.id })
      .update({ ...columns, version: version + 1 })
    return { id: draft.id, version: version + 1, reasons }
  }
  const id = randomUUID()
  await call.trx('requestForms').insert({ id, code, number: (all[0]?.number ?? 0) + 1, state: 'draft', ...columns })
  await record(call, { kind: 'form', id, action: 'drafted' })
  return { id, version: 1, reasons }
}

/** Puts a draft in force; the version before it is kept for the requests that were made with it. */
export async function publishForm(call: Call, id: string, version: number): Promise<Done> {
  const row = found((await call.trx('requestForms').where({ id }).forUpdate().first()) as FormRow | undefined, 'form')
  await guardVersion(call, row, version)
  if (row.state !== 'draft') throw new RuleBroken(stop('questionnaire.notDraft'))
  refuseStops(checkForm(row))
  await call.trx('requestForms').where({ code: row.code, state: 'live' }).update({ state: 'retired' })
  await call
    .trx('requestForms')
    .where({ id })
    .update({ state: 'live', version: version + 1, changedBy: call.actor.id, changedAt: call.now })
  await record(call, { kind: 'form', id, action: 'published', changes: { number: row.number } })
  return { id, version: version + 1 }
}

/** A filled form becomes a draft request with its line; what was answered stays with it. */
export async function fillForm(call: Call, id: string, answers: Answers): Promise<Done> {
  const form = found((await call.trx('requestForms').where({ id }).first()) as FormRow | undefined, 'form')
  if (form.state !== 'live') throw new RuleBroken(stop('form.notLive'))
  refuseStops(checkAnswers(form.sections as Section[], answers, true))
  const filled = filledForm(form, answers)
  const usual = await usualChoices(call)
  const done = await createRequisition(
    call,
    {
      title: filled.title.slice(0, 300),
      reason: filled.reason,
      lines: [
        {
          kind: form.line.kind,
          itemId: null,
          offerId: null,
          description: filled.description.slice(0, 300),
          quantity: filled.quantity,
          unit: form.line.unit,
          price: filled.price,
          priceBase: '1',
          currency: form.line.currency as 'EUR',
          supplierId: null,
          needBy: filled.needBy as never,
          addressId: usual.addressId,
          category: form.category,
          routes: [...form.line.routes],
          splits: usual.accountId ? [{ accountId: usual.accountId, share: '1' }] : [],
        },
      ],
    },
    { id, answers },
  )
  for (const answer of Object.values(answers))
    if (typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId !== '') await attach(call, 'requisition', done.id, answer.fileId)
  return done
}

/** What was answered in the form that a request was made with. */
export async function formSaid(
  call: Call,
  requisition: Pick<RequisitionRow, 'formId' | 'answers'>,
): Promise<{ name: string; number: number; said: { question: string; answer: string }[] } | null> {
  if (!requisition.formId) return null
  const form = (await call.trx('requestForms').where({ id: requisition.formId }).first()) as FormRow
  return { name: form.name, number: form.number, said: [...filledForm(form, requisition.answers).said] }
}
