import { randomUUID } from 'node:crypto'
import type { RequisitionBody } from '#contract/request/lines.ts'
import { whyNotEdit } from '#core/request/submitRequisition.ts'
import type { Answers } from '#core/source/questionnaire.ts'
import { type Done, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { refuse } from '#server/documents/obey.ts'
import { insertDraft, writeLines } from '#server/request/draftStore.ts'
import type { RequisitionRow } from '#server/request/requisitionStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Makes a draft; whoever begins again without having written anything goes on with the empty one that is there. */
export async function createRequisition(
  call: Write,
  body: RequisitionBody,
  form?: { id: string; answers: Answers },
): Promise<Done> {
  const empty =
    form || body.title !== '' || body.reason !== '' || body.lines.length > 0 ? undefined : await untouchedDraft(call)
  if (empty) return empty
  const { id } = await insertDraft(call, { id: randomUUID(), ...body }, form)
  await record(call, { kind: 'requisition', id, action: 'created' })
  await refreshThread(call, { requisitionIds: [id] })
  return { id, version: 1 }
}

const untouchedDraft = (call: Read): Promise<Done | undefined> =>
  call
    .trx('requisitions')
    .where({ requesterId: call.actor.id, state: 'draft', title: '', reason: '', lines: 0, formId: null })
    .whereNotExists(inner => inner.from('attachments').whereRaw('document_id = requisitions.id'))
    .orderBy('createdAt', 'desc')
    .first('id', 'version')

/** Keeps a draft. Prices of offered items are taken from the offer, never from the page: as it was when the line was made, or as it is now where that is wanted. */
export async function saveRequisition(call: Write, id: string, body: RequisitionBody, version: number): Promise<Done> {
  const row = await heldOwnDraft(call, id, version)
  await writeLines(call, { ...row, requester: call.actor.name }, body, version + 1)
  await refreshThread(call, { requisitionIds: [id] })
  return { id, version: version + 1 }
}

async function heldOwnDraft(call: Write, id: string, version: number): Promise<RequisitionRow> {
  const row = await hold(call, 'requisition', id)
  refuse(whyNotEdit(row, call.actor))
  await guardVersion(call, row, version)
  return row
}
