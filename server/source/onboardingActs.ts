import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { AskBack, Invite, ProposeSupplier } from '#contract/source/onboarding.ts'
import { EMPTY_SUPPLIER } from '#contract/source/record.ts'
import { answerConsent, endConsent } from '#core/consent/consent.ts'
import type { Message } from '#core/acts/decision.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { languageOfCountry } from '#core/source/language.ts'
import { personReasons } from '#core/source/checkRecord.ts'
import { checkAnswers, questionsOf } from '#core/source/questionnaire.ts'
import { decidedOnboarding, officesFor, onboardingQuestion } from '#core/source/questions.ts'
import { ONBOARDING_STATES, type OnboardingAction, SUPPLIER_GROUPS } from '#core/source/states.ts'
import { isIn, transition } from '#core/states.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { ask, latestConsent, settleConsent } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { someIds } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { ruled } from '#server/rules/ruledStore.ts'
import { mail, say } from '#server/mail/mail.ts'
import { readerAt } from '#server/mail/recipients.ts'
import { categoriesOf, parentCategories } from '#server/source/categoryStore.ts'
import { newInvitation } from '#server/source/invitation.ts'
import { keepOnboardingDesk, type OnboardingRow, questionnaireOf } from '#server/source/onboardingStore.ts'
import { createSupplier, moveSupplier } from '#server/source/supplierActs.ts'
import { readParts } from '#server/source/supplierStore.ts'
import { takeIn } from '#server/source/takeAnswers.ts'

/** Moves an onboarding on, with whatever else changes. */
export async function moveOnboarding(
  call: Write,
  row: OnboardingRow,
  action: OnboardingAction,
  columns: Partial<OnboardingRow> = {},
  reason: string | null = null,
  changes: Readonly<Record<string, unknown>> = {},
): Promise<Done> {
  const next = transition(ONBOARDING_STATES, 'onboarding', row.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  const done = await move(call, 'onboarding', row, { ...columns, state: next.state }, { action, changes, reason })
  await keepOnboardingDesk(call, row.id)
  return done
}

type Proposal = BodyOf<typeof ProposeSupplier>

/** The first place and contact of a record, from what the person knows. */
const placeOf = (body: Proposal): (typeof EMPTY_SUPPLIER)['locations'] =>
  body.country === ''
    ? []
    : [
        {
          name: 'Head office',
          street: '',
          postalCode: '',
          city: body.city,
          country: body.country,
          phone: '',
          roles: ['takesOrders', 'shipsFrom', 'invoices', 'paidAt'],
          defaults: {},
        },
      ]
const contactOf = (body: Proposal): (typeof EMPTY_SUPPLIER)['contacts'] =>
  body.contactName === '' && body.contactMail === ''
    ? []
    : [
        {
          name: body.contactName,
          email: body.contactMail,
          phone: '',
          language: languageOfCountry(body.country),
          roles: ['orders', 'invoices', 'payments'],
        },
      ]

/** Makes a record that is only proposed, and its onboarding, from what the person knows; nothing of it is typed again. */
export async function proposeSupplier(call: Write, body: Proposal): Promise<Done & { supplierId: string }> {
  if (body.requisitionId)
    found(await call.trx('requisitions').where({ id: body.requisitionId }).first('id'), 'requisition')
  const supplier = await createSupplier(
    call,
    {
      ...EMPTY_SUPPLIER,
      name: body.name,
      kind: body.kind,
      web: body.web,
      categories: body.categories,
      locations: placeOf(body),
      contacts: contactOf(body),
    },
    { state: 'proposed', action: 'proposed' },
  )
  const id = randomUUID()
  const number = await nextNumber(call, 'onboarding')
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
  await record(call, {
    kind: 'onboarding',
    id,
    action: 'proposed',
    changes: { name: body.name },
    reason: body.need || null,
  })
  await keepOnboardingDesk(call, id)
  return { id, version: 1, supplierId: supplier.id }
}

/** Sends the link with which somebody there comes in, once. An earlier link ends. The buyer who invites is the one who follows it up. */
export async function invite(call: Write, id: string, body: BodyOf<typeof Invite>): Promise<Done> {
  const row = await hold(call, 'onboarding', id, body.version)
  const supplier = await hold(call, 'supplier', row.supplierId)
  const questionnaire = found(
    await call.trx('questionnaires').where({ id: body.questionnaireId, state: 'live' }).first('id'),
    'questionnaire',
  )
  const registered = await call
    .trx('people')
    .whereRaw('lower(email) = ?', [body.email.toLowerCase()])
    .first('supplierId')
  if (registered && registered.supplierId !== supplier.id)
    throw new RuleBroken(stop('onboarding.mailTaken', { email: body.email }, { place: 'email' }))
  const { token, hash, expires } = newInvitation(call.now)
  const fresh = row.state === 'proposed' || row.state === 'invited'
  const done = await moveOnboarding(
    call,
    row,
    'invite',
    {
      questionnaireId: fresh ? questionnaire.id : row.questionnaireId,
      invitedName: body.name,
      invitedEmail: body.email,
      tokenHash: hash,
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
    await readerAt(call, row.supplierId, { name: body.name, email: body.email }),
    'onboarding.invitation',
    `invitation:${id}:${done.version}`,
    { kind: 'onboarding', id },
    {
      by: call.actor.name,
      supplier: supplier.name,
      path: `/welcome/${token}`,
      until: expires.slice(0, 10),
      message: body.message,
    },
  )
  return done
}

/** Asks about single answers. Everything else stays as it was given. */
export async function askBack(call: Write, id: string, body: BodyOf<typeof AskBack>): Promise<Done> {
  const row = await hold(call, 'onboarding', id, body.version)
  const { sections } = await questionnaireOf(call, row)
  const known = new Map(questionsOf(sections).map(question => [question.key, question]))
  for (const one of body.asks) found(known.get(one.key), 'question')
  await call.trx('onboardingAsks').insert(
    body.asks.map(one => ({
      id: randomUUID(),
      onboardingId: id,
      key: one.key,
      question: one.question,
      askedBy: call.actor.id,
      askedAt: call.now,
    })),
  )
  await dropQuestion(call, id)
  const asked = { asked: body.asks.map(one => one.key) }
  const done = await moveOnboarding(call, row, 'askBack', { answeredBefore: json(row.answers) }, null, asked)
  await mail(
    call,
    await readerAt(call, row.supplierId, { name: row.invitedName, email: row.invitedEmail }),
    'onboarding.askedBack',
    `ask-back:${id}:${done.version}`,
    { kind: 'onboarding', id },
    {
      one: body.asks.length === 1 ? 1 : '',
      many: body.asks.length === 1 ? '' : body.asks.length,
      questions: body.asks.map(one => `· ${known.get(one.key)!.label}: ${one.question}`).join('\n'),
      path: '/supplier/company',
      by: call.actor.name,
    },
  )
  return done
}

/** Nobody has to decide any more. */
async function dropQuestion(call: Write, id: string): Promise<void> {
  const question = await latestConsent(call, id, 'onboarding')
  if (question?.state === 'open') await settleConsent(call, question, endConsent(question, 'dropped'))
}

/** Takes the answers into the record and asks those who decide: the owner of each category, and finance where a category wants it. */
export async function acceptAnswers(call: Write, id: string, version: number): Promise<Done> {
  const row = await hold(call, 'onboarding', id, version)
  const { sections } = await questionnaireOf(call, row)
  refuseStops(checkAnswers(sections, row.answers, true))
  const done = await moveOnboarding(call, row, 'accept')
  await takeIn(call, row.supplierId, sections, row.answers)
  const supplier = await hold(call, 'supplier', row.supplierId)
  const offices = officesFor(await categoriesOf(call, supplier.categories))
  const earlier = await latestConsent(call, id, 'onboarding')
  const standing = onboardingQuestion(id, offices, someIds([row.byId, row.buyerId]))
  const { question, origins } = await ruled(
    call,
    standing,
    decidedOnboarding(id, row.byId, supplier, await parentCategories(call)),
  )
  await ask(
    call,
    question,
    {
      number: row.number,
      title: supplier.name,
      who: call.actor.name,
      extra: '',
      amount: null,
      currency: null,
      needBy: null,
      path: pathOf('onboarding', id),
    },
    { round: (earlier?.round ?? 0) + 1, origins },
  )
  return done
}

/** One of those who decide approves or refuses. When all have approved, the supplier takes orders. */
export async function decideOnboarding(
  call: Write,
  id: string,
  stepId: string,
  version: number,
  approve: boolean,
  reason: string,
): Promise<Done> {
  const row = await hold(call, 'onboarding', id, version)
  const question = found(await latestConsent(call, id, 'onboarding'), 'decision')
  if (!question.steps.some(step => step.id === stepId))
    throw new RuleBroken(stop('document.notFound', { kind: 'decision' }))
  const answered = answerConsent(question, call.actor, approve ? 'approve' : 'reject', reason, stepId)
  if (!answered.ok) throw new RuleBroken(answered.reasons)
  await settleConsent(call, question, answered.next)
  if (!approve) return await endOnboarding(call, row, 'refuse', reason)
  if (answered.next.state === 'open')
    return await move(
      call,
      'onboarding',
      row,
      {},
      { action: 'decided', changes: { category: answered.step.label }, reason: reason || null },
    )
  const done = await moveOnboarding(call, row, 'approve', {}, reason || null)
  await activate(call, row)
  return done
}

/** From now on it can be ordered from, and everybody concerned hears of it. */
async function activate(call: Write, row: OnboardingRow): Promise<void> {
  const supplier = await hold(call, 'supplier', row.supplierId)
  if (supplier.state !== 'active') {
    const missing = personReasons(await readParts(call, supplier))
    if (missing.length > 0) throw new RuleBroken(stop('source.personData', {}, { clearedBy: ['buyer'] }))
    await moveSupplier(call, supplier, 'activate', null)
  }
  const about = { kind: 'onboarding' as const, id: row.id }
  await mail(
    call,
    await readerAt(call, row.supplierId, { name: row.invitedName, email: row.invitedEmail }),
    'onboarding.approved',
    `welcome:${row.id}:${row.version}`,
    about,
    { supplier: supplier.name, path: '/supplier' },
  )
  const toProposer: Message = {
    template: 'onboarding.orderable',
    to: { kind: 'person', id: row.byId },
    key: `proposed-ready:${row.id}:${row.version}`,
    details: { supplier: supplier.name, path: pathOf('supplier', row.supplierId) },
  }
  await say(call, [toProposer], about)
}

/** Refuses, withdraws or takes up again. The record goes with it as long as it never took an order. */
export async function endOnboarding(
  call: Write,
  row: OnboardingRow,
  action: 'refuse' | 'withdraw' | 'takeUp',
  reason: string,
): Promise<Done> {
  await dropQuestion(call, row.id)
  const done = await moveOnboarding(
    call,
    row,
    action,
    { tokenHash: null, ...(action === 'takeUp' ? { tokenUsedAt: null } : {}) },
    reason,
  )
  const supplier = await hold(call, 'supplier', row.supplierId)
  if (action === 'takeUp') {
    if (supplier.state === 'closed' && supplier.mergedInto === null) await moveSupplier(call, supplier, 'propose', null)
  } else if (isIn(SUPPLIER_GROUPS.coming, supplier.state)) await moveSupplier(call, supplier, 'refuse', reason)
  return done
}
