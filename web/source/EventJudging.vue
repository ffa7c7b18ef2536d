<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { CRITERIA, QUESTIONS } from '#core/source/eventKind.ts'
import { PRICE_FORMULAS } from '#core/source/scores.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'

/** How answers are judged: what weighs how much, how a price becomes points, what is added to it, who scores. */
type Sheet = ResponseOf<typeof ReadEvent>
const props = defineProps<{ sheet: Sheet; people: readonly { id: string; label: string }[] }>()
const body = defineModel<Sheet['body']>({ required: true })
/** Questions weigh only where there are any. */
const judgedBy = computed(() => CRITERIA.filter(key => key !== QUESTIONS || props.sheet.settings.sections.length > 0))
const weigh = (key: string, weight: string): void =>
  void (body.value.criteria = CRITERIA.map(one => ({
    key: one as string,
    weight: one === key ? weight : weightOf(one),
  })).filter(one => one.weight !== '0' || one.key === key))
const weightOf = (key: string): string => body.value.criteria.find(one => one.key === key)?.weight ?? '0'
</script>

<template>
  <h2>How it is judged</h2>
  <div class="fields">
    <FormField v-for="key in judgedBy" :key="key" :label="`${laterLabel('criterion', key)}, per cent`" place="criteria"
      ><NumberField
        :model-value="body.criteria.find(one => one.key === key)?.weight ?? '0'"
        :label="laterLabel('criterion', key)"
        width="80px"
        @update:model-value="weigh(key, $event)" /></FormField
    ><FormField label="Points for the price"
      ><ElSelect v-model="body.formula" aria-label="Points for the price"
        ><ElOption
          v-for="one in PRICE_FORMULAS"
          :key="one"
          :value="one"
          :label="laterLabel('price formula', one)" /></ElSelect></FormField
    ><FormField label="Insurance, per cent"
      ><NumberField v-model="body.landed.insurancePercent" label="Insurance, per cent" width="80px" /></FormField
    ><FormField label="Interest a year, per cent" help="What is paid later costs less."
      ><NumberField v-model="body.landed.interestPercent" label="Interest a year, per cent" width="80px" /></FormField
    ><FormField
      v-if="sheet.settings.sections.length"
      label="Who scores"
      help="None sees what the others gave until all are done."
      ><ElSelect v-model="body.scorerIds" multiple filterable aria-label="Who scores" data-test="scorers"
        ><ElOption v-for="one in people" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
    ></FormField>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 4px 20px;
  margin-top: 6px;
}
</style>
