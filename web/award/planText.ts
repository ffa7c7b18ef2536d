import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAwardPlan } from '#contract/award/plans.ts'
import { amountText } from '#web/shared/words.ts'

export type Plan = ResponseOf<typeof ReadAwardPlan>
export type PlanWish = Plan['wishes'][number]
export type PlanOutcome = NonNullable<NonNullable<Plan['run']>['outcome']>
export type PlanRow = PlanOutcome['rows'][number]

/** What of a plan its words need. */
type Named = Pick<Plan, 'currency' | 'suppliers' | 'lines'>

/** A sentence in two parts: what leads it in, and the part that can be changed. */
export interface WishSentence {
  readonly lead: string
  readonly part: string
}

const named = (names: readonly string[], most = 2): string =>
  names.length <= most ? names.join(' and ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`
const nameOf = (plan: Named, id: string): string => plan.suppliers.find(one => one.id === id)?.name ?? 'a supplier'
const lineOf = (plan: Named, id: string): string => `line ${plan.lines.find(one => one.id === id)?.position ?? '?'}`
const linesText = (plan: Named, ids: readonly string[]): string =>
  ids.length >= plan.lines.length ? 'all lines' : named(ids.map(id => lineOf(plan, id)), 3) // prettier-ignore
const limit = (plan: Named, value: string, kind: 'percent' | 'amount'): string =>
  kind === 'percent' ? `${value} %` : `${plan.currency} ${amountText(value)}`

/** What a wish asks for, in words. */
export function wishSentence(plan: Named, { what }: Pick<PlanWish, 'what'>): WishSentence {
  switch (what.kind) {
    case 'mostSuppliers':
      return { lead: 'at most', part: what.count === 1 ? 'one supplier' : `${what.count} suppliers` }
    case 'share': {
      const whom = what.whom.kind === 'country' ? `suppliers in ${what.whom.country}` : named(what.whom.supplierIds.map(id => nameOf(plan, id))) // prettier-ignore
      const least = what.least === '' ? '' : `at least ${limit(plan, what.least, what.in)}`
      const most = what.most === '' ? '' : `at most ${limit(plan, what.most, what.in)}`
      return { lead: [least, most].filter(Boolean).join(', ') || 'any part', part: `to ${whom}` }
    }
    case 'oneSupplier':
      return { lead: 'one supplier for', part: linesText(plan, what.lineIds) }
    case 'keepIncumbent':
      return { lead: 'keep who delivers now on', part: linesText(plan, what.lineIds) }
    case 'shareLine':
      return { lead: `no one above ${what.most} % of`, part: linesText(plan, what.lineIds) }
    case 'twoSuppliers':
      return { lead: 'two suppliers or more for', part: linesText(plan, what.lineIds) }
    case 'scoreAtLeast':
      return { lead: 'nobody who scores below', part: what.score }
    case 'deliveredWithin':
      return { lead: 'all here within', part: `${what.days} days` }
    case 'nobodyNew':
      return { lead: 'nobody new', part: what.unlessScore === '' ? 'at all' : `without a score of ${what.unlessScore}` }
    case 'without':
      return { lead: 'without', part: nameOf(plan, what.supplierId) }
  }
}

export const wishText = (plan: Named, wish: Pick<PlanWish, 'what'>): string => {
  const { lead, part } = wishSentence(plan, wish)
  return `${lead} ${part}`
}

/** What a plan goes into the award with. */
export function reasonText(
  plan: Named,
  row: Pick<PlanRow, 'cost' | 'gap' | 'breaks'>,
  wishes: readonly PlanWish[],
): string {
  const proof = row.gap === null ? '' : `, at most ${gapText(row.gap)} above the cheapest possible`
  const kept = wishes.filter(wish => !row.breaks.includes(wish.id)).map(wish => wishText(plan, wish))
  return `Award plan: ${plan.currency} ${amountText(row.cost)}${proof}.${kept.length ? ` Wishes kept: ${kept.join('; ')}.` : ''}`
}

const SMALL = 0.01
/** A proved gap in per cent, with as many digits as say something; never less than it is. */
export const gapText = (gap: string): string => {
  const value = Number(gap)
  if (value < SMALL) return `${SMALL} %`
  const digits = value < 1 ? 2 : 1
  return `${(Math.ceil(value * 10 ** digits) / 10 ** digits).toFixed(digits)} %`
}
