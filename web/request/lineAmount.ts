import { formatAmount, lineAmount } from '#core/money/amount.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import type { EditedLine } from '#web/request/useDraft.ts'

/** What a line comes to as it is typed, in its currency; nothing while a figure is missing. */
export function wholeLine(line: EditedLine): { amount: string; quantity: string } {
  const { quantity, price, priceBase, currency } = line
  const known = [quantity, price, priceBase].every(isDecimalText)
  return {
    amount: known ? formatAmount(lineAmount({ quantity, price, priceBase, currency }), currency) : '0',
    quantity,
  }
}
