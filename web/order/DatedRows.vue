<script setup lang="ts">
import { ElButton } from 'element-plus'
import { addDays } from '#core/calendar/days.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { type DatedQuantity, delivered, evenly, MOST_DELIVERIES } from '#core/order/schedule.ts'
import DayField from '#web/shared/DayField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { unit as unitWords } from '#web/shared/words.ts'

/** Quantities with their days, one below the other; a new one takes what is not yet spoken for, or half of the last, a month after it. */
const props = defineProps<{ unit: string; total?: string; mark: string }>()
const rows = defineModel<Row[]>({ required: true })
/** Days from the last delivery to a new one. */
const APART = 30
type Row = DatedQuantity & { addressId?: string | null; place?: string }

/** What is not yet spoken for; nothing where that is not known. */
function left(): string | null {
  if (props.total === undefined || rows.value.some(row => row.quantity === '')) return null
  const rest = new Decimal(props.total).minus(delivered(rows.value))
  return rest.gt(0) ? tidy(rest) : null
}
function change(at: number, row: Partial<Row>): void {
  rows.value = rows.value.map((one, index) => (index === at ? { ...one, ...row } : one))
}
function add(): void {
  const last = rows.value.at(-1)!
  const date = addDays(last.date, APART)
  const open = left()
  if (open !== null) rows.value = [...rows.value, { ...last, quantity: open, date }]
  else if (last.quantity !== '') {
    const [kept, moved] = evenly(last.quantity, 2)
    rows.value = [...rows.value.slice(0, -1), { ...last, quantity: kept! }, { ...last, quantity: moved!, date }]
  }
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
  <p class="bar">
    <ElButton v-if="rows.length < MOST_DELIVERIES" link :data-test="`${mark}-add`" @click="add">{{
      t('One more delivery')
    }}</ElButton><slot name="more" />
  </p>
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
