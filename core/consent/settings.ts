/** What of a request can be changed while it is decided, by what a change of it means to those who decided. */
export const EDIT_FIELDS = ['words', 'thing', 'amount', 'needBy', 'place', 'supplier', 'account'] as const
export type EditField = (typeof EDIT_FIELDS)[number]

/** What follows from a change: nothing more than that it is seen, those who approved are told, or those whose rule depends on it are asked again. */
export const EDIT_EFFECTS = ['nothing', 'tell', 'again'] as const
export type EditEffect = (typeof EDIT_EFFECTS)[number]

/** What a change of a request after somebody approved it leads to. */
export interface EditPolicy {
  /** Whether whoever decides may change what they decide. */
  readonly byDeciders: boolean
  /** Words never ask again. */
  readonly fields: Readonly<Record<EditField, EditEffect>>
  /** By how much an amount may differ from what was approved, in the base currency's smallest unit, as text; exactly so much asks nobody. */
  readonly tolerance: string
  /** The same in per cent of what was approved; the smaller of both counts. */
  readonly tolerancePercent: string
  /** Whether less than was approved asks again, too. */
  readonly decreases: boolean
  /** Who is asked again: only those whose decision no longer stands, or everybody. */
  readonly again: 'new' | 'all'
}

/** How decisions are asked for, as a house sets it. */
export interface DecideSettings {
  /** Working hours, HH:MM, in which the time that a decision may take is counted; on the clocks of whoever decides. */
  readonly hoursFrom: string
  readonly hoursTo: string
  /** After which part of its time whoever decides is reminded, in per cent; 0: not. */
  readonly remindPercent: number
  /** Days for which somebody can decide out of a mail. */
  readonly wayDays: number
  /** Amount from which a step is skipped or added by two people only, in the base currency's smallest unit, as text. */
  readonly secondFrom: string
  /** Whether whoever asks and whoever decides may add somebody who has to decide, too. */
  readonly addByHand: boolean
  readonly editing: EditPolicy
}
export const DECIDE_SETTINGS: DecideSettings = {
  hoursFrom: '09:00',
  hoursTo: '17:00',
  remindPercent: 50,
  wayDays: 14,
  secondFrom: '500000',
  addByHand: true,
  editing: {
    byDeciders: true,
    fields: {
      words: 'nothing',
      thing: 'again',
      amount: 'again',
      needBy: 'tell',
      place: 'tell',
      supplier: 'again',
      account: 'again',
    },
    tolerance: '5000',
    tolerancePercent: '5',
    decreases: false,
    again: 'new',
  },
}
