<script setup lang="ts">
import { ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import type { ToldTerms } from '#contract/receivingTerms.ts'
import { AQLS } from '#core/receive/sampling.ts'
import { ASKED, BECOMES, INSPECTED, USUAL_TERMS } from '#core/receive/terms.ts'
import CharacteristicsField from '#web/shared/CharacteristicsField.vue'
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
  { key: 'inspect', label: 'What is inspected', codes: INSPECTED, group: 'inspected' },
] as const
const YES_NO = [
  { key: 'blind', label: 'Counted without seeing what is expected' },
  { key: 'billsWait', label: 'Bills wait until it is found good' },
] as const
const FIGURES = [
  { key: 'overPercent', label: 'More may come, %' },
  { key: 'warrantyMonths', label: 'Warranty, months' },
  { key: 'serviceMonths', label: 'Maintenance every so many months' },
] as const
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
  <FormField
    v-if="terms.inspect === 'sample'"
    label="How good a sample is, per cent"
    help="Acceptance quality limit of ISO 2859-1: the lower, the more are looked at"
    ><ElSelect
      :model-value="terms.aql ?? ''"
      clearable
      :value-on-clear="''"
      :placeholder="`as above, else ${USUAL_TERMS.aql}`"
      data-test="terms-aql"
      @update:model-value="set('aql', $event)"
      ><ElOption v-for="one in AQLS" :key="one" :value="one" :label="one" /></ElSelect
  ></FormField>
  <CharacteristicsField
    v-if="terms.inspect !== undefined && terms.inspect !== 'none'"
    :model-value="terms.characteristics ?? []"
    @update:model-value="set('characteristics', $event.length ? [...$event] : null)"
  />
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
</template>
