<script setup lang="ts">
import type { z } from 'zod'
import type { DifferenceJson } from '#contract/order/endpoints.ts'
import { day, label, priceText, quantityText } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'

/** What changed, line by line: the old figure, an arrow, the new one. */
defineProps<{ differences: readonly z.output<typeof DifferenceJson>[] }>()
const shown = (field: string, value: string): string =>
  (field === 'needBy'
    ? day(value)
    : field === 'price'
      ? priceText(value)
      : field === 'quantity'
        ? quantityText(value)
        : field === 'schedule'
          ? value.split('\n').filter(Boolean).map(delivery).join('; ')
          : value) || t('nothing')
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
      {{ t('Line {number}:', { number: one.position }) }}
      <template v-if="one.kind !== 'changed'">{{ one.kind === 'added' ? t('added') : t('removed') }}</template><template
        v-for="(field, index) in one.fields"
        :key="field.field"
        >{{ index ? ', ' : '' }}{{ label('field', field.field) }} <del>{{ shown(field.field, field.before) }}</del> →
        <b>{{ shown(field.field, field.after) }}</b></template
      >
    </li>
  </ul>
</template>
