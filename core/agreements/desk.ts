import type { AgreementFacts } from '#core/agreements/facts.ts'
import { ceilingUse, fullest } from '#core/agreements/ceilings.ts'
import { WARN_DAYS } from '#core/agreements/standing.ts'
import { addDays } from '#core/calendar/days.ts'
import { type DeskEntry, forPerson } from '#core/desk/entry.ts'
import { Decimal } from '#core/money/decimal.ts'

/** What waits for whoever keeps an agreement: a draft, an end that comes near, a ceiling that is nearly reached, one that is spent and still open, and a wind-down that stopped. */
export function agreementDesk(agreement: AgreementFacts): DeskEntry[] {
  if (agreement.consent?.state === 'open') return []
  const entry = (
    key: DeskEntry['key'],
    act: string,
    more: Partial<Pick<DeskEntry, 'from' | 'since' | 'tone'>> & { details?: DeskEntry['details'] } = {},
  ): DeskEntry => ({
    key,
    stage: 'source',
    act,
    tone: more.tone ?? 'plain',
    audiences: [forPerson(agreement.ownerId)],
    notFor: [],
    from: more.from ?? null,
    amount: null,
    currency: null,
    since: more.since ?? agreement.createdAt,
    needBy: null,
    path: `/source/agreements/${agreement.id}`,
    details: { number: agreement.number, title: agreement.title, who: agreement.supplier, ...more.details },
  })
  if (agreement.state === 'draft' || agreement.amendment === 'writing') return [entry('agreementDraft', 'submit')]
  if (agreement.state === 'windingDown')
    return agreement.steps.some(step => step.state === 'person')
      ? [entry('agreementStops', 'see', { tone: 'attention' })]
      : []
  if (agreement.state === 'usedUp' || agreement.state === 'ended')
    return [entry('agreementSpent', 'see', { since: agreement.endsOn, tone: 'attention' })]
  if (agreement.state !== 'active') return []
  const percent = fullest(ceilingUse(agreement))
  return [
    entry('agreementEnds', 'see', {
      from: addDays(agreement.endsOn, -WARN_DAYS[0]),
      since: agreement.endsOn,
      details: { validTo: agreement.endsOn },
    }),
    ...(new Decimal(percent).gte(agreement.content.warnPercent)
      ? [entry('agreementUsed', 'see', { details: { percent } })]
      : []),
  ]
}
