<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { UNITS, unitLabel } from '#core/units/units.ts'

/** A unit of measure, found by its word or code; `only`: the units that may be chosen. */
const props = defineProps<{ only?: readonly string[]; label?: string; mark?: string }>()
const value = defineModel<string>({ required: true })
const codes = (): readonly string[] => props.only ?? Object.keys(UNITS)
</script>

<template>
  <ElSelect v-model="value" filterable default-first-option :aria-label="label ?? 'Unit'" :data-test="mark"
    ><ElOption v-for="code in codes()" :key="code" :value="code" :label="unitLabel(code)"
  /></ElSelect>
</template>
