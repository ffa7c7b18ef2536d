import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, type Message, NOT_YOURS, refused, saysWhy } from '#core/acts/decision.ts'
import { addDays } from '#core/calendar/days.ts'
import { type DeskEntry, forPerson } from '#core/desk/entry.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { isWork } from '#core/request/kinds.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type ArrivalState = 'asked' | 'confirmed' | 'inPart' | 'damaged' | 'notMine' | 'settled' | 'ended'
export type ArrivalAction = 'confirm' | 'inPart' | 'damaged' | 'notMine' | 'settle' | 'end'
/** Goods are in, and whoever asked for them says whether they have them. What is not as it should be waits for the buyer. */
export const ARRIVAL_STATES: StateTable<ArrivalState, ArrivalAction> = {
  asked: { confirm: 'confirmed', inPart: 'inPart', damaged: 'damaged', notMine: 'notMine', end: 'ended' },
  confirmed: {},
  inPart: { settle: 'settled', end: 'ended' },
  damaged: { settle: 'settled', end: 'ended' },
  notMine: { settle: 'settled', end: 'ended' },
  settled: {},
  ended: {},
}
export const ARRIVAL_GROUPS = {
  asked: ['asked'],
  wrong: ['inPart', 'damaged', 'notMine'],
} as const satisfies Readonly<Record<string, readonly ArrivalState[]>>
export const ARRIVAL_ANSWERS = ['confirm', 'inPart', 'damaged', 'notMine'] as const
export type ArrivalAnswer = (typeof ARRIVAL_ANSWERS)[number]

/** Something of a receipt that somebody asked for. */
export interface ArrivedLine {
  readonly partId: string
  readonly position: number
  readonly description: string
  readonly quantity: string
  readonly unit: string
}
export interface ArrivalFacts {
  readonly id: string
  readonly state: ArrivalState
  readonly receipt: string
  readonly orderId: string
  readonly order: string
  readonly title: string
  readonly place: string
  readonly requesterId: string
  readonly requester: string
  readonly buyerId: string
  readonly lines: readonly ArrivedLine[]
  readonly note: string
  /** The day on which the goods came. */
  readonly askedOn: string
  readonly remindedOn: string | null
  readonly toldOn: string | null
}
/** When somebody who says nothing is reminded, and when the buyer is told; 0: never. In days after the goods came. */
export interface ArrivalSetting {
  readonly asksRequesters: boolean
  readonly remindDays: number
  readonly silentDays: number
}

/** Whose goods are in a receipt: by who asked for them, without whoever counted them in. */
export function arrivalsOf(
  order: Pick<OrderFacts, 'lines'>,
  parts: readonly { readonly id: string; readonly lineId: string; readonly quantity: string }[],
  countedBy: string,
): Map<string, ArrivedLine[]> {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const found = new Map<string, ArrivedLine[]>()
  for (const { id, lineId, quantity } of parts) {
    const line = lines.get(lineId)!
    if (isWork(line.kind) || line.requesterId === null || line.requesterId === countedBy) continue
    const { position, description, unit } = line
    const own = found.get(line.requesterId) ?? []
    found.set(line.requesterId, [...own, { partId: id, position, description, quantity, unit }])
  }
  return found
}

/** A link in the mail by which somebody answers without signing in: for a time, once. */
export interface ArrivalLink {
  readonly endsOn: string
}
/** Days for which such a link can be used. */
export const ARRIVAL_LINK_DAYS = 60

/** Why a link leads nowhere any more. */
export const whyNotArrivalLink = (link: ArrivalLink, facts: Pick<ArrivalFacts, 'state'>, today: string): Reason[] => [
  ...(facts.state === 'asked' ? [] : [stop('link.used')]),
  ...(link.endsOn < today ? [stop('link.expired')] : []),
]

/** Whoever asked for the goods says whether they have them; what is wrong with them is said in words, and the buyer is told. */
export function answerArrival(
  facts: ArrivalFacts,
  answer: ArrivalAnswer,
  note: string,
  actor: Pick<ActorFacts, 'id'>,
): Decision<{ readonly state: ArrivalState; readonly note: string }> {
  const against = [
    ...notNow(ARRIVAL_STATES, 'arrival', facts.state, answer),
    ...(actor.id === facts.requesterId ? [] : [NOT_YOURS]),
    ...(answer === 'confirm' || saysWhy(note) ? [] : [stop('arrival.why', {}, { place: 'note' })]),
  ]
  if (against.length > 0) return refused(against)
  const state = answer === 'confirm' ? 'confirmed' : answer
  const said: Message = {
    template: 'goods.notAsShould',
    to: { kind: 'person', id: facts.buyerId },
    key: `arrival-said:${facts.id}`,
    details: { ...details(facts), answer, note },
  }
  return done(
    { state, note },
    { action: `arrival.${answer}`, changes: { receipt: facts.receipt, who: facts.requester }, reason: note },
    { says: answer === 'confirm' ? [] : [said] },
  )
}

/** Whoever buys has settled what was not as it should be: a return, a word to the supplier, a search in the house. */
export function settleArrival(
  facts: ArrivalFacts,
  reason: string,
  actor: ActorFacts,
): Decision<{ readonly state: ArrivalState }> {
  const against = [
    ...notNow(ARRIVAL_STATES, 'arrival', facts.state, 'settle'),
    ...(actor.rights.has('order.write') || actor.rights.has('delivery.receive') ? [] : [NOT_YOURS]),
    ...(saysWhy(reason) ? [] : [stop('arrival.whySettled', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const changes = { receipt: facts.receipt, who: facts.requester }
  return done({ state: 'settled' }, { action: 'arrival.settle', changes, reason })
}

const details = (facts: ArrivalFacts): Message['details'] => ({
  number: facts.order,
  title: facts.title,
  receipt: facts.receipt,
  place: facts.place,
  who: facts.requester,
  what: facts.lines.map(line => `${line.quantity} ${line.unit} ${line.description}`).join('\n'),
  path: `/receive/${facts.orderId}`,
})

/** The goods are in: where, and how to say that they are here. */
export const arrivalMail = (facts: ArrivalFacts, link: string, again: boolean): Message => ({
  template: again ? 'goods.arrivedReminder' : 'goods.arrived',
  to: { kind: 'person', id: facts.requesterId },
  key: again ? `arrival-again:${facts.id}` : `arrival:${facts.id}`,
  details: { ...details(facts), link },
})

/** What is due because somebody says nothing: each once. dueBySilence(facts of a week ago, { remindDays: 2, … }, today) //=> 'remind' */
export function dueBySilence(
  facts: Pick<ArrivalFacts, 'state' | 'askedOn' | 'remindedOn' | 'toldOn'>,
  { remindDays, silentDays }: Pick<ArrivalSetting, 'remindDays' | 'silentDays'>,
  today: string,
): 'remind' | 'tellBuyer' | null {
  if (facts.state !== 'asked') return null
  const due = (days: number): boolean => days > 0 && addDays(facts.askedOn, days) <= today
  if (facts.toldOn === null && due(silentDays)) return 'tellBuyer'
  return facts.remindedOn === null && facts.toldOn === null && due(remindDays) ? 'remind' : null
}

/** The buyer is told that nobody has said a word. */
export const silenceMail = (facts: ArrivalFacts): Message => ({
  template: 'goods.noWord',
  to: { kind: 'person', id: facts.buyerId },
  key: `arrival-silent:${facts.id}`,
  details: details(facts),
})

/** What waits for whoever asked for the goods, and for the buyer where they are not as they should be. */
export function arrivalDesk(facts: ArrivalFacts): DeskEntry[] {
  const common = {
    stage: 'receive',
    notFor: [],
    from: null,
    amount: null,
    currency: null,
    needBy: null,
    since: facts.askedOn,
    path: `/receive/${facts.orderId}`,
    details: { number: facts.order, title: facts.title, who: facts.requester, extra: facts.note || facts.place },
  } as const
  if (facts.state === 'asked')
    return [{ ...common, key: 'arrived', act: 'confirm', tone: 'plain', audiences: [forPerson(facts.requesterId)] }]
  return (ARRIVAL_GROUPS.wrong as readonly string[]).includes(facts.state)
    ? [{ ...common, key: 'arrivedWrong', act: 'settle', tone: 'attention', audiences: [forPerson(facts.buyerId)] }]
    : []
}
