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
