import { addDays, daysBetween } from '#core/calendar/days.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'

export type LapseLevel = 'note' | 'check' | 'stop'
/** What a category asks of those who sell it. */
export interface CertificateRule {
  readonly category: string
  readonly kind: string
  /** What a missing or lapsed one does to the next order in the category. */
  readonly lapse: LapseLevel
}
export interface Certificate {
  readonly id: string
  readonly kind: string
  /** The category it was given for; empty for all. */
  readonly category: string
  readonly validFrom: string
  /** The last day on which it holds; null without end. */
  readonly validTo: string | null
}
export type Standing = 'holds' | 'soon' | 'lapsed' | 'notYet' | 'missing'

/** Days before the end on which the supplier and the record's owner are reminded (domain page, section 4). */
export const REMINDER_DAYS = [60, 30, 7] as const

/** How a certificate stands on a day; `soon` from 60 days before its last day. */
export function standing(certificate: Pick<Certificate, 'validFrom' | 'validTo'>, today: string): Standing {
  if (certificate.validFrom > today) return 'notYet'
  if (certificate.validTo === null) return 'holds'
  if (certificate.validTo < today) return 'lapsed'
  return daysBetween(today, certificate.validTo) <= REMINDER_DAYS[0] ? 'soon' : 'holds'
}

/**
 * Which reminder is due today, as its number of days, or undefined. A reminder that fell on a day when nothing ran comes later, but only
 * the nearest one; one that was sent is not sent again.
 *
 * reminderDue('2026-12-20', [60], '2026-11-23') //=> 30
 */
export function reminderDue(validTo: string, sent: readonly number[], today: string): number | undefined {
  const left = daysBetween(today, validTo)
  if (left < 0) return undefined
  const due = REMINDER_DAYS.filter(days => left <= days).at(-1)
  return due === undefined || sent.some(days => days <= due) ? undefined : due
}

/** How the rule's certificate stands among those a supplier has: the best of them counts. */
export function ruleStanding(
  rule: CertificateRule,
  certificates: readonly Certificate[],
  today: string,
): { standing: Standing; certificate?: Certificate } {
  const mine = certificates.filter(
    one => one.kind === rule.kind && (one.category === '' || one.category === rule.category),
  )
  const order: readonly Standing[] = ['holds', 'soon', 'lapsed', 'notYet']
  const best = mine
    .map(certificate => ({ certificate, standing: standing(certificate, today) }))
    .sort(
      (a, b) =>
        order.indexOf(a.standing) - order.indexOf(b.standing) ||
        (b.certificate.validTo ?? '9').localeCompare(a.certificate.validTo ?? '9'),
    )[0]
  return best ?? { standing: 'missing' }
}

const LEVELS = { note, check, stop }

/** What missing and lapsed certificates do to an order in these categories: one reason for each rule that is not met. */
export function lapseReasons(
  rules: readonly CertificateRule[],
  certificates: readonly Certificate[],
  categories: readonly string[],
  today: string,
): Reason[] {
  return rules
    .filter(rule => categories.includes(rule.category))
    .flatMap(rule => {
      const found = ruleStanding(rule, certificates, today)
      if (found.standing === 'holds' || found.standing === 'soon') return []
      const code = found.standing === 'lapsed' ? 'source.certificateLapsed' : 'source.certificateMissing'
      return [
        LEVELS[rule.lapse](
          code,
          { kind: rule.kind, category: rule.category, validTo: found.certificate?.validTo ?? '' },
          { clearedBy: ['buyer', 'sourcingLead'] },
        ),
      ]
    })
}

/** The first day on which a certificate no longer holds. */
export const lapsesOn = (certificate: Pick<Certificate, 'validTo'>): string | null =>
  certificate.validTo === null ? null : addDays(certificate.validTo, 1)

/** How a supplier's certificates stand over a stretch of days, first and last day included; open-ended at either side with null. */
export interface StandingPeriod {
  readonly from: string | null
  readonly to: string | null
  readonly standing: Standing
}

/** How certificates of one kind and category stand on a day, those that are asked for and those that are simply there. */
function standingsOn(
  rules: readonly CertificateRule[],
  certificates: readonly Certificate[],
  categories: readonly string[],
  day: string,
): Set<Standing> {
  const asked = rules.filter(rule => categories.includes(rule.category))
  const others = certificates
    .filter(
      one => !asked.some(rule => rule.kind === one.kind && (one.category === '' || one.category === rule.category)),
    )
    .map(({ kind, category }): CertificateRule => ({ kind, category, lapse: 'note' }))
  return new Set([...asked, ...others].map(rule => ruleStanding(rule, certificates, day).standing))
}

/**
 * The same for all days, as periods: what lists filter by, so that they mean what the Sheet shows on whatever day they are asked. Several
 * standings can hold at once, one for each certificate that is asked for or there.
 */
export function standingPeriods(
  rules: readonly CertificateRule[],
  certificates: readonly Certificate[],
  categories: readonly string[],
): StandingPeriod[] {
  const turns = certificates.flatMap(({ validFrom, validTo }) =>
    validTo === null ? [validFrom] : [validFrom, addDays(validTo, -REMINDER_DAYS[0]), addDays(validTo, 1)],
  )
  const days = [...new Set(turns)].sort()
  const stretches = [null, ...days].map((from, index) => ({
    from,
    to: days[index] === undefined ? null : addDays(days[index], -1),
  }))
  return stretches.flatMap(({ from, to }) =>
    [...standingsOn(rules, certificates, categories, from ?? to ?? LONG_AGO)].map(standing => ({ from, to, standing })),
  )
}

const LONG_AGO = '0001-01-01'
