import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type {
  AnswerArrival,
  AnswerArrivalLink,
  ReadArrivalLink,
  ReadArrivals,
  SettleArrival,
} from '#contract/receive/arrivals.ts'
import {
  answerArrival,
  ARRIVAL_GROUPS,
  type ArrivedLine,
  dueBySilence,
  settleArrival,
  silenceMail,
  whyNotArrivalLink,
} from '#core/receive/arrival.ts'
import { RuleBroken } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import { type Done, may, type Read, type Write, writing } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { say } from '#server/mail/mail.ts'
import { needVisible } from '#server/documents/visible.ts'
import { getActor } from '#server/people/sessions.ts'
import {
  arrivalFacts,
  arrivalOfToken,
  type ArrivalRow,
  keepArrivalDesk,
  tellArrival,
} from '#server/receive/arrivalStore.ts'
import { receivingSettings } from '#server/receive/receivingStore.ts'

const lineJson = ({ position, description, quantity, unit }: ArrivedLine) => ({ position, description, quantity, unit })

/** Who has been told of an order's goods, and what they said. */
export async function readArrivals(call: Read, orderId: string): Promise<ResponseOf<typeof ReadArrivals>> {
  await needVisible(call, 'delivery', orderId)
  const rows = await call.trx('arrivals').where({ orderId }).orderBy('createdAt', 'desc')
  const settles = may(call, 'order.write') || may(call, 'delivery.receive')
  const arrivals: ResponseOf<typeof ReadArrivals>['arrivals'] = []
  for (const row of rows) {
    const { receipt, place, requester } = await arrivalFacts(call, row)
    const { id, version, state, note, askedOn } = row
    const mine = row.requesterId === call.actor.id && isIn(ARRIVAL_GROUPS.asked, state)
    const maySettle = settles && isIn(ARRIVAL_GROUPS.wrong, state)
    arrivals.push({ id, version, state, receipt, place, requester, lines: row.lines.map(lineJson), note, askedOn, mine, maySettle }) // prettier-ignore
  }
  return { arrivals }
}

async function answerRow(
  call: Write,
  row: ArrivalRow,
  { answer, note }: BodyOf<typeof AnswerArrivalLink>,
): Promise<Done> {
  const facts = await arrivalFacts(call, row)
  const decided = obey(answerArrival(facts, answer, note, call.actor))
  const done = await move(call, 'arrival', row, { ...decided.next, answeredAt: call.now, tokenHash: null }, decided.did)
  await record(call, { kind: 'order', id: facts.orderId, ...decided.did })
  await keepArrivalDesk(call, { ...facts, ...decided.next })
  await say(call, decided.says, { kind: 'order', id: facts.orderId })
  return done
}

export async function answer(call: Write, id: string, body: BodyOf<typeof AnswerArrival>): Promise<Done> {
  return await answerRow(call, await hold(call, 'arrival', id, body.version), body)
}

export async function settle(
  call: Write,
  id: string,
  { version, reason }: BodyOf<typeof SettleArrival>,
): Promise<Done> {
  const row = await hold(call, 'arrival', id, version)
  const facts = await arrivalFacts(call, row)
  const decided = obey(settleArrival(facts, reason, call.actor))
  const done = await move(call, 'arrival', row, decided.next, decided.did)
  await record(call, { kind: 'order', id: facts.orderId, ...decided.did })
  await keepArrivalDesk(call, { ...facts, ...decided.next })
  return done
}

/** What the link of a mail shows. A dead one tells no more than why. */
export async function readLink(call: Read, token: string): Promise<ResponseOf<typeof ReadArrivalLink>> {
  const row = await arrivalOfToken(call, token)
  const { order, receipt, place, title } = await arrivalFacts(call, row)
  const reasons = whyNotArrivalLink({ endsOn: row.linkEndsOn }, row, call.today)
  const shown = reasons.length === 0
  return {
    house: call.house.name,
    number: order,
    title: shown ? title : '',
    receipt,
    place: shown ? place : '',
    reasons: reasonsJson(reasons.slice(0, 1)),
    lines: shown ? row.lines.map(lineJson) : [],
  }
}

/** Answers by the link, as whom it was sent to; the link is dead afterwards. */
export async function answerLink(
  call: Write,
  token: string,
  body: BodyOf<typeof AnswerArrivalLink>,
): Promise<{ number: string }> {
  const { id } = await arrivalOfToken(call, token)
  const row = await hold(call, 'arrival', id)
  const against = whyNotArrivalLink({ endsOn: row.linkEndsOn }, row, call.today)
  if (against.length > 0) throw new RuleBroken(against)
  const actor = await getActor(call.trx, row.requesterId, call.now)
  const as = writing(call.trx, { ...call, actor, channel: 'mail' })
  await answerRow(as, row, body)
  return { number: (await arrivalFacts(as, row)).order }
}

/** Once a night: who has said nothing is reminded, and after the set days the buyer is told. */
export async function remindOfArrivals(call: Write): Promise<void> {
  const setting = await receivingSettings(call)
  const rows = await call.trx('arrivals').whereIn('state', [...ARRIVAL_GROUPS.asked]).orderBy('id') // prettier-ignore
  for (const { id } of rows.filter(row => dueBySilence(row, setting, call.today) !== null)) {
    const row = await hold(call, 'arrival', id)
    const facts = await arrivalFacts(call, row)
    const due = dueBySilence(facts, setting, call.today)
    if (due === 'remind') {
      await tellArrival(call, facts, true)
      await move(call, 'arrival', row, { remindedOn: call.today }, { action: 'reminded', changes: {}, reason: null })
    } else if (due === 'tellBuyer') {
      await say(call, [silenceMail(facts)], { kind: 'order', id: facts.orderId })
      await move(call, 'arrival', row, { toldOn: call.today }, { action: 'buyerTold', changes: {}, reason: null })
    }
  }
}
