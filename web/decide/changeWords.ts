import { isDay } from '#core/calendar/days.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import { day, label, priceText, quantityText, unit } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

interface Change {
  readonly key: string
  readonly before: string | null
  readonly after: string | null
}

/** One change in words: what of a line is otherwise, how it was and how it is; what has no short words says only that it is otherwise. */
export function changeText({ key, before, after }: Change): { what: string; before: string; after: string } {
  if (key === 'line') return { what: laterLabel('changed', after === null ? 'gone' : 'come'), before: '', after: '' }
  return { what: laterLabel('changed', key), before: valueText(key, before), after: valueText(key, after) }
}

function valueText(key: string, value: string | null): string {
  if (value === null || value === '') return ''
  if (isDay(value)) return day(value)
  if (key === 'unit') return unit(value)
  if (key === 'kind' || key === 'proof') return label(key, value)
  if (!isDecimalText(value)) return value
  return key === 'quantity' ? quantityText(value) : priceText(value)
}
