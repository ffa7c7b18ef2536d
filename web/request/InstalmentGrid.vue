<script setup lang="ts">
import { ElButton, ElDatePicker, ElInput } from 'element-plus'
import { computed } from 'vue'
import { Decimal, isDecimalText, sumDecimals } from '#core/money/decimal.ts'
import type { Instalment } from '#core/request/kinds.ts'
import NumberField from '#web/shared/NumberField.vue'
import { amountText } from '#web/shared/words.ts'

/** Parts in which fixed-price work is accepted and paid; they add up to its amount. */
const props = defineProps<{ amount: string; currency: string; index: number }>()
const instalments = defineModel<readonly Instalment[]>({ required: true })
const left = computed(() =>
  isDecimalText(props.amount)
    ? new Decimal(props.amount).minus(
        sumDecimals(instalments.value.map(one => (isDecimalText(one.amount) ? one.amount : '0'))),
      )
    : new Decimal(0),
)
const change = (at: number, part: Partial<Instalment>): void => {
  instalments.value = instalments.value.map((one, index) => (index === at ? { ...one, ...part } : one))
}
const add = (): void => {
  instalments.value = [
    ...instalments.value,
    {
      title: instalments.value.length === 0 ? 'At the start' : 'When it is done',
      amount: left.value.gt(0) ? left.value.toString() : '',
      due: '',
    },
  ]
}
</script>

<template>
  <div class="instalments" :data-place="`lines.${index + 1}.instalments`">
    <p v-for="(one, at) in instalments" :key="at" class="row">
      <ElInput
        :model-value="one.title"
        aria-label="Instalment"
        maxlength="200"
        @update:model-value="change(at, { title: $event })"
      /><NumberField
        :model-value="one.amount"
        label="Amount"
        width="110px"
        :data-test="`instalment-${index}-${at}`"
        @update:model-value="change(at, { amount: $event })"
      /><ElDatePicker
        :model-value="one.due"
        type="date"
        value-format="YYYY-MM-DD"
        format="D MMM YYYY"
        placeholder="when"
        aria-label="Due"
        style="width: 140px"
        @update:model-value="change(at, { due: $event ?? '' })"
      /><ElButton link @click="instalments = instalments.filter((_, other) => other !== at)"> take out </ElButton>
    </p>
    <p class="foot">
      <ElButton link :data-test="`add-instalment-${index}`" @click="add">
        {{ instalments.length ? 'Another instalment' : 'Pay it in instalments' }}</ElButton><span
        v-if="instalments.length && !left.isZero()"
        class="tone-stop"
        >{{ amountText(left.toString()) }} {{ currency }} left</span
      >
    </p>
  </div>
</template>

<style scoped>
.instalments {
  display: flex;
  flex-direction: column;
  gap: 5px;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
}
.row :deep(.el-input) {
  flex: 1;
}
.foot {
  display: flex;
  gap: 14px;
  font-size: 12px;
}
</style>
