import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { FormJson, ListForms, SaveForm } from '#contract/request/forms.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkForm, filledForm } from '#core/request/forms.ts'
import { type Answers, checkAnswers } from '#core/source/questionnaire.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { attach } from '#server/files/fileActs.ts'
import { usualChoices } from '#server/request/choices.ts'
import { createRequisition } from '#server/request/draftActs.ts'

/** Forms in force for those who ask; every version for a steward. */
export async function listForms(call: Read, all: boolean): Promise<ResponseOf<typeof ListForms>> {
  const rows = await call
    .trx('requestForms')
    .join('people', 'people.id', 'requestForms.changedBy')
    .modify(query => void (all ? query : query.where({ state: 'live' })))
    .orderBy(['code', { column: 'number', order: 'desc' }])
    .select<(FormJson & { changer: string })[]>(
      'requestForms.*',
      'people.name as changer',
      call.trx.raw('(select count(*)::int from requisitions where form_id = request_forms.id) as used'),
    )
  return { forms: rows.map(({ changer, ...row }) => ({ ...row, changedBy: changer })) }
}

/** Keeps a draft of the next version, faults and all; the faults come back and stop its publication. */
export async function saveForm(call: Write, body: BodyOf<typeof SaveForm>): Promise<Done & { reasons: ReasonJson[] }> {
  const { version, code, ...content } = body
  const reasons = reasonsJson(checkForm(content))
  const columns = {
    name: content.name,
    help: content.help,
    category: content.category,
    line: json(content.line),
    sections: json(content.sections),
    fills: json(content.fills),
    changedBy: call.actor.id,
    changedAt: call.now,
  }
  const all = await call.trx('requestForms').where({ code }).orderBy('number', 'desc').forUpdate()
  const draft = all.find(one => one.state === 'draft')
  if (draft) {
    await guardVersion(call, draft, version)
    const done = await move(call, 'form', draft, columns, { action: 'changed', changes: {}, reason: null })
    return { ...done, reasons }
  }
  const id = randomUUID()
  await call.trx('requestForms').insert({ id, code, number: (all[0]?.number ?? 0) + 1, state: 'draft', ...columns })
  await record(call, { kind: 'form', id, action: 'drafted' })
  return { id, version: 1, reasons }
}

/** Puts a draft in force; the version before it is kept for the requests that were made with it. */
export async function publishForm(call: Write, id: string, version: number): Promise<Done> {
  const row = await hold(call, 'form', id, version)
  if (row.state !== 'draft') throw new RuleBroken(stop('questionnaire.notDraft'))
  refuseStops(checkForm(row))
  await call.trx('requestForms').where({ code: row.code, state: 'live' }).update({ state: 'retired' })
  return await move(
    call,
    'form',
    row,
    { state: 'live', changedBy: call.actor.id },
    { action: 'published', changes: { number: row.number }, reason: null },
  )
}

/** A filled form becomes a draft request with its line; what was answered stays with it. */
export async function fillForm(call: Write, id: string, answers: Answers): Promise<Done> {
  const form = found(await call.trx('requestForms').where({ id }).first(), 'form')
  if (form.state !== 'live') throw new RuleBroken(stop('form.notLive'))
  refuseStops(checkAnswers(form.sections, answers, true))
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
          currency: form.line.currency,
          supplierId: null,
          needBy: filled.needBy,
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
    if (typeof answer === 'object' && !Array.isArray(answer) && 'fileId' in answer && answer.fileId !== '')
      await attach(call, 'requisition', done.id, answer.fileId)
  return done
}
