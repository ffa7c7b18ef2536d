import { type ActorFacts, mayDo, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, NOT_YOURS, refused, saysWhy } from '#core/acts/decision.ts'
import { type DeskEntry, forPerson, forRight } from '#core/desk/entry.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type SetAsideState = 'waiting' | 'linked' | 'gaveBack' | 'settled'
export type SetAsideAction = 'link' | 'giveBack' | 'settle'
/** Something came that nobody ordered, as far as the dock can see: it is linked to the line that it belongs to, goes back, or is settled otherwise. */
export const SET_ASIDE_STATES: StateTable<SetAsideState, SetAsideAction> = {
  waiting: { link: 'linked', giveBack: 'gaveBack', settle: 'settled' },
  linked: {},
  gaveBack: {},
  settled: {},
}

/** What the dock writes down of it. */
export interface SetAsideEntry {
  readonly description: string
  readonly quantity: string
  readonly unit: string
  /** From whom, where that is known. */
  readonly supplierId: string | null
  /** What stands on it: sender, tracking, any number. */
  readonly marks: string
  readonly bin: string
  readonly note: string
  /** The buyer who is told; null: whoever buys. */
  readonly buyerId: string | null
}
export interface SetAsideFacts {
  readonly id: string
  readonly number: string
  readonly state: SetAsideState
  readonly entry: SetAsideEntry
  readonly place: string
  readonly by: string
  readonly since: string
}

/** Puts something aside that nobody ordered; the buyer is told. */
export function setAside(
  entry: SetAsideEntry,
  actor: ActorFacts,
  about: Pick<SetAsideFacts, 'id' | 'number' | 'place'>,
): Decision<{ readonly state: SetAsideState }> {
  const against = [
    ...needsRight(actor, 'delivery.receive'),
    ...(saysWhy(entry.description) ? [] : [stop('setAside.what', {}, { place: 'description' })]),
    ...(isHeldDecimal(entry.quantity) && new Decimal(entry.quantity).gt(0)
      ? []
      : [stop('receive.quantity', {}, { place: 'quantity' })]),
  ]
  if (against.length > 0) return refused(against)
  return done(
    { state: 'waiting' },
    { action: 'setAside', changes: { quantity: tidy(entry.quantity), unit: entry.unit }, reason: entry.note },
    { says: entry.buyerId === null ? [] : [mailOf(entry, entry.buyerId, about, actor.name)] },
  )
}

const mailOf = (
  entry: SetAsideEntry,
  buyerId: string,
  about: Pick<SetAsideFacts, 'id' | 'number' | 'place'>,
  who: string,
): Message => ({
  template: 'goods.setAside',
  to: { kind: 'person', id: buyerId },
  key: `set-aside:${about.id}`,
  details: {
    number: about.number,
    title: entry.description,
    quantity: tidy(entry.quantity),
    unit: entry.unit,
    marks: entry.marks,
    place: [about.place, entry.bin].filter(Boolean).join(', '),
    note: entry.note,
    who,
    path: '/receive/set-aside',
  },
})

/** Whether somebody may say what becomes of it: who buys, and who receives. */
const whyNotSay = (facts: SetAsideFacts, actor: ActorFacts, action: SetAsideAction): Reason[] => [
  ...notNow(SET_ASIDE_STATES, 'setAside', facts.state, action),
  ...(mayDo(actor, 'order.write') || mayDo(actor, 'delivery.receive') ? [] : [NOT_YOURS]),
]

/** It belongs to a line of an order: it is counted there, and that receipt says where it came from. */
export function linkAside(
  facts: SetAsideFacts,
  receipt: string,
  actor: ActorFacts,
): Decision<{ readonly state: SetAsideState }> {
  const against = whyNotSay(facts, actor, 'link')
  if (against.length > 0) return refused(against)
  return done({ state: 'linked' }, { action: 'linked', changes: { receipt } })
}

/** It goes back, or is settled in another way; both want a word. */
export function endAside(
  facts: SetAsideFacts,
  how: 'giveBack' | 'settle',
  reason: string,
  actor: ActorFacts,
): Decision<{ readonly state: SetAsideState }> {
  const against = [
    ...whyNotSay(facts, actor, how),
    ...(saysWhy(reason) ? [] : [stop('setAside.why', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const state = how === 'giveBack' ? 'gaveBack' : 'settled'
  return done({ state }, { action: how === 'giveBack' ? 'gaveBack' : 'settled', reason })
}

/** What waits for whoever buys until somebody has said what becomes of it. */
export const setAsideDesk = (facts: SetAsideFacts): DeskEntry[] =>
  facts.state !== 'waiting'
    ? []
    : [
        {
          key: 'setAside',
          stage: 'receive',
          act: 'settle',
          tone: 'attention',
          audiences: [facts.entry.buyerId === null ? forRight('order.write') : forPerson(facts.entry.buyerId)],
          notFor: [],
          from: null,
          amount: null,
          currency: null,
          needBy: null,
          since: facts.since,
          path: '/receive/set-aside',
          details: { number: facts.number, title: facts.entry.description, who: facts.by, extra: facts.place },
        },
      ]
