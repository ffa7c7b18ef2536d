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
}
export const DECIDE_SETTINGS: DecideSettings = {
  hoursFrom: '09:00',
  hoursTo: '17:00',
  remindPercent: 50,
  wayDays: 14,
  secondFrom: '500000',
  addByHand: true,
}
