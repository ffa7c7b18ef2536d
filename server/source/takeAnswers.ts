import { SupplierBody } from '#contract/source/record.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import {
  type Answer,
  type Answers,
  answerText,
  type CertificateAnswer,
  isAsked,
  questionsOf,
  type Section,
} from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, fillField } from '#core/source/recordFields.ts'
import type { Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { takeAccount } from '#server/source/bankAccountActs.ts'
import { addCertificate, added } from '#server/source/certificateActs.ts'
import { changeSupplier } from '#server/source/supplierActs.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'
import { readParts } from '#server/source/supplierStore.ts'

const isCertificate = (answer: Answer | undefined): answer is CertificateAnswer =>
  typeof answer === 'object' && !Array.isArray(answer) && 'issuer' in answer && answer.issuer !== ''

/** Fills the record from the answers, adds certificates, and sets the account as unproven when it is another one. */
export async function takeIn(
  call: Write,
  supplierId: string,
  sections: readonly Section[],
  answers: Answers,
): Promise<void> {
  const questions = questionsOf(sections)
  const supplier = await hold(call, 'supplier', supplierId)
  let body: SupplierBody = await readParts(call, supplier)
  if (body.kind === 'person' && body.person === null)
    body = { ...body, person: { birthDate: '', taxStatus: 'selfEmployed', nationalId: '' } }
  const account = { iban: '', bic: '', holder: '' }
  for (const question of questions) {
    if (!isAsked(question, questions, answers)) continue
    const answer = answers[question.key]
    if (question.kind === 'certificate' && isCertificate(answer))
      await takeCertificate(call, supplierId, question.label, answer)
    if (question.fills === null) continue
    const text = answerText(answer)
    if (ACCOUNT_FIELDS.has(question.fills)) account[question.fills as keyof typeof account] = text
    else if (text !== '') body = fillField(body, question.fills, text)
  }
  await changeSupplier(call, supplierId, checkedBody(body), supplier.version, 'answersTaken')
  if (account.iban !== '') await takeAccount(call, await hold(call, 'supplier', supplierId), account)
  await refreshSuppliers(call, [supplierId])
}

/** A record that was filled from answers still has to be one. @throws RuleBroken request.invalid, with places */
export function checkedBody(body: SupplierBody): SupplierBody {
  const checked = SupplierBody.safeParse(body)
  if (checked.success) return checked.data
  throw new RuleBroken(
    checked.error.issues
      .slice(0, 10)
      .map(issue => stop('request.invalid', { fault: issue.message }, { place: issue.path.join('.') })),
  )
}

async function takeCertificate(
  call: Write,
  supplierId: string,
  kind: string,
  answer: CertificateAnswer,
): Promise<void> {
  const there = await call
    .trx('supplierCertificates')
    .where({ supplierId, kind, number: answer.number, state: 'current' })
    .first('id')
  if (there) return
  const certificate = {
    kind,
    category: '',
    issuer: answer.issuer,
    number: answer.number,
    validFrom: answer.validFrom,
    validTo: answer.validTo || null,
    fileId: answer.fileId || null,
    replaces: null,
  }
  await addCertificate(call, supplierId, certificate)
  await record(call, { kind: 'supplier', id: supplierId, ...added(certificate) })
}
