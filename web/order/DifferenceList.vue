<script setup lang="ts">
import type { z } from 'zod'
import type { DifferenceJson } from '#contract/order/endpoints.ts'
import { day, label, priceText, quantityText } from '#web/shared/words.ts'

/** What changed, line by line: the old figure, an arrow, the new one. */
defineProps<{ differences: readonly z.output<typeof DifferenceJson>[] }>()
const shown = (field: string, value: string): string =>
  (field === 'needBy'
    ? day(value)
    : field === 'price'
      ? priceText(value)
      : field === 'quantity'
        ? quantityText(value)
        : value) || 'nothing'
</script>

<template>
  <ul class="differences">
    <li v-for="one in differences" :key="one.lineId">
      Line {{ one.position }}: <template v-if="one.kind !== 'changed'">{{ one.kind }}</template><template
        v-for="(field, index) in one.fields"
        :key="field.field"
        >{{ index ? ', ' : '' }}{{ label('field', field.field) }} <del>{{ shown(field.field, field.before) }}</del> →
        <b>{{ shown(field.field, field.after) }}</b></template
      >
    </li>
  </ul>
</template>

<style scoped>
.differences {
  margin: 4px 0;
  padding-left: 16px;
}
del {
  color: var(--ink-quiet);
}
b {
  font-weight: 600;
}
</style>
