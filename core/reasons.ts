/** A fact that stands in the way, or that somebody should know. Words for codes live in contract/messages. */
export interface Reason {
  readonly code: string
  /** stop: cannot go on · check: may go on, the reason given is recorded · note: information only. */
  readonly level: 'stop' | 'check' | 'note'
  /** Where it belongs: a field path such as `lines.2.quantity`, or undefined for the whole document. */
  readonly place?: string
  readonly details: Readonly<Record<string, string | number>>
  /** Who can clear it, as a person's name or a role code. */
  readonly clearedBy?: readonly string[]
}

type Extra = Partial<Pick<Reason, 'place' | 'clearedBy'>>

/** stop('order.isClosed', { number: 'O-7' }) //=> { code: 'order.isClosed', level: 'stop', details: { number: 'O-7' } } */
export function stop(code: string, details: Reason['details'] = {}, extra: Extra = {}): Reason {
  return { code, level: 'stop', details, ...extra }
}

export function check(code: string, details: Reason['details'] = {}, extra: Extra = {}): Reason {
  return { code, level: 'check', details, ...extra }
}

export function note(code: string, details: Reason['details'] = {}, extra: Extra = {}): Reason {
  return { code, level: 'note', details, ...extra }
}

export const stops = (reasons: readonly Reason[]): Reason[] => reasons.filter(reason => reason.level === 'stop')
export const checks = (reasons: readonly Reason[]): Reason[] => reasons.filter(reason => reason.level === 'check')

/** A rule of the work was broken: the caller's fault, answered with the reasons and never logged as our error. */
export class RuleBroken extends Error {
  readonly reasons: readonly Reason[]

  constructor(reasons: Reason | readonly Reason[], options?: { cause?: unknown }) {
    const list = Array.isArray(reasons) ? (reasons as readonly Reason[]) : [reasons as Reason]
    super(list.map(reason => reason.code).join(', '), options)
    this.name = 'RuleBroken'
    this.reasons = list
  }
}

/** Throws RuleBroken when any of the reasons stops. */
export function refuseStops(reasons: readonly Reason[]): void {
  const stopping = stops(reasons)
  if (stopping.length > 0) throw new RuleBroken(stopping)
}
