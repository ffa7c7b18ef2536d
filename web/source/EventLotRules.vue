<script setup lang="ts">
import '#web/theme/later.scss'
import { ElCheckbox, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'

/** The rules of each lot of a reverse auction, as a sentence of fields. */
defineProps<{ currency: string }>()
const lots = defineModel<ResponseOf<typeof ReadEvent>['body']['lots']>({ required: true })
const MINUTE = 60
const EXTENDED = { withinSeconds: 300, bySeconds: 300, from: 'end' as const, places: 1, most: 4 }
const minutes = (seconds: number): number => Math.round(seconds / MINUTE)
</script>

<template>
  <section v-for="lot in lots" :key="lot.id" class="rules" :data-place="`lots.${lot.id}`">
    <h3>Rules of {{ lot.title }}</h3>
    <div class="fields">
      <FormField label="Minutes open"
        ><ElInputNumber
          v-model="lot.minutes"
          :min="1"
          :max="10080"
          :controls="false"
          aria-label="Minutes open" /></FormField
      ><FormField :label="`No bid above, ${currency}`"
        ><NumberField v-model="lot.ceiling" label="No bid above" width="110px" /></FormField
      ><FormField label="Each bid lower by"
        ><span class="bar together"
          ><ElSelect v-model="lot.step.kind" aria-label="Kind of step"
            ><ElOption value="none" label="any step" /><ElOption
              value="amount"
              :label="`an amount, ${currency}`" /><ElOption value="percent" label="per cent" /></ElSelect
          ><NumberField
            v-if="lot.step.kind !== 'none'"
            v-model="lot.step.value"
            label="Smallest step"
            width="80px" /><ElSelect v-if="lot.step.kind !== 'none'" v-model="lot.step.against" aria-label="Lower than"
            ><ElOption value="own" label="than one’s own last" /><ElOption
              value="best"
              label="than the best" /></ElSelect></span></FormField
      ><FormField label="Late bids move the end"
        ><span class="bar together"
          ><ElCheckbox
            :model-value="lot.extension !== null"
            label="yes"
            @change="lot.extension = lot.extension === null ? { ...EXTENDED } : null"
          /><template v-if="lot.extension"
            ><ElInputNumber
              :model-value="minutes(lot.extension.withinSeconds)"
              :min="1"
              :controls="false"
              aria-label="In the last minutes"
              @change="lot.extension!.withinSeconds = Number($event) * MINUTE"
            />
            last minutes, by
            <ElInputNumber
              :model-value="minutes(lot.extension.bySeconds)"
              :min="1"
              :controls="false"
              aria-label="By minutes"
              @change="lot.extension!.bySeconds = Number($event) * MINUTE"
            />
            minutes</template
          ></span
        ></FormField
      ><FormField label="Bidders see"
        ><ElCheckbox v-model="lot.shows.place" label="their own place" /><ElCheckbox
          v-model="lot.shows.best"
          label="the best price" /><ElCheckbox v-model="lot.shows.bidders" label="how many bid" /></FormField
      ><FormField label="Opening"><ElCheckbox v-model="lot.byHand" label="somebody opens it by hand" /></FormField>
    </div>
  </section>
</template>

<style scoped>
.rules {
  margin: 12px 0;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 4px 20px;
}
.together {
  gap: 6px;
  align-items: center;
}
.together :deep(.el-input-number) {
  width: 64px;
}
.together :deep(.el-select) {
  width: 150px;
}
</style>
