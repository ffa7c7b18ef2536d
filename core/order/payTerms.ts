import { type Minor, minor, portion, sumMinor } from '#core/money/amount.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { orderTotal } from '#core/order/revision.ts'
import { provenBy } from '#core/request/kinds.ts'
import type { EffectiveValue } from '#core/source/defaults.ts'

/** What is paid of an order before anything comes, and what of its work is held back for a time; in its currency, rounded half away from zero. */
export interface PayTerms {
  readonly prepaid: Minor
  readonly retained: Minor
  /** Days after the acceptance of the work for which it is held back. */
  readonly days: number
}

type Termed = Pick<OrderFacts, 'charges'> & { readonly lines: readonly Pick<OrderLine, 'kind' | 'amount'>[] }

/** payTerms of an order of 1 000.00, a tenth of it work, prepaid 30 %, retained 5 % //=> { prepaid: 30000n, retained: 500n, days: 0 } */
export function payTerms(order: Termed, conditions: readonly Pick<EffectiveValue, 'key' | 'value'>[]): PayTerms {
  const said = (key: EffectiveValue['key']): string => conditions.find(one => one.key === key)?.value || '0'
  const total = orderTotal(order)
  const work = sumMinor(order.lines.filter(line => provenBy(line.kind) === 'accepted').map(line => line.amount))
  return {
    prepaid: total > 0n ? portion(total, said('prepaidPercent'), '100') : minor(0),
    retained: portion(work, said('retainedPercent'), '100'),
    days: Number(said('retainedDays')),
  }
}
