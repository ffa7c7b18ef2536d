import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { type Action, action } from '#core/acts/decision.ts'
import { whyNotDecide } from '#core/consent/consent.ts'
import { formatAmount } from '#core/money/amount.ts'
import { whyNotPropose } from '#core/source/askAward.ts'
import { isOver, phaseOf, standingOfInvited } from '#core/source/event.ts'
import { checkEvent, eventActions } from '#core/source/eventActs.ts'
import { nextShown } from '#core/source/eventNumber.ts'
import { needsRight } from '#core/acts/actor.ts'
import type { Read } from '#server/call.ts'
import { type KeptConsent, latestConsent, waitsFor } from '#server/consent/consentStore.ts'
import { namedIn, stepsJson } from '#server/consent/stepJson.ts'
import { actionsJson, pathOf, reasonsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { personNames } from '#server/people/peopleStore.ts'
import { scorersOf } from '#server/source/comparisonStore.ts'
import { sendingFacts } from '#server/source/eventActs.ts'
import { type KnownEvent, knownEvent, rangeOf } from '#server/source/eventStore.ts'
import { messagesFor } from '#server/source/messageStore.ts'

type Sheet = ResponseOf<typeof ReadEvent>

/** An event with everything that our side may see of it; answers stand in the comparison. */
export async function readEvent(call: Read, id: string): Promise<Sheet> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const { row } = event
  const over = isOver(event, call.now)
  const sending = await sendingFacts(call, event)
  const question = row.awardId === null ? null : await latestConsent(call, id, 'award')
  const names = await personNames(call, [event.ownerId, ...namedIn(question)])
  const scorers = await scorersOf(call, id)
  const revisions = await revisionsOf(call, event)
  return {
    kind: 'event',
    id,
    number: event.number,
    title: event.title,
    state: event.state === 'asking' && over ? 'over' : event.state,
    version: row.version,
    ...(await sheetParts(call, 'event', id)),
    thread: null,
    budgets: [],
    steps: stepsJson(question, call.base, names),
    sentence: sentenceOf(event, question, call.now),
    tone: event.state === 'settled' ? 'settled' : event.state === 'cancelled' ? 'stop' : over && event.state !== 'deciding' ? 'attention' : 'plain', // prettier-ignore
    actions: actionsJson([...eventActions(event, sending, call.actor, call.now), ...awardActions(call, event, question, over)]), // prettier-ignore
    kindName: event.kindRow.name,
    kindNumber: event.kindRow.number,
    settings: event.kind as Sheet['settings'],
    body: bodyOf(event, scorers.map(one => one.personId)), // prettier-ignore
    over,
    serverTime: call.now,
    sentAt: event.sentAt,
    owner: names.get(event.ownerId) ?? '',
    outside: await outsideOf(call, event),
    checks: event.state === 'draft' ? reasonsJson(checkEvent(event, sending, call.now)) : [],
    requests: await requestsOf(call, id),
    copiedFrom: await copiedFrom(call, row.copiedFrom),
    lineFacts: await lineFacts(call, id),
    invited: event.rows.map((one, index) => ({
      id: one.id,
      supplierId: one.supplierId,
      name: one.name,
      number: one.supplierNumber,
      contactName: one.contactName,
      email: one.email,
      language: one.language,
      currency: one.currency,
      ownNote: one.ownNote,
      toDo: one.toDo,
      why: one.reasons,
      standing: standingOfInvited(event.invited[index]!, over),
      sentAt: one.sentAt,
      openedAt: one.openedAt,
      acceptedAt: one.acceptedAt,
      answeredAt: one.answeredAt,
      declineReason: one.declineReason,
      suspendReason: one.suspendReason,
      onBehalf: one.onBehalf,
      revisions: revisions.get(one.id) ?? 0,
      consent: one.consent && { who: one.consent.who, on: one.consent.on, how: one.consent.how, note: one.consent.note, fileId: one.consent.fileId, by: one.consent.by }, // prettier-ignore
    })),
    scorers: scorers.map(one => ({ id: one.personId, name: one.name, done: one.done })),
    messages: await messagesFor(call, event, null),
    award: row.award && {
      shares: row.award.shares.map(one => ({ ...one })),
      reason: row.award.reason,
      cost: formatAmount(BigInt(row.award.cost), event.currency),
      above: formatAmount(BigInt(row.award.above), event.currency),
      openLines: row.award.open.length,
    },
    orders: await ordersOf(call, id),
  }
}

function awardActions(call: Read, event: KnownEvent, question: KeptConsent | null, over: boolean): Action[] {
  const decide = whyNotDecide(question, call.actor)
  return [
    ...(over && (event.state === 'asking' || event.state === 'over') ? [action('compareAnswers', whyNotPropose(event, call.actor, call.now), true)] : []), // prettier-ignore
    ...(event.state === 'deciding' ? [action('approveAward', decide, true), action('refuseAward', decide)] : []),
    ...(event.state === 'awarded' ? [action('placeAward', needsRight(call.actor, 'order.write'), true)] : []),
    ...(event.state === 'deciding' && question?.askedBy === call.actor.id ? [action('takeBackAward', [])] : []),
    ...(event.state === 'awarded' ? [action('takeBackAward', needsRight(call.actor, 'event.write'))] : []),
  ]
}

function sentenceOf(event: KnownEvent, question: KeptConsent | null, at: string): Sentence {
  const answered = event.invited.filter(one => one.answeredAt !== null).length
  const state = phaseOf(event, at)
  const auction = event.kind.format === 'auction' && (state === 'asking' || state === 'over')
  return {
    code: auction ? `event.is.${state}Auction` : `event.is.${state}`,
    details: {
      answered,
      asked: event.invited.filter(one => one.sentAt !== null).length || event.invited.length,
      at: event.endsAt ?? '',
      zone: event.zone,
      who: waitsFor(question).join(' and '),
      since: event.row.changedAt,
    },
  }
}

const bodyOf = (event: KnownEvent, scorerIds: string[]): Sheet['body'] => {
  const { row } = event
  return {
    title: row.title,
    category: row.category,
    currency: row.currency,
    message: row.message,
    texts: row.texts,
    opensAt: row.opensAt,
    endsAt: row.endsAt,
    zone: row.zone,
    outsideNumber: row.outsideNumber ?? '',
    criteria: row.criteria.map(one => ({ ...one })),
    formula: row.formula,
    landed: row.landed,
    scorerIds,
    lots: event.lots.map(({ position: _position, ...lot }) => ({ ...lot, lineCeilings: { ...lot.lineCeilings } })),
    lines: event.lines.map(({ position: _position, requisitionLineId: _request, goneAt: _gone, ...line }) => ({
      ...line,
      texts: { ...line.texts },
    })),
  }
}

async function outsideOf(call: Read, event: KnownEvent): Promise<Sheet['outside']> {
  const id = event.kindRow.outsideRangeId
  if (id === null) return null
  const range = await call.trx('eventRanges').where({ id }).first()
  return range ? { shown: nextShown(rangeOf(range)) } : null
}

const requestsOf = async (call: Read, id: string): Promise<Sheet['requests']> => {
  const { rows } = await call.trx.raw<{ rows: { id: string; number: string }[] }>(
    `select distinct r.id, r.number from event_lines e join requisition_lines l on l.id = e.requisition_line_id join requisitions r on r.id = l.requisition_id where e.event_id = ? order by r.number`,
    [id],
  )
  return rows.map(one => ({ ...one, path: pathOf('requisition', one.id) }))
}

async function copiedFrom(call: Read, id: string | null): Promise<Sheet['copiedFrom']> {
  const row = id === null ? undefined : await call.trx('events').where({ id }).first('number')
  return row && id !== null ? { number: row.number, path: pathOf('event', id) } : null
}

const lineFacts = async (call: Read, id: string): Promise<Sheet['lineFacts']> => {
  const { rows } = await call.trx.raw<{ rows: Sheet['lineFacts'] }>(
    `select e.id, e.position, coalesce(i.number, '') as item, coalesce(a.name, '') as place, r.number as request, e.gone_at is not null as gone,
       case when b.id is null then null else b.cost_centre || ' ' || b.natural_account || coalesce(' ' || b.project, '') end as account
     from event_lines e left join items i on i.id = e.item_id left join addresses a on a.id = e.address_id left join requisition_lines l on l.id = e.requisition_line_id
     left join requisitions r on r.id = l.requisition_id left join budget_accounts b on b.id = coalesce(e.account_id, (select p.account_id from line_splits p where p.requisition_line_id = l.id order by p.account_id limit 1))
     where e.event_id = ? order by e.position`,
    [id],
  )
  return rows
}

/** How often each supplier handed in; when and what is not said of a sealed event. */
async function revisionsOf(call: Read, event: KnownEvent): Promise<Map<string, number>> {
  const rows = await call
    .trx('eventAnswers')
    .whereIn(
      'invitedId',
      event.rows.map(one => one.id),
    ) // prettier-ignore
    .where({ state: 'submitted' })
    .groupBy('invitedId')
    .select<{ invitedId: string; count: number }[]>('invitedId', call.trx.raw('count(*)::int as count'))
  return new Map(rows.map(row => [row.invitedId, row.count]))
}

const ordersOf = async (call: Read, id: string): Promise<Sheet['orders']> => {
  const { rows } = await call.trx.raw<{ rows: { id: string; number: string; supplier: string }[] }>(
    `select distinct o.id, o.number, s.name as supplier from order_lines l join event_lines e on e.id = l.event_line_id join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id where e.event_id = ? order by o.number`,
    [id],
  )
  return rows.map(one => ({ ...one, path: pathOf('order', one.id) }))
}
