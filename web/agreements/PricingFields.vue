<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { PriceIndices } from '#contract/agreements/agreements.ts'
import { asKind, type Pricing } from '#web/agreements/agreementText.ts'
import DayField from '#web/shared/DayField.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useRead } from '#web/shared/useRead.ts'

/** How a line is priced: the same all the time, by period, or after an index; each by quantity where that matters. */
const props = defineProps<{ startsOn: string }>()
const pricing = defineModel<Pricing>({ required: true })
const { data: indices } = useRead(PriceIndices)
const KINDS: Readonly<Record<Pricing['kind'], string>> = {
  tiers: 'the same all the time',
  periods: 'from period to period',
  index: 'after an index',
}
const change = (kind: Pricing['kind']): void => {
  pricing.value = asKind(pricing.value, kind, props.startsOn)
}
type Tiers = { from: string; price: string }[]
const addTier = (tiers: Tiers): void => void tiers.push({ from: '', price: tiers.at(-1)?.price ?? '' })
const drop = (all: unknown[], at: number): void => void all.splice(at, 1)
</script>

<template>
  <FormField label="Price"
    ><ElSelect
      :model-value="pricing.kind"
      aria-label="How it is priced"
      data-test="pricing-kind"
      @update:model-value="change"
      ><ElOption v-for="(words, kind) in KINDS" :key="kind" :value="kind" :label="words" /></ElSelect
  ></FormField>
  <template v-if="pricing.kind === 'index'">
    <FormField label="Index"
      ><ElSelect v-model="pricing.index" filterable aria-label="Index" data-test="pricing-index"
        ><ElOption
          v-for="one in indices?.indices"
          :key="one.code"
          :value="one.code"
          :label="`${one.code} ${one.name}`" /></ElSelect
    ></FormField>
    <FormField label="Base price"><NumberField v-model="pricing.basePrice" label="Base price" /></FormField>
    <FormField label="Index at the base"
      ><NumberField v-model="pricing.baseValue" label="Index at the base"
    /></FormField>
    <FormField
      label="Fixed share"
      help="Price = base × (fixed share + the rest × index ÷ index at the base). 0.4 keeps 40 % fixed."
      ><NumberField v-model="pricing.fixedShare" label="Fixed share"
    /></FormField>
    <FormField label="Not below"><NumberField v-model="pricing.lowest" label="Not below" /></FormField>
    <FormField label="Not above"><NumberField v-model="pricing.highest" label="Not above" /></FormField>
  </template>
  <template
    v-for="(period, at) in pricing.kind === 'periods'
      ? pricing.periods
      : pricing.kind === 'tiers'
        ? [{ from: '', tiers: pricing.tiers }]
        : []"
    :key="at"
  >
    <FormField v-if="pricing.kind === 'periods'" :label="`From, period ${at + 1}`"
      ><span class="bar"
        ><DayField v-model="period.from" :label="`From, period ${at + 1}`" /><ElButton
          v-if="pricing.periods.length > 1"
          link
          @click="drop(pricing.periods, at)"
          >take out</ElButton
        ></span
      ></FormField
    >
    <FormField :label="pricing.kind === 'periods' ? `Prices, period ${at + 1}` : 'Prices by quantity'" whole
      ><span v-for="(tier, step) in period.tiers" :key="step" class="bar tier"
        >from <NumberField v-model="tier.from" :label="`From quantity ${step + 1}`" width="90px" /> at
        <NumberField v-model="tier.price" :label="`Price ${step + 1}`" width="110px" /><ElButton
          v-if="period.tiers.length > 1"
          link
          @click="drop(period.tiers, step)"
          >take out</ElButton
        ></span
      ><ElButton link @click="addTier(period.tiers)" class="add">add a quantity</ElButton></FormField
    >
  </template>
  <ElButton
    v-if="pricing.kind === 'periods'"
    link
    @click="
      pricing.periods.push({
        from: startsOn,
        tiers: [{ from: '0', price: pricing.periods.at(-1)?.tiers[0]?.price ?? '0' }],
      })
    "
    >add a period</ElButton
  >
</template>

<style scoped>
.add {
  display: block;
}
.tier {
  margin-bottom: 4px;
}
</style>
