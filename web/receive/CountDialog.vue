<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { readSerials } from '#core/receive/serials.ts'
import { type CountEntry, type DeliveryLine, freshEntry } from '#web/receive/counting.ts'
import DayField from '#web/shared/DayField.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'
import { quantityText, unit, words } from '#web/shared/words.ts'

/**
 * All that can be said of a count of one line: its unit, batch, bin, condition, serial numbers; several kinds of
 * it one below the other.
 */
const props = defineProps<{ line: DeliveryLine; entries: readonly CountEntry[] }>()
const emit = defineEmits<{ close: []; keep: [CountEntry[]] }>()
const kinds = ref<CountEntry[]>([])
watch(
  () => props.line.id,
  () => {
    kinds.value =
      props.entries.length > 0
        ? props.entries.map(one => ({ ...one }))
        : [freshEntry(props.line, props.line.open ?? '')]
  },
  { immediate: true },
)
const terms = computed(() => props.line.terms)
const read = computed(() => kinds.value.map(one => readSerials(one.serials)))
const asks = (what: 'batch' | 'bestBefore' | 'serial'): boolean => terms.value[what] !== 'no' || what === 'batch'
const label = (what: 'batch' | 'bestBefore' | 'serial', word: string): string =>
  terms.value[what] === 'must' ? `${word}, has to be told` : word
const BECOMES = {
  counted: 'It is counted.',
  stock: 'It goes to stock.',
  asset: 'Each piece becomes an asset with a tag of ours.',
}
</script>

<template>
  <ElDialog :model-value="true" :title="line.description" width="720px" data-test="count-dialog" @close="emit('close')">
    <p class="quiet">
      <template v-if="line.open !== null">{{ quantityText(line.open) }} {{ unit(line.unit) }} are expected. </template
      >{{ BECOMES[terms.becomes] }}
      <template v-if="terms.inspect !== 'none'"> It is inspected before it is used.</template>
    </p>
    <div v-for="(one, index) in kinds" :key="index" class="kind" :data-test="`kind-${index}`">
      <div class="fields">
        <FormField label="Counted"
          ><NumberField v-model="one.quantity" :label="`Count ${index + 1}`" :data-test="`kind-quantity-${index}`"
        /></FormField>
        <FormField label="Unit"><UnitField v-model="one.unit" :only="line.units" /></FormField>
        <FormField label="Condition"
          ><ElRadioGroup v-model="one.condition"
            ><ElRadioButton value="good">good</ElRadioButton
            ><ElRadioButton value="damaged" :data-test="`damaged-${index}`">damaged</ElRadioButton></ElRadioGroup
          ></FormField
        >
        <FormField label="Bin"><ElInput v-model="one.bin" maxlength="40" :data-test="`bin-${index}`" /></FormField>
        <FormField v-if="asks('batch')" :label="label('batch', 'Batch')"
          ><ElInput v-model="one.batch" maxlength="40" :data-test="`batch-${index}`"
        /></FormField>
        <FormField v-if="asks('bestBefore')" :label="label('bestBefore', 'Best before')"
          ><DayField v-model="one.bestBefore" label="Best before" empty="none"
        /></FormField>
        <FormField
          v-if="terms.blind"
          label="Counted a second time"
          help="Asked for where the first count is not what is expected"
          ><NumberField v-model="one.again" label="Second count" :data-test="`again-${index}`"
        /></FormField>
        <FormField label="Note" class="note"><ElInput v-model="one.note" /></FormField>
      </div>
      <FormField
        v-if="asks('serial')"
        :label="label('serial', 'Serial numbers')"
        help="Scan, type or paste them; A-0098..A-0102 is five"
        ><ElInput v-model="one.serials" type="textarea" :rows="2" :data-test="`serials-${index}`"
      /></FormField>
      <p
        v-if="asks('serial') && one.serials"
        :class="read[index]!.reasons.length > 0 ? 'tone-stop' : 'quiet'"
        role="status"
      >
        {{
          read[index]!.reasons.length > 0
            ? read[index]!.reasons.map(reason => words(reason)).join(' ')
            : `${read[index]!.serials.length} told.`
        }}
      </p>
      <ElButton v-if="kinds.length > 1" link @click="kinds.splice(index, 1)">Take this one out</ElButton>
    </div>
    <p>
      <ElButton link data-test="another-kind" @click="kinds.push(freshEntry(line))"
        >Another batch, bin or condition of it</ElButton
      >
    </p>
    <template #footer
      ><ElButton
        type="primary"
        :disabled="read.some(one => one.reasons.length > 0)"
        data-test="keep-count"
        @click="emit('keep', kinds)"
        >Put it in the count</ElButton
      ><ElButton @click="emit('close')">Leave it</ElButton></template
    >
  </ElDialog>
</template>

<style scoped>
.kind {
  border-top: 1px solid var(--rule);
  padding: 10px 0 4px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 0 12px;
}
.note {
  grid-column: span 2;
}
.quiet {
  color: var(--ink-quiet);
}
@media (width <= 700px) {
  .fields {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
