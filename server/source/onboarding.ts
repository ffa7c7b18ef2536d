import { createHash, randomBytes, randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { AskBack, Invite, ProposeSupplier } from '#contract/source/onboarding.ts'
import { EMPTY_SUPPLIER, SupplierBody } from '#contract/source/record.ts'
import { type Answers, answerText, type CertificateAnswer, checkAnswers, isAsked, questionsOf, type Section } from '#core/source/questionnaire.ts'
import { ACCOUNT_FIELDS, fillField } from '#core/source/recordFields.ts'
import { ONBOARDING_STATES, type OnboardingAction, type OnboardingState } from '#core/source/states.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, found, guardVersion, may } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import { replaceAccount } from '#server/source/bankAccounts.ts'
import { categoriesOf } from '#server/source/categories.ts'
import { addCertificate } from '#server/source/certificates.ts'
import type { QuestionnaireRow } from '#server/source/questionnaires.ts'
import { changeSupplier, createSupplier, moveSupplier } from '#server/source/supplierService.ts'
import { lockSupplier, nextNumber, readParts } from '#server/source/supplierStore.ts'

export interface OnboardingRow {
  id: string
  number: string
  supplierId: string
  questionnaireId: string | null
  requisitionId: string | null
  state: OnboardingState
  need: string
  invitedName: string
  invitedEmail: string
  tokenHash: string | null
  tokenExpires: string | null
  tokenUsedAt: string | null
  answers: Answers
  answeredBefore: Answers
  byId: string
  buyerId: string | null
  submittedAt: string | null
  version: number
  createdAt: string
  changedAt: string
}

/** Days for which an invitation can be used. */
const INVITATION_DAYS = 14
export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')
export const inDays = (now: string, days: number): string => new Date(Date.parse(now) + days * 86_400_000).toISOString()

export async function lockOnboarding(call: Call, id: string): Promise<OnboardingRow> {
  return found((await call.trx('onboardings').where({ id }).forNoKeyUpdate().first()) as OnboardingRow | undefined, 'onboarding')
}

/** Moves an onboarding on, with whatever else changes. */
export async function moveOnboarding(
  call: Call,
  row: OnboardingRow,
  action: OnboardingAction,
  columns: Record<string, unknown> = {},
  reason: string | null = null,
  changes: unknown = {},
): Promise<Done> {
  const next = transition(ONBOARDING_STATES, 'onboarding', row.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  await call
    .trx('onboardings')
    .where({ id: row.id })
    .update({ ...columns, state: next.state, version: row.version + 1, changedAt: call.now })
  await record(call, { kind: 'onboarding', id: row.id, action, changes, reason })
  return { id: row.id, version: row.version + 1 }
}

type Proposal = BodyOf<typeof ProposeSupplier>

/** Makes a record that is only proposed, and its onboarding, from what the person knows; nothing of it is typed again. */
export async function proposeSupplier(call: Call, body: Proposal): Promise<Done & { supplierId: string }> {
  if (body.requisitionId) found(await call.trx('requisitions').where({ id: body.requisitionId }).first('id'), 'requisition')
  const place =
    body.country !== ''
      ? [
          {
            name: 'Head office',
            street: '',
            postalCode: '',
            city: body.city,
            country: body.country,
            phone: '',
            roles: ['takesOrders' as const, 'shipsFrom' as const, 'invoices' as const, 'paidAt' as const],
            defaults: {},
          },
        ]
      : []
  const contact =
    body.contactName || body.contactMail
      ? [{ name: body.contactName, email: body.contactMail, phone: '', language: 'en', roles: ['orders' as const, 'invoices' as const, 'payments' as const] }]
      : []
  const supplier = await createSupplier(
    call,
    { ...EMPTY_SUPPLIER, name: body.name, kind: body.kind, web: body.web, categories: body.categories, locations: place, contacts: contact },
    { state: 'proposed', action: 'proposed' },
  )
  const id = randomUUID()
  const number = await nextNumber(call, 'onboarding_numbers', 'N')
  await call.trx('onboardings').insert({
    id,
    number,
    supplierId: supplier.id,
    requisitionId: body.requisitionId,
    state: 'proposed',
    need: body.need,
    invitedName: body.contactName,
    invitedEmail: body.contactMail,
    byId: call.actor.id,
    createdAt: call.now,
    changedAt: call.now,
    search: `${number} ${body.name} ${supplier.number}`.toLowerCase(),
  })
  await record(call, { kind: 'onboarding', id, action: 'proposed', changes: { name: body.name }, reason: body.need || null })
  return { id, version: 1, supplierId: supplier.id }
}

/** Sends the link with which somebody there comes in, once. An earlier link ends. The buyer who invites is the one who follows it up. */
export async function invite(call: Call, id: string, body: BodyOf<typeof Invite>): Promise<Done> {
  const row = await lockOnboarding(call, id)
  await guardVersion(call, row, body.version)
  const supplier = await lockSupplier(call, row.supplierId)
  const questionnaire = found((await call.trx('questionnaires').where({ id: body.questionnaireId, state: 'live' }).first()) as QuestionnaireRow | undefined, 'questionnaire')
  const registered = (await call.trx('people').whereRaw('lower(email) = ?', [body.email.toLowerCase()]).first('supplierId')) as { supplierId: string | null } | undefined
  if (registered && registered.supplierId !== supplier.id) throw new RuleBroken(stop('onboarding.mailTaken', { email: body.email }, { place: 'email' }))
  const token = randomBytes(24).toString('base64url')
  const expires = inDays(call.now, INVITATION_DAYS)
  const done = await moveOnboarding(
    call,
    row,
    'invite',
    {
      questionnaireId: row.state === 'proposed' || row.state === 'invited' ? questionnaire.id : row.questionnaireId,
      invitedName: body.name,
      invitedEmail: body.email,
      tokenHash: hashOf(token),
      tokenExpires: expires,
      tokenUsedAt: null,
      buyerId: call.actor.id,
    },
    null,
    { to: body.email },
  )
  if (supplier.state === 'proposed') await moveSupplier(call, supplier, 'onboard', null)
  await mail(
    call,
    `invitation:${id}:${done.version}`,
    { kind: 'onboarding', id },
    {
      to: body.email,
      subject: `${call.actor.name} of Saltmere Aquarium Trust asks ${supplier.name} to introduce itself`,
      text: `Dear ${body.name},\n\nwe should like to buy from ${supplier.name}. Please tell us about the company on these pages; you can stop half-way and go on later:\n/welcome/${token}\n\nThe link works once and until ${expires.slice(0, 10)}.\n${body.message ? `\n${body.message}\n` : ''}\n${call.actor.name}\nSaltmere Aquarium Trust\n`,
    },
  )
  return done
}

/** Asks about single answers. Everything else stays as it was given. */
export async function askBack(call: Call, id: string, body: BodyOf<typeof AskBack>): Promise<Done> {
  const row = await lockOnboarding(call, id)
  await guardVersion(call, row, body.version)
  const { sections } = await questionnaireOf(call, row)
  const known = new Map(questionsOf(sections).map(question => [question.key, question]))
  for (const ask of body.asks) found(known.get(ask.key), 'question')
  await call
    .trx('onboardingAsks')
    .insert(body.asks.map(ask => ({ id: randomUUID(), onboardingId: id, key: ask.key, question: ask.question, askedBy: call.actor.id, askedAt: call.now })))
  await call.trx('onboardingDecisions').where({ onboardingId: id, state: 'open' }).update({ state: 'dropped' })
  const done = await moveOnboarding(call, row, 'askBack', { answeredBefore: JSON.stringify(row.answers) }, null, { asked: body.asks.map(ask => ask.key) })
  const questions = body.asks.map(ask => `· ${known.get(ask.key)!.label}: ${ask.question}`).join('\n')
  await mail(
    call,
    `ask-back:${id}:${done.version}`,
    { kind: 'onboarding', id },
    {
      to: row.invitedEmail,
      subject: `${body.asks.length === 1 ? 'A question' : `${body.asks.length} questions`} about your answers`,
      text: `Dear ${row.invitedName},\n\nplease look at your answers once more:\n${questions}\n\nYour pages: /supplier/company\n\n${call.actor.name}\nSaltmere Aquarium Trust\n`,
    },
  )
  return done
}

export async function questionnaireOf(call: Call, row: Pick<OnboardingRow, 'questionnaireId'>): Promise<QuestionnaireRow> {
  return found((await call.trx('questionnaires').where({ id: row.questionnaireId }).first()) as QuestionnaireRow | undefined, 'questionnaire')
}

/** Takes the answers into the record and asks those who decide: the owner of each category, and finance where a category wants it. */
export async function acceptAnswers(call: Call, id: string, version: number): Promise<Done> {
  const row = await lockOnboarding(call, id)
  await guardVersion(call, row, version)
  const { sections } = await questionnaireOf(call, row)
  refuseStops(checkAnswers(sections, row.answers, true))
  const done = await moveOnboarding(call, row, 'accept')
  await takeIn(call, row.supplierId, sections, row.answers)
  const supplier = await lockSupplier(call, row.supplierId)
  const categories = await categoriesOf(call, supplier.categories)
  const owned = categories.filter(category => category.ownerId !== null)
  const finance = categories.length === 0 || owned.length === 0 || categories.some(category => category.needsFinance)
  const decisions = [
    ...owned.map(category => ({ office: 'categoryOwner', category: category.name, personId: category.ownerId })),
    ...(finance ? [{ office: 'finance', category: '', personId: null }] : []),
  ]
  await call.trx('onboardingDecisions').insert(decisions.map(one => ({ id: randomUUID(), onboardingId: id, ...one, state: 'open' })))
  return done
}

/** Fills the record from the answers, adds certificates, and sets the account as unproven when it is another one. */
export async function takeIn(call: Call, supplierId: string, sections: readonly Section[], answers: Answers): Promise<void> {
  const questions = questionsOf(sections)
  const supplier = await lockSupplier(call, supplierId)
  let body: SupplierBody = await readParts(call, supplier)
  if (body.kind === 'person' && body.person === null) body = { ...body, person: { birthDate: '', taxStatus: 'selfEmployed', nationalId: '' } }
  const account = { iban: '', bic: '', holder: '' }
  for (const question of questions) {
    if (!isAsked(question, questions, answers)) continue
    const answer = answers[question.key]
    if (question.kind === 'certificate' && answer !== undefined && typeof answer === 'object' && !Array.isArray(answer) && 'issuer' in answer && answer.issuer !== '')
      await takeCertificate(call, supplierId, question.label, answer)
    if (question.fills === null) continue
    const text = answerText(answer)
    if (ACCOUNT_FIELDS.has(question.fills)) account[question.fills as 'iban' | 'bic' | 'holder'] = text
    else if (text !== '') body = fillField(body, question.fills, text)
  }
  const checked = SupplierBody.safeParse(body)
  if (!checked.success) throw new RuleBroken(checked.error.issues.slice(0, 10).map(issue => stop('request.invalid', { fault: issue.message }, { place: issue.path.join('.') })))
  await changeSupplier(call, supplierId, checked.data, supplier.version, 'answersTaken')
  if (account.iban !== '') await takeAccount(call, supplierId, account)
}

async function takeCertificate(call: Call, supplierId: string, kind: string, answer: CertificateAnswer): Promise<void> {
  const there = (await call.trx('supplierCertificates').where({ supplierId, kind, number: answer.number, state: 'current' }).first('id')) as unknown
  if (there) return
  await addCertificate(call, supplierId, {
    kind,
    category: '',
    issuer: answer.issuer,
    number: answer.number,
    validFrom: answer.validFrom,
    validTo: answer.validTo || null,
    fileId: answer.fileId || null,
    replaces: null,
  })
}

export async function takeAccount(call: Call, supplierId: string, account: { iban: string; bic: string; holder: string }): Promise<void> {
  const current = (await call.trx('supplierBankAccounts').where({ supplierId }).whereNot({ state: 'closed' }).first('iban')) as { iban: string } | undefined
  if (current?.iban === account.iban.replace(/\s/g, '').toUpperCase()) return
  const supplier = await lockSupplier(call, supplierId)
  await replaceAccount(call, supplier, { ...account, holder: account.holder || supplier.name })
}

interface DecisionRow {
  id: string
  office: 'categoryOwner' | 'finance'
  category: string
  personId: string | null
  state: string
}

/** Whether this person may decide: the named owner, or anybody with finance's right; never who proposed or followed it up. */
export function decidesReasons(call: Call, decision: Pick<DecisionRow, 'office' | 'personId'>, onboarding: Pick<OnboardingRow, 'byId' | 'buyerId'>): ReturnType<typeof stop>[] {
  const right = decision.office === 'finance' ? may(call, 'supplier.approve') : decision.personId === call.actor.id
  if (!right) return [stop('right.notYours')]
  if (decision.office === 'finance' && (onboarding.byId === call.actor.id || onboarding.buyerId === call.actor.id)) return [stop('onboarding.own')]
  return []
}

/** One of those who decide approves or refuses. When all have approved, the supplier takes orders. */
export async function decideOnboarding(call: Call, id: string, decisionId: string, version: number, approve: boolean, reason: string): Promise<Done> {
  const row = await lockOnboarding(call, id)
  await guardVersion(call, row, version)
  const decision = found((await call.trx('onboardingDecisions').where({ id: decisionId, onboardingId: id }).first()) as DecisionRow | undefined, 'decision')
  if (decision.state !== 'open') throw new RuleBroken(stop('onboarding.decided'))
  refuseStops(decidesReasons(call, decision, row))
  if (!approve && reason.trim().length < 3) throw new RuleBroken(stop('onboarding.whyRefused', {}, { place: 'reason' }))
  await call
    .trx('onboardingDecisions')
    .where({ id: decisionId })
    .update({ state: approve ? 'approved' : 'refused', decidedBy: call.actor.id, decidedAt: call.now, reason: reason || null })
  if (!approve) return endOnboarding(call, row, 'refuse', reason)
  const left = (await call.trx('onboardingDecisions').where({ onboardingId: id, state: 'open' }).first('id')) as unknown
  if (left) {
    await call
      .trx('onboardings')
      .where({ id })
      .update({ version: row.version + 1, changedAt: call.now })
    await record(call, { kind: 'onboarding', id, action: 'decided', changes: { office: decision.office, category: decision.category }, reason: reason || null })
    return { id, version: row.version + 1 }
  }
  const done = await moveOnboarding(call, row, 'approve', {}, reason || null)
  const supplier = await lockSupplier(call, row.supplierId)
  await activate(call, supplier.id)
  await tellApproved(call, row, supplier.name)
  return done
}

async function activate(call: Call, supplierId: string): Promise<void> {
  const supplier = await lockSupplier(call, supplierId)
  if (supplier.state === 'active') return
  const body = await readParts(call, supplier)
  if (body.kind === 'person' && (body.person === null || body.person.birthDate === '' || body.tax.number === ''))
    throw new RuleBroken(stop('source.personData', {}, { clearedBy: ['buyer'] }))
  await moveSupplier(call, supplier, 'activate', null)
}

async function tellApproved(call: Call, row: OnboardingRow, name: string): Promise<void> {
  const asked = (await call.trx('people').where({ id: row.byId, active: true }).first('name', 'email')) as { name: string; email: string } | undefined
  if (row.invitedEmail)
    await mail(
      call,
      `welcome:${row.id}:${row.version}`,
      { kind: 'onboarding', id: row.id },
      {
        to: row.invitedEmail,
        subject: `${name} is now a supplier of Saltmere Aquarium Trust`,
        text: `Dear ${row.invitedName},\n\nthank you. From now on you can get orders from us; you see them on your pages: /supplier\n\nSaltmere Aquarium Trust\n`,
      },
    )
  if (asked)
    await mail(
      call,
      `proposed-ready:${row.id}:${row.version}`,
      { kind: 'onboarding', id: row.id },
      {
        to: asked.email,
        subject: `${name} can be ordered from`,
        text: `Dear ${asked.name},\n\n${name}, which you proposed, has been approved. You can ask for things from it now.\n\n/source/${row.supplierId}\n`,
      },
    )
}

/** Refuses, withdraws or takes up again. The record goes with it as long as it never took an order. */
export async function endOnboarding(call: Call, row: OnboardingRow, action: 'refuse' | 'withdraw' | 'takeUp', reason: string): Promise<Done> {
  await call.trx('onboardingDecisions').where({ onboardingId: row.id, state: 'open' }).update({ state: 'dropped' })
  const done = await moveOnboarding(call, row, action, { tokenHash: null, ...(action === 'takeUp' ? { tokenUsedAt: null } : {}) }, reason)
  const supplier = await lockSupplier(call, row.supplierId)
  if (action === 'takeUp') {
    if (supplier.state === 'closed' && supplier.mergedInto === null)
      await call
        .trx('suppliers')
        .where({ id: supplier.id })
        .update({ state: 'proposed', stateReason: null, version: supplier.version + 1, changedAt: call.now })
  } else if (supplier.state === 'proposed' || supplier.state === 'onboarding') await moveSupplier(call, supplier, 'refuse', reason)
  return done
}
