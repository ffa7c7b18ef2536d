import type { Field } from '#core/setup/registers.ts'
import { unitLabel } from '#core/units/units.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What a choice of a register's field is called. */
export function optionText(field: Field, value: string): string {
  if (field.words === 'kind') return label('kind', value)
  if (field.words === 'tolerance' || field.words === 'limits') return laterLabel(field.words, value)
  if (field.words === 'unit') return `${unitLabel(value)} (${value})`
  return `${value}, ${laterLabel('tax category', value)}`
}
