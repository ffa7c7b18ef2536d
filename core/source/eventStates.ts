import type { StateTable } from '#core/states.ts'

export type EventState = 'draft' | 'asking' | 'over' | 'deciding' | 'awarded' | 'settled' | 'cancelled'
export type EventAction =
  | 'send'
  | 'extend'
  | 'end'
  | 'propose'
  | 'approve'
  | 'refuse'
  | 'takeBack'
  | 'place'
  | 'beginAgain'
  | 'compareKnown'
  | 'takeUp'
  | 'cancel'

/** A quote request or a reverse auction, from its draft to the orders that follow. One that was never sent (given up, or compared by what is known) is taken up as a draft, not begun again. */
export const EVENT_STATES: StateTable<EventState, EventAction> = {
  draft: { send: 'asking', compareKnown: 'over', cancel: 'cancelled' },
  asking: { extend: 'asking', end: 'over', cancel: 'cancelled' },
  over: { propose: 'deciding', beginAgain: 'asking', takeUp: 'draft', cancel: 'cancelled' },
  deciding: { approve: 'awarded', refuse: 'over', takeBack: 'over' },
  awarded: { place: 'settled', takeBack: 'over' },
  settled: {},
  cancelled: { beginAgain: 'asking', takeUp: 'draft' },
}

export const EVENT_GROUPS = {
  /** Lines of requests that it asks about wait for it. */
  open: ['draft', 'asking', 'over', 'deciding', 'awarded'],
  /** Suppliers know of it. */
  sent: ['asking', 'over', 'deciding', 'awarded', 'settled', 'cancelled'],
  /** Nothing counts any more that suppliers send. */
  judged: ['over', 'deciding', 'awarded', 'settled'],
  /** The award is settled or waits. */
  awarding: ['deciding', 'awarded', 'settled'],
  ended: ['settled', 'cancelled'],
} as const satisfies Readonly<Record<string, readonly EventState[]>>
