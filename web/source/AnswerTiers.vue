<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { AnswerLine, AnswerTier } from '#core/source/answer.ts'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'

/** Other prices of a line from a quantity on. */
const props = defineProps<{ lineId: string; position: number; price: string }>()
const tiers = defineModel<AnswerLine['tiers']>({ required: true })
const all = (): readonly AnswerTier[] => tiers.value ?? []
const put = (index: number, change: Partial<AnswerTier>): void => {
  tiers.value = all().map((one, at) => (at === index ? { ...one, ...change } : one))
}
const add = (): void => {
  tiers.value = [...all(), { from: '', price: props.price }]
}
</script>

<template>
  <div v-for="(tier, index) in all()" :key="index" class="fields">
    <FormField :label="t('From so many on')" :place="`lines.${lineId}.tiers`"
      ><NumberField
        :model-value="tier.from"
        :label="`${t('From so many on')} ${position}.${index + 1}`"
        width="90px"
        @update:model-value="put(index, { from: $event })" /></FormField
    ><FormField :label="t('the price is')"
      ><NumberField
        :model-value="tier.price"
        :label="`${t('the price is')} ${position}.${index + 1}`"
        width="120px"
        @update:model-value="put(index, { price: $event })" /></FormField
    ><ElButton link @click="tiers = all().filter((_one, at) => at !== index)">{{ t('take out') }}</ElButton>
  </div>
  <ElButton link class="more" :data-test="`add-tier-${position}`" @click="add">{{
    t('another price from more on')
  }}</ElButton>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 2px 16px;
}
.more {
  margin-right: 18px;
}
</style>
