<script setup lang="ts">
import type { z } from 'zod'
import type { DifferenceJson } from '#contract/order/endpoints.ts'
import { amountText, day, label, priceText, quantityText } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'

/** What changed, line by line: the old figure, an arrow, the new one. */
defineProps<{ differences: readonly z.output<typeof DifferenceJson>[] }>()
const several = (value: string, say: (part: string) => string): string =>
  value.split('\n').filter(Boolean).map(say).join('; ')
const SAID: Readonly<Record<string, (value: string) => string>> = {
  needBy: value => day(value),
  price: value => priceText(value),
  quantity: value => quantityText(value),
  schedule: value => several(value, delivery),
  charges: value => several(value, charge),
}
const shown = (field: string, value: string): string => (SAID[field]?.(value) ?? value) || t('nothing')
/** One charge as it is kept: kind, amount and words with blanks between them. */
function charge(text: string): string {
  const [kind = '', amount = '', ...said] = text.split(' ')
  return `${said.join(' ') || label('charge', kind)} ${amountText(amount)}`
}
/** One delivery as it is kept: quantity, day and place with blanks between them. */
function delivery(text: string): string {
  const [quantity = '', date = '', ...place] = text.split(' ')
  const where = place.length > 0 ? t(', to {place}', { place: place.join(' ') }) : ''
  return `${quantityText(quantity)} ${t('by {day}', { day: day(date) })}${where}`
}
</script>

<template>
  <ul class="differences">
    <li v-for="one in differences" :key="one.lineId">
      {{ one.position === 0 ? t('The order:') : t('Line {number}:', { number: one.position }) }}
      <template v-if="one.kind !== 'changed'">{{ one.kind === 'added' ? t('added') : t('removed') }}</template><template
        v-for="(field, index) in one.fields"
        :key="field.field"
        >{{ index ? ', ' : '' }}{{ label('field', field.field) }} <del>{{ shown(field.field, field.before) }}</del> →
        <b>{{ shown(field.field, field.after) }}</b></template
      >
    </li>
  </ul>
</template>
