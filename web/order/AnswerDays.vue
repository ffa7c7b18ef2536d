<script setup lang="ts">
import { ElButton } from 'element-plus'
import { delivered, inOrder } from '#core/order/schedule.ts'
import DatedRows from '#web/order/DatedRows.vue'
import type { LineAnswer } from '#web/order/lineAnswer.ts'
import DayField from '#web/shared/DayField.vue'
import { t } from '#web/shared/language.ts'

/** The day for which a line is promised, or what of it comes on which day; then the quantity is what all of them bring. */
defineProps<{ label: string; unit: string; mark: string }>()
const answer = defineModel<LineAnswer>({ required: true })

function several(parts: NonNullable<LineAnswer['parts']>): void {
  const { quantity, price } = answer.value
  const known = parts.every(part => part.quantity !== '')
  const date = inOrder(parts).at(-1)!.date
  answer.value = { price, date, quantity: known ? delivered(parts) : quantity, parts: [...parts] }
}
function once(): void {
  const { quantity, price, date } = answer.value
  answer.value = { quantity, price, date }
}
</script>

<template>
  <template v-if="answer.parts"
    ><DatedRows :model-value="[...answer.parts]" :unit="unit" :mark="mark" @update:model-value="several"
      ><template #more
        ><ElButton link @click="once">{{ t('all on one day') }}</ElButton></template
      ></DatedRows
    ></template
  ><template v-else
    ><DayField v-model="answer.date" :label="label" style="width: 140px" :mark="`${mark}-day`" /><ElButton
      link
      :data-test="`${mark}-several`"
      @click="several([{ quantity: answer.quantity, date: answer.date }])"
      >{{ t('in several deliveries') }}</ElButton
    ></template
  >
</template>
