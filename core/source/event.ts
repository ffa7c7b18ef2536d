import { parseAmount } from '#core/money/amount.ts'
import type { Reason } from '#core/reasons.ts'
import type { BidStep, ExtensionRule, LotRules, ShownToSuppliers } from '#core/source/auctionRules.ts'
import type { EventKind, LotStep } from '#core/source/eventKind.ts'
import { EVENT_GROUPS, type EventState } from '#core/source/eventStates.ts'
import { isIn } from '#core/states.ts'

/** A line that is asked about. Prices in the event's currency for one unit. */
export interface EventLine {
  readonly id: string
  readonly lotId: string
  readonly position: number
  readonly itemId: string | null
  readonly category: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly needBy: string | null
  readonly addressId: string | null
  readonly incoterm: string | null
  readonly incotermPlace: string
  /** What was paid last, or what it is thought to cost; empty where nothing is known. */
  readonly reference: string
  readonly referenceFrom: 'lastPaid' | 'estimate' | null
  readonly requisitionLineId: string | null
  /** The account that pays; null: as the request says, or open until the award. */
  readonly accountId: string | null
  readonly texts: Readonly<Record<string, string>>
  /** Since when it is taken out; answers to it are kept. */
  readonly goneAt: string | null
}

/** A lot with its rules as they are entered; amounts as decimals in the event's currency, empty where there is no limit. */
export interface EventLot {
  readonly id: string
  readonly position: number
  readonly title: string
  readonly ceiling: string
  readonly lineCeilings: Readonly<Record<string, string>>
  readonly step: LotStep
  readonly extension: ExtensionRule | null
  readonly shows: ShownToSuppliers
  /** How long it is open on the day. */
  readonly minutes: number
  /** Somebody opens it; the clock does not. */
  readonly byHand: boolean
}

/** The rules of a lot as the auction computes with them. */
export const lotRules = (lot: EventLot, currency: string, sealed: boolean): LotRules => ({
  lotId: lot.id,
  currency,
  ceiling: lot.ceiling === '' ? null : parseAmount(lot.ceiling, currency),
  lineCeilings: new Map(
    Object.entries(lot.lineCeilings).flatMap(([id, most]) => (most === '' ? [] : [[id, parseAmount(most, currency)]])),
  ),
  step: stepOf(lot.step, currency),
  extension: lot.extension,
  shows: lot.shows,
  sealed,
})

const stepOf = ({ kind, value, against }: LotStep, currency: string): BidStep =>
  kind === 'none'
    ? { kind }
    : kind === 'percent'
      ? { kind, percent: value, against }
      : { kind, amount: parseAmount(value, currency), against }

/** A supplier who is asked, and how far it has come. Instants as ISO text; null: not (yet). */
export interface Invited {
  readonly id: string
  readonly supplierId: string
  readonly name: string
  readonly contactName: string
  readonly email: string
  readonly language: string
  readonly currency: string
  readonly sentAt: string | null
  readonly openedAt: string | null
  readonly acceptedAt: string | null
  /** Whether it means to answer; null: it has not said. */
  readonly means: boolean | null
  readonly declinedAt: string | null
  readonly suspendedAt: string | null
  /** Since when the answer that counts is in; null: there is none. */
  readonly answeredAt: string | null
  readonly withdrawnAt: string | null
  /** Who typed the answer that counts, where that was one of us. */
  readonly onBehalf: boolean
  /** What stands against dealing with it: paused, barred, closed. */
  readonly reasons: readonly Reason[]
}

/** An event as those know it who decide something about it. */
export interface EventFacts {
  readonly id: string
  readonly number: string
  readonly title: string
  readonly state: EventState
  readonly kind: EventKind
  readonly currency: string
  readonly ownerId: string
  /** When an auction opens; null for a quote request, which is open as soon as it is sent. */
  readonly opensAt: string | null
  /** The first instant at which no answer counts any more. */
  readonly endsAt: string | null
  readonly zone: string
  readonly sentAt: string | null
  readonly lots: readonly EventLot[]
  readonly lines: readonly EventLine[]
  readonly invited: readonly Invited[]
}

/** What is still asked: lines that nobody took out. */
export const askedLines = (event: Pick<EventFacts, 'lines'>): EventLine[] =>
  event.lines.filter(line => line.goneAt === null)

/** Whether the end has come, also where nobody has said so yet: exactly at the end it has. */
export const isOver = (event: Pick<EventFacts, 'state' | 'endsAt'>, at: string): boolean =>
  isIn(EVENT_GROUPS.judged, event.state) ||
  (event.state === 'asking' && event.endsAt !== null && Date.parse(at) >= Date.parse(event.endsAt))

/** What is said of how far it is: what is over counts as over, whoever has said so; `known` where nobody was asked, and prices that were known wait to be compared. */
export const phaseOf = (event: Pick<EventFacts, 'state' | 'endsAt' | 'sentAt'>, at: string): EventState | 'known' =>
  event.state === 'asking' && isOver(event, at)
    ? 'over'
    : event.state === 'over' && event.sentAt === null
      ? 'known'
      : event.state

/** Whether suppliers can answer now. */
export const isAsking = (event: Pick<EventFacts, 'state' | 'endsAt'>, at: string): boolean =>
  event.state === 'asking' && !isOver(event, at)

/** Whether our side may read answers: those of a sealed event only after its end. */
export const answersOpen = (event: Pick<EventFacts, 'state' | 'endsAt' | 'kind'>, at: string): boolean =>
  !event.kind.sealed || isOver(event, at)

export const INVITED_STANDINGS = [
  'suspended',
  'declined',
  'withdrawn',
  'answered',
  'late',
  'means',
  'accepted',
  'opened',
  'sent',
  'toSend',
] as const
/** How far an invited supplier has come. */
export type InvitedStanding = (typeof INVITED_STANDINGS)[number]

/** What tells how far an invited supplier has come. */
export type StandingFacts = Pick<
  Invited,
  'sentAt' | 'openedAt' | 'acceptedAt' | 'means' | 'declinedAt' | 'suspendedAt' | 'answeredAt' | 'withdrawnAt'
>

/** How far an invited supplier has come: what weighs most is said. Late: the end has come and nothing is in. */
export function standingOfInvited(one: StandingFacts, over: boolean): InvitedStanding {
  if (one.suspendedAt !== null) return 'suspended'
  if (one.answeredAt !== null) return 'answered'
  if (one.declinedAt !== null || one.means === false) return 'declined'
  if (over && one.sentAt !== null) return one.withdrawnAt === null ? 'late' : 'withdrawn'
  if (one.withdrawnAt !== null) return 'withdrawn'
  if (one.means) return 'means'
  if (one.acceptedAt !== null) return 'accepted'
  if (one.openedAt !== null) return 'opened'
  return one.sentAt === null ? 'toSend' : 'sent'
}
