<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { unitLabel } from '#core/units/units.ts'
import { offeredUnits } from '#web/shared/offeredUnits.ts'

/** A unit of measure, found by its word or code, of those that the house offers; `only`: the units that may be chosen here. */
const props = defineProps<{ only?: readonly string[]; label?: string; mark?: string; disabled?: boolean }>()
const value = defineModel<string>({ required: true })
/** What was chosen before stays to be chosen. */
const codes = computed(() => [
  ...new Set([...(props.only ?? offeredUnits.value), ...(value.value ? [value.value] : [])]),
])
</script>

<template>
  <ElSelect
    v-model="value"
    filterable
    default-first-option
    :disabled="disabled"
    :aria-label="label ?? 'Unit'"
    :data-test="mark"
    ><ElOption v-for="code in codes" :key="code" :value="code" :label="unitLabel(code)"
  /></ElSelect>
</template>
