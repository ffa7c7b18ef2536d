<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { currencies } from '#core/money/currency.ts'

/** A currency by its ISO 4217 code. */
defineProps<{ mark?: string; disabled?: boolean }>()
const value = defineModel<string>({ required: true })
</script>

<template>
  <ElSelect v-model="value" filterable default-first-option :disabled="disabled" aria-label="Currency" :data-test="mark"
    ><ElOption v-for="code in currencies" :key="code" :value="code" :label="code"
  /></ElSelect>
</template>
