import { CHARGE_KINDS, type ChargeKind } from '#core/order/charges.ts'
import { t } from '#web/shared/language.ts'
import type { LineSum } from '#web/shared/lineTable.ts'
import { amountText, label, quantityText } from '#web/shared/words.ts'

interface Item {
  readonly kind: ChargeKind
  readonly words: string
  readonly percent: string | null
  readonly amount: string
}

interface Ahead {
  readonly key: 'prepaid' | 'retained'
  readonly percent: string
  readonly amount: string
}

/** What is paid ahead of what an order comes to, and held back of it. */
export const aheadSums = (ahead: readonly Ahead[], [what, sum]: readonly [what: string, sum: string]): LineSum[] =>
  ahead.map(({ key, percent, amount }) => ({
    key,
    mark: key,
    cells: {
      [what]:
        key === 'prepaid' ? t('Prepaid {percent} %', { percent }) : t('Held back {percent} % of work', { percent }),
      [sum]: amountText(amount),
    },
  }))

/** Charges and discounts below the lines of an order, by the keys of the columns that name and sum; `beside`: what is said of one beside it. */
export const chargeSums = <I extends Item>(
  items: readonly I[],
  [what, sum]: readonly [what: string, sum: string],
  beside: (item: I) => string = () => '',
): LineSum[] =>
  items.map((item, at) => ({
    key: `charge ${at}`,
    mark: `charge-${at}`,
    cells: {
      [what]: [
        item.words || label('charge', item.kind),
        item.percent && t('{percent} % of the lines', { percent: quantityText(item.percent) }),
        beside(item),
      ]
        .filter(Boolean)
        .join(', '),
      [sum]: `${CHARGE_KINDS[item.kind].adds ? '' : '−'}${amountText(item.amount)}`,
    },
  }))
