import type { Condition } from '#core/lists/conditions.ts'
import { LABELS } from '#web/shared/labels.ts'
import { amountText, day, label } from '#web/shared/words.ts'

/** The name of something that a list is asked about. */
export const askedName = (key: string): string => LABELS.column[key] ?? LABELS.narrow[key] ?? key

/** A value as it is chosen: known choices in words, days as days, figures grouped. */
export function valueWords(value: string, options: readonly { value: string; label: string }[] = []): string {
  const known = options.find(option => option.value === value)?.label ?? value
  const at = known.indexOf('.')
  if (at > 0 && known.slice(0, at) in LABELS) return label(known.slice(0, at) as 'state', known.slice(at + 1))
  if (/^\d{4}-\d\d-\d\d$/.test(known)) return day(known)
  return /^-?\d+(\.\d+)?$/.test(known) ? amountText(known) : known
}

/** One condition as part of a sentence: “Supplier contains nord or salt”. */
export function conditionWords(
  condition: Condition,
  options: readonly { value: string; label: string }[] = [],
): string {
  const { column, operator, values } = condition
  const name = askedName(column)
  const said = values.map(value => valueWords(value, options))
  if (operator === 'between') {
    const [from, to] = said as [string, string]
    if (values[0] === '') return `${name} up to ${to}`
    return values[1] === '' ? `${name} from ${from}` : `${name} from ${from} to ${to}`
  }
  if (operator === 'last' || operator === 'next') return `${name} in the ${operator} ${said[0]} days`
  const words = label('operator', operator)
  return [name, words, said.join(' or ')].filter(Boolean).join(' ')
}
