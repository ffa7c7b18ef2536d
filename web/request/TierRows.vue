<script setup lang="ts">
import { ElButton } from 'element-plus'
import { tidy } from '#core/money/decimal.ts'
import type { PriceTier } from '#core/request/offer.ts'
import NumberField from '#web/shared/NumberField.vue'

/** Prices by quantity: the first holds from the smallest quantity on. */
const props = defineProps<{ minimum: string; currency: string }>()
const tiers = defineModel<readonly PriceTier[]>({ required: true })

const change = (index: number, change: Partial<PriceTier>): void => {
  tiers.value = tiers.value.map((tier, at) => (at === index ? { ...tier, ...change } : tier))
}
function add(): void {
  const last = tiers.value.at(-1)
  tiers.value = [
    ...tiers.value,
    { from: tidy(String(Number(last?.from ?? props.minimum) * 10)), price: last?.price ?? '' },
  ]
}
const drop = (index: number): void => {
  tiers.value = tiers.value.filter((_, at) => at !== index)
}
</script>

<template>
  <ul class="tiers">
    <li v-for="(tier, index) in tiers" :key="index" :data-place="`tiers.${index}`">
      <span>from</span><span v-if="index === 0" class="num">{{ minimum }}</span
      ><NumberField
        v-else
        :model-value="tier.from"
        :label="`From quantity, price ${index + 1}`"
        width="90px"
        @update:model-value="change(index, { from: $event })"
      /><NumberField
        :model-value="tier.price"
        :label="`Price ${index + 1}`"
        width="110px"
        :data-test="`tier-price-${index}`"
        @update:model-value="change(index, { price: $event })"
      /><span class="unit">{{ currency }}</span
      ><ElButton v-if="index > 0" link :aria-label="`Drop price ${index + 1}`" @click="drop(index)">drop</ElButton>
    </li>
    <li><ElButton link data-test="add-tier" @click="add">Add a price for larger quantities</ElButton></li>
  </ul>
</template>

<style scoped>
.tiers {
  list-style: none;
  padding: 0;
  margin: 0;
}
.tiers li {
  display: grid;
  grid-template-columns: 34px 90px 110px auto 1fr;
  gap: 8px;
  align-items: center;
  min-height: 34px;
}
.tiers li:last-child {
  display: block;
}
</style>
