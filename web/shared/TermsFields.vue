<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ToldTerms } from '#contract/receivingTerms.ts'
import { AQLS } from '#core/receive/sampling.ts'
import { ASKED, BECOMES, INSPECTED, USUAL_TERMS } from '#core/receive/terms.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'

/** How the goods of an item or a category are received. What is left open here is as the category above says, else as usual. */
const terms = defineModel<ToldTerms>({ required: true })
function set<K extends keyof ToldTerms>(key: K, value: ToldTerms[K] | '' | null): void {
  const { [key]: _gone, ...rest } = terms.value
  terms.value = value === '' || value === null || value === undefined ? rest : { ...rest, [key]: value }
}
const CHOICES = [
  { key: 'becomes', label: 'What it becomes', codes: BECOMES, group: 'becomes' },
  { key: 'serial', label: 'Serial numbers', codes: ASKED, group: 'asked' },
  { key: 'batch', label: 'Batch', codes: ASKED, group: 'asked' },
  { key: 'bestBefore', label: 'Best-before date', codes: ASKED, group: 'asked' },
  { key: 'inspect', label: 'Inspected', codes: INSPECTED, group: 'inspected' },
] as const
const YES_NO = [
  { key: 'blind', label: 'Counted without seeing what is expected' },
  { key: 'billsWait', label: 'Bills wait for the inspection' },
] as const
const FIGURES = [
  { key: 'overPercent', label: 'More may come, %' },
  { key: 'warrantyMonths', label: 'Warranty, months' },
  { key: 'serviceMonths', label: 'Maintenance every so many months' },
] as const
const inspects = computed(() => terms.value.inspect !== undefined && terms.value.inspect !== 'none')
type Characteristic = NonNullable<ToldTerms['characteristics']>[number]
const characteristics = computed<Characteristic[]>(() => terms.value.characteristics ?? [])
const change = (index: number, part: Partial<Characteristic>): void =>
  set(
    'characteristics',
    characteristics.value.map((one, at) => (at === index ? { ...one, ...part } : one)),
  )
</script>

<template>
  <FormField v-for="one in CHOICES" :key="one.key" :label="one.label"
    ><ElSelect
      :model-value="terms[one.key] ?? ''"
      clearable
      :value-on-clear="''"
      :placeholder="`as above, else ${laterLabel(one.group, USUAL_TERMS[one.key])}`"
      :data-test="`terms-${one.key}`"
      @update:model-value="set(one.key, $event)"
      ><ElOption v-for="code in one.codes" :key="code" :value="code" :label="laterLabel(one.group, code)" /></ElSelect
  ></FormField>
  <FormField v-for="one in YES_NO" :key="one.key" :label="one.label"
    ><ElSelect
      :model-value="terms[one.key] === undefined ? '' : terms[one.key] ? 'yes' : 'no'"
      clearable
      :value-on-clear="''"
      :placeholder="`as above, else ${USUAL_TERMS[one.key] ? 'yes' : 'no'}`"
      :data-test="`terms-${one.key}`"
      @update:model-value="set(one.key, $event === '' ? '' : $event === 'yes')"
      ><ElOption value="yes" label="yes" /><ElOption value="no" label="no" /></ElSelect
  ></FormField>
  <FormField v-for="one in FIGURES" :key="one.key" :label="one.label"
    ><ElInputNumber
      :model-value="terms[one.key] ?? null"
      :min="0"
      :max="one.key === 'overPercent' ? 1000 : 600"
      :controls="false"
      :aria-label="one.label"
      :data-test="`terms-${one.key}`"
      @update:model-value="set(one.key, $event ?? null)"
  /></FormField>
  <FormField label="Range of its tags" help="Code of a range in Setup, Receiving"
    ><ElInput
      :model-value="terms.tagRange ?? ''"
      maxlength="20"
      data-test="terms-tagRange"
      @update:model-value="set('tagRange', $event)"
  /></FormField>
  <template v-if="inspects"
    ><FormField v-if="terms.inspect === 'sample'" label="Quality limit of a sample, % (ISO 2859-1)"
      ><ElSelect :model-value="terms.aql ?? USUAL_TERMS.aql" @update:model-value="set('aql', $event)"
        ><ElOption v-for="aql in AQLS" :key="aql" :value="aql" :label="aql" /></ElSelect
    ></FormField>
    <div class="whole" data-test="characteristics">
      <p
        v-for="(one, index) in characteristics"
        :key="index"
        class="bar"
        :data-place="`receiving.characteristics.${index}`"
      >
        <ElInput
          :model-value="one.name"
          placeholder="What is looked at"
          :aria-label="`Characteristic ${index + 1}`"
          @update:model-value="change(index, { name: $event })"
        /><ElInput
          :model-value="one.low"
          placeholder="at least"
          :aria-label="`Characteristic ${index + 1} at least`"
          class="limit"
          @update:model-value="change(index, { low: $event })"
        /><ElInput
          :model-value="one.high"
          placeholder="at most"
          :aria-label="`Characteristic ${index + 1} at most`"
          class="limit"
          @update:model-value="change(index, { high: $event })"
        /><ElInput
          :model-value="one.unit"
          placeholder="unit, or passes"
          :aria-label="`Characteristic ${index + 1} unit`"
          class="limit"
          @update:model-value="change(index, { unit: $event })"
        /><ElButton
          link
          @click="
            set(
              'characteristics',
              characteristics.filter((_, at) => at !== index),
            )
          "
          >take out</ElButton
        >
      </p>
      <ElButton link @click="set('characteristics', [...characteristics, { name: '', unit: '', low: '', high: '' }])"
        >Add something to measure or look at</ElButton
      >
    </div></template
  >
</template>

<style scoped>
.whole {
  grid-column: 1 / -1;
}
.limit {
  width: 110px;
}
</style>
