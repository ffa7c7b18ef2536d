<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { PRICE_FORMULAS } from '#core/source/scores.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'

/** How answers are judged: what weighs how much, how a price becomes points, what is added to it, who scores. */
type Sheet = ResponseOf<typeof ReadEvent>
defineProps<{ sheet: Sheet; people: readonly { id: string; label: string }[] }>()
const body = defineModel<Sheet['body']>({ required: true })
</script>

<template>
  <h2>How it is judged</h2>
  <div class="fields">
    <FormField
      v-for="one in body.criteria"
      :key="one.key"
      :label="`${laterLabel('criterion', one.key)}, per cent`"
      place="criteria"
      ><NumberField v-model="one.weight" :label="laterLabel('criterion', one.key)" width="80px" /></FormField
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
