import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AnswerSecondYes, ReadSecondYes } from '#contract/source/endpoints.ts'
import { answerConsent, endConsent, whyNotDecide, whyNotWithdraw } from '#core/consent/consent.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkRecord } from '#core/source/checkRecord.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { sharedQuestion } from '#core/source/questions.ts'
import { isIn } from '#core/states.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { consentsById, type KeptConsent, settleConsent } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { agreedMerge } from '#server/source/mergeActs.ts'
import { askSecondYes, SECOND_YES, type SecondYesKind } from '#server/source/secondYesStore.ts'
import { sharedAccount, sharedIdentifiers } from '#server/source/sharedStore.ts'
import { createSupplier, moveSupplier, type NewSupplierBody } from '#server/source/supplierActs.ts'

/** Keeps a new supplier that shares a strong identifier until a second person says yes. */
export async function askForShared(call: Write, supplier: NewSupplierBody, reason: string): Promise<Done> {
  refuseStops(checkRecord(supplier, 'active'))
  const shared = [
    ...(await sharedIdentifiers(call, supplier, null)),
    ...(await sharedAccount(call, supplier.iban ?? '')),
  ]
  if (shared.length === 0) throw new RuleBroken(stop('secondYes.notShared'))
  const id = randomUUID()
  const asked = await askSecondYes(call, sharedQuestion(id, { supplier }, call.actor.id, reason), supplier.name, '', id)
  return { id, version: asked.version }
}

/** A question of these kinds; others are as if they were not there. */
async function questionOf(call: Read, id: string): Promise<KeptConsent & { purpose: SecondYesKind }> {
  const consent = found((await consentsById(call, [id])).get(id), 'secondYes')
  if (!isIn(SECOND_YES, consent.purpose)) throw new RuleBroken(stop('document.notFound', { kind: 'secondYes' }))
  return { ...consent, purpose: consent.purpose }
}

type Answer = BodyOf<typeof AnswerSecondYes>['answer']

/** Says yes or no, or takes the question back. Nobody says yes to what they asked for themselves. */
export async function answerSecondYes(
  call: Write,
  id: string,
  version: number,
  answer: Answer,
  reason: string,
): Promise<ResponseOf<typeof AnswerSecondYes>> {
  await hold(call, 'secondYes', id)
  const question = await questionOf(call, id)
  refuse(answer === 'withdraw' ? whyNotWithdraw(question, call.actor) : whyNotDecide(question, call.actor))
  await guardVersion(call, question, version)
  const settled = await settleConsent(call, question, nextOf(call, question, answer, reason))
  const supplierId =
    answer === 'agree' ? await carryOut(call, question, reason) : await notDone(call, question, answer, reason)
  return { id, version: settled.version, supplierId }
}

function nextOf(call: Write, question: KeptConsent, answer: Answer, reason: string) {
  if (answer === 'withdraw') return endConsent(question, 'withdrawn')
  const answered = answerConsent(question, call.actor, answer === 'agree' ? 'approve' : 'reject', reason)
  if (!answered.ok) throw new RuleBroken(answered.reasons)
  return answered.next
}

async function carryOut(
  call: Write,
  question: KeptConsent & { purpose: SecondYesKind },
  reason: string,
): Promise<string> {
  const why = `${question.reason} Agreed: ${reason}`
  switch (question.purpose) {
    case 'bar': {
      const supplier = await hold(call, 'supplier', question.documentId)
      await moveSupplier(call, supplier, 'bar', why)
      return supplier.id
    }
    case 'merge':
      await agreedMerge(call, question.documentId, String(question.subject.mergedId), why)
      return question.documentId
    case 'sharedNumber': {
      const made = await createSupplier(call, subjectOf(question)!, { consentId: question.id })
      await record(call, {
        kind: 'supplier',
        id: made.id,
        action: 'sharedAgreed',
        changes: { askedBy: question.askedBy, why: question.reason },
        reason,
      })
      await call
        .trx('consents')
        .where({ id: question.id })
        .update({ subject: call.trx.raw('subject || ?::jsonb', [JSON.stringify({ supplierId: made.id })]) as never })
      return made.id
    }
  }
}

/** What is recorded on the supplier where nothing comes of it. */
async function notDone(
  call: Write,
  question: KeptConsent & { purpose: SecondYesKind },
  answer: Exclude<Answer, 'agree'>,
  reason: string,
): Promise<string | null> {
  if (question.purpose === 'sharedNumber') return null
  const supplier = await hold(call, 'supplier', question.documentId)
  const action = `${question.purpose}${answer === 'refuse' ? 'Refused' : 'Withdrawn'}`
  await move(call, 'supplier', supplier, {}, { action, changes: {}, reason })
  return supplier.id
}

/** The new supplier that a question keeps, where it is about one. */
const subjectOf = (question: KeptConsent): NewSupplierBody | undefined =>
  question.subject.supplier as NewSupplierBody | undefined

export async function readSecondYes(call: Read, id: string): Promise<ResponseOf<typeof ReadSecondYes>> {
  const question = await questionOf(call, id)
  const asker = await call.trx('people').where({ id: question.askedBy }).first('name')
  const body = subjectOf(question)
  const values = [
    ...(body?.identifiers ?? []).map(one => normalIdentifier(one.value)),
    ...(body?.iban ? [normalIdentifier(body.iban)] : []),
  ]
  const supplierId =
    question.purpose === 'sharedNumber'
      ? ((question.subject.supplierId as string | undefined) ?? null)
      : question.documentId
  const supplier = supplierId ? await call.trx('suppliers').where({ id: supplierId }).first('name') : undefined
  const others = question.purpose === 'merge' ? await mergedRecord(call, question) : await sharing(call, values)
  return {
    id,
    kind: question.purpose,
    supplierId,
    name: supplier?.name ?? body?.name ?? '',
    subject: values.join(', '),
    others: others.filter(other => other.id !== supplierId),
    reason: question.reason,
    askedBy: asker?.name ?? '',
    askedAt: question.askedAt,
    state: question.state,
    mine: question.askedBy === call.actor.id,
    mayAnswer: whyNotDecide(question, call.actor).length === 0,
    version: question.version,
  }
}

type Other = { id: string; number: string; name: string }

const mergedRecord = (call: Read, question: KeptConsent): Promise<Other[]> =>
  call
    .trx('suppliers')
    .where({ id: String(question.subject.mergedId) })
    .select('id', 'number', 'name')

/** Records that have one of these numbers or accounts. */
async function sharing(call: Read, values: readonly string[]): Promise<Other[]> {
  if (values.length === 0) return []
  const { rows } = await call.trx.raw<{ rows: Other[] }>(
    `select distinct s.id, s.number, s.name from suppliers s where s.merged_into is null and (exists (select 1 from supplier_identifiers where supplier_id = s.id and value = any(:values)) or exists (select 1 from supplier_bank_accounts where supplier_id = s.id and state <> 'closed' and iban = any(:values)))`,
    { values: [...values] },
  )
  return rows
}
