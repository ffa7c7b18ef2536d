import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AnswerAsked, SayAsked, WriteAsked } from '#contract/source/asked.ts'
import type { RecordConsent, SuspendSupplier, WriteMessage } from '#contract/source/events.ts'
import { needsRight } from '#core/acts/actor.ts'
import { saysWhy } from '#core/acts/decision.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Invited, isAsking } from '#core/source/event.ts'
import { type InvitedAct, whyNotAs, whyNotBehalf, whyNotSave, whyNotSubmit, whyNotSuspend } from '#core/source/invitedActs.ts' // prettier-ignore
import { type Done, found, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { refuse } from '#server/documents/obey.ts'
import { hangFiles } from '#server/files/fileActs.ts'
import { companyTopic, documentTopic, kindTopic, tell } from '#server/news/tell.ts'
import { contentFor, kept, ownAnswers } from '#server/source/answerStore.ts'
import { momentText, writeTo } from '#server/source/eventMailStore.ts'
import { moveEvent, tellSuppliers } from '#server/source/eventActs.ts'
import { log } from '#server/source/eventLogStore.ts'
import { type EventSupplierRow, heldEvent, keepEventDesk, type KnownEvent } from '#server/source/eventStore.ts'

/** Who answers: a supplier's own person, or one of us on its behalf. */
export interface Answering {
  readonly event: KnownEvent
  readonly row: EventSupplierRow & { readonly name: string }
  readonly facts: Invited
  readonly behalf: boolean
}

const answering = (event: KnownEvent, is: (one: EventSupplierRow) => boolean, behalf: boolean): Answering => {
  const row = found(event.rows.find(one => one.sentAt !== null && is(one)), 'event') // prettier-ignore
  return { event, row, facts: event.invited.find(one => one.id === row.id)!, behalf }
}

/** The event as the supplier of whoever acts is asked in it; others' are as if they were not there. */
export const heldAsked = async (call: Write, id: string): Promise<Answering> =>
  answering(await heldEvent(call, id), one => one.supplierId === call.actor.supplierId, false)

/** The event as one of us types in it on a supplier's behalf: only with its consent on record. */
export async function heldBehalf(call: Write, id: string, invitedId: string): Promise<Answering> {
  const who = answering(await heldEvent(call, id), one => one.id === invitedId, true)
  refuse(needsRight(call.actor, 'event.write'))
  refuse(whyNotBehalf(who.row.consent, call.today))
  return who
}

const columns = (call: Write, who: Answering, change: Partial<EventSupplierRow>) =>
  call.trx('eventSuppliers').where({ id: who.row.id }).update(change)

/** What everybody who shows it hears: our pages, and the supplier's own. */
async function told(call: Write, { event, row }: Answering): Promise<{ at: string }> {
  await tell(call, [documentTopic(event.id), kindTopic('event'), companyTopic(row.supplierId, documentTopic(event.id)), companyTopic(row.supplierId, kindTopic('event'))]) // prettier-ignore
  await keepEventDesk(call, event.id)
  return { at: call.now }
}

const SAY_ACTS: Readonly<Record<BodyOf<typeof SayAsked>['say'], InvitedAct>> = {
  accept: 'accept',
  means: 'mean',
  meansNot: 'mean',
  decline: 'decline',
  withdraw: 'withdraw',
}

/** Accepts the terms, says whether it means to answer, declines, or takes back what was handed in. */
export async function say(call: Write, who: Answering, body: BodyOf<typeof SayAsked>): Promise<{ at: string }> {
  refuse(whyNotAs(who.event, who.facts, SAY_ACTS[body.say], call.now))
  if (body.say === 'decline' && !saysWhy(body.reason)) throw new RuleBroken(stop('event.reason', {}, { place: 'reason' })) // prettier-ignore
  const { supplierId } = who.row
  const change: Record<typeof body.say, Partial<EventSupplierRow>> = {
    accept: { acceptedAt: call.now },
    means: { means: true, declinedAt: null, declineReason: '' },
    meansNot: { means: false },
    decline: { declinedAt: call.now, declineReason: body.reason },
    withdraw: { answeredAt: null, withdrawnAt: call.now, onBehalf: false },
  }
  await columns(call, who, change[body.say])
  if (body.say === 'withdraw') await withdrawAnswer(call, who)
  await log(call, who.event, { action: body.say === 'withdraw' ? 'takenBack' : body.say, supplierId, details: who.behalf ? { onBehalf: true } : {}, reason: body.reason }) // prettier-ignore
  return await told(call, who)
}

/** What was handed in stays on record and counts no more. */
async function withdrawAnswer(call: Write, who: Answering): Promise<void> {
  const { submitted, revision } = await ownAnswers(call, who.row.id)
  if (!submitted) return
  await call.trx('eventAnswers').insert({ ...submitted, content: json(submitted.content), id: randomUUID(), revision: revision + 1, state: 'withdrawn', byId: call.actor.id, onBehalf: who.behalf, channel: call.channel, at: call.now }) // prettier-ignore
}

/** Keeps a draft, or hands in. The draft becomes the answer; what was handed in before is kept as it was. */
export async function answer(
  call: Write,
  who: Answering,
  { answer: content, submit }: BodyOf<typeof AnswerAsked>,
): Promise<{ at: string }> {
  const { event, facts, row } = who
  refuse((submit ? whyNotSubmit : whyNotSave)(event, facts, content, call.now))
  const { draft, submitted, revision } = await ownAnswers(call, row.id)
  const known = [draft, submitted].flatMap(one => (one ? contentFor(event, one.content).fileIds : []))
  await hangFiles(call, { kind: 'event', id: event.id }, content.fileIds, known)
  const written = {
    state: submit ? ('submitted' as const) : ('draft' as const),
    content: json(kept(event, content)),
    channel: call.channel,
    byId: call.actor.id,
    onBehalf: who.behalf,
    at: call.now,
  }
  if (draft) await call.trx('eventAnswers').where({ id: draft.id }).update(written)
  else await call.trx('eventAnswers').insert({ id: randomUUID(), invitedId: row.id, revision: revision + 1, ...written }) // prettier-ignore
  if (!submit) return { at: call.now }
  await columns(call, who, { answeredAt: call.now, withdrawnAt: null, declinedAt: null, means: true, onBehalf: who.behalf }) // prettier-ignore
  await log(call, event, {
    action: 'answered',
    supplierId: row.supplierId,
    details: { revision: draft?.revision ?? revision + 1, ...(who.behalf ? { onBehalf: true } : {}) },
  })
  await writeTo(call, event, [row], 'event.answered', `event-answer:${row.id}:${call.now}`, () => ({
    ends: momentText(event.endsAt, event.zone),
    ...(who.behalf ? { behalf: call.actor.name } : {}),
  }))
  return await told(call, who)
}

/** The link was opened, or the page: the first time is kept. */
export async function seen(call: Write, id: string): Promise<ResponseOf<typeof WriteAsked>> {
  const who = await heldAsked(call, id)
  const messages = await call
    .trx('eventMessages')
    .where({ eventId: id })
    .whereNull('fromSupplierId')
    .where(query => void query.whereNull('toSupplierId').orWhere({ toSupplierId: who.row.supplierId }))
    .select('id')
  if (messages.length > 0)
    await call
      .trx('eventMessageReads')
      .insert(messages.map(one => ({ messageId: one.id, personId: call.actor.id })))
      .onConflict()
      .ignore()
  await columns(call, who, { seenAt: call.now, ...(who.row.openedAt === null ? { openedAt: call.now } : {}) })
  if (who.row.openedAt !== null) return { at: call.now }
  await log(call, who.event, { action: 'openedPage', supplierId: who.row.supplierId })
  return await told(call, who)
}

/** A supplier writes to us; nobody else reads it. */
export async function writeFromSupplier(call: Write, id: string, body: BodyOf<typeof WriteAsked>) {
  const who = await heldAsked(call, id)
  refuse(whyNotAs(who.event, who.facts, 'write', call.now))
  await keepMessage(call, who.event, { ...body, fromSupplierId: who.row.supplierId, toSupplierId: null, answersId: null }) // prettier-ignore
  await call.trx('events').where({ id }).increment('unread', 1)
  return await told(call, who)
}

/** We write to all or to one. An answer to a question that goes to all does not say who asked. */
export async function writeToSuppliers(call: Write, id: string, body: BodyOf<typeof WriteMessage>): Promise<Done> {
  const event = await heldEvent(call, id)
  if (event.sentAt === null) throw new RuleBroken(stop('event.notSent'))
  const to = event.rows.filter(one => one.sentAt !== null && (body.toSupplierId === null || one.supplierId === body.toSupplierId)) // prettier-ignore
  if (to.length === 0) throw new RuleBroken(stop('document.notFound', { kind: 'supplier' }))
  if (body.answersId !== null) found(await call.trx('eventMessages').where({ id: body.answersId, eventId: id }).first('id'), 'message') // prettier-ignore
  const messageId = await keepMessage(call, event, { ...body, fromSupplierId: null })
  await writeTo(call, event, to, 'event.message', `event-message:${messageId}`, () => ({ text: body.text }))
  await tellSuppliers(call, event)
  await tell(call, [documentTopic(id)])
  return { id, version: event.row.version }
}

async function keepMessage(
  call: Write,
  event: KnownEvent,
  { text, fileIds, ...whom }: BodyOf<typeof WriteAsked> & { fromSupplierId: string | null; toSupplierId: string | null; answersId: string | null }, // prettier-ignore
): Promise<string> {
  await hangFiles(call, { kind: 'event', id: event.id }, fileIds)
  const id = randomUUID()
  await call.trx('eventMessages').insert({ id, eventId: event.id, at: call.now, byId: call.actor.id, text, fileIds, ...whom }) // prettier-ignore
  await log(call, event, {
    action: 'message',
    supplierId: whom.fromSupplierId ?? whom.toSupplierId,
    details: { from: whom.fromSupplierId === null ? 'us' : 'supplier', toAll: whom.fromSupplierId === null && whom.toSupplierId === null, text: text.slice(0, 500) }, // prettier-ignore
  })
  return id
}

/** What suppliers wrote is read by whoever looks after the event. */
export async function readMessages(call: Write, id: string): Promise<{ read: number }> {
  const event = await heldEvent(call, id)
  const rows = await call.trx('eventMessages').where({ eventId: id }).whereNotNull('fromSupplierId').select('id')
  if (rows.length > 0)
    await call
      .trx('eventMessageReads')
      .insert(rows.map(one => ({ messageId: one.id, personId: call.actor.id })))
      .onConflict()
      .ignore()
  await call.trx('events').where({ id }).update({ unread: 0 })
  await keepEventDesk(call, id)
  return { read: event.row.unread }
}

/** Takes a supplier out of the bidding for now, or lets it in again; it is told why, and so is nobody else. */
export async function suspend(
  call: Write,
  id: string,
  invitedId: string,
  { version, lift, reason }: BodyOf<typeof SuspendSupplier>,
): Promise<Done> {
  const who = answering(await heldEvent(call, id, version), one => one.id === invitedId, false)
  refuse([...needsRight(call.actor, 'event.write'), ...whyNotSuspend(who.event, who.facts, lift, reason, call.now)])
  await columns(call, who, { suspendedAt: lift ? null : call.now, suspendReason: lift ? '' : reason })
  await log(call, who.event, { action: lift ? 'lifted' : 'suspended', supplierId: who.row.supplierId, reason })
  await writeTo(call, who.event, [who.row], lift ? 'event.lifted' : 'event.suspended', `event-suspend:${invitedId}:${version}`, () => ({ reason })) // prettier-ignore
  return await moveEvent(call, who.event, {}, { action: lift ? 'lift' : 'suspend', changes: { supplier: who.row.name }, reason }) // prettier-ignore
}

/** Records that a supplier asked us to type in for it: who, when, how, and what shows it. */
export async function recordConsent(
  call: Write,
  id: string,
  invitedId: string,
  { version, ...consent }: BodyOf<typeof RecordConsent>,
): Promise<Done> {
  const who = answering(await heldEvent(call, id, version), one => one.id === invitedId, true)
  refuse([...needsRight(call.actor, 'event.write'), ...whyNotBehalf(consent, call.today)])
  if (!isAsking(who.event, call.now)) throw new RuleBroken(stop('event.notOpen'))
  if (consent.fileId !== null) await hangFiles(call, { kind: 'event', id }, [consent.fileId])
  await columns(call, who, { consent: json({ ...consent, byId: call.actor.id, by: call.actor.name, at: call.now }) })
  await log(call, who.event, { action: 'consent', supplierId: who.row.supplierId, details: { who: consent.who, on: consent.on, how: consent.how, note: consent.note } }) // prettier-ignore
  await writeTo(call, who.event, [who.row], 'event.consent', `event-consent:${invitedId}:${call.now}`, () => ({ who: consent.who, day: consent.on })) // prettier-ignore
  return await moveEvent(call, who.event, {}, { action: 'consent', changes: { supplier: who.row.name, who: consent.who }, reason: null }) // prettier-ignore
}
