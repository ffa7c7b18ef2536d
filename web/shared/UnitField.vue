<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { unitLabel } from '#core/units/units.ts'
import { useSession } from '#web/people/session.ts'

/** A unit of measure, found by its word or code, of those that the house offers; `only`: the units that may be chosen here. */
const props = defineProps<{ only?: readonly string[]; label?: string; mark?: string; disabled?: boolean }>()
const value = defineModel<string>({ required: true })
const session = useSession()
/** What was chosen before stays to be chosen. */
const codes = computed(() => [...new Set([...(props.only ?? session.units), ...(value.value ? [value.value] : [])])])
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
