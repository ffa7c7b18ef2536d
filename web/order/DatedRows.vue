<script setup lang="ts">
import { ElButton } from 'element-plus'
import { addDays } from '#core/calendar/days.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { type DatedQuantity, delivered, MOST_DELIVERIES } from '#core/order/schedule.ts'
import DayField from '#web/shared/DayField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { unit as unitWords } from '#web/shared/words.ts'

/** Quantities with their days, one below the other; a new one takes what is not yet spoken for, a month after the last. */
const props = defineProps<{ unit: string; total?: string; mark: string }>()
const rows = defineModel<Row[]>({ required: true })
type Row = DatedQuantity & { addressId?: string | null; place?: string }

const left = (): string => {
  const sum = rows.value.every(row => row.quantity !== '') ? delivered(rows.value) : '0'
  const rest = new Decimal(props.total ?? sum).minus(sum)
  return rest.gt(0) ? tidy(rest) : '1'
}
function change(at: number, row: Partial<Row>): void {
  rows.value = rows.value.map((one, index) => (index === at ? { ...one, ...row } : one))
}
function add(): void {
  const last = rows.value.at(-1)
  const date = last ? addDays(last.date, 30) : ''
  rows.value = [...rows.value, { ...last, quantity: left(), date }]
}
</script>

<template>
  <ul class="dated">
    <li v-for="(row, at) in rows" :key="at">
      <NumberField
        :model-value="row.quantity"
        :label="t('Quantity of delivery {number}', { number: at + 1 })"
        width="90px"
        :data-test="`${mark}-quantity-${at}`"
        @update:model-value="change(at, { quantity: $event })"
      /><span class="unit">{{ unitWords(unit) }}</span
      ><DayField
        :model-value="row.date"
        :label="t('Day of delivery {number}', { number: at + 1 })"
        style="width: 140px"
        :mark="`${mark}-day-${at}`"
        @update:model-value="change(at, { date: $event ?? '' })"
      /><slot :row="row" :at="at" :change="(more: Partial<Row>) => change(at, more)" /><ElButton
        v-if="rows.length > 1"
        link
        :aria-label="t('Take out delivery {number}', { number: at + 1 })"
        @click="rows = rows.filter((_, index) => index !== at)"
        >{{ t('take out') }}</ElButton
      >
    </li>
  </ul>
  <ElButton v-if="rows.length < MOST_DELIVERIES" link :data-test="`${mark}-add`" @click="add">{{
    t('One more delivery')
  }}</ElButton>
</template>

<style scoped>
.dated {
  list-style: none;
  margin: 0;
  padding: 0;
}
.dated li {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
}
</style>
