import type { CalledAgreement } from '#core/agreements/ceilings.ts'
import { ceilingUse, fullest, fullLines, isUsedUp } from '#core/agreements/ceilings.ts'
import type { AgreementFacts, Warned } from '#core/agreements/facts.ts'
import { AGREEMENT_GROUPS, type AgreementState } from '#core/agreements/states.ts'
import { addDays, daysBetween } from '#core/calendar/days.ts'
import { Decimal } from '#core/money/decimal.ts'
import { isIn } from '#core/states.ts'

/** What its ceilings and its last day make of an agreement that is in force. What is released gives a used up one back; only an amendment one that is over. */
export function standsAs(
  agreement: Pick<CalledAgreement, 'state' | 'endsOn' | 'ceilings' | 'lines' | 'currency'>,
  today: string,
): AgreementState {
  if (!isIn(AGREEMENT_GROUPS.standing, agreement.state)) return agreement.state
  if (agreement.endsOn < today) return 'ended'
  return isUsedUp(agreement) ? 'usedUp' : 'active'
}

/**
 * The last day of the catalogue's offer of a line: the agreement's, or yesterday where nothing more can be called off of it, so that requests find it
 * no more.
 */
export function offerEndsOn(agreement: CalledAgreement, lineId: string, today: string): string {
  const open = agreement.state === 'active' && !fullLines(agreement).includes(lineId)
  const over = addDays(today, -1)
  return open || agreement.endsOn < over ? agreement.endsOn : over
}

/** Days before its end on which the owner is warned. */
export const WARN_DAYS = [90, 30, 7] as const

export interface Warning {
  readonly kind: 'days' | 'percent'
  /** Days left, or per cent used. */
  readonly figure: string
  /** What has been warned of then. */
  readonly warned: Warned
}

/** What its owner has to be told today and was not yet: that it ends in 90, 30 or 7 days, that so much of a ceiling is used. What falls back below is told again. */
export function warningsDue(
  agreement: Pick<AgreementFacts, 'state' | 'endsOn' | 'ceilings' | 'lines' | 'currency' | 'content' | 'warned'>,
  today: string,
): Warning[] {
  if (agreement.state !== 'active') return []
  const { warned, content } = agreement
  const left = daysBetween(today, agreement.endsOn)
  const due = left < 0 ? undefined : WARN_DAYS.filter(days => left <= days).at(-1)
  const percent = fullest(ceilingUse(agreement))
  const days = due !== undefined && !warned.days.some(one => one <= due) ? [...warned.days, due] : warned.days
  const over = new Decimal(percent).gte(content.warnPercent)
  return [
    ...(days === warned.days ? [] : [{ kind: 'days' as const, figure: String(left), warned: { ...warned, days } }]),
    ...(over && !warned.percent
      ? [{ kind: 'percent' as const, figure: percent, warned: { days, percent: true } }]
      : []),
  ]
}
